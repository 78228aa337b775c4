package run_test

import (
	"cmp"
	"errors"
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/day"
	"chalkstep/core/day/daytest"
	"chalkstep/core/pace"
	"chalkstep/core/project"
	"chalkstep/core/run"
	"chalkstep/core/schedule"
	"chalkstep/core/schedule/scheduletest"
	"chalkstep/core/skill"
	"chalkstep/core/stitch"
	"chalkstep/core/technique"
)

// Ann, Ben and Cat of the class.
const ann, ben, cat = 1, 2, 3

// A log is written as a class goes on.
type log struct {
	plan   day.Plan
	events []run.Event
}

func (l *log) add(minute float64, e run.Event) run.State {
	e.Seq = int64(len(l.events) + 1)
	e.At = l.plan.Class.StartsAt.Add(time.Duration(minute * float64(time.Minute)))
	l.events = append(l.events, e)
	return l.state()
}

func (l *log) state() run.State { return run.Of(l.plan, l.events) }

// begun is a class that began with everybody there.
func begun(t *testing.T, class day.Class) *log {
	l := &log{plan: daytest.Plan(t, class)}
	l.add(0, run.Event{Kind: run.Started})
	for _, p := range class.Places {
		l.add(0, run.Event{Kind: run.Here, StudentID: p.ID})
	}
	return l
}

// next is the step a student is at.
func next(t *testing.T, s run.State, studentID int64) pace.StepKey {
	t.Helper()
	at, ok := s.Standing(studentID)
	require.True(t, ok)
	step, ok := at.Step()
	require.True(t, ok, "%s has a step left", at.Name)
	return pace.StepKey(step.Operation)
}

// done is a press of somebody who is done with the step they are at.
func (l *log) done(t *testing.T, minute float64, studentID int64) run.State {
	t.Helper()
	return l.add(minute, run.Event{Kind: run.Done, StudentID: studentID, Step: next(t, l.state(), studentID)})
}

// until has somebody be done with all steps before one.
func (l *log) until(t *testing.T, minute float64, studentID int64, step pace.StepKey) run.State {
	t.Helper()
	for next(t, l.state(), studentID) != step {
		l.done(t, minute, studentID)
	}
	return l.state()
}

func TestNobodyIsAtAnythingBeforeTheClassBegins(t *testing.T) {
	l := &log{plan: daytest.Plan(t, daytest.Class())}
	s := l.add(0, run.Event{Kind: run.Here, StudentID: ann})
	assert.False(t, s.Running())
	l.add(1, run.Event{Kind: run.Started})
	s = l.add(2, run.Event{Kind: run.Here, StudentID: ann})
	require.True(t, s.Running())
	at, _ := s.Standing(ann)
	assert.Equal(t, run.Present, at.Presence)
	assert.True(t, at.Begun)
	assert.Zero(t, at.Next)
	other, _ := s.Standing(ben)
	assert.Equal(t, run.Awaited, other.Presence)
}

// Whoever is done goes on with the next step; a press that comes twice, or for a step
// that is over, changes nothing.
func TestDoneGoesOnToTheNextStep(t *testing.T) {
	l := begun(t, daytest.Class())
	first := next(t, l.state(), ann)
	s := l.done(t, 6, ann)
	second := next(t, s, ann)
	assert.NotEqual(t, first, second)
	assert.False(t, s.Accepts(run.Event{Kind: run.Done, StudentID: ann, Step: first}), "it is over")
	s = l.add(6.1, run.Event{Kind: run.Done, StudentID: ann, Step: first})
	assert.Equal(t, second, next(t, s, ann))
}

// A machine that somebody has is waited for: whoever is next begins when it is free.
func TestAMachineIsWaitedFor(t *testing.T) {
	class := daytest.Class()
	class.Machines = class.Machines[:1] // one machine, with hoops enough for two
	l := begun(t, class)
	machine := day.StationID(class.Machines[0].ID)
	s := l.until(t, 10, ann, pace.StepLoad)
	s = l.until(t, 12, ben, pace.StepLoad)
	who, taken := s.At(machine)
	require.True(t, taken)
	require.EqualValues(t, ann, who.StudentID)
	at, _ := s.Standing(ben)
	assert.False(t, at.Begun, "Ann loads")
	s = l.done(t, 14, ann)
	at, _ = s.Standing(ben)
	assert.False(t, at.Begun, "Ann sews what she loaded")
	s = l.until(t, 40, ann, pace.StepUnhoop)
	at, _ = s.Standing(ben)
	assert.True(t, at.Begun)
	assert.Equal(t, l.events[len(l.events)-1].At, at.Since)
}

