package live

import (
	"cmp"
	"slices"

	"chalkstep/core/classday"
	"chalkstep/core/schedule"
)

// A turn is a step somebody has still to do.
type turn struct {
	*task
	station int
	minutes float64
	// start is when the plan has it, which is the order in which turns come.
	start float64
	takes []int
}

// A task is a step of somebody, by the numbers of machines and resources.
type task struct {
	key   string
	needs []claim
	oneOf []int
	gives []int
	keeps bool
	// gap is how long nobody has the machine before it by the plan.
	gap float64
}

type claim struct{ resource, units int }

// numbered are the tasks of everybody, by their place among the standings.
func numbered(plan classday.Plan, standings []Standing) [][]task {
	p, gaps := plan.Problem, gapsOf(plan.Result.Assignments)
	all := make([][]task, len(standings))
	for _, job := range p.Jobs {
		i := slices.IndexFunc(standings, func(at Standing) bool { return classday.PersonID(at.StudentID) == job.ID })
		if i < 0 {
			continue
		}
		for _, one := range job.Operations {
			t := task{key: one.ID, keeps: one.KeepMachine, gap: gaps[placedStep{job.ID, one.ID}]}
			for resource, units := range one.Needs {
				if r := resourceOf(p, resource); r >= 0 && units > 0 {
					t.needs = append(t.needs, claim{r, units})
				}
			}
			slices.SortFunc(t.needs, func(a, b claim) int { return cmp.Compare(a.resource, b.resource) })
			for _, resource := range one.NeedsOneOf {
				t.oneOf = append(t.oneOf, resourceOf(p, resource))
			}
			for _, resource := range one.Release {
				t.gives = append(t.gives, resourceOf(p, resource))
			}
			all[i] = append(all[i], t)
		}
	}
	return all
}

// A placedStep is whose step of a plan is meant.
type placedStep struct{ job, step string }

// gapsOf are how long nobody has a machine by a plan before each step there.
func gapsOf(placed []schedule.Assignment) map[placedStep]float64 {
	sorted := slices.Clone(placed)
	slices.SortStableFunc(sorted, func(a, b schedule.Assignment) int { return cmp.Compare(a.Start, b.Start) })
	gaps, free := map[placedStep]float64{}, map[string]float64{}
	for _, one := range sorted {
		if one.Machine == "" {
			continue
		}
		gaps[placedStep{one.Job, one.Operation}] = max(0, one.Start-free[one.Machine])
		free[one.Machine] = max(free[one.Machine], one.End)
	}
	return gaps
}

func resourceOf(p schedule.Problem, id string) int {
	return slices.IndexFunc(p.Resources, func(r schedule.Resource) bool { return r.ID == id })
}

func stationOf(p schedule.Problem, id string) int {
	if id == "" {
		return -1
	}
	return slices.IndexFunc(p.Machines, func(m schedule.Machine) bool { return m.ID == id })
}

// taskOf is a step of somebody by its number.
func (s *State) taskOf(index int, step string) *task {
	for k := range s.tasks[index] {
		if s.tasks[index][k].key == step {
			return &s.tasks[index][k]
		}
	}
	return &task{key: step}
}
