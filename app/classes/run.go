package classes

import (
	"errors"
	"fmt"
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
type RunPage = run.Page

// Run opens a class as it runs, with what would help those who will be late.
func (d Desk) Run(classID int64) (RunPage, error) {
	if err := d.Need(desk.See); err != nil {
		return RunPage{}, err
	}
	page, err := d.runs(classID)
	if err != nil || !page.Left || len(page.Forecast.Late(page.State)) == 0 {
		return page, err
	}
	key := d.runKey(classID)
	offers, _, _ := d.Memo().Working.Do(fmt.Sprint("offers ", key), func() (any, error) {
		known, found := d.Memo().Offers.Get(key)
		if !found || d.Who.Revision == 0 {
			known = page.State.Offers(page.Now, page.Forecast)
			d.Memo().Offers.Add(key, known)
		}
		return known, nil
	})
	page.Offers = offers.([]run.Offer)
	return page, nil
}

// runKey says what a class that is looked at now follows from.
func (d Desk) runKey(classID int64) desk.RunKey {
	const few = 5 * time.Second
	return desk.RunKey{WorkshopID: d.Who.WorkshopID, Revision: d.Who.Revision, ClassID: classID, Clock: d.Now.Truncate(few).Unix()}
}

// runs is a class with what happened in it and what is left. Many look at one at once: what
// was worked out of the same revision of the workshop in the same few seconds is not worked
// out again.
func (d Desk) runs(classID int64) (RunPage, error) {
	if d.Who.Revision == 0 {
		return d.workedOut(classID)
	}
	key := d.runKey(classID)
	// The clock of the class goes on meanwhile, in a rehearsal fast.
	clocked := func(page RunPage) RunPage {
		page.Now = page.Clock.Of(d.Now)
		return page
	}
	if known, found := d.Memo().Runs.Get(key); found {
		return clocked(known), nil
	}
	page, err, _ := d.Memo().Working.Do(fmt.Sprint("run ", key), func() (any, error) {
		if known, found := d.Memo().Runs.Get(key); found {
			return known, nil
		}
		page, err := d.workedOut(classID)
		if err == nil {
			d.Memo().Runs.Add(key, page)
		}
		return page, err
	})
	if err != nil { // whoever asked first may have gone
		return d.workedOut(classID)
	}
	return clocked(page.(RunPage)), nil
}

func (d Desk) workedOut(classID int64) (RunPage, error) {
	plan, _, err := d.classIn(classID)
	if err != nil {
		return RunPage{}, err
	}
	events, err := d.Shop.Events(classID)
	if err != nil {
		return RunPage{}, err
	}
	page := d.runPage(plan, events)
	if !page.Running() || !plan.Planned() {
		return page, nil
	}
	page.Forecast, err = page.State.Forecast(page.Now)
	page.Left = err == nil
	if errors.Is(err, run.ErrNothingLeft) {
		err = nil
	}
	return page, err
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
