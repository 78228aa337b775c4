package bound

import (
	"math"
	"slices"

	"chalkstep/core/schedule"
	"chalkstep/core/schedule/internal/instance"
)

// A demand is something that has to be done by one of some ways: at which machine,
// with which resources, and for how long. What is needed for certain has one way.
type demand struct{ ways [][]part }

// A part is work that a resource has to do. Before it somebody needs at least head
// minutes of the day, after it at least tail.
type part struct {
	resource, units  int
	work, head, tail schedule.Tick
	// ahead and behind say when, at the earliest and before the end, somebody has to
	// have one of a resource that few have, for whom this is the first use or the last.
	ahead, behind *queued
}

// A queued is an operation that is done in turn: on which resource, for how long, and the least
// time between it and the use it goes with; from is its head, or its tail.
type queued struct {
	pool               int
	length, from, then schedule.Tick
}

// demands lists all of an instance. All machines together, and all resources of which one is
// taken for them, are two rows more.
func (s bounds) demands() []demand {
	var all []demand
	machines, taken := len(s.Capacity), len(s.Capacity)+1
	for i := range s.Jobs {
		j := &s.Jobs[i]
		last := len(j.Operations) - 1
		span := func(resource, from, to, units, chain, option int) part {
			p := part{resource: resource, units: units, head: j.Ready + j.Between(0, from-1), tail: j.Between(to+1, last)}
			for k := from; k <= to; k++ {
				if o := &j.Operations[k]; chain >= 0 && o.Chain == chain {
					p.work += o.On[option]
				} else {
					p.work += j.OperationMinimum(k)
				}
			}
			p.work *= schedule.Tick(units)
			return p
		}
		certain := func(p part) {
			if p.work > 0 { // what takes no time needs nothing
				all = append(all, demand{[][]part{{p}}})
			}
		}
		for k := range j.Operations {
			for _, need := range j.Operations[k].Needs {
				if need.Units > 0 {
					certain(span(need.Resource, k, k, need.Units, -1, 0))
				}
			}
			var d demand
			for _, r := range j.Operations[k].OneOf {
				d.ways = append(d.ways, []part{span(r, k, k, 1, -1, 0)})
			}
			if d.ways != nil {
				all = append(all, d)
			}
		}
		chains, seen := 0, 0
		for _, b := range j.Blocks {
			chains += len(b.Chains)
		}
		for _, b := range j.Blocks {
			for _, h := range b.Holds {
				if h.Resource >= 0 {
					certain(span(h.Resource, h.From, h.To, 1, -1, 0))
				}
			}
			for _, c := range b.Chains {
				seen++
				first, end := j.ChainSpan(c.Index)
				ahead := queueAhead(j, first, seen == 1)
				var behind *queued
				if seen == chains {
					behind = queueBehind(j, end)
				}
				given := map[int]*queued{}
				for _, h := range b.Holds {
					if seen == chains && given[h.To] == nil {
						given[h.To] = queueBehind(j, h.To)
					}
				}
				var d demand
				for option, st := range s.Options[c.Index] {
					at := span(st, first, end, 1, c.Index, option)
					at.ahead, at.behind = ahead, behind
					way := []part{at}
					at.resource = machines
					way = append(way, at)
					for _, h := range b.Holds {
						if h.Resource < 0 && h.Chain == c.Index && h.ByOption[option] >= s.Machines {
							held := span(h.ByOption[option], h.From, h.To, 1, c.Index, option)
							held.behind = given[h.To]
							way = append(way, held)
							held.resource = taken
							way = append(way, held)
						}
					}
					d.ways = append(d.ways, way)
				}
				all = append(all, d)
			}
		}
	}
	return all
}

// queueAhead is an operation that somebody has to have done in turn when a use begins: the
// use's own first one, or, before somebody's first use, the last before it.
func queueAhead(j *instance.CompiledJob, use int, first bool) *queued {
	for k := use; k >= 0; k-- {
		if needs := j.Operations[k].Needs; len(needs) > 0 {
			return &queued{needs[0].Resource, j.OperationMinimum(k), j.Ready + j.Between(0, k-1), j.Between(k, use-1)}
		}
		if !first {
			return nil
		}
	}
	return nil
}

// queueBehind is the last operation of somebody's that is done in turn after their last use.
func queueBehind(j *instance.CompiledJob, use int) *queued {
	last := len(j.Operations) - 1
	for k := last; k > use; k-- {
		if needs := j.Operations[k].Needs; len(needs) > 0 {
			return &queued{needs[0].Resource, j.OperationMinimum(k), j.Between(k+1, last), j.Between(use+1, k)}
		}
	}
	return nil
}

// An edge is one end of the day at a row: the least times of its uses to it.
type edge struct {
	plain  []schedule.Tick
	queued map[int][]*queued // by resource
	own    map[*queued]schedule.Tick
}

func (e *edge) add(least schedule.Tick, q *queued) {
	if q == nil {
		e.plain = append(e.plain, least)
		return
	}
	if e.queued == nil {
		e.queued, e.own = map[int][]*queued{}, map[*queued]schedule.Tick{}
	}
	if _, twice := e.own[q]; !twice {
		e.queued[q.pool] = append(e.queued[q.pool], q)
	}
	e.own[q] = least
}

