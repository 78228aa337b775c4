package floor

import (
	"cmp"
	"fmt"
	"slices"
)

// blockMinimum is the least time a block can take.
func (j *job) blockMinimum(b *block) tick {
	total := tick(0)
	for i := b.from; i < b.to; i++ {
		total += j.stepMinimum(i)
	}
	return total
}

func (j *job) stepMinimum(i int) tick {
	o := &j.steps[i]
	if o.chain < 0 {
		return o.minutes
	}
	least := o.on[0]
	for _, t := range o.on[1:] {
		least = min(least, t)
	}
	return least
}

// between is the least time from the start of step from to the end of step to.
func (j *job) between(from, to int) tick {
	total := tick(0)
	for i := from; i <= to; i++ {
		total += j.stepMinimum(i)
	}
	return total
}

// A task is work that so many units of some resources have to do, with the least time
// before it can start and after it can end.
type task struct {
	work, head, tail tick
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

// energy is a time that resources of a capacity cannot beat: of all tasks that
// begin no sooner than one of them and leave no less time after them than
// another, the work has to be done in between.
func energy(tasks []task, capacity tick) tick {
	slices.SortFunc(tasks, func(a, b task) int { return cmp.Compare(b.tail, a.tail) })
	bound := tick(0)
	seen := map[tick]bool{}
	for _, first := range tasks {
		if seen[first.head] {
			continue
		}
		seen[first.head] = true
		work := tick(0)
		for _, t := range tasks {
			if t.head >= first.head {
				work += t.work
				bound = max(bound, first.head+ceil(work, capacity)+t.tail)
			}
		}
	}
	return bound
}

// pigeonholes is a time that so many units cannot beat: of q × units + 1 tasks one unit
// does q + 1, one after the other, and no less than the shortest of them. Tasks that begin no
// sooner than one of them and leave no less time after them than another are looked at.
func pigeonholes(tasks []task, units int) tick {
	tasks = slices.DeleteFunc(slices.Clone(tasks), func(t task) bool { return t.units != 1 })
	slices.SortFunc(tasks, func(a, b task) int { return cmp.Compare(b.work, a.work) })
	heads, tails := ends(tasks, func(t task) tick { return t.head }), ends(tasks, func(t task) tick { return t.tail })
	bound := tick(0)
	for _, head := range heads {
		for _, tail := range tails {
			var works []tick
			for _, t := range tasks {
				if t.head >= head && t.tail >= tail {
					works = append(works, t.work)
				}
			}
			for q := 1; q*units < len(works); q++ {
				sum := tick(0)
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
func ends(tasks []task, of func(task) tick) []tick {
	all := make([]tick, len(tasks))
	for i, t := range tasks {
		all[i] = of(t)
	}
	slices.Sort(all)
	return slices.Compact(all)
}

// lowerBound is a time no plan can beat: nobody is faster than their own
// steps, and no group of stations and no pool does more at once than it can. A
// hoop that is taken for a machine is one of the hoops of all machines that may
// be chosen, from when it is taken to when it is given back.
func (s *shop) lowerBound() tick {
	bound := tick(0)
	all := loads{}
	for i := range s.people {
		j := &s.people[i]
		last := len(j.steps) - 1
		bound = max(bound, j.ready+j.between(0, last))
		span := func(from, to int, units tick) task {
			return task{units * j.between(from, to), j.ready + j.between(0, from-1), j.between(to+1, last), int(units)}
		}
		for k := range j.steps {
			for _, need := range j.steps[k].needs {
				all.add([]int{need.resource}, span(k, k, tick(need.units)))
			}
		}
		for b := range j.blocks {
			for _, h := range j.blocks[b].holds {
				resources := []int{h.resource}
				if h.resource < 0 {
					resources = h.byOption
				}
				// Kept stations are bounded with their chains, and where some
				// station takes nothing, there may be nothing to bound.
				if !slices.ContainsFunc(resources, func(r int) bool { return r < s.stations }) {
					all.add(resources, span(h.from, h.to, 1))
				}
			}
			for _, c := range j.blocks[b].chains {
				first, end := j.chainSpan(c.index)
				all.add(c.options, span(first, end, 1))
			}
		}
	}
	for _, l := range all {
		capacity := tick(0)
		for _, r := range l.resources {
			capacity += tick(s.capacity[r])
		}
		if capacity > 0 { // what nothing can do, the planner refuses
			tasks := all.within(l.resources)
			bound = max(bound, energy(tasks, capacity), pigeonholes(tasks, int(capacity)))
		}
	}
	return s.packingBound(max(bound, s.spreadBound(bound)))
}

// ceil divides; the planner's ticks are so fine that rounding up is exact enough.
func ceil(work, by tick) tick { return (work + by - 1) / by }

// chainSpan is the first and last step of a chain.
func (j *job) chainSpan(chain int) (first, last int) {
	first = -1
	for i := range j.steps {
		if j.steps[i].chain == chain {
			if first < 0 {
				first = i
			}
			last = i
		}
	}
	return first, last
}