// Whoever leaves leaves machine and hoop.
func TestWhoeverLeavesFreesTheMachine(t *testing.T) {
	class := daytest.Class()
	class.Machines = class.Machines[:1]
	l := begun(t, class)
	l.until(t, 10, ann, pace.StepSew)
	l.until(t, 12, ben, pace.StepLoad)
	l.add(13, run.Event{Kind: run.HandUp, StudentID: ann, Reason: run.Question})
	s := l.add(15, run.Event{Kind: run.Gone, StudentID: ann})
	who, taken := s.At(day.StationID(class.Machines[0].ID))
	require.True(t, taken)
	assert.EqualValues(t, ben, who.StudentID)
	assert.Empty(t, s.Hands)
	f, err := s.Forecast(l.events[len(l.events)-1].At)
	require.NoError(t, err)
	assert.NotContains(t, f.Ends, int64(ann))
	assert.Contains(t, f.Ends, int64(ben))
}

// The most urgent hand is first, and of like ones the one that has been up longest.
func TestHandsByUrgencyAndWait(t *testing.T) {
	l := begun(t, daytest.Class())
	l.add(5, run.Event{Kind: run.HandUp, StudentID: ann, Reason: run.Question})
	l.add(6, run.Event{Kind: run.HandUp, StudentID: ben, Reason: run.Question})
	s := l.add(7, run.Event{Kind: run.HandUp, StudentID: cat, Reason: run.Smoke})
	names := func(s run.State) (all []string) {
		for _, h := range s.Hands {
			all = append(all, h.Name)
		}
		return all
	}
	assert.Equal(t, []string{"Cat", "Ann", "Ben"}, names(s))
	s = l.add(8, run.Event{Kind: run.Settled, StudentID: cat})
	assert.Equal(t, []string{"Ann", "Ben"}, names(s))
	assert.False(t, s.Accepts(run.Event{Kind: run.Settled, StudentID: cat}))
}

// Where somebody can be hurt, what to do first is said.
func TestUrgentReasonsHaveACaution(t *testing.T) {
	for _, r := range run.Reasons {
		assert.NotEmpty(t, r.Text().String(), r)
		assert.Equal(t, r == run.Strike || r == run.Smoke || r == run.Nest, !r.Caution().Silent(), r)
	}
}

// What does not fit is told apart before it is written down.
func TestWhatDoesNotFitIsNotAccepted(t *testing.T) {
	l := begun(t, daytest.Class())
	s := l.state()
	first := next(t, s, ann)
	for name, e := range map[string]run.Event{
		"a second start":          {Kind: run.Started},
		"somebody of no class":    {Kind: run.Here, StudentID: 99},
		"here twice":              {Kind: run.Here, StudentID: ann},
		"a step that comes later": {Kind: run.Done, StudentID: ann, Step: pace.StepSew},
		"no step":                 {Kind: run.Done, StudentID: ann},
		"a reason there is not":   {Kind: run.HandUp, StudentID: ann, Reason: "hungry"},
		"a hand that is not up":   {Kind: run.Settled, StudentID: ann},
		"a kind there is not":     {Kind: "sang", StudentID: ann},
	} {
		assert.False(t, s.Accepts(e), name)
	}
	assert.True(t, s.Accepts(run.Event{Kind: run.Skipped, StudentID: ann, Step: first}))
	assert.Equal(t, first, next(t, s, ann), "asking changes nothing")
}

// What is undone is as if it had not been.
func TestUndoneIsAsIfItHadNotBeen(t *testing.T) {
	l := begun(t, daytest.Class())
	before := l.state()
	s := l.done(t, 6, ann)
	require.NotNil(t, s.Last)
	s = l.add(7, run.Event{Kind: run.Undone, Undoes: s.Last.Seq})
	assert.Equal(t, before.Standings, s.Standings)
	assert.Equal(t, before.Last, s.Last, "the one before can be taken back next")
}

// A class that goes as planned is expected to end as planned, all along.
func TestAsPlannedEndsAsPlanned(t *testing.T) {
	l := begun(t, daytest.Class())
	steps := slices.Clone(l.plan.Result.Assignments)
	slices.SortStableFunc(steps, func(a, b schedule.Assignment) int { return cmp.Compare(a.End, b.End) })
	for _, step := range steps {
		for _, at := range l.state().Standings {
			if day.PersonID(at.StudentID) == step.Job {
				require.Equal(t, pace.StepKey(step.Operation), next(t, l.state(), at.StudentID))
				l.done(t, step.End, at.StudentID)
			}
		}
		s := l.state()
		f, err := s.Forecast(l.plan.At(step.End))
		if errors.Is(err, run.ErrNothingLeft) {
			continue
		}
		require.NoError(t, err)
		assert.WithinDuration(t, l.plan.Finish(), f.Finish, 2*time.Minute, "after %s of %s", step.Operation, step.Job)
	}
	for _, at := range l.state().Standings {
		assert.True(t, at.Finished(), at.Name)
	}
}

