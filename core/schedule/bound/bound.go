// Package bound finds times that no plan of a problem can beat.
package bound

import (
	"cmp"
	"fmt"
	"slices"

	"chalkstep/core/schedule"
	"chalkstep/core/schedule/internal/instance"
)

// A task is work that so many units of some resources have to do, with the least time
// before it can start and after it can end.
type task struct {
	work, head, tail schedule.Tick
	units            int
}

// A load is the tasks that have to be done by one of some resources.
type load struct {
	resources []int
	tasks     []task
}

// loads are kept by the resources that can do them.
type loads map[string]*load

func (l loads) add(resources []int, t task) {
	if t.work <= 0 || len(resources) == 0 {
		return
	}
	resources = slices.Compact(slices.Sorted(slices.Values(resources)))
	key := fmt.Sprint(resources)
	if l[key] == nil {
		l[key] = &load{resources: resources}
	}
	l[key].tasks = append(l[key].tasks, t)
}

// within gathers the tasks that only some resources can do: those of a load and
// of all loads on fewer of them.
func (l loads) within(resources []int) []task {
	var all []task
	for _, other := range l {
		if !slices.ContainsFunc(other.resources, func(r int) bool { return !slices.Contains(resources, r) }) {
			all = append(all, other.tasks...)
		}
	}
	return all
}

// energyBound is a time that resources of a capacity cannot beat: of all tasks that
// begin no sooner than one of them and leave no less time after them than
// another, the work has to be done in between.
func energyBound(tasks []task, capacity schedule.Tick) schedule.Tick {
	slices.SortFunc(tasks, func(a, b task) int { return cmp.Compare(b.tail, a.tail) })
	bound := schedule.Tick(0)
	seen := map[schedule.Tick]bool{}
	for _, first := range tasks {
		if seen[first.head] {
			continue
		}
		seen[first.head] = true
		work := schedule.Tick(0)
		for _, t := range tasks {
			if t.head >= first.head {
				work += t.work
				bound = max(bound, first.head+ceil(work, capacity)+t.tail)
			}
		}
	}
	return bound
}

// pigeonholeBound is a time that so many units cannot beat: of q × units + 1 tasks one unit
// does q + 1, one after the other, and no less than the shortest of them. Tasks that begin no
// sooner than one of them and leave no less time after them than another are looked at.
func pigeonholeBound(tasks []task, units int) schedule.Tick {
	tasks = slices.DeleteFunc(slices.Clone(tasks), func(t task) bool { return t.units != 1 })
	slices.SortFunc(tasks, func(a, b task) int { return cmp.Compare(b.work, a.work) })
	heads, tails := ends(tasks, func(t task) schedule.Tick { return t.head }),
		ends(tasks, func(t task) schedule.Tick { return t.tail })
	bound := schedule.Tick(0)
	for _, head := range heads {
		for _, tail := range tails {
			var works []schedule.Tick
			for _, t := range tasks {
				if t.head >= head && t.tail >= tail {
					works = append(works, t.work)
				}
			}
			for q := 1; q*units < len(works); q++ {
				sum := schedule.Tick(0)
				for _, w := range works[q*units-q : q*units+1] {
					sum += w
				}
				bound = max(bound, head+sum+tail)
			}
		}
	}
	return bound
}

// ends are the different values of some tasks.
func ends(tasks []task, of func(task) schedule.Tick) []schedule.Tick {
	all := make([]schedule.Tick, len(tasks))
	for i, t := range tasks {
		all[i] = of(t)
	}
	slices.Sort(all)
	return slices.Compact(all)
}

// LowerBound is a time that no plan can beat, as [bounds.lowerBound] finds it.
func LowerBound(s *instance.Instance) schedule.Tick { return bounds{s}.lowerBound() }

// bounds finds what no plan of an instance can beat.
type bounds struct{ *instance.Instance }

// lowerBound is a time no plan can beat: nobody is faster than their own
// operations, and no group of machines and no resource does more at once than it can. A
// hoop that is taken for a machine is one of the hoops of all machines that may
// be chosen, from when it is taken to when it is given back.
func (s bounds) lowerBound() schedule.Tick {
	bound := schedule.Tick(0)
	all := loads{}
	for i := range s.Jobs {
		j := &s.Jobs[i]
		last := len(j.Operations) - 1
		bound = max(bound, j.Ready+j.Between(0, last))
		span := func(from, to int, units schedule.Tick) task {
			return task{units * j.Between(from, to), j.Ready + j.Between(0, from-1), j.Between(to+1, last), int(units)}
		}
		for k := range j.Operations {
			for _, need := range j.Operations[k].Needs {
				all.add([]int{need.Resource}, span(k, k, schedule.Tick(need.Units)))
			}
		}
		for b := range j.Blocks {
			for _, h := range j.Blocks[b].Holds {
				resources := []int{h.Resource}
				if h.Resource < 0 {
					resources = h.ByOption
				}
				// Kept machines are bounded with their chains, and where some
				// machine takes nothing, there may be nothing to bound.
				if !slices.ContainsFunc(resources, func(r int) bool { return r < s.Machines }) {
					all.add(resources, span(h.From, h.To, 1))
				}
			}
			for _, c := range j.Blocks[b].Chains {
				first, end := j.ChainSpan(c.Index)
				all.add(c.Options, span(first, end, 1))
			}
		}
	}
	for _, l := range all {
		capacity := schedule.Tick(0)
		for _, r := range l.resources {
			capacity += schedule.Tick(s.Capacity[r])
		}
		if capacity > 0 { // what nothing can do, the planner refuses
			tasks := all.within(l.resources)
			bound = max(bound, energyBound(tasks, capacity), pigeonholeBound(tasks, int(capacity)))
		}
	}
	return s.packingBound(max(bound, s.priceBound(bound)))
}

// ceil divides; the planner's ticks are so fine that rounding up is exact enough.
func ceil(work, by schedule.Tick) schedule.Tick { return (work + by - 1) / by }
