package bound

import (
	"cmp"
	"slices"

	"chalkstep/core/schedule"
)

// A sitting is somebody at a machine, with the least time before it and after it, and how
// long it takes at each unit of each machine; never where that does not do it.
type sitting struct {
	head, tail schedule.Tick
	at         []schedule.Tick
	least      schedule.Tick
}

// Limits of trying how sittings can be shared among machines: of so many no more is proved
// than by adding up, and proofs that take longer together are given up.
const (
	mostPacked  = 20
	mostSharing = 20_000
)

// packingBound is a time that no plan can beat, at least as long as one that is known:
// sittings are whole, so that somebody has to find a share of them for each machine that it
// can do in time, each sitting between its head and its tail.
func (s bounds) packingBound(known schedule.Tick) schedule.Tick {
	p := s.packing()
	if len(p.sittings) == 0 || len(p.sittings) > mostPacked {
		return known
	}
	const coarse, fine = 40, 800 // shares of the time: how far is tried first, and at last
	for step := known / coarse; step > known/fine; {
		if p.fits(known + step) {
			step /= 2
		} else {
			known += step
		}
	}
	return known
}

// A packing shares sittings among machines.
type packing struct {
	sittings []sitting
	// alike is, by unit, the first that does every sitting in the same time.
	alike []int
	// head and tail are the least of all, rest the least work of a sitting and all after it.
	head, tail schedule.Tick
	rest       []schedule.Tick
	// within is the time in which all has to be done, shares what each machine has of it,
	// by falling tails; tried counts.
	within schedule.Tick
	shares [][]placed
	load   []schedule.Tick
	tried  int
}

// A placed sitting is one at the machine that has it.
type placed struct{ head, work, tail schedule.Tick }

// packing lists what is shared among the machines of an instance.
func (s bounds) packing() *packing {
	p := &packing{head: schedule.Never, tail: schedule.Never}
	unit, units := make([]int, s.Machines), 0 // the first of each machine, and how many
	for st := range unit {
		unit[st] = units
		units += s.Capacity[st]
	}
	for i := range s.Jobs {
		j := &s.Jobs[i]
		last := len(j.Operations) - 1
		for _, b := range j.Blocks {
			for _, c := range b.Chains {
				first, end := j.ChainSpan(c.Index)
				one := sitting{head: j.Ready + j.Between(0, first-1), tail: j.Between(end+1, last),
					at: make([]schedule.Tick, units), least: schedule.Never}
				for st := range one.at {
					one.at[st] = schedule.Never
				}
				for option, st := range s.Options[c.Index] {
					if s.Capacity[st] == 0 {
						continue
					}
					work := schedule.Tick(0)
					for k := first; k <= end; k++ {
						if o := &j.Operations[k]; o.Chain == c.Index {
							work += o.On[option]
						} else {
							work += j.OperationMinimum(k)
						}
					}
					for u := unit[st]; u < unit[st]+s.Capacity[st]; u++ {
						one.at[u], one.least = min(one.at[u], work), min(one.least, work)
					}
				}
				if one.least == schedule.Never {
					return &packing{} // what nothing can do, the planner refuses
				}
				p.sittings = append(p.sittings, one)
				p.head, p.tail = min(p.head, one.head), min(p.tail, one.tail)
			}
		}
	}
	slices.SortStableFunc(p.sittings, func(a, b sitting) int { return cmp.Compare(b.least, a.least) })
	p.rest = make([]schedule.Tick, len(p.sittings)+1)
	for i := len(p.sittings) - 1; i >= 0; i-- {
		p.rest[i] = p.rest[i+1] + p.sittings[i].least
	}
	p.alike = make([]int, units)
	for st := range p.alike {
		p.alike[st] = st
		for before := range st {
			if !slices.ContainsFunc(p.sittings, func(o sitting) bool { return o.at[st] != o.at[before] }) {
				p.alike[st] = before
				break
			}
		}
	}
	p.shares, p.load = make([][]placed, units), make([]schedule.Tick, units)
	return p
}

// fits tells whether there may be a share for every machine that it can do in a time: that
// there is none is certain, that there is one is not.
func (p *packing) fits(within schedule.Tick) bool {
	p.within = within
	for st := range p.shares {
		p.shares[st], p.load[st] = p.shares[st][:0], 0
	}
	return p.share(0)
}

// share finds a machine for a sitting and all after it.
func (p *packing) share(i int) bool {
	if i == len(p.sittings) {
		return true
	}
	if p.tried++; p.tried > mostSharing {
		return true // nobody knows
	}
	left := schedule.Tick(0)
	for _, load := range p.load {
		left += max(0, p.within-p.head-p.tail-load)
	}
	if left < p.rest[i] {
		return false
	}
	one := &p.sittings[i]
	for st, work := range one.at {
		if work == schedule.Never || p.emptyBefore(st) {
			continue
		}
		was := p.shares[st]
		with := placed{one.head, work, one.tail}
		at, _ := slices.BinarySearchFunc(was, with, func(a, b placed) int { return cmp.Compare(b.tail, a.tail) })
		p.shares[st] = slices.Insert(slices.Clone(was), at, with)
		p.load[st] += work
		if p.inTime(p.shares[st]) && p.share(i+1) {
			return true
		}
		p.shares[st] = was
		p.load[st] -= work
	}
	return false
}

// emptyBefore tells that a machine has nothing, nor has one like it before.
func (p *packing) emptyBefore(st int) bool {
	if len(p.shares[st]) > 0 {
		return false
	}
	for before := range st {
		if p.alike[before] == p.alike[st] && len(p.shares[before]) == 0 {
			return true
		}
	}
	return false
}

// inTime tells whether one machine may do a share in time: of those that begin no sooner
// than one of them and leave no less time after them than another, all have to be done in
// between.
func (p *packing) inTime(share []placed) bool {
	for _, first := range share {
		work := schedule.Tick(0)
		for _, t := range share { // by falling tails
			if t.head >= first.head {
				if work += t.work; first.head+work+t.tail > p.within {
					return false
				}
			}
		}
	}
	return true
}
