package placing

import (
	"cmp"
	"slices"

	"chalkstep/core/schedule"
	"chalkstep/core/schedule/internal/instance"
)

// Plan names the times of a schedule and says what held it up.
func (d *Generator) Plan(best *Schedule, bound schedule.Tick) schedule.Plan {
	r := schedule.Plan{
		MakespanMinutes:   schedule.ToMinutes(best.Makespan),
		LowerBoundMinutes: schedule.ToMinutes(min(bound, best.Makespan)),
		Fits:              best.Makespan <= schedule.Ticks(d.Problem.WindowMinutes),
		Assignments:       []schedule.Assignment{},
		Waiting:           map[string]float64{},
	}
	seats := d.machinesOf(best)
	alike := d.shareOut(best, seats)
	for i, j := range d.Jobs {
		job := d.Problem.Jobs[i]
		waited := schedule.Tick(0)
		at := j.Ready
		for k := range j.Operations {
			placed := schedule.Assignment{Job: job.ID, Operation: job.Operations[k].ID,
				Start: schedule.ToMinutes(best.Start[i][k]), End: schedule.ToMinutes(best.End[i][k])}
			if chain := j.Operations[k].Chain; chain >= 0 {
				placed.Machine = seats[chain]
			}
			if with := best.With[i][k]; with >= 0 {
				placed.With = d.Name(with)
			}
			if len(job.Operations[k].TakeFor) > 0 {
				placed.Took = d.takenBy(&j, k, best.Option[i], alike[taker{i, k}])
			}
			r.Assignments = append(r.Assignments, placed)
			waited += best.Start[i][k] - at
			at = best.End[i][k]
		}
		r.Waiting[job.ID] = schedule.ToMinutes(waited)
	}
	slices.SortStableFunc(r.Assignments, func(a, b schedule.Assignment) int { return cmp.Compare(a.Start, b.Start) })
	r.Bottleneck = d.bottleneck(best)
	return r
}

// takenBy names the resources that were chosen for an operation that takes for a machine. Where alike is not
// empty, it is that one of those that are alike.
func (d *Generator) takenBy(j *instance.CompiledJob, k int, options []int, alike string) []string {
	var names []string
	for _, b := range j.Blocks {
		for _, h := range b.Holds {
			if h.From != k || h.Resource >= 0 {
				continue
			}
			if resource := j.Held(h, options); resource >= d.Machines {
				names = append(names, cmp.Or(alike, d.Name(resource)))
			}
		}
	}
	return names
}

// A usage is one stretch of a resource in use.
type usage struct {
	start, end schedule.Tick
	units      int
}

// usages lists what the plan uses of every resource.
func (d *Generator) usages(best *Schedule) [][]usage {
	all := make([][]usage, len(d.Capacity))
	for i := range d.Jobs {
		j := &d.Jobs[i]
		for k := range j.Operations {
			start, end := best.Start[i][k], best.End[i][k]
			if st := d.MachineAt(j, k, best.Option[i][k]); st >= 0 {
				all[st] = append(all[st], usage{start, end, 1})
			}
			for _, need := range j.Operations[k].Needs {
				all[need.Resource] = append(all[need.Resource], usage{start, end, need.Units})
			}
			if with := best.With[i][k]; with >= 0 {
				all[with] = append(all[with], usage{start, end, 1})
			}
		}
		for _, b := range j.Blocks {
			for _, h := range b.Holds {
				if resource := j.Held(h, best.Option[i]); resource >= 0 {
					all[resource] = append(all[resource], usage{best.Start[i][h.From], best.End[i][h.To], 1})
				}
			}
		}
	}
	return all
}

// bottleneck charges each wait to the resources that came free just when the
// waiting ended, at the operation itself or at the next of its block that could
// not start sooner, and names the one charged most.
func (d *Generator) bottleneck(best *Schedule) string {
	use := d.usages(best)
	charged := make([]schedule.Tick, len(d.Capacity))
	for i := range d.Jobs {
		j := &d.Jobs[i]
		at := j.Ready
		for _, b := range j.Blocks {
			wait := best.Start[i][b.From] - at
			for k := b.From; k < b.To; k++ {
				if k > b.From {
					wait += best.Start[i][k] - best.End[i][k-1]
				}
				if wait > 0 && d.charge(charged, use, j, k, best.Option[i], best.Start[i][k], wait) {
					wait = 0
				}
			}
			at = best.End[i][b.To-1]
		}
	}
	most := -1
	for r := range charged {
		if charged[r] > 0 && (most < 0 || charged[r] > charged[most]) {
			most = r
		}
	}
	if most < 0 {
		most = d.busiest(use)
	}
	return d.Name(most)
}

