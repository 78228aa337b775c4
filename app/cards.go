package app

import (
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"chalkstep/core/recipe"
	"chalkstep/core/skill"
	"chalkstep/core/stitch"
	"chalkstep/core/thread"
	"chalkstep/store"
)

// A StepCard is a student's sheet for a class.
type StepCard struct {
	Page    ClassPage
	Student store.Student
	Seat    MachineFit
	Recipe  recipe.Recipe
	Steps   []CardStep
	// Project is what the student makes; Hoopings are its designs at their
	// machine.
	Project  store.Project
	Hoopings []CardHooping
	Missing  []skill.Step
	// Threads names the shelf's thread for each colour.
	Threads map[string]string
	// Kit is the student's place with how far the kit is, NextKit the state it
	// goes to next.
	Kit     store.ClassStudent
	NextKit string
}

// A CardHooping is one design of a card, with what each stop needs.
type CardHooping struct {
	Title  string
	Design store.Design
	Seat   MachineFit
	Recipe recipe.Recipe
	Stops  []CardStop
}

// A CardStop is a stop with what is done before and after it.
type CardStop struct {
	StopLine
	// Before and After are what to lay or trim.
	Before, After string
}

// A CardStep is a step with its time of day.
type CardStep struct {
	store.ProjectStep
	Start, End time.Time
}

// errNoCard means there is no plan to make cards from.
var errNoCard = errors.New("the class has no plan yet")

// StepCard opens one student's card.
func (d Desk) StepCard(classID, studentID int64) (StepCard, error) {
	page, err := d.planned(classID)
	if err != nil {
		return StepCard{}, err
	}
	threads, err := d.ShelfThreads(page)
	if err != nil {
		return StepCard{}, err
	}
	for _, s := range page.Class.Students {
		if s.StudentID == studentID && s.Attendance == store.Absent {
			return StepCard{}, Problems{"": s.Student.Name + " is absent: there is no card."}
		}
		if s.StudentID == studentID {
			card, err := newStepCard(page, s.Student)
			card.Threads, card.Kit, card.NextKit = threads, s, StudentKit{Place: s}.Next()
			return card, err
		}
	}
	return StepCard{}, fmt.Errorf("finding student %d in class %d: %w", studentID, classID, store.ErrNotFound)
}

// StepCards opens the cards of everyone in a class.
func (d Desk) StepCards(classID int64) (ClassPage, []StepCard, error) {
	page, err := d.planned(classID)
	if err != nil {
		return page, nil, err
	}
	threads, err := d.ShelfThreads(page)
	if err != nil {
		return page, nil, err
	}
	var cards []StepCard
	for _, s := range page.Class.Students {
		if s.Attendance == store.Absent {
			continue
		}
		card, err := newStepCard(page, s.Student)
		if err != nil {
			return page, nil, err
		}
		card.Threads = threads
		cards = append(cards, card)
	}
	return page, cards, nil
}

// planned opens a class that has a plan to make cards from.
func (d Desk) planned(classID int64) (ClassPage, error) {
	page, err := d.Class(classID)
	if err == nil && page.PlanProblem != "" {
		err = Problems{"": page.PlanProblem + " Without a plan there are no step cards."}
	}
	return page, err
}

func newStepCard(page ClassPage, s store.Student) (StepCard, error) {
	card := StepCard{Page: page, Student: s}
	work, _, ok := page.makerOf(id(s.ID))
	if !ok {
		return card, errNoCard
	}
	card.Project = work.Project
	station := page.stationOf(id(s.ID))
	if card.Seat, ok = work.SeatAt(station, 1); !ok {
		return card, errNoCard
	}
	for n, h := range work.Hoopings {
		hooping := cardHooping(page, work.Project, h.Design)
		if hooping.Seat, ok = work.SeatAt(station, n+1); !ok {
			return card, errNoCard
		}
		var err error
		if hooping.Recipe, err = hoopingRecipe(work.Project, h.Design, hooping.Seat.Hoop.Hoop, page.settings.House); err != nil {
			return card, err
		}
		figures := page.settings.Figures
		out := figures.Pace.StitchOut(paceMachine(hooping.Seat.Machine), paceStops(h.Design), handOf(s, figures.Pace))
		swaps := figures.Kit.BobbinSwaps(coreStops(h.Design), hooping.Seat.Machine.BobbinMetres)
		for i := range hooping.Stops {
			hooping.Stops[i].Minutes = out.Stops[i]
			if slices.Contains(swaps, hooping.Stops[i].N) {
				hooping.Stops[i].Before = strings.TrimSpace("Fit a fresh bobbin. " + hooping.Stops[i].Before)
			}
		}
		if n > 0 {
			hooping.Title = work.Project.Content.Hoopings[n-1].Title
		}
		card.Hoopings = append(card.Hoopings, hooping)
	}
	card.Recipe = card.Hoopings[0].Recipe
	for _, placed := range page.StepsOf(id(s.ID)) {
		i := slices.IndexFunc(work.Project.Steps, func(ps store.ProjectStep) bool { return ps.Key == placed.Step })
		card.Steps = append(card.Steps, CardStep{work.Project.Steps[i], page.At(placed.Start), page.At(placed.End)})
	}
	card.Missing = skill.Missing(s.Signed(machineKinds...), needsOf(work.Project))
	return card, nil
}

// cardHooping lists a design's stops with the thread each takes and what is
// laid or trimmed around it.
func cardHooping(page ClassPage, p store.Project, design store.Design) CardHooping {
	h := CardHooping{Design: design}
	stops := paceStops(design)
	for i, stop := range design.Stops {
		line := CardStop{StopLine: StopLine{DesignStop: stop, TopMM: page.settings.Figures.Kit.TopThreadMM(coreStop(stop)), SameThread: stops[i].SameThread}}
		line.Before, line.After = around(p, stop)
		h.Stops = append(h.Stops, line)
	}
	return h
}

// around says what is done before and after a stop: layers are laid, pieces
// are trimmed.
func around(p store.Project, stop store.DesignStop) (before, after string) {
	for _, l := range p.Content.Layers {
		if l.BeforeStop != stop.N {
			continue
		}
		side, tape := "on top", l.Tape
		if l.Under {
			side = "on the underside"
		}
		if tape == "" {
			tape = "tape all sides it could flap"
			if l.Under {
				tape = "tape the corners"
			}
		}
		before = strings.TrimSpace(before + fmt.Sprintf(" Lay the %s %s; %s.", l.What, side, tape))
	}
	switch stitch.Role(stop.Role) {
	case stitch.Placement:
		after = "Lay the piece so that it covers the line."
	case stitch.TackDown:
		after = "Hoop off the machine, flat on the table: trim to 1–2 mm outside the line."
	case stitch.Anchor:
		after = "Only marks: it may be skipped."
	}
	return before, after
}

// ThreadWords names the thread of the shelf that stands in for a colour on a
// step card.
func (c StepCard) ThreadWords(color string) string {
	if name, ok := c.Threads[color]; ok {
		return name
	}
	return "thread"
}

// ShelfThreads names, for each colour of a class, the nearest thread there is.
func (d Desk) ShelfThreads(page ClassPage) (map[string]string, error) {
	items, err := d.shop.Stock()
	if err != nil {
		return nil, err
	}
	shelf := ShelfPage{ClassPage: page}
	shelf.threads(items)
	names := map[string]string{}
	for _, n := range shelf.Needs {
		if n.Item != nil {
			names[n.Color] = n.Item.Name
			if n.Match.Difference >= thread.Alike {
				names[n.Color] += " (" + n.Match.Words() + ")"
			}
		}
	}
	return names, nil
}
