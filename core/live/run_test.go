package live_test

import (
	"cmp"
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/classday"
	"chalkstep/core/classday/classdaytest"
	"chalkstep/core/live"
	"chalkstep/core/pace"
	"chalkstep/core/project"
	"chalkstep/core/schedule"
	"chalkstep/core/skill"
	"chalkstep/core/stitch"
	"chalkstep/core/technique"
)

// Ann, Ben and Cat of the class.
const ann, ben, cat = 1, 2, 3

// A log is written as a class goes on.
type log struct {
	plan   classday.Plan
	events []live.Event
}

func (l *log) add(minute float64, e live.Event) live.State {
	e.Seq = int64(len(l.events) + 1)
	e.At = l.plan.Class.StartsAt.Add(time.Duration(minute * float64(time.Minute)))
	l.events = append(l.events, e)
	return l.state()
}

func (l *log) state() live.State { return live.Of(l.plan, l.events) }

// begun is a class that began with everybody there.
func begun(t *testing.T, class classday.Class) *log {
	l := &log{plan: classdaytest.Plan(t, class)}
	l.add(0, live.Event{Kind: live.Started})
	for _, p := range class.Places {
		l.add(0, live.Event{Kind: live.Here, StudentID: p.ID})
	}
	return l
}

// next is the step a student is at.
func next(t *testing.T, s live.State, studentID int64) pace.StepKey {
	t.Helper()
	at, ok := s.Standing(studentID)
	require.True(t, ok)
	step, ok := at.Step()
	require.True(t, ok, "%s has a step left", at.Name)
	return pace.StepKey(step.Operation)
}

// done is a press of somebody who is done with the step they are at.
func (l *log) done(t *testing.T, minute float64, studentID int64) live.State {
	t.Helper()
	return l.add(minute, live.Event{Kind: live.Done, StudentID: studentID, Step: next(t, l.state(), studentID)})
}

// until has somebody be done with all steps before one.
func (l *log) until(t *testing.T, minute float64, studentID int64, step pace.StepKey) live.State {
	t.Helper()
	for next(t, l.state(), studentID) != step {
		l.done(t, minute, studentID)
	}
	return l.state()
}

func TestNobodyIsAtAnythingBeforeTheClassBegins(t *testing.T) {
	l := &log{plan: classdaytest.Plan(t, classdaytest.Class())}
	s := l.add(0, live.Event{Kind: live.Here, StudentID: ann})
	assert.False(t, s.Running())
	l.add(1, live.Event{Kind: live.Started})
	s = l.add(2, live.Event{Kind: live.Here, StudentID: ann})
	require.True(t, s.Running())
	at, _ := s.Standing(ann)
	assert.Equal(t, live.Present, at.Presence)
	assert.True(t, at.Begun)
	assert.Zero(t, at.Next)
	other, _ := s.Standing(ben)
	assert.Equal(t, live.Awaited, other.Presence)
}

// Whoever is done goes on with the next step; a press that comes twice, or for a step
// that is over, changes nothing.
func TestDoneGoesOnToTheNextStep(t *testing.T) {
	l := begun(t, classdaytest.Class())
	first := next(t, l.state(), ann)
	s := l.done(t, 6, ann)
	second := next(t, s, ann)
	assert.NotEqual(t, first, second)
	assert.False(t, s.Accepts(live.Event{Kind: live.Done, StudentID: ann, Step: first}), "it is over")
	s = l.add(6.1, live.Event{Kind: live.Done, StudentID: ann, Step: first})
	assert.Equal(t, second, next(t, s, ann))
}

// A machine that somebody has is waited for: whoever is next begins when it is free.
func TestAMachineIsWaitedFor(t *testing.T) {
	class := classdaytest.Class()
	class.Machines = class.Machines[:1] // one machine, with hoops enough for two
	l := begun(t, class)
	machine := classday.StationID(class.Machines[0].ID)
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
	class := classdaytest.Class()
	class.Machines = class.Machines[:1]
	l := begun(t, class)
	l.until(t, 10, ann, pace.StepSew)
	l.until(t, 12, ben, pace.StepLoad)
	l.add(13, live.Event{Kind: live.HandUp, StudentID: ann, Reason: live.Question})
	s := l.add(15, live.Event{Kind: live.Gone, StudentID: ann})
	who, taken := s.At(classday.StationID(class.Machines[0].ID))
	require.True(t, taken)
	assert.EqualValues(t, ben, who.StudentID)
	assert.Empty(t, s.Hands)
	f := s.Forecast(l.events[len(l.events)-1].At)
	assert.NotContains(t, f.Ends, int64(ann))
	assert.Contains(t, f.Ends, int64(ben))
}

