package live_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/classday"
	"chalkstep/core/classday/classdaytest"
	"chalkstep/core/live"
	"chalkstep/core/pace"
)

// all are the steps of a row.
func rowOf(t *testing.T, s live.State, studentID int64) (keys []pace.StepKey) {
	t.Helper()
	at, known := s.Standing(studentID)
	require.True(t, known)
	for _, step := range at.Row() {
		keys = append(keys, pace.StepKey(step.Operation))
	}
	return keys
}

// press writes down what somebody presses, and tells how many events that were.
func (l *log) press(minute float64, e live.Event) (s live.State, written int) {
	e.At = l.plan.At(minute)
	all := l.state().Written(e)
	for _, one := range all {
		one.Seq = int64(len(l.events) + 1)
		l.events = append(l.events, one)
	}
	return l.state(), len(all)
}

// What follows at the bench is one row, up to the machine, and after it up to what is looked at together.
func TestARowOfBenchStepsIsOnePress(t *testing.T) {
	l := begun(t, classdaytest.Class())
	first := rowOf(t, l.state(), ann)
	assert.Equal(t, []pace.StepKey{pace.StepMark, pace.StepStabilise, pace.StepHoop}, first)
	s, n := l.press(12, live.Event{Kind: live.RowDone, StudentID: ann, Step: first[0]})
	assert.Equal(t, 3, n)
	assert.Equal(t, pace.StepLoad, next(t, s, ann))
	assert.Equal(t, []pace.StepKey{pace.StepLoad}, rowOf(t, s, ann), "a step at a machine is no row")
	at, _ := s.Standing(ann)
	total, planned := 0.0, 0.0
	for k, real := range at.Real {
		require.True(t, real.Timed(), "step %d", k)
		total += real.Ended.Sub(real.Begun).Minutes()
		planned += at.Steps[k].End - at.Steps[k].Start
	}
	assert.InDelta(t, 12, total, 0.01, "what it took is shared out")
	for k, real := range at.Real {
		assert.InDelta(t, 12*(at.Steps[k].End-at.Steps[k].Start)/planned, real.Ended.Sub(real.Begun).Minutes(), 0.01)
	}
	_, n = l.press(12.1, live.Event{Kind: live.RowDone, StudentID: ann, Step: first[0]})
	assert.Zero(t, n, "it is over")

	l.until(t, 40, ann, pace.StepUnhoop)
	last := rowOf(t, l.state(), ann)
	assert.NotContains(t, last, pace.StepSignOff, "that is done with the instructor")
	assert.Equal(t, pace.StepUnhoop, last[0])
}

// What one press noted is taken back by one press.
func TestWhatOnePressNotedIsTakenBackByOne(t *testing.T) {
	l := begun(t, classdaytest.Class())
	before := l.state()
	s, n := l.press(9, live.Event{Kind: live.AllDone})
	require.Greater(t, n, len(before.Standings), "a whole table with all it had there")
	for _, at := range s.Standings {
		was, _ := before.Standing(at.StudentID)
		if was.Begun {
			assert.Equal(t, pace.StepLoad, next(t, s, at.StudentID), at.Name)
		}
	}
	assert.Contains(t, s.SaidLast().String(), "noted with it")
	s, taken := l.press(9.5, live.Event{Kind: live.Undone, Undoes: s.Last.Seq})
	assert.Equal(t, n, taken)
	assert.Equal(t, before.Standings, s.Standings)
	assert.Equal(t, before.Last, s.Last)
}

// Nobody has hooped in a hoop that somebody else has: their row ends before it.
func TestARowEndsBeforeAHoopThatIsNotThere(t *testing.T) {
	class := classdaytest.Class()
	for i := range class.Machines {
		hoops := class.Machines[i].Hoops
		class.Machines[i].Hoops = append(hoops[:0:0], hoops...)
		for h := range class.Machines[i].Hoops {
			class.Machines[i].Hoops[h].Count = 1
		}
	}
	class.Machines = class.Machines[:1]
	l := begun(t, class)
	s, _ := l.press(9, live.Event{Kind: live.AllDone})
	hooped := 0
	for _, at := range s.Standings {
		if step, _ := at.Step(); pace.StepKey(step.Operation) == pace.StepLoad {
			hooped++
		}
	}
	hoops := 0
	for _, r := range l.plan.Problem.Resources {
		if r.ID != classday.Instructor && r.ID != classday.Iron && r.ID != classday.Bench {
			hoops += r.Count
		}
	}
	require.Less(t, hoops, len(s.Standings), "the class has fewer hoops than people")
	assert.Equal(t, hoops, hooped)
}

// Who says once that all of it is done says nothing in between: the forecast has them go on.
func TestARowGoesOnUnsaid(t *testing.T) {
	l := begun(t, classdaytest.Class())
	at, _ := l.state().Standing(ann)
	row := 0.0
	for _, step := range at.Row() {
		row += step.End - step.Start
	}
	hooped := func(minute float64) float64 {
		now := l.plan.At(minute)
		for _, one := range l.state().ForecastAt(now, nil).Steps {
			if one.Job == classday.PersonID(ann) && pace.StepKey(one.Operation) == pace.StepHoop {
				return one.End
			}
		}
		return 0
	}
	assert.InDelta(t, row, hooped(1), 0.5)
	assert.InDelta(t, row, hooped(row-1), 4, "not the whole row after the step that was said last")
	last := at.Row()[len(at.Row())-1].End // by the plan, with what it waits for
	assert.Positive(t, l.state().RowLeft(at, l.plan.At(last-1)))
	assert.Negative(t, l.state().RowLeft(at, l.plan.At(last+2)))
	assert.InDelta(t, last, l.state().RowLeft(at, at.Since), 1e-6)
	assert.Equal(t, time.Duration(0), at.Since.Sub(l.plan.At(0)))
}
