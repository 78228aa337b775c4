package planning

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/classday"
	"chalkstep/core/pace"
	"chalkstep/core/say"
	"chalkstep/core/schedule/search"
	"chalkstep/store"
)

// A MoveInput is a sitting and where it is wished to be.
type MoveInput struct {
	StudentID int64
	// Hooping is counted from 1; MachineID is 0 for any.
	Hooping   int
	MachineID int64
	// At is a time of the day, empty for any.
	At string
	// Version of the place, as it was read.
	Version int
}

// moveIterations are how carefully a class is planned before a move is kept; the plan
// is worked out better afterwards.
const moveIterations = 600

// Move pins a sitting to a machine, a time or both, or lets go of it where it says
// neither. What breaks a rule is refused with the rule.
func (d UseCases) Move(classID int64, in MoveInput) error {
	if err := d.Need(actor.ChangeClasses); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error { return d.move(classID, in) })
}

func (d UseCases) move(classID int64, in MoveInput) error {
	c, err := d.load().LockedClass(classID)
	if err != nil {
		return err
	}
	if err := d.stands(classID); err != nil {
		return err
	}
	at := slices.IndexFunc(c.Places, func(p classday.Place) bool { return p.ID == in.StudentID })
	if at < 0 {
		return fmt.Errorf("finding student %d in class %d: %w", in.StudentID, classID, store.ErrNotFound)
	}
	pin := classday.Pin{Hooping: in.Hooping, MachineID: in.MachineID}
	if strings.TrimSpace(in.At) != "" {
		minute, ok := d.minuteOf(c, in.At)
		if !ok || minute < 0 || float64(minute) >= c.WindowMinutes() {
			return form.Problems{"at": "Write a time of the class such as 11:05, or leave it empty."}
		}
		pin.Minute = &minute
	}
	wished := c.WithPin(in.StudentID, pin)
	if err := d.checkMove(wished, in.StudentID, pin); err != nil {
		return err
	}
	place := wished.Places[at]
	place.Version = in.Version
	return form.Saved(d.Workshop.SavePlace(classID, place), "")
}

// minuteOf is the minute of a class at a time of its day, before 0 or after its end
// where it lies there; ok is false where that is no time.
func (d UseCases) minuteOf(c classday.Class, typed string) (minute int, ok bool) {
	at, err := time.Parse("15:04", strings.TrimSpace(typed))
	if err != nil {
		return 0, false
	}
	start := c.StartsAt.In(d.Who.Zone)
	return int(time.Date(start.Year(), start.Month(), start.Day(), at.Hour(), at.Minute(), 0, 0,
		d.Who.Zone).Sub(c.StartsAt).Minutes()), true
}

// checkMove refuses a pin that breaks a rule, or that the room cannot grant: Planned
// with it, the sitting has to begin when it is wished.
func (d UseCases) checkMove(wished classday.Class, studentID int64, pin classday.Pin) error {
	if pin.MachineID == 0 && pin.Minute == nil {
		return nil // to let go of it breaks nothing
	}
	rules, machines, err := d.Floorplan()
	if err != nil {
		return err
	}
	days, _, err := d.load().Open([]classday.Class{wished}, rules, machines)
	if err != nil {
		return err
	}
	opened := days[0]
	if !opened.Why.Silent() {
		return form.Problems{"move": d.Say(opened.Why)}
	}
	if why := opened.CheckPin(studentID, pin); !why.Silent() {
		return form.Problems{"move": d.Say(why)}
	}
	if pin.Minute == nil {
		return nil
	}
	result, err := search.Solve(opened.Problem, search.Options{Iterations: moveIterations, Seed: 1})
	if err != nil {
		return form.Problems{"move": d.Say(say.Of(err))}
	}
	plan := opened.Take(result)
	for i, why := range plan.Whys() {
		s := plan.Result.Assignments[i]
		key := pace.StepKey(s.Operation)
		if s.Job == classday.PersonID(studentID) && key.Is(pace.StepLoad) && key.Hooping() == pin.Hooping &&
			s.Start > float64(*pin.Minute)+1 {
			return form.Problems{"move": d.Say(say.T("It cannot begin before %s. %s", say.Clock(plan.At(s.Start)), why.Text))}
		}
	}
	return nil
}
