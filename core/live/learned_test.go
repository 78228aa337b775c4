package live_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/classday"
	"chalkstep/core/classday/classdaytest"
	"chalkstep/core/fleet"
	"chalkstep/core/live"
	"chalkstep/core/pace"
	"chalkstep/core/policy"
	"chalkstep/core/schedule/search"
)

// evening is a class of six of whom nobody was there before, planned by what was learned.
func evening(t *testing.T, n int64, l pace.Learned) classday.Plan {
	t.Helper()
	class := classdaytest.Class()
	class.ID, class.EndsAt = n, class.EndsAt.Add(3*time.Hour)
	class.Places = nil
	for i := range int64(6) {
		s := classdaytest.Practised(100*n+i, fmt.Sprintf("Student %d", 100*n+i))
		s.FirstTimer = i == 5
		class.Places = append(class.Places, classdaytest.Places(s)...)
	}
	rules := policy.Defaults()
	rules.Learned = l
	d := classday.Open(class, fleet.Learn(class.Machines, rules))
	require.True(t, d.Why.Silent(), d.Why.String())
	result, err := search.Solve(d.Problem, search.Options{Seed: 1})
	require.NoError(t, err)
	return d.Take(result)
}

// minutesOf a step of a plan's person at a station, as the plan has it; ok is false for a
// step that waits for the instructor or the iron.
func minutesOf(p classday.Plan, person, step, station string) (minutes float64, ok bool) {
	for _, one := range p.Problem.Jobs {
		for _, s := range one.Operations {
			if one.ID != person || s.ID != step {
				continue
			}
			free := len(s.NeedsOneOf) == 0 && s.Needs[classday.Instructor] == 0 && s.Needs[classday.Iron] == 0
			if s.Minutes != nil {
				return *s.Minutes, free
			}
			return s.On[station], free
		}
	}
	return 0, false
}

// play has a class go on until everybody is done, each step taking truth times what is
// said of it with nothing learned, and more or less as hands do.
func play(t *testing.T, p, said classday.Plan, truth float64, rng *rand.Rand) []pace.Observation {
	t.Helper()
	l := &log{plan: p}
	s := l.add(0, live.Event{Kind: live.Started})
	for _, place := range p.Class.Places {
		s = l.add(0, live.Event{Kind: live.Here, StudentID: place.ID})
	}
	type task struct {
		step string
		due  float64
	}
	tasks, minute := map[int64]task{}, 0.0
	var observed []pace.Observation
	for range 1000 {
		first := int64(0)
		for _, at := range s.Standings {
			step, more := at.Step()
			if !more || !at.Begun {
				continue
			}
			if tasks[at.StudentID].step != step.Operation {
				person := classday.PersonID(at.StudentID)
				minutes, _ := minutesOf(said, person, step.Operation, step.Machine)
				if minutes == 0 {
					minutes = step.End - step.Start
				}
				tasks[at.StudentID] = task{step.Operation, minute + minutes*truth*math.Exp(0.2*rng.NormFloat64())}
			}
			if first == 0 || tasks[at.StudentID].due < tasks[first].due {
				first = at.StudentID
			}
		}
		if first == 0 {
			return observed
		}
		minute = max(minute, tasks[first].due)
		s = l.add(minute, live.Event{Kind: live.Done, StudentID: first, Step: pace.StepKey(tasks[first].step)})
		if o, known := s.Observed(first); known {
			observed = append(observed, o)
		}
	}
	t.Fatal("the class does not end")
	return nil
}

// Five classes in which everything takes 40 % longer, or 40 % less, than the figures say
// teach so much that estimates of the next are within 15 %, of people nobody has seen.
func TestFiveClassesThatArePlayedTeach(t *testing.T) {
	for _, truth := range []float64{0.6, 1.4} {
		t.Run(fmt.Sprint(truth), func(t *testing.T) {
			rng := rand.New(rand.NewPCG(7, uint64(10*truth)))
			var all []pace.Observation
			var l pace.Learned
			for n := range int64(5) {
				all = append(all, play(t, evening(t, n+1, l), evening(t, n+1, pace.Learned{}), truth, rng)...)
				l = pace.Learn(all, l)
			}
			said, learned := evening(t, 9, pace.Learned{}), evening(t, 9, l)
			checked := map[string]bool{}
			for _, placed := range learned.Result.Assignments {
				before, free := minutesOf(said, placed.Job, placed.Operation, placed.Machine)
				after, _ := minutesOf(learned, placed.Job, placed.Operation, placed.Machine)
				if !free || before == 0 {
					continue
				}
				assert.InDelta(t, truth*before, after, 0.15*truth*before+0.1, "%s of %s: said %.1f", placed.Operation, placed.Job,
					before)
				checked[placed.Operation] = true
			}
			for _, step := range []pace.StepKey{pace.StepMark, pace.StepStabilise, pace.StepHoop, pace.StepSew,
				pace.StepUnhoop} {
				assert.True(t, checked[string(step)], "%s was checked", step)
			}
		})
	}
}
