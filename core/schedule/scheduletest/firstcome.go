package scheduletest

import (
	"maps"
	"math"
	"slices"

	"chalkstep/core/schedule"
)

// FirstCome is when a day without a plan ends: everyone goes on with their next step
// as soon as what it takes is free, whoever asked first comes first, and a hoop is
// taken for the machine that is free, or else has been busy longest.
func FirstCome(p schedule.Problem) float64 {
	d := &unplanned{Problem: p, pools: map[string]int{}, stations: map[string]int{}, since: map[string]float64{}}
	for _, resource := range p.Resources {
		d.pools[resource.ID] = resource.Count
	}
	for i, who := range p.Jobs {
		d.people = append(d.people, visitor{Job: who, asked: who.Ready, order: i, ends: math.Inf(1)})
	}
	for now := 0.0; ; {
		for d.start(now) {
		}
		next := math.Inf(1)
		for i := range d.people {
			if v := &d.people[i]; v.busy {
				next = min(next, v.ends)
			} else if v.asked > now && v.step < len(v.Operations) {
				next = min(next, v.asked)
			}
		}
		if math.IsInf(next, 1) {
			return d.last
		}
		now = next
		d.finish(now)
	}
}

type visitor struct {
	schedule.Job
	step, order int
	asked, ends float64
	busy        bool
	chosen      string // the station a hoop was taken for
	kept        bool
	took        []string
}

type unplanned struct {
	schedule.Problem
	people   []visitor
	pools    map[string]int // units free
	stations map[string]int // 1 while taken
	since    map[string]float64
	last     float64
}

// start lets the first who can begin; it is false where nobody can.
func (d *unplanned) start(now float64) bool {
	var asking []*visitor
	for i := range d.people {
		if v := &d.people[i]; !v.busy && v.asked <= now && v.step < len(v.Operations) {
			asking = append(asking, v)
		}
	}
	slices.SortFunc(asking, func(a, b *visitor) int {
		if a.asked != b.asked {
			return int(math.Copysign(1, a.asked-b.asked))
		}
		return a.order - b.order
	})
	for _, v := range asking {
		if d.begin(v, now) {
			return true
		}
	}
	return false
}

func (d *unplanned) begin(v *visitor, now float64) bool {
	s := v.Operations[v.step]
	for resource, units := range s.Needs {
		if d.pools[resource] < units {
			return false
		}
	}
	for _, resource := range s.Take {
		if d.pools[resource] < 1 {
			return false
		}
	}
	machine, resource := v.chosen, ""
	if len(s.TakeFor) > 0 {
		if machine, resource = d.choose(v, s); resource == "" {
			return false
		}
	}
	if len(s.On) > 0 {
		if machine == "" {
			for _, id := range slices.Sorted(maps.Keys(s.On)) {
				if d.stations[id] == 0 && (machine == "" || s.On[id] < s.On[machine]) {
					machine = id
				}
			}
		}
		if machine == "" || d.stations[machine] == 1 && !v.kept {
			return false
		}
		d.stations[machine], d.since[machine] = 1, now
		v.ends = now + s.On[machine]
	} else {
		v.ends = now + *s.Minutes
	}
	v.chosen = machine
	for id, units := range s.Needs {
		d.pools[id] -= units
	}
	for _, id := range s.Take {
		d.pools[id]--
		v.took = append(v.took, id)
	}
	if resource != "" {
		d.pools[resource]--
		v.took = append(v.took, resource)
	}
	v.busy = true
	return true
}

// choose is a station that takes a hoop that is free.
func (d *unplanned) choose(v *visitor, s schedule.Operation) (machine, resource string) {
	for _, id := range slices.Sorted(maps.Keys(s.TakeFor)) {
		for _, p := range s.TakeFor[id] {
			if d.pools[p] < 1 {
				continue
			}
			if resource == "" || d.stations[id] < d.stations[machine] || d.stations[id] == d.stations[machine] &&
				d.since[id] < d.since[machine] {
				machine, resource = id, p
			}
		}
	}
	return machine, resource
}

func (d *unplanned) finish(now float64) {
	for i := range d.people {
		v := &d.people[i]
		if !v.busy || v.ends > now {
			continue
		}
		s := v.Operations[v.step]
		for id, units := range s.Needs {
			d.pools[id] += units
		}
		for _, id := range s.Release {
			if at := slices.Index(v.took, id); at >= 0 {
				d.pools[id]++
				v.took = slices.Delete(v.took, at, at+1)
			}
		}
		if len(s.On) > 0 {
			if v.kept = s.KeepMachine; !v.kept {
				d.stations[v.chosen], v.chosen = 0, ""
			}
		}
		v.busy, v.asked, v.ends = false, now, math.Inf(1)
		v.step++
		d.last = max(d.last, now)
	}
}
