package classload

import (
	"time"

	"chalkstep/app/actor"
	"chalkstep/core/classday"
	"chalkstep/core/live"
	"chalkstep/core/say"
)

// How long before it begins a class can be started, and how long after its end what
// happened can still be noted.
const (
	runBefore = 2 * time.Hour
	runAfter  = 6 * time.Hour
)

// A RunPage is a class while it runs.
type RunPage = live.Page

// RunKey says what a class that is looked at now follows from.
func (d Loader) RunKey(classID int64) actor.RunKey {
	const few = 5 * time.Second
	return actor.RunKey{WorkshopID: d.Who.WorkshopID, Revision: d.Who.Revision, ClassID: classID,
		Clock: d.Now.Truncate(few).Unix()}
}

// Runs is a class with what happened in it and what is left. Many look at one at once: what
// was worked out of the same revision of the workshop in the same few seconds is not worked
// out again.
func (d Loader) Runs(classID int64) (RunPage, error) {
	if d.Who.Revision == 0 {
		return d.workedOut(classID)
	}
	page, err := actor.Remembered(d.Actor, d.Memo().Runs, "run", d.RunKey(classID), func() (RunPage, error) {
		return d.workedOut(classID)
	})
	if err != nil {
		return page, err
	}
	page.Now = page.Clock.Of(d.Now) // it goes on meanwhile, in a rehearsal fast
	return page, nil
}

// workedOut is a class with what happened in it and what is left, from the database.
func (d Loader) workedOut(classID int64) (RunPage, error) {
	n, err := d.ReadLog(classID)
	if err != nil {
		return RunPage{}, err
	}
	page := n.Page
	if !page.Running() || !n.Plan.Planned() {
		return page, nil
	}
	page.Forecast = page.State.Forecast(page.Now)
	if page.Left = len(page.Forecast.Steps) > 0 || len(page.Forecast.Stuck) > 0; page.Left {
		page.Early, page.Latest = page.State.Band(page.Now)
	}
	return page, nil
}

func (d Loader) RunPageOf(plan classday.Plan, events []live.Event) RunPage {
	page := RunPage{State: live.Of(plan, events)}
	page.Now = page.Clock.Of(d.Now)
	page.State = page.Until(page.Now)
	opens, closes := plan.Class.StartsAt.Add(-runBefore), plan.Class.EndsAt.Add(runAfter)
	switch {
	case plan.Class.Off():
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

// A Log is a class with its log.
type Log struct {
	Plan   classday.Plan
	Events []live.Event
	Page   RunPage
}

// ReadLog reads a class and what happened in it.
func (d Loader) ReadLog(classID int64) (*Log, error) {
	plan, _, err := d.ClassIn(classID)
	if err != nil {
		return nil, err
	}
	events, err := d.Workshop.Events(classID)
	return &Log{Plan: plan, Events: events, Page: d.RunPageOf(plan, events)}, err
}
