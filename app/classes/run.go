package classes

import (
	"errors"
	"fmt"
	"time"

	"chalkstep/app/desk"
	"chalkstep/core/pace"
	"chalkstep/core/run"
	"chalkstep/core/say"
	"chalkstep/store"
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
	if err != nil || !page.Running() || !page.Plan.Planned() {
		return page, err
	}
	page.Forecast, err = page.State.Forecast(d.Now)
	page.Left = err == nil
	if errors.Is(err, run.ErrNothingLeft) {
		err = nil
	}
	return page, err
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
	page := RunPage{State: run.Of(plan, events)}
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
	return page, nil
}

// A HappenInput is something that is said to have happened.
type HappenInput struct {
	Kind      string
	StudentID int64
	Step      string
	Reason    string
	// Undoes is the event that is taken back.
	Undoes int64
}

// Happen notes that something happened in a class, now. What does not fit what happened
// meanwhile is refused, and says so.
func (d Desk) Happen(classID int64, in HappenInput) error {
	if err := d.Need(desk.RunClasses); err != nil {
		return err
	}
	return desk.OnceOnly(d, func(d Desk) error { return d.happen(classID, in) })
}

func (d Desk) happen(classID int64, in HappenInput) error {
	if err := d.Shop.LockClass(classID); err != nil {
		return err
	}
	page, err := d.runs(classID)
	if err != nil {
		return err
	}
	if !page.Why.Silent() {
		return desk.Problems{"": d.Say(page.Why)}
	}
	if page.Seq >= store.MostEvents {
		return desk.Problems{"": fmt.Sprintf("A class can have %d events, and this one has them.", store.MostEvents)}
	}
	e := run.Event{Seq: page.Seq + 1, Kind: run.Kind(in.Kind), At: d.Now, StudentID: in.StudentID, Step: pace.StepKey(in.Step), Reason: run.Reason(in.Reason), Undoes: in.Undoes}
	if !page.Accepts(e) {
		return desk.Problems{"": d.Say(refusal(e.Kind))}
	}
	return d.Shop.AddEvent(classID, e.Plain(), d.Who.AccountID)
}

// refusal says why something cannot have happened.
func refusal(kind run.Kind) say.Text {
	switch kind {
	case run.Started:
		return say.T("The class has begun already.")
	case run.Done, run.Skipped:
		return say.T("That step is not theirs any more: somebody noted it just now. Look at the board again.")
	case run.HandUp:
		return say.T("Choose somebody who is here, and what for.")
	case run.Undone:
		return say.T("Something else happened since: take that back first.")
	case run.Here, run.Gone, run.Settled:
		return say.T("That was noted already. Look at the board again.")
	}
	return say.T("Press one of the buttons of the board.")
}
