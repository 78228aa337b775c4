package classes

import (
	"errors"
	"log/slog"
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

// Run opens a class as it runs, with what would help those who will be late.
func (d UseCases) Run(classID int64) (RunPage, error) {
	if err := d.Need(actor.See); err != nil {
		return RunPage{}, err
	}
	page, err := d.runs(classID)
	if err != nil || !page.Left || len(page.Forecast.Late(page.State)) == 0 {
		return page, err
	}
	if d.Who.Revision == 0 { // what it follows from is not known
		page.Offers = page.State.Offers(page.Now, page.Forecast)
		return page, nil
	}
	page.Offers, err = actor.Remembered(d.Actor, d.Memo().Offers, "offers", d.runKey(classID), func() ([]live.Offer, error) {
		return page.State.Offers(page.Now, page.Forecast), nil
	})
	return page, err
}

// runKey says what a class that is looked at now follows from.
func (d UseCases) runKey(classID int64) actor.RunKey {
	const few = 5 * time.Second
	return actor.RunKey{WorkshopID: d.Who.WorkshopID, Revision: d.Who.Revision, ClassID: classID, Clock: d.Now.Truncate(few).Unix()}
}

// runs is a class with what happened in it and what is left. Many look at one at once: what
// was worked out of the same revision of the workshop in the same few seconds is not worked
// out again.
func (d UseCases) runs(classID int64) (RunPage, error) {
	if d.Who.Revision == 0 {
		return d.workedOut(classID)
	}
	page, err := actor.Remembered(d.Actor, d.Memo().Runs, "run", d.runKey(classID), func() (RunPage, error) { return d.workedOut(classID) })
	if err != nil {
		return page, err
	}
	page.Now = page.Clock.Of(d.Now) // it goes on meanwhile, in a rehearsal fast
	return page, nil
}

// workedOut is a class with what happened in it and what is left, from the database.
func (d UseCases) workedOut(classID int64) (RunPage, error) {
	n, err := d.readLog(classID)
	if err != nil {
		return RunPage{}, err
	}
	page := n.page
	if !page.Running() || !n.plan.Planned() {
		return page, nil
	}
	page.Forecast, err = page.State.Forecast(page.Now)
	page.Left = err == nil
	if err != nil && !errors.Is(err, live.ErrNothingLeft) {
		slog.Error("planning what is left of a class", "class", classID, "event", page.Seq, "error", err)
		page.Trouble = say.Of(err)
	}
	return page, nil
}

func (d UseCases) runPage(plan classday.Plan, events []live.Event) RunPage {
	page := RunPage{State: live.Of(plan, events)}
	page.Now = page.Clock.Of(d.Now)
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