// A table is done at once: everybody at the benches with what they are at, and nobody at a machine.
func TestATableIsDoneAtOnce(t *testing.T) {
	l := begun(t, classdaytest.Class())
	s := l.until(t, 17, ann, pace.StepSew)
	events := s.Written(live.Event{Kind: live.AllDone, At: l.plan.At(18)})
	require.NotEmpty(t, events)
	for _, e := range events {
		assert.Equal(t, live.Done, e.Kind)
		assert.NotEqualValues(t, ann, e.StudentID)
		before := next(t, l.state(), e.StudentID)
		assert.NotEqual(t, before, next(t, l.add(18, e), e.StudentID))
	}
}

// A class that was ended takes notes, and nothing else until that is taken back; what a phone kept from
// before still counts.
func TestAClassThatEndedTakesNotesAlone(t *testing.T) {
	l := begun(t, classdaytest.Class())
	first := next(t, l.state(), ann)
	s := l.add(30, live.Event{Kind: live.Ended})
	done := live.Event{Kind: live.Done, StudentID: ann, Step: first}
	for minute, fits := range map[float64]bool{29: true, 31: false} {
		done.At = l.plan.At(minute)
		assert.Equal(t, fits, s.Accepts(done), "at %v", minute)
	}
	assert.False(t, s.Accepts(live.Event{Kind: live.Ended, At: l.plan.At(31)}), "once")
	assert.True(t, s.Accepts(live.Event{Kind: live.Noted, At: l.plan.At(31), Text: "the iron is off"}))
	page := live.Page{State: s, Now: l.plan.At(40)}
	at, ended := page.Ended()
	assert.True(t, ended)
	assert.Equal(t, l.plan.At(30), at)
	assert.Equal(t, "It ended at 10:30.", page.Outcome().String())
	s = l.add(32, live.Event{Kind: live.Undone, Undoes: s.Last.Seq})
	done.At = l.plan.At(33)
	assert.True(t, s.Accepts(done), "it goes on")

	// By itself it ends an hour after its time.
	page = live.Page{State: s, Now: l.plan.Class.EndsAt.Add(59 * time.Minute)}
	_, ended = page.Ended()
	assert.False(t, ended)
	page.Now = l.plan.Class.EndsAt.Add(time.Hour)
	_, ended = page.Ended()
	assert.True(t, ended)
}

// A class is over when all are done and it is tidied up: whoever is awaited is waited for as long as the
// house waits, and who still makes something holds it up.
func TestAClassEndsWhenAllAreDone(t *testing.T) {
	class := classdaytest.Class()
	class.ClosingMinutes = 10
	l := &log{plan: classdaytest.Plan(t, class)}
	l.add(0, live.Event{Kind: live.Started})
	finish := func(minute float64, studentID int64) live.State {
		l.add(minute-1, live.Event{Kind: live.Here, StudentID: studentID})
		for {
			at, _ := l.state().Standing(studentID)
			step, more := at.Step()
			if !more {
				return l.state()
			}
			l.add(minute, live.Event{Kind: live.Done, StudentID: studentID, Step: pace.StepKey(step.Operation)})
		}
	}
	assert.Equal(t, l.plan.At(15+10), finish(10, ann).FreeFrom(), "the house waits a quarter of an hour for Ben and Cat")
	finish(70, ben)
	s := l.add(71, live.Event{Kind: live.Gone, StudentID: cat})
	assert.Equal(t, l.plan.At(80), s.FreeFrom())
	for minute, over := range map[float64]bool{79: false, 80: true} {
		_, ended := live.Page{State: s, Now: l.plan.At(minute)}.Ended()
		assert.Equal(t, over, ended, "at %v", minute)
	}
	s = l.add(75, live.Event{Kind: live.Here, StudentID: cat})
	assert.Zero(t, s.FreeFrom(), "Cat is back and goes on")
	assert.Equal(t, l.plan.At(82), finish(72, cat).FreeFrom())
}

// The most urgent hand is first, and of like ones the one that has been up longest.
func TestHandsByUrgencyAndWait(t *testing.T) {
	l := begun(t, classdaytest.Class())
	l.add(5, live.Event{Kind: live.HandUp, StudentID: ann, Reason: live.Question})
	l.add(6, live.Event{Kind: live.HandUp, StudentID: ben, Reason: live.Question})
	s := l.add(7, live.Event{Kind: live.HandUp, StudentID: cat, Reason: live.Smoke})
	names := func(s live.State) (all []string) {
		for _, h := range s.Hands {
			all = append(all, h.Name)
		}
		return all
	}
	assert.Equal(t, []string{"Cat", "Ann", "Ben"}, names(s))
	s = l.add(8, live.Event{Kind: live.Settled, StudentID: cat})
	assert.Equal(t, []string{"Ann", "Ben"}, names(s))
	assert.False(t, s.Accepts(live.Event{Kind: live.Settled, StudentID: cat}))
}

