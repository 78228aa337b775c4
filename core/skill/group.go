package skill

import (
	"maps"
	"slices"
)

// A Record is what a student has shown, with the standing of every step of the ladder on
// some kinds of machine that has a mark.
type Record struct {
	Student
	Standings map[Key]Standing
}

// NewRecord sums up the marks of a student on some kinds of machine, on any where none is
// named, in the order in which they were given.
func NewRecord(s Student, marks []Mark, on ...Kind) Record {
	by := map[Key][]Mark{}
	for _, m := range marks {
		if m.StudentID == s.ID && (len(on) == 0 || slices.Contains(on, m.On)) {
			by[m.Skill] = append(by[m.Skill], m)
		}
	}
	r := Record{s, map[Key]Standing{}}
	for key, some := range by {
		r.Standings[key] = StandingOf(some)
	}
	return r
}

// Reached are the steps that count as reached.
func (r Record) Reached() Signed {
	reached := Signed{}
	for key, s := range r.Standings {
		if s.Reached() {
			reached[key] = true
		}
	}
	return reached
}

// Ready tells that a step of a ladder can come next: it is not reached, and what comes
// before it is.
func (r Record) Ready(ladder Ladder, step Step) bool {
	reached := r.Reached()
	return !reached[step.Key] && len(ladder.Missing(reached, step.After)) == 0
}

// A Group is some students looked at together.
type Group []Record

// ReadyFor are those for whom a step can come next.
func (g Group) ReadyFor(ladder Ladder, step Step) Group {
	return slices.DeleteFunc(slices.Clone(g), func(r Record) bool { return !r.Ready(ladder, step) })
}

// Teachers are those who can show a step to others.
func (g Group) Teachers(step Step) Group {
	return slices.DeleteFunc(slices.Clone(g), func(r Record) bool { return r.Standings[step.Key].Best != Teaches })
}

// Next is the step of a ladder that most of them are ready for, the lowest of several; ok
// is false where nobody is ready for any.
func (g Group) Next(ladder Ladder) (next Step, ok bool) {
	most := 0
	for _, step := range ladder.Steps() {
		if n := len(g.ReadyFor(ladder, step)); n > most {
			next, most, ok = step, n, true
		}
	}
	return next, ok
}

// A Stuck is somebody who tried a step again and again.
type Stuck struct {
	Student
	Step     Step
	Standing Standing
}

// Stuck lists who is stuck at what, in the order of a ladder.
func (g Group) Stuck(ladder Ladder) []Stuck {
	var all []Stuck
	for _, step := range ladder.Steps() {
		for _, r := range g {
			if s := r.Standings[step.Key]; s.Stuck() {
				all = append(all, Stuck{r.Student, step, s})
			}
		}
	}
	return all
}

// Direct are the steps that come right before each: those that no other step before it
// needs already.
func (l Ladder) Direct() map[Key][]Key {
	before := map[Key]map[Key]bool{} // all that comes before, however far
	direct := map[Key][]Key{}
	for _, step := range l.Steps() { // nothing comes before what it needs
		all := map[Key]bool{}
		for _, b := range step.After {
			maps.Copy(all, before[b])
		}
		for _, b := range step.After {
			if !all[b] {
				direct[step.Key] = append(direct[step.Key], b)
			}
		}
		for _, b := range step.After {
			all[b] = true
		}
		before[step.Key] = all
	}
	return direct
}

// Depths are how many steps come before each on the longest way: where it stands in a
// drawing of what needs what.
func (l Ladder) Depths() map[Key]int {
	depths := map[Key]int{}
	for _, step := range l.Steps() { // nothing comes before what it needs
		for _, before := range step.After {
			depths[step.Key] = max(depths[step.Key], depths[before]+1)
		}
	}
	return depths
}
