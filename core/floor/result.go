package floor

import (
	"cmp"
	"slices"
)

// result names the times of a schedule and says what held it up.
func (s *shop) result(best *schedule, bound tick) Result {
	r := Result{
		MakespanMinutes:   toMinutes(best.makespan),
		LowerBoundMinutes: toMinutes(min(bound, best.makespan)),
		Fits:              best.makespan <= ticks(s.problem.WindowMinutes),
		Steps:             []Placed{},
		Waiting:           map[string]float64{},
	}
	seats := s.seats(best)
	alike := s.shareOut(best, seats)
	for i, j := range s.people {
		person := s.problem.People[i]
		waited := tick(0)
		at := j.ready
		for k := range j.steps {
			placed := Placed{Person: person.ID, Step: person.Steps[k].ID, Start: toMinutes(best.start[i][k]), End: toMinutes(best.end[i][k])}
			if chain := j.steps[k].chain; chain >= 0 {
				placed.Station = seats[chain]
			}
			if with := best.with[i][k]; with >= 0 {
				placed.With = s.name(with)
			}
			if len(person.Steps[k].TakeFor) > 0 {
				placed.Took = s.took(&j, k, best.option[i], alike[taker{i, k}])
			}
			r.Steps = append(r.Steps, placed)
			waited += best.start[i][k] - at
			at = best.end[i][k]
		}
		r.Waiting[person.ID] = toMinutes(waited)
	}
	slices.SortStableFunc(r.Steps, func(a, b Placed) int { return cmp.Compare(a.Start, b.Start) })
	r.Bottleneck = s.bottleneck(best)
	return r
}

// took names the pools that were chosen for a step that takes for a machine. Where alike is not
// empty, it is that one of those that are alike.
func (s *shop) took(j *job, k int, options []int, alike string) []string {
	var names []string
	for _, b := range j.blocks {
		for _, h := range b.holds {
			if h.from != k || h.resource >= 0 {
				continue
			}
			if resource := j.held(h, options); resource >= s.stations {
				names = append(names, cmp.Or(alike, s.name(resource)))
			}
		}
	}
	return names
}

// stationAt is the station of step k of a job, or −1 at the bench.
func (s *shop) stationAt(j *job, k, option int) int {
	if j.steps[k].chain < 0 {
		return -1
	}
	return s.options[j.steps[k].chain][option]
}

// A usage is one stretch of a resource in use.
type usage struct {
	start, end tick
	units      int
}

// usages lists what the plan uses of every resource.
func (s *shop) usages(best *schedule) [][]usage {
	all := make([][]usage, len(s.capacity))
	for i := range s.people {
		j := &s.people[i]
		for k := range j.steps {
			start, end := best.start[i][k], best.end[i][k]
			if st := s.stationAt(j, k, best.option[i][k]); st >= 0 {
				all[st] = append(all[st], usage{start, end, 1})
			}
			for _, need := range j.steps[k].needs {
				all[need.resource] = append(all[need.resource], usage{start, end, need.units})
			}
			if with := best.with[i][k]; with >= 0 {
				all[with] = append(all[with], usage{start, end, 1})
			}
		}
		for _, b := range j.blocks {
			for _, h := range b.holds {
				if resource := j.held(h, best.option[i]); resource >= 0 {
					all[resource] = append(all[resource], usage{best.start[i][h.from], best.end[i][h.to], 1})
				}
			}
		}
	}
	return all
}

// held is the resource a hold takes under the chosen options, −1 for none.
func (j *job) held(h hold, options []int) int {
	if h.resource >= 0 {
		return h.resource
	}
	return h.byOption[options[h.sits]]
}

// bottleneck charges each wait to the resources that came free just when the
// waiting ended, at the step itself or at the next of its block that could
// not start sooner, and names the one charged most.
func (s *shop) bottleneck(best *schedule) string {
	use := s.usages(best)
	charged := make([]tick, len(s.capacity))
	for i := range s.people {
		j := &s.people[i]
		at := j.ready
		for _, b := range j.blocks {
			wait := best.start[i][b.from] - at
			for k := b.from; k < b.to; k++ {
				if k > b.from {
					wait += best.start[i][k] - best.end[i][k-1]
				}
				if wait > 0 && s.charge(charged, use, j, k, best.option[i], best.start[i][k], wait) {
					wait = 0
				}
			}
			at = best.end[i][b.to-1]
		}
	}
	most := -1
	for r := range charged {
		if charged[r] > 0 && (most < 0 || charged[r] > charged[most]) {
			most = r
		}
	}
	if most < 0 {
		most = s.busiest(use)
	}
	return s.name(most)
}

// charge adds a wait to every resource of step k that was given back at its
// start, and tells whether there was one.
func (s *shop) charge(charged []tick, use [][]usage, j *job, k int, options []int, start, wait tick) bool {
	var wanted []int
	if st := s.stationAt(j, k, options[k]); st >= 0 {
		wanted = append(wanted, st)
	}
	for _, need := range j.steps[k].needs {
		wanted = append(wanted, need.resource)
	}
	wanted = append(wanted, j.steps[k].oneOf...)
	for _, b := range j.blocks {
		for _, h := range b.holds {
			if resource := j.held(h, options); h.from == k && resource >= s.stations {
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
func (s *shop) busiest(use [][]usage) int {
	most, share := -1, 0.0
	for r, stretches := range use {
		work := tick(0)
		for _, u := range stretches {
			work += (u.end - u.start) * tick(u.units)
		}
		if busy := float64(work) / float64(max(1, s.capacity[r])); busy > share {
			most, share = r, busy
		}
	}
	return most
}

func (s *shop) name(resource int) string {
	switch {
	case resource < 0:
		return ""
	case resource < s.stations:
		return s.problem.Stations[resource].ID
	}
	return s.problem.Pools[resource-s.stations].ID
}