// least is, by how many units of a row are used, how long they together cannot be in
// use at this end of the day: their first uses are not all those of whoever is
// quickest, and those who have to be served first are served in turn.
func (e *edge) least(units int, capacity []int) []schedule.Tick {
	rows := [][]schedule.Tick{slices.Sorted(slices.Values(e.plain))}
	for resource, group := range e.queued {
		rows = append(rows, e.inTurn(group, capacity[resource]))
	}
	// The cheapest so many of all rows, each from its front.
	sums := []schedule.Tick{0}
	at := make([]int, len(rows))
	for range units {
		best := -1
		for r := range rows {
			if at[r] < len(rows[r]) && (best < 0 || rows[r][at[r]] < rows[best][at[best]]) {
				best = r
			}
		}
		if best < 0 {
			break
		}
		sums = append(sums, sums[len(sums)-1]+rows[best][at[best]])
		at[best]++
	}
	return sums
}

// inTurn are the least times of uses before which an operation is done by a resource of some
// capacity, in order.
func (e *edge) inTurn(group []*queued, capacity int) []schedule.Tick {
	own := make([]schedule.Tick, len(group))
	from := make([]schedule.Tick, len(group))
	shortest, then := schedule.Never, schedule.Never
	for i, q := range group {
		own[i], from[i] = e.own[q], q.from
		shortest, then = min(shortest, q.length), min(then, q.then)
	}
	slices.Sort(own)
	slices.Sort(from)
	for i := range from {
		if capacity > 0 && i >= capacity {
			from[i] = max(from[i], from[i-capacity]+shortest)
		}
		own[i] = max(own[i], from[i]+then)
	}
	return own
}

// priceRounds is how often prices are changed.
const priceRounds = 2000

// priceBound is a time no plan can beat, however jobs are spread over machines
// and resources: for any prices of the resources, everyone takes the way that is
// cheapest, and that has to be paid out of what all resources have in the day, less
// what they cannot be used at its beginning and its end. The prices are raised where
// too much is asked of a resource. least is a time that is known to be needed.
func (s bounds) priceBound(least schedule.Tick) schedule.Tick {
	all := s.demands()
	rows := len(s.Capacity) + 2
	capacity := make([]int, rows)
	copy(capacity, s.Capacity)
	heads, tails, uses := make([]edge, rows), make([]edge, rows), make([]int, rows)
	for _, d := range all {
		first := map[int]part{}
		for _, way := range d.ways {
			for _, p := range way {
				if was, is := first[p.resource]; !is || p.head < was.head {
					first[p.resource] = p
				}
			}
		}
		for row, p := range first {
			for range p.units {
				heads[row].add(p.head, p.ahead)
				tails[row].add(p.tail, p.behind)
				uses[row]++
			}
		}
	}
	for r := range s.Capacity {
		switch {
		case r < s.Machines:
			capacity[rows-2] += s.Capacity[r]
		case s.isTaken(r):
			capacity[rows-1] += s.Capacity[r]
		}
	}
	idle := make([]float64, rows)
	var used []int
	for r := range capacity {
		if uses[r] == 0 || capacity[r] == 0 {
			continue
		}
		used = append(used, r)
		before, after := heads[r].least(capacity[r], s.Capacity), tails[r].least(capacity[r], s.Capacity)
		fewest := schedule.Never
		for n := range min(len(before), len(after)) {
			fewest = min(fewest, before[n]+after[n]+schedule.Tick(capacity[r]-n)*least)
		}
		idle[r] = float64(fewest)
	}
	if len(used) == 0 {
		return 0
	}
	price, work := make([]float64, rows), make([]float64, rows)
	for _, r := range used {
		price[r] = 1
	}
	best := 0.0
	for round := range priceRounds {
		clear(work)
		total, sum := 0.0, 0.0
		for _, d := range all {
			way, cost := d.cheapest(price, capacity)
			if way < 0 {
				return schedule.Tick(best)
			}
			total += cost
			for _, p := range d.ways[way] {
				work[p.resource] += float64(p.work)
			}
		}
		for _, r := range used {
			total += price[r] * idle[r]
			sum += price[r] * float64(capacity[r])
		}
		bound := total / sum
		best = max(best, bound)
		// Up where a unit would have to do more than the bound, down elsewhere.
		change, most := 1.5*math.Pow(0.997, float64(round)), 0.0
		for _, r := range used {
			price[r] *= math.Exp(change * ((work[r]+idle[r])/float64(capacity[r]) - bound) / max(bound, 1))
			most = max(most, price[r])
		}
		for _, r := range used {
			price[r] /= most
		}
	}
	return schedule.Tick(best)
}

// cheapest is the way that costs least, −1 where there is none.
func (d demand) cheapest(price []float64, capacity []int) (way int, cost float64) {
	way, cost = -1, math.Inf(1)
	for w, parts := range d.ways {
		sum := 0.0
		for _, p := range parts {
			if capacity[p.resource] == 0 {
				sum = math.Inf(1)
				break
			}
			sum += price[p.resource] * float64(p.work)
		}
		if sum < cost {
			way, cost = w, sum
		}
	}
	return way, cost
}

// isTaken tells whether a resource may be taken for a machine.
func (s bounds) isTaken(resource int) bool {
	for i := range s.Jobs {
		for _, b := range s.Jobs[i].Blocks {
			for _, h := range b.Holds {
				if h.Resource < 0 && slices.Contains(h.ByOption, resource) {
					return true
				}
			}
		}
	}
	return false
}
