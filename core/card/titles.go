package card

import (
	"chalkstep/core/pace"
	"chalkstep/core/say"
)

// Title says whose a hooping of the card is, from 0, what is made, and at which machine.
func (c Card) Title(hooping int) say.Text {
	s := c.Sheets[hooping]
	title := say.T("%s: %s on %s", c.Student, c.Project, s.Machine)
	if hooping == 0 {
		return title
	}
	return say.T("%s, %s", title, s.Title)
}

// Called is a card of which names are written another way, as paper sets them apart.
func (c Card) Called(as func(name string) string) Card {
	c.Student, c.Project, c.Class = as(c.Student), as(c.Project), as(c.Class)
	sheets := make([]Sheet, len(c.Sheets))
	for i, s := range c.Sheets {
		s.Title, s.Machine = as(s.Title), as(s.Machine)
		stops := make([]Stop, len(s.Stops))
		for k, stop := range s.Stops {
			stop.Sews = as(stop.Sews)
			stops[k] = stop
		}
		s.Stops = stops
		sheets[i] = s
	}
	c.Sheets = sheets
	return c
}

// Step finds a step of the card.
func (c Card) Step(key pace.StepKey) (Step, bool) {
	for _, s := range c.Steps {
		if s.Key == key {
			return s, true
		}
	}
	return Step{}, false
}

// Sheet finds a hooping, from 1.
func (c Card) Sheet(hooping int) (Sheet, bool) {
	if hooping < 1 || hooping > len(c.Sheets) {
		return Sheet{}, false
	}
	return c.Sheets[hooping-1], true
}

// Title names a stop: which it is, and what it sews.
func (s Stop) Title() say.Text { return s.titled(say.T("Stop %s", say.Count(s.N))) }

// TitleOf names a stop of so many.
func (s Stop) TitleOf(stops int) say.Text {
	return s.titled(say.T("Stop %s of %s", say.Count(s.N), say.Count(stops)))
}

func (s Stop) titled(which say.Text) say.Text {
	if s.Sews == "" {
		return which
	}
	return say.T("%s: %s", which, s.Sews)
}