// rooms are classes of five that differ in what is done at the machines.
func rooms() map[string]day.Class {
	with := func(change func(*day.Class)) day.Class {
		class := twoGulls()
		class.Places = append(class.Places, daytest.Places(daytest.Practised(4, "Dov"), skill.Student{ID: 5, Name: "Eda", FirstTimer: true})...)
		change(&class)
		return class
	}
	madeBy := func(keys ...technique.Key) func(*day.Class) {
		return func(c *day.Class) {
			for _, key := range keys {
				t, known := technique.ByKey(key)
				if !known {
					panic("no technique is called " + string(key))
				}
				c.Project.Techniques = append(c.Project.Techniques, t)
			}
		}
	}
	pieces := func(c *day.Class) { // trimmed off the machine, which is free meanwhile
		d := daytest.Badge()
		for n, role := range []stitch.Role{stitch.Placement, stitch.TackDown, stitch.Cover} {
			stop := d.Stops[n%2]
			stop.N, stop.Role, stop.Pieces = n+1, role, 1
			if n < 2 {
				d.Stops[n] = stop
			} else {
				d.Stops = append(d.Stops, stop)
			}
		}
		c.Project.Hoopings = []project.Hooping{{Design: d}}
	}
	return map[string]day.Class{
		"two machines, one of which takes one hoop": with(func(c *day.Class) { c.Machines = daytest.Class().Machines }),
		"two machines alike":                        with(func(*day.Class) {}),
		"a basting box":                             with(madeBy("baste-box")),
		"a basting box, and a stitch by hand":       with(madeBy("baste-box", "bobbin-up")),
		"pieces":                                    with(pieces),
		"pieces and a basting box":                  with(func(c *day.Class) { pieces(c); madeBy("baste-box")(c) }),
		"two hoopings with a basting box": with(func(c *day.Class) {
			c.Project.Hoopings = append(c.Project.Hoopings, project.Hooping{Title: "Back", Design: daytest.Badge()})
			madeBy("baste-box")(c)
		}),
	}
}

// However a class goes: nobody has a machine somebody else has, no more hoops are held
// than there are, and what is left can be planned by the rules, from now on.
func TestHoweverAClassGoes(t *testing.T) {
	forecasts := 0
	for name, class := range rooms() {
		plan := daytest.Plan(t, class)
		for seed := range uint64(5) {
			t.Run(fmt.Sprint(name, " ", seed), func(t *testing.T) { forecasts += goes(t, plan, seed) })
		}
	}
	assert.Greater(t, forecasts, 1200)
}

// goes has a class go as chance has it, and counts how often what is left was planned.
func goes(t *testing.T, plan day.Plan, seed uint64) (forecasts int) {
	rng := rand.New(rand.NewPCG(seed, 41))
	l := &log{plan: plan}
	l.add(0, run.Event{Kind: run.Started})
	minute := 0.0
	for range 90 {
		minute += 3 * rng.Float64()
		s := l.state()
		id := int64(1 + rng.IntN(5))
		at, _ := s.Standing(id)
		e := run.Event{StudentID: id, Kind: run.Here}
		step, more := at.Step()
		switch n := rng.IntN(26); {
		case n == 25:
			e.Kind, e.MachineID = run.Seated, 1+rng.Int64N(2)
		case n == 24:
			e.Kind, e.MachineID = run.Failed, 1+rng.Int64N(2)
		case n == 23:
			e.Kind, e.MachineID = run.Mended, 1+rng.Int64N(2)
		case n >= 21 && at.Stop < len(at.Stops):
			e.Kind, e.Step, e.Stop = run.StopDone, pace.StepKey(step.Operation), at.Stops[at.Stop].N
		case n == 20:
			e.Kind, e.Until = run.Late, l.plan.At(minute+20)
		case n == 0:
			e.Kind = run.Gone
		case n == 1:
			e.Kind, e.Reason = run.HandUp, run.Reasons[rng.IntN(len(run.Reasons))]
		case n == 2 && s.Last != nil && s.Last.Kind != run.Started:
			e = run.Event{Kind: run.Undone, Undoes: s.Last.Seq}
		case n > 4 && more && at.Begun:
			e.Kind, e.Step = run.Done, pace.StepKey(step.Operation)
		}
		s = l.add(minute, e)
		having := map[string]string{}
		for _, station := range l.plan.Problem.Machines {
			for _, one := range s.Standings {
				if step, more := one.Step(); more && one.Begun && one.Presence == run.Present && step.Machine == station.ID {
					require.NotContains(t, s.Out, station.ID, "%s at a machine that is out", one.Name)
					require.Empty(t, having[station.ID], "%s and %s at one machine", having[station.ID], one.Name)
					having[station.ID] = one.Name
				}
			}
		}
		now := l.events[len(l.events)-1].At
		left := s.Left(now)
		if len(left.Jobs) == 0 {
			continue
		}
		f, err := s.Forecast(now)
		require.NoError(t, err)
		require.NoError(t, scheduletest.Check(left, f.Result))
		for _, placed := range f.Result.Assignments {
			require.GreaterOrEqual(t, placed.Start, minute-1e-3)
		}
		forecasts++
	}
	return forecasts
}