// Where somebody can be hurt, what to do first is said.
func TestUrgentReasonsHaveACaution(t *testing.T) {
	for _, r := range live.Reasons {
		assert.NotEmpty(t, r.Text().String(), r)
		assert.Equal(t, r == live.Strike || r == live.Smoke || r == live.Nest, !r.Caution().Silent(), r)
	}
}

// What does not fit is told apart before it is written down.
func TestWhatDoesNotFitIsNotAccepted(t *testing.T) {
	l := begun(t, classdaytest.Class())
	s := l.state()
	first := next(t, s, ann)
	for name, e := range map[string]live.Event{
		"a second start":          {Kind: live.Started},
		"somebody of no class":    {Kind: live.Here, StudentID: 99},
		"here twice":              {Kind: live.Here, StudentID: ann},
		"a step that comes later": {Kind: live.Done, StudentID: ann, Step: pace.StepSew},
		"no step":                 {Kind: live.Done, StudentID: ann},
		"a reason there is not":   {Kind: live.HandUp, StudentID: ann, Reason: "hungry"},
		"a hand that is not up":   {Kind: live.Settled, StudentID: ann},
		"a kind there is not":     {Kind: "sang", StudentID: ann},
	} {
		assert.False(t, s.Accepts(e), name)
	}
	assert.True(t, s.Accepts(live.Event{Kind: live.Skipped, StudentID: ann, Step: first}))
	assert.Equal(t, first, next(t, s, ann), "asking changes nothing")
}

// What is undone is as if it had not been.
func TestUndoneIsAsIfItHadNotBeen(t *testing.T) {
	l := begun(t, classdaytest.Class())
	before := l.state()
	s := l.done(t, 6, ann)
	require.NotNil(t, s.Last)
	s = l.add(7, live.Event{Kind: live.Undone, Undoes: s.Last.Seq})
	assert.Equal(t, before.Standings, s.Standings)
	assert.Equal(t, before.Last, s.Last, "the one before can be taken back next")
}

// A class that goes as planned is expected to end as planned, all along.
func TestAsPlannedEndsAsPlanned(t *testing.T) {
	l := begun(t, classdaytest.Class())
	steps := slices.Clone(l.plan.Result.Assignments)
	slices.SortStableFunc(steps, func(a, b schedule.Assignment) int { return cmp.Compare(a.End, b.End) })
	for _, step := range steps {
		for _, at := range l.state().Standings {
			if classday.PersonID(at.StudentID) == step.Job {
				require.Equal(t, pace.StepKey(step.Operation), next(t, l.state(), at.StudentID))
				l.done(t, step.End, at.StudentID)
			}
		}
		s := l.state()
		f := s.Forecast(l.plan.At(step.End))
		assert.WithinDuration(t, l.plan.Finish(), f.Finish, 4*time.Minute, "after %s of %s", step.Operation, step.Job)
	}
	for _, at := range l.state().Standings {
		assert.True(t, at.Finished(), at.Name)
	}
}