// charge adds a wait to every resource of operation k that was given back at its
// start, and tells whether there was one.
func (d *Generator) charge(charged []schedule.Tick, use [][]usage, j *instance.CompiledJob, k int, options []int, start,
	wait schedule.Tick) bool {
	var wanted []int
	if st := d.MachineAt(j, k, options[k]); st >= 0 {
		wanted = append(wanted, st)
	}
	for _, need := range j.Operations[k].Needs {
		wanted = append(wanted, need.Resource)
	}
	wanted = append(wanted, j.Operations[k].OneOf...)
	for _, b := range j.Blocks {
		for _, h := range b.Holds {
			if resource := j.Held(h, options); h.From == k && resource >= d.Machines {
				wanted = append(wanted, resource)
			}
		}
	}
	found := false
	for _, r := range wanted {
		if slices.ContainsFunc(use[r], func(u usage) bool { return u.end == start && u.start < u.end }) {
			charged[r] += wait
			found = true
		}
	}
	return found
}

// busiest is the resource with the most work for what it can do, −1 for none.
func (d *Generator) busiest(use [][]usage) int {
	most, share := -1, 0.0
	for r, stretches := range use {
		work := schedule.Tick(0)
		for _, u := range stretches {
			work += (u.end - u.start) * schedule.Tick(u.units)
		}
		if busy := float64(work) / float64(max(1, d.Capacity[r])); busy > share {
			most, share = r, busy
		}
	}
	return most
}

// A taker is a job's operation at which a resource is taken for a machine.
type taker struct{ person, step int }

// shareOut tells which of the resources that are alike is taken at each operation of a plan: in the order
// of the day, the first that the operation names for its machine of which one is free. seats has the
// machine of each choice.
func (d *Generator) shareOut(a *Schedule, seats []string) map[taker]string {
	if len(d.Interchangeable.StandsFor) == 0 {
		return nil
	}
	type use struct {
		taker
		from, to schedule.Tick
		one      string
		may      []string
	}
	var uses []use
	for i := range d.Jobs {
		for _, b := range d.Jobs[i].Blocks {
			for _, h := range b.Holds {
				r := d.Jobs[i].Held(h, a.Option[i])
				if r < d.Machines || d.Interchangeable.StandsFor[d.Name(r)] == "" {
					continue
				}
				may := d.Interchangeable.Apart.Jobs[i].Operations[h.From].TakeFor[seats[h.Chain]]
				uses = append(uses, use{taker{i, h.From}, a.Start[i][h.From], a.End[i][h.To], d.Name(r), may})
			}
		}
	}
	slices.SortStableFunc(uses, func(a, b use) int { return cmp.Compare(a.from, b.from) })
	free := map[string][]schedule.Tick{} // by resource: when each unit is
	for _, resource := range d.Interchangeable.Apart.Resources {
		free[resource.ID] = make([]schedule.Tick, resource.Count)
	}
	out := map[taker]string{}
	for _, u := range uses {
		for _, resource := range u.may {
			unit := slices.IndexFunc(free[resource], func(at schedule.Tick) bool { return at <= u.from })
			if unit >= 0 && d.Interchangeable.StandsFor[resource] == u.one {
				free[resource][unit], out[u.taker] = u.to, resource
				break
			}
		}
	}
	return out
}

// machinesOf names the machine of each choice of a plan. Of identical machines it is that at which the same job sat
// before, where it is free, or else the first that is.
func (d *Generator) machinesOf(a *Schedule) []string {
	out := make([]string, len(d.Options))
	type shared struct {
		person, chain int
		from, to      schedule.Tick
		twins         []string
	}
	var all []shared
	for i := range d.Jobs {
		for _, b := range d.Jobs[i].Blocks {
			for _, c := range b.Chains {
				first, last := d.Jobs[i].ChainSpan(c.Index)
				machine := d.Name(d.MachineAt(&d.Jobs[i], first, a.Option[i][first]))
				out[c.Index] = machine
				if twins := d.Identical[machine]; len(twins) > 0 {
					all = append(all, shared{i, c.Index, a.Start[i][first], a.End[i][last], twins})
				}
			}
		}
	}
	slices.SortStableFunc(all, func(a, b shared) int { return cmp.Compare(a.from, b.from) })
	free := map[string]schedule.Tick{}
	before := make([]string, len(d.Jobs))
	for _, one := range all {
		isFree := func(machine string) bool { return free[machine] <= one.from }
		at := before[one.person]
		if !slices.Contains(one.twins, at) || !isFree(at) {
			at = one.twins[max(0, slices.IndexFunc(one.twins, isFree))]
		}
		out[one.chain], before[one.person], free[at] = at, at, one.to
	}
	return out
}
