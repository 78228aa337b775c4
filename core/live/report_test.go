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
	"chalkstep/core/skill"
)

// Ann finishes, Ben leaves in the middle, Cat never comes: who came how far, what steps
// really took, and who called for what.
func TestAReport(t *testing.T) {
	l := &log{plan: classdaytest.Plan(t, classdaytest.Class())}
	l.add(0, live.Event{Kind: live.Started})
	l.add(1, live.Event{Kind: live.Here, StudentID: ann})
	l.add(1, live.Event{Kind: live.Here, StudentID: ben})
	first := next(t, l.state(), ann)
	l.done(t, 5, ann)                                                             // 4 minutes
	l.done(t, 11, ben)                                                            // 10 minutes
	l.add(12, live.Event{Kind: live.HandUp, StudentID: ann, Reason: live.Bobbin}) // at the bench
	l.add(15, live.Event{Kind: live.Settled, StudentID: ann})                     // after three minutes
	l.until(t, 20, ann, pace.StepSew)                                             // she loads on
	l.add(22, live.Event{Kind: live.HandUp, StudentID: ann, Reason: live.Break})  // at the machine
	l.add(23, live.Event{Kind: live.Settled, StudentID: ann})                     // after one
	l.add(30, live.Event{Kind: live.HandUp, StudentID: ann, Reason: live.Break})  // again
	l.add(32, live.Event{Kind: live.Settled, StudentID: ann})                     // after two
	l.add(33, live.Event{Kind: live.HandUp, StudentID: ben, Reason: live.Strike}) // taken back
	l.add(33, live.Event{Kind: live.Undone, Undoes: int64(len(l.events))})        //
	l.add(40, live.Event{Kind: live.Skipped, StudentID: ann, Step: pace.StepSew}) //
	s := l.state()
	for at, _ := s.Standing(ann); !at.Finished(); at, _ = s.Standing(ann) {
		s = l.done(t, 50, ann)
	}
	l.add(60, live.Event{Kind: live.Gone, StudentID: ben})

	r := l.state().Report()
	require.Len(t, r.Students, 3)
	reached := map[string]live.Reached{}
	for _, o := range r.Students {
		reached[o.Name] = o.Reached
		assert.Equal(t, o.Reached == live.Finished, len(o.ToGo) == 0, o.Name)
	}
	assert.Equal(t, map[string]live.Reached{"Ann": live.Finished, "Ben": live.ToFinish, "Cat": live.Missing}, reached)
	assert.Equal(t, l.plan.Class.StartsAt.Add(50*time.Minute), r.Students[0].Ended)

	require.NotEmpty(t, r.Steps)
	assert.Equal(t, first, r.Steps[0].Step)
	assert.Equal(t, 2, r.Steps[0].N)
	assert.InDelta(t, 7, r.Steps[0].Real, 1e-9, "between 4 and 10 minutes")
	for _, st := range r.Steps {
		assert.NotEqual(t, pace.StepSew, st.Step, "it was skipped")
	}
	ann, _ := l.state().Standing(ann)
	assert.Equal(t, []live.CallCount{
		{Reason: live.Break, Station: r.Calls[0].Station, Thread: classdaytest.Red, N: 2, Longest: 2 * time.Minute},
		{Reason: live.Bobbin, N: 1, Longest: 3 * time.Minute},
	}, r.Calls)
	assert.Contains(t, []string{classday.StationID(1), classday.StationID(2)}, r.Calls[0].Station)
	assert.Len(t, ann.Real, len(ann.Steps))
}

// Whoever leaves with something hooped does it again: the times of it do not count.
func TestWhatIsDoneAgainIsTimedOnce(t *testing.T) {
	l := begun(t, classdaytest.Class())
	l.until(t, 10, ann, pace.StepSew)
	before, _ := l.state().Standing(ann)
	l.add(12, live.Event{Kind: live.Gone, StudentID: ann})
	s := l.add(20, live.Event{Kind: live.Here, StudentID: ann})
	after, _ := s.Standing(ann)
	assert.Less(t, after.Next, before.Next)
	assert.Equal(t, pace.StepHoop, next(t, s, ann))
	assert.Len(t, after.Real, after.Next)
}

