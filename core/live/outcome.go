package live

import (
	"slices"

	"chalkstep/core/classday"
	"chalkstep/core/skill"
)

// A Said is what staff say of a student after a class.
type Said struct {
	StudentID int64
	// Reached is how far they came in a class that was not run here, empty for what the
	// log says.
	Reached Reached
	Note    string
	// KitKept tells that the kit of unfinished work waits on the shelf under their name.
	KitKept  bool
	HasPhoto bool
	Version  int
}

// Is tells whether it is one of the ways to come how far.
func (r Reached) Is() bool {
	return slices.Contains([]Reached{Finished, ToFinish, NotStarted, Missing}, r)
}

// With is a report with what staff say: of a class that was not run, that is all there is.
func (r Report) With(said map[int64]Said) Report {
	r.Students = slices.Clone(r.Students)
	for i := range r.Students {
		if s := said[r.Students[i].StudentID]; s.Reached.Is() {
			r.Students[i].Reached = s.Reached
		}
	}
	return r
}

// A Round is a step of the ladder with those who did in the class what it is about, and are
// not signed off on it.
type Round struct {
	skill.Step
	On   skill.Kind
	Seen []Seen
}

// A Seen is somebody who did it: Alone tells that no hand went up meanwhile, and that
// nobody had to stand beside them.
type Seen struct {
	StudentID int64
	Name      string
	Alone     bool
}

// Rounds are what could be signed off from what was seen, in the order of the ladder.
func (s State) Rounds() []Round {
	type key struct {
		skill skill.Key
		on    skill.Kind
	}
	seen := map[key]map[int64]bool{}
	for _, at := range s.Standings {
		w, place, ok := s.Plan.Maker(classday.PersonID(at.StudentID))
		if !ok {
			continue
		}
		on := skill.SingleNeedle
		for k, step := range at.Steps[:at.Next] {
			if m, there := s.Plan.Machine(step.Machine); there {
				on = m.Kind()
			}
			one, found := w.Step(step.Operation)
			if !found || at.Real[k].Skipped {
				continue
			}
			alone := !classday.WithInstructor(s.Plan.Rules.Ladder, one, place.Signed()) && !s.called(at.StudentID, at.Real[k])
			for _, sk := range one.Skills {
				if place.Signed(on)[sk] {
					continue
				}
				by := seen[key{sk, on}]
				if by == nil {
					by = map[int64]bool{}
					seen[key{sk, on}] = by
				}
				was, had := by[at.StudentID]
				by[at.StudentID] = alone && (was || !had)
			}
		}
	}
	var rounds []Round
	for _, step := range s.Plan.Rules.Ladder.Steps() {
		for _, on := range skill.Kinds {
			by := seen[key{step.Key, on}]
			if len(by) == 0 {
				continue
			}
			r := Round{Step: step, On: on}
			for _, at := range s.Standings {
				if alone, did := by[at.StudentID]; did {
					r.Seen = append(r.Seen, Seen{at.StudentID, at.Name, alone})
				}
			}
			rounds = append(rounds, r)
		}
	}
	return rounds
}

// called tells whether somebody's hand went up while they did a step.
func (s State) called(studentID int64, real Real) bool {
	return slices.ContainsFunc(s.Calls, func(c Call) bool {
		return c.StudentID == studentID && !c.Since.Before(real.Begun) && c.Since.Before(real.Ended)
	})
}

// LeftMinutes is how long what somebody has still to do takes, as planned.
func (o Outcome) LeftMinutes() float64 {
	left := 0.0
	for _, step := range o.Steps[o.Next:] {
		left += step.End - step.Start
	}
	return left
}

// Unmarked are rounds without those who were marked in the class already.
func Unmarked(rounds []Round, marks []skill.Mark) []Round {
	var left []Round
	for _, r := range rounds {
		r.Seen = slices.DeleteFunc(slices.Clone(r.Seen), func(s Seen) bool {
			return slices.ContainsFunc(marks, func(m skill.Mark) bool {
				return m.Skill == r.Key && m.On == r.On && m.StudentID == s.StudentID
			})
		})
		if len(r.Seen) > 0 {
			left = append(left, r)
		}
	}
	return left
}
