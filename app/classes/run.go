package classes

import (
	"errors"
	"time"

	"chalkstep/app/desk"
	"chalkstep/core/day"
	"chalkstep/core/run"
	"chalkstep/core/say"
)

// How long before it begins a class can be started, and how long after its end what
// happened can still be noted.
const (
	runBefore = 2 * time.Hour
	runAfter  = 6 * time.Hour
)

// A RunPage is a class while it runs.
type RunPage struct {
	run.State
	// Now is what the clock of the class shows.
	Now time.Time
	// Forecast of what is left; nothing where Left is false.
	Forecast run.Forecast
	Left     bool
	// Why says what is in the way of running it now, silent when nothing is.
	Why say.Text
}

// Run opens a class as it runs.
func (d Desk) Run(classID int64) (RunPage, error) {
	if err := d.Need(desk.See); err != nil {
		return RunPage{}, err
	}
	page, err := d.runs(classID)
	if err != nil {
		return page, err
	}
	return page, d.foresee(&page)
}

// foresee plans what is left of a running class. What was planned in the same few seconds
// of the same revision is not planned again: many look at once.
func (d Desk) foresee(page *RunPage) error {
	if !page.Running() || !page.Plan.Planned() {
		return nil
	}
	const few = 5 // seconds
	key := desk.RunKey{WorkshopID: d.Who.WorkshopID, Revision: d.Who.Revision, ClassID: page.Plan.Class.ID, Clock: page.Now.Unix() / few}
	known, found := d.Memo().Forecasts.Get(key)
	if !found {
		var err error
		known.Forecast, err = page.State.Forecast(page.Now)
		known.Left = err == nil
		if err != nil && !errors.Is(err, run.ErrNothingLeft) {
			return err
		}
		if d.Who.Revision != 0 {
			d.Memo().Forecasts.Add(key, known)
		}
	}
	page.Forecast, page.Left = known.Forecast, known.Left
	return nil
}

// runs is a class with what happened in it.
func (d Desk) runs(classID int64) (RunPage, error) {
	plan, _, err := d.classIn(classID)
	if err != nil {
		return RunPage{}, err
	}
	events, err := d.Shop.Events(classID)
	if err != nil {
		return RunPage{}, err
	}
	return d.runPage(plan, events), nil
}

func (d Desk) runPage(plan day.Plan, events []run.Event) RunPage {
	page := RunPage{State: run.Of(plan, events)}
	page.Now = page.Clock.Of(d.Now)
	opens, closes := plan.Class.StartsAt.Add(-runBefore), plan.Class.EndsAt.Add(runAfter)
	switch {
	case plan.Class.CancelledAt != nil:
		page.Why = say.T("The class was called off.")
	case !plan.Planned():
		page.Why = plan.Why
	case d.Now.Before(opens):
		page.Why = say.T("It can be started on %s from %s on.", say.Day(opens), say.Clock(opens))
	case d.Now.After(closes):
		page.Why = say.T("The class is over.")
	}
	return page
}
