package live

import (
	"time"

	"chalkstep/core/classday"
	"chalkstep/core/say"
	"chalkstep/core/skill"
)

// A Suggested is a mark that what happened in a class speaks for: of somebody, for a step of the ladder
// that they did what it is about and are not signed off on.
type Suggested struct {
	StudentID int64
	skill.Step
	On    skill.Kind
	Level skill.Level
	// Clean tells that nobody was called and no instructor had to stand beside them.
	Clean bool
	Why   say.Text
}

// times are how often somebody did what a step of the ladder is about, and how it went.
type times struct {
	clean, accompanied int
	// called is when a hand went up meanwhile for the first time, zero for never.
	called time.Time
}

// cleanTwice is enough to be suggested as done alone, a figure of ours.
const cleanTwice = 2

// Suggested are the marks to give after a class, by student and in the order of the ladder. A hand that
// went up, or an instructor who had to be there, is help. Where nothing is known it was shown; it was done
// alone only where it went clean twice, with the marks of earlier classes. What was marked in the class is
// not suggested again.
func (s State) Suggested(marks []skill.Mark) []Suggested {
	var all []Suggested
	for _, at := range s.Standings {
		w, place, ok := s.Plan.Maker(classday.PersonID(at.StudentID))
		if !ok {
			continue
		}
		did := s.timesOf(at, w, place)
		for _, step := range s.Plan.Rules.Ladder.Steps() {
			for _, on := range skill.Kinds {
				t, done := did[rung{step.Key, on}]
				for _, m := range marks {
					if m.StudentID != at.StudentID || m.Skill != step.Key || m.On != on {
						continue
					}
					done = done && m.ClassID != s.Plan.Class.ID
					if m.Clean {
						t.clean++
					}
				}
				if !done {
					continue
				}
				one := Suggested{StudentID: at.StudentID, Step: step, On: on}
				one.Level, one.Why = t.level()
				one.Clean = one.Level != skill.Helped
				all = append(all, one)
			}
		}
	}
	return all
}

// A rung is a step of the ladder on a kind of machine.
type rung struct {
	skill skill.Key
	on    skill.Kind
}

// timesOf are what somebody did in the class of what they are not signed off on.
func (s State) timesOf(at Standing, w classday.Work, place classday.Place) map[rung]times {
	did := map[rung]times{}
	on := skill.SingleNeedle
	for k, step := range at.Steps[:at.Next] {
		if m, there := s.Plan.Machine(step.Machine); there {
			on = m.Kind()
		}
		one, found := w.Step(step.Operation)
		if !found || at.Real[k].Skipped {
			continue
		}
		for _, key := range one.Skills {
			if place.Signed(on)[key] {
				continue
			}
			t := did[rung{key, on}]
			called := s.calledAt(at.StudentID, at.Real[k])
			switch {
			case !called.IsZero():
				if t.called.IsZero() {
					t.called = called
				}
			case classday.WithInstructor(s.Plan.Rules.Ladder, one, place.Signed()):
				t.accompanied++
			default:
				t.clean++
			}
			did[rung{key, on}] = t
		}
	}
	return did
}

// calledAt is when somebody's hand went up first while they did a step, zero for never.
func (s State) calledAt(studentID int64, real Real) time.Time {
	for _, c := range s.Calls {
		if c.StudentID == studentID && !c.Since.Before(real.Begun) && c.Since.Before(real.Ended) {
			return c.Since
		}
	}
	return time.Time{}
}

// level is what speaks for a level, and why.
func (t times) level() (skill.Level, say.Text) {
	switch {
	case !t.called.IsZero():
		return skill.Helped, say.T("a hand went up at %s", say.Clock(t.called))
	case t.accompanied > 0:
		return skill.Helped, say.T("with the instructor")
	case t.clean >= cleanTwice:
		return skill.Alone, say.T("done %s times, nobody was called", say.Count(t.clean))
	}
	return skill.Shown, say.T("done once, nobody was called")
}