// What happened speaks for a level: a hand that went up, or an instructor who had to be there, is help;
// done once with nobody called it was shown; alone it was done where that went clean twice.
func TestWhatHappenedSpeaksForALevel(t *testing.T) {
	class := classdaytest.Class()
	for i := range class.Places {
		class.Places[i].Student = skill.Student{ID: class.Places[i].ID, Name: class.Places[i].Name, FirstTimer: true}
	}
	l := begun(t, class)
	l.done(t, 5, ann) // marks
	l.add(6, live.Event{Kind: live.HandUp, StudentID: ann, Reason: live.Question})
	l.add(8, live.Event{Kind: live.Settled, StudentID: ann})
	s := l.until(t, 40, ann, pace.StepUnhoop)
	level := func(marks []skill.Mark, key skill.Key) live.Suggested {
		for _, one := range s.Suggested(marks) {
			if one.StudentID == ann && one.Key == key {
				return one
			}
		}
		return live.Suggested{}
	}
	assert.Equal(t, skill.Shown, level(nil, skill.MarkAlign).Level, "once, and nobody was called")
	assert.True(t, level(nil, skill.MarkAlign).Clean)
	assert.Equal(t, skill.Helped, level(nil, skill.CutStabilizer).Level)
	assert.Contains(t, level(nil, skill.CutStabilizer).Why.String(), "a hand went up at 10:06")
	assert.Equal(t, skill.Helped, level(nil, skill.HoopWoven).Level, "a first-timer hoops with the instructor")
	assert.False(t, level(nil, skill.HoopWoven).Clean)
	assert.Empty(t, level(nil, skill.CleanUp).Level, "she has not come to that")

	before := skill.Mark{StudentID: ann, Skill: skill.MarkAlign, On: skill.SingleNeedle, Level: skill.Shown, ClassID: 99}
	assert.Equal(t, skill.Shown, level([]skill.Mark{before}, skill.MarkAlign).Level, "nobody knows how that went")
	before.Clean = true
	assert.Equal(t, skill.Alone, level([]skill.Mark{before}, skill.MarkAlign).Level, "twice")
	before.On = skill.MultiNeedle
	assert.Equal(t, skill.Shown, level([]skill.Mark{before}, skill.MarkAlign).Level, "on another kind of machine")
	here := skill.Mark{StudentID: ann, Skill: skill.MarkAlign, On: skill.SingleNeedle, Level: skill.Helped,
		ClassID: class.ID}
	assert.Empty(t, level([]skill.Mark{here}, skill.MarkAlign).Level, "it was marked here")
}

// The least that is to be made up for: what is left, of a sewing the stops that are, with the hoop loaded again.
func TestTheLeastThatIsToBeMadeUpFor(t *testing.T) {
	l := begun(t, classdaytest.Class())
	s := l.until(t, 20, ann, pace.StepSew)
	at, _ := s.Standing(ann)
	require.Len(t, at.Stops, 2)
	outcome := func() live.Outcome { return l.state().Report().Students[0] }
	whole := outcome().MakeUp()
	assert.Equal(t, []pace.StepKey{pace.StepLoad, pace.StepSew}, whole.Steps[:2])
	l.add(25, live.Event{Kind: live.StopDone, StudentID: ann, Step: pace.StepSew, Stop: 1})
	assert.InDelta(t, whole.Minutes-at.Stops[0].Minutes, outcome().MakeUp().Minutes, 1e-6)
	l.until(t, 40, ann, pace.StepCleanUp)
	rest := outcome().MakeUp()
	assert.Equal(t, pace.StepCleanUp, rest.Steps[0], "at the bench nothing is loaded")
	assert.Less(t, rest.Minutes, whole.Minutes)
	for at, _ := l.state().Standing(ann); !at.Finished(); at, _ = l.state().Standing(ann) {
		l.done(t, 50, ann)
	}
	assert.Empty(t, outcome().MakeUp().Steps)
}
