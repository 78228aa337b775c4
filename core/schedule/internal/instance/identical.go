package instance

import (
	"maps"
	"slices"

	"chalkstep/core/schedule"
)

// Machines are identical machines where everybody takes as long at one as at the other, with the same hoops, as
// two machines of one make. Who sits at which makes no day shorter: as long as no more sit at them
// than there are, one is free. Where the length alone counts, the search has them as one machine of
// several units, and who sits where is said when the plan is done. Where it counts who changes
// machines they stay apart.

// Identical are by the first of them, which stands for all, all of some machines that are.
type Identical map[string][]string

// IdenticalMachines finds those of a problem.
func IdenticalMachines(p schedule.Problem) Identical {
	out := Identical{}
	if p.Weights != nil {
		return out
	}
	for i, st := range p.Machines {
		for _, first := range p.Machines[:i] {
			if areIdentical(p, first, st) {
				if out[first.ID] == nil {
					out[first.ID] = []string{first.ID}
				}
				out[first.ID] = append(out[first.ID], st.ID)
				break
			}
		}
	}
	return out
}

// areIdentical tells whether nothing tells two machines apart: they are never out, and every operation takes
// as long at both and takes the same along.
func areIdentical(p schedule.Problem, a, b schedule.Machine) bool {
	if len(a.Unavailable) > 0 || len(b.Unavailable) > 0 {
		return false
	}
	for _, job := range p.Jobs {
		for _, step := range job.Operations {
			minutes, does := step.On[a.ID]
			others, too := step.On[b.ID]
			takes, has := step.TakeFor[a.ID]
			other, hasToo := step.TakeFor[b.ID]
			if minutes != others || does != too || has != hasToo || !slices.Equal(takes, other) {
				return false
			}
		}
	}
	return true
}

// joinIdentical is the problem in which the first of them stands for all.
func joinIdentical(p schedule.Problem, t Identical) schedule.Problem {
	if len(t) == 0 {
		return p
	}
	var joined []string
	for _, all := range t {
		joined = append(joined, all[1:]...)
	}
	p.Machines = slices.DeleteFunc(slices.Clone(p.Machines), func(s schedule.Machine) bool {
		return slices.Contains(joined, s.ID)
	})
	return withOperations(p, func(step *schedule.Operation) {
		step.On, step.TakeFor = maps.Clone(step.On), maps.Clone(step.TakeFor)
		for _, machine := range joined {
			delete(step.On, machine)
			delete(step.TakeFor, machine)
		}
	})
}
