package floor

import (
	"math"
	"slices"
)

// A demand is something that has to be done by one of some ways: at which station,
// with which pools, and for how long. What is needed for certain has one way.
type demand struct{ ways [][]part }

// A part is work that a resource has to do. Before it somebody needs at least head
// minutes of the day, after it at least tail.
type part struct {
	row, units       int
	work, head, tail tick
	// ahead and behind say when, at the earliest and before the end, somebody has to
	// have one of a pool that few have, for whom this is the first use or the last.
	ahead, behind *queued
}

// A queued is a step that is done in turn: on which pool, for how long, and the least
// time between it and the use it goes with; from is its head, or its tail.
type queued struct {
	pool               int
	length, from, then tick
}

// demands lists all of a shop. All stations together, and all pools of which one is
// taken for them, are two rows more.
func (s *shop) demands() []demand {
	var all []demand
	stations, taken := len(s.capacity), len(s.capacity)+1
	for i := range s.people {
		j := &s.people[i]
		last := len(j.steps) - 1
		span := func(resource, from, to, units, chain, option int) part {
			p := part{row: resource, units: units, head: j.ready + j.between(0, from-1), tail: j.between(to+1, last)}
			for k := from; k <= to; k++ {
				if o := &j.steps[k]; chain >= 0 && o.chain == chain {
					p.work += o.on[option]
				} else {
					p.work += j.stepMinimum(k)
				}
			}
			p.work *= tick(units)
			return p
		}
		certain := func(p part) {
			if p.work > 0 { // what takes no time needs nothing
				all = append(all, demand{[][]part{{p}}})
			}
		}
		for k := range j.steps {
			for _, need := range j.steps[k].needs {
				if need.units > 0 {
					certain(span(need.resource, k, k, need.units, -1, 0))
				}
			}
			var d demand
			for _, r := range j.steps[k].oneOf {
				d.ways = append(d.ways, []part{span(r, k, k, 1, -1, 0)})
			}
			if d.ways != nil {
				all = append(all, d)
			}
		}
		chains, seen := 0, 0
		for _, b := range j.blocks {
			chains += len(b.chains)
		}
		for _, b := range j.blocks {
			for _, h := range b.holds {
				if h.resource >= 0 {
					certain(span(h.resource, h.from, h.to, 1, -1, 0))
				}
			}
			for _, c := range b.chains {
				seen++
				first, end := j.chainSpan(c.index)
				ahead := j.queuedAhead(first, seen == 1)
				var behind *queued
				if seen == chains {
					behind = j.queuedBehind(end)
				}
				given := map[int]*queued{}
				for _, h := range b.holds {
					if seen == chains && given[h.to] == nil {
						given[h.to] = j.queuedBehind(h.to)
					}
				}
				var d demand
				for option, st := range s.options[c.index] {
					at := span(st, first, end, 1, c.index, option)
					at.ahead, at.behind = ahead, behind
					way := []part{at}
					at.row = stations
					way = append(way, at)
					for _, h := range b.holds {
						if h.resource < 0 && h.chain == c.index && h.byOption[option] >= s.stations {
							held := span(h.byOption[option], h.from, h.to, 1, c.index, option)
							held.behind = given[h.to]
							way = append(way, held)
							held.row = taken
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

// queuedAhead is a step that somebody has to have done in turn when a use begins: the
// use's own first one, or, before somebody's first use, the last before it.
func (j *job) queuedAhead(use int, first bool) *queued {
	for k := use; k >= 0; k-- {
		if needs := j.steps[k].needs; len(needs) > 0 {
			return &queued{needs[0].resource, j.stepMinimum(k), j.ready + j.between(0, k-1), j.between(k, use-1)}
		}
		if !first {
			return nil
		}
	}
	return nil
}

// queuedBehind is the last step of somebody's that is done in turn after their last use.
func (j *job) queuedBehind(use int) *queued {
	last := len(j.steps) - 1
	for k := last; k > use; k-- {
		if needs := j.steps[k].needs; len(needs) > 0 {
			return &queued{needs[0].resource, j.stepMinimum(k), j.between(k+1, last), j.between(use+1, k)}
		}
	}
	return nil
}

// An edge is one end of the day at a row: the least times of its uses to it.
type edge struct {
	plain  []tick
	queued map[int][]*queued // by pool
	own    map[*queued]tick
}

func (e *edge) add(least tick, q *queued) {
	if q == nil {
		e.plain = append(e.plain, least)
		return
	}
	if e.queued == nil {
		e.queued, e.own = map[int][]*queued{}, map[*queued]tick{}
	}
	if _, twice := e.own[q]; !twice {
		e.queued[q.pool] = append(e.queued[q.pool], q)
	}
	e.own[q] = least
}

// least is, by how many units of a row are used, how long they together cannot be in
// use at this end of the day: their first uses are not all those of whoever is
// quickest, and those who have to be served first are served in turn.
func (e *edge) least(units int, capacity []int) []tick {
	rows := [][]tick{slices.Sorted(slices.Values(e.plain))}
	for pool, group := range e.queued {
		rows = append(rows, e.inTurn(group, capacity[pool]))
	}
	// The cheapest so many of all rows, each from its front.
	sums := []tick{0}
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

// inTurn are the least times of uses before which a step is done by a pool of some
// capacity, in order.
func (e *edge) inTurn(group []*queued, capacity int) []tick {
	own := make([]tick, len(group))
	from := make([]tick, len(group))
	shortest, then := never, never
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

// spreadRounds is how often prices are changed.
const spreadRounds = 2000

// spreadBound is a time no plan can beat, however people are spread over stations
// and pools: for any prices of the resources, everyone takes the way that is
// cheapest, and that has to be paid out of what all resources have in the day, less
// what they cannot be used at its beginning and its end. The prices are raised where
// too much is asked of a resource. least is a time that is known to be needed.
func (s *shop) spreadBound(least tick) tick {
	all := s.demands()
	rows := len(s.capacity) + 2
	capacity := make([]int, rows)
	copy(capacity, s.capacity)
	heads, tails, uses := make([]edge, rows), make([]edge, rows), make([]int, rows)
	for _, d := range all {
		first := map[int]part{}
		for _, way := range d.ways {
			for _, p := range way {
				if was, is := first[p.row]; !is || p.head < was.head {
					first[p.row] = p
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
	for r := range s.capacity {
		switch {
		case r < s.stations:
			capacity[rows-2] += s.capacity[r]
		case s.isTaken(r):
			capacity[rows-1] += s.capacity[r]
		}
	}
	idle := make([]float64, rows)
	var used []int
	for r := range capacity {
		if uses[r] == 0 || capacity[r] == 0 {
			continue
		}
		used = append(used, r)
		before, after := heads[r].least(capacity[r], s.capacity), tails[r].least(capacity[r], s.capacity)
		fewest := never
		for n := range min(len(before), len(after)) {
			fewest = min(fewest, before[n]+after[n]+tick(capacity[r]-n)*least)
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
	for round := range spreadRounds {
		clear(work)
		total, sum := 0.0, 0.0
		for _, d := range all {
			way, cost := d.cheapest(price, capacity)
			if way < 0 {
				return tick(best)
			}
			total += cost
			for _, p := range d.ways[way] {
				work[p.row] += float64(p.work)
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
	return tick(best)
}

// cheapest is the way that costs least, −1 where there is none.
func (d demand) cheapest(price []float64, capacity []int) (way int, cost float64) {
	way, cost = -1, math.Inf(1)
	for w, parts := range d.ways {
		sum := 0.0
		for _, p := range parts {
			if capacity[p.row] == 0 {
				sum = math.Inf(1)
				break
			}
			sum += price[p.row] * float64(p.work)
		}
		if sum < cost {
			way, cost = w, sum
		}
	}
	return way, cost
}

// isTaken tells whether a pool may be taken for a station.
func (s *shop) isTaken(pool int) bool {
	for i := range s.people {
		for _, b := range s.people[i].blocks {
			for _, h := range b.holds {
				if h.resource < 0 && slices.Contains(h.byOption, pool) {
					return true
				}
			}
		}
	}
	return false
}
