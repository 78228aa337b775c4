package live

import (
	"math"
	"slices"
	"time"

	"chalkstep/core/say"
)

// A Page is a class at a moment of its clock: its state, and what is left of it.
type Page struct {
	State
	// Now is what the clock of the class shows.
	Now time.Time
	// Forecast of what is left; nothing is left where Left is false.
	Forecast Forecast
	Left     bool
	// Early and Latest are when one such day of ten and nine of ten are done.
	Early, Latest time.Time
	// Offers are what would help those who will not finish in time.
	Offers []Offer
	// Why says what is in the way of running it now, silent when nothing is.
	Why say.Text
}

// Outcome says when all are done as it goes now, or why somebody cannot go on: the same wherever it is
// told.
func (p Page) Outcome() say.Text {
	f, ends := p.Forecast, p.Plan.Class.EndsAt
	late := f.Late(p.State)
	at, ended := p.Ended()
	switch {
	case ended:
		return say.T("It ended at %s.", say.Clock(at))
	case len(f.Stuck) > 0:
		var names say.List
		for _, one := range f.Stuck {
			names = append(names, say.Name(one.Name))
		}
		return say.T("%s cannot go on.", names)
	case len(f.Ends) == 0:
		return say.T("Nobody is here any more.")
	case !p.Left:
		return say.T("Everyone who is here is done.")
	case len(late) > 0:
		return say.T("%s will not finish by %s: the last is done at %s.", Names(late), say.Clock(ends), say.Clock(f.Finish))
	}
	return say.T("Everyone finishes by %s, %s to spare.", say.Clock(f.Finish),
		say.Minutes(math.Floor(max(0, ends.Sub(f.Finish).Minutes()))))
}

// NineOfTen says by when nine of ten such days are done, silent where it adds nothing.
func (p Page) NineOfTen() say.Text {
	if !p.Left || len(p.Forecast.Stuck) > 0 || p.Latest.Sub(p.Forecast.Finish) < 2*time.Minute {
		return say.Text{}
	}
	return say.T("Nine such days of ten are done by %s.", say.Clock(p.Latest))
}

// Names are those of some, for a sentence.
func Names(some []Standing) say.List {
	var names say.List
	for _, at := range some {
		names = append(names, say.Name(at.Name))
	}
	return names
}

// Where says whether somebody is there, for whoever reads the roster of a class that runs.
func (p Page) Where(at Standing) say.Text {
	switch {
	case at.Presence == Left && !at.Came():
		return say.T("does not come")
	case at.Presence == Left:
		return say.T("left")
	case at.Presence == Awaited && p.isMissing(at, p.Now):
		return say.T("not here, not waited for any more")
	case at.Presence == Awaited && !at.Expected.IsZero():
		return say.T("comes at %s", say.Clock(at.Expected))
	case at.Presence == Awaited:
		return say.T("not here yet")
	case at.Finished():
		return say.T("done")
	}
	return say.T("here")
}

// Tells is what a student of the class reads of themselves where they have nothing to do next; silent
// where they have.
func (p Page) Tells(studentID int64) say.Text {
	at, there := p.Standing(studentID)
	ended, over := p.Ended()
	stuck := slices.ContainsFunc(p.Forecast.Stuck, func(one Stuck) bool { return one.StudentID == studentID })
	switch {
	case !there:
	case at.Finished():
		return say.T("You are done with everything.")
	case over:
		return say.T("The class ended at %s.", say.Clock(ended))
	case at.Presence == Left:
		return say.T("You were noted as gone: tell the instructor when you are back.")
	case at.Presence == Awaited && p.isMissing(at, p.Now):
		return say.T("You were not there, so nobody waits for you: tell the instructor when you come.")
	case stuck:
		return say.T("You cannot go on just now: the instructor says where you sit next.")
	}
	return say.Text{}
}