// rooms are classes of five that differ in what is done at the machines.
func rooms() map[string]classday.Class {
	with := func(change func(*classday.Class)) classday.Class {
		class := twoGulls()
		class.Places = append(class.Places,
			classdaytest.Places(classdaytest.Practised(4, "Dov"), skill.Student{ID: 5, Name: "Eda", FirstTimer: true})...)
		change(&class)
		return class
	}
	madeBy := func(keys ...technique.Key) func(*classday.Class) {
		return func(c *classday.Class) {
			for _, key := range keys {
				t, known := technique.ByKey(key)
				if !known {
					panic("no technique is called " + string(key))
				}
				c.Project.Techniques = append(c.Project.Techniques, t)
			}
		}
	}
	pieces := func(c *classday.Class) { // trimmed off the machine, which is free meanwhile
		d := classdaytest.Badge()
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
	return map[string]classday.Class{
		"two machines, one of which takes one hoop": with(func(c *classday.Class) {
			c.Machines = classdaytest.Class().Machines
		}),
		"two machines alike":                  with(func(*classday.Class) {}),
		"a basting box":                       with(madeBy("baste-box")),
		"a basting box, and a stitch by hand": with(madeBy("baste-box", "bobbin-up")),
		"pieces":                              with(pieces),
		"pieces and a basting box":            with(func(c *classday.Class) { pieces(c); madeBy("baste-box")(c) }),
		"two hoopings with a basting box": with(func(c *classday.Class) {
			c.Project.Hoopings = append(c.Project.Hoopings, project.Hooping{Title: "Back", Design: classdaytest.Badge()})
			madeBy("baste-box")(c)
		}),
	}
}

// However a class goes: nobody has a machine somebody else has, no more hoops are held
// than there are, and what is left can be planned by the rules, from now on.
func TestHoweverAClassGoes(t *testing.T) {
	forecasts := 0
	for name, class := range rooms() {
		plan := classdaytest.Plan(t, class)
		for seed := range uint64(5) {
			t.Run(fmt.Sprint(name, " ", seed), func(t *testing.T) { forecasts += goes(t, plan, seed) })
		}
	}
	assert.Greater(t, forecasts, 1200)
}

// goes has a class go as chance has it, and counts how often what is left was planned.
func goes(t *testing.T, plan classday.Plan, seed uint64) (forecasts int) {
	rng := rand.New(rand.NewPCG(seed, 41))
	l := &log{plan: plan}
	l.add(0, live.Event{Kind: live.Started})
	minute := 0.0
	for range 90 {
		minute += 3 * rng.Float64()
		s := l.state()
		id := int64(1 + rng.IntN(5))
		at, _ := s.Standing(id)
		e := live.Event{StudentID: id, Kind: live.Here}
		step, more := at.Step()
		switch n := rng.IntN(26); {
		case n == 25:
			e.Kind, e.MachineID = live.Seated, 1+rng.Int64N(2)
		case n == 24:
			e.Kind, e.MachineID = live.Failed, 1+rng.Int64N(2)
		case n == 23:
			e.Kind, e.MachineID = live.Mended, 1+rng.Int64N(2)
		case n >= 21 && at.Stop < len(at.Stops):
			e.Kind, e.Step, e.Stop = live.StopDone, pace.StepKey(step.Operation), at.Stops[at.Stop].N
		case n == 20:
			e.Kind, e.Until = live.Late, l.plan.At(minute+20)
		case n == 0:
			e.Kind = live.Gone
		case n == 1:
			e.Kind, e.Reason = live.HandUp, live.Reasons[rng.IntN(len(live.Reasons))]
		case n == 2 && s.Last != nil && s.Last.Kind != live.Started:
			e = live.Event{Kind: live.Undone, Undoes: s.Last.Seq}
		case n > 4 && more && at.Begun:
			e.Kind, e.Step = live.Done, pace.StepKey(step.Operation)
		}
		s = l.add(minute, e)
		isWhole(t, s)
		now := l.events[len(l.events)-1].At
		forecasts += holds(t, l.plan, s, now)
	}
	return forecasts
}

// holds checks what is told of the rest of a class: everybody who is there is done some time, or it is
// said why not, nobody has a machine that somebody else has or that is out of order, and nothing is
// before now. It counts the steps.
func holds(t *testing.T, plan classday.Plan, s live.State, now time.Time) int {
	t.Helper()
	f := s.Forecast(now)
	known := map[int64]bool{}
	for _, one := range f.Stuck {
		known[one.StudentID] = true
		require.NotEmpty(t, one.Why.String())
	}
	for _, one := range f.Missing {
		known[one.StudentID] = true
		require.Equal(t, live.Awaited, one.Presence)
	}
	for _, at := range s.Standings {
		_, ends := f.Ends[at.StudentID]
		require.True(t, known[at.StudentID] != ends || at.Presence == live.Left, "%s is done, stuck or missing", at.Name)
		if ends && !at.Finished() {
			require.False(t, f.Ends[at.StudentID].Before(now.Truncate(time.Second)), "%s is not done yet", at.Name)
		}
	}
	minute := now.Sub(plan.Class.StartsAt).Minutes()
	for i, one := range f.Steps {
		require.LessOrEqual(t, one.Start, one.End)
		require.GreaterOrEqual(t, one.End, minute-1e-3)
		require.NotContains(t, s.Out, one.Machine)
		for _, other := range f.Steps[:i] {
			apart := one.Start >= other.End-1e-6 || other.Start >= one.End-1e-6
			require.True(t, apart || one.Machine == "" || one.Machine != other.Machine, "%v and %v at one machine", one, other)
			require.True(t, apart || one.Job != other.Job, "%v and %v at once", one, other)
		}
	}
	return len(f.Steps)
}
