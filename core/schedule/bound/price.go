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
	l := demandList{bounds: s, machines: len(s.Capacity), taken: len(s.Capacity) + 1}
	for i := range s.Jobs {
		l.ofOperations(&s.Jobs[i])
		l.ofBlocks(&s.Jobs[i])
	}
	return l.all
}

// A demandList gathers demands; machines and taken are the rows of all machines and of all resources
// that are taken for one.
type demandList struct {
	bounds
	machines, taken int
	all             []demand
}

// atBench stands for no chain: what takes as long wherever it is done.
const atBench = -1

// span is what a job asks of a resource from one operation to another, at an option of a chain.
func span(j *instance.CompiledJob, resource, from, to, units, chain, option int) part {
	last := len(j.Operations) - 1
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

// certain adds what is needed however the job is done; what takes no time needs nothing.
func (l *demandList) certain(p part) {
	if p.work > 0 {
		l.all = append(l.all, demand{[][]part{{p}}})
	}
}

// ofOperations are the demands of single operations.
func (l *demandList) ofOperations(j *instance.CompiledJob) {
	for k := range j.Operations {
		for _, need := range j.Operations[k].Needs {
			if need.Units > 0 {
				l.certain(span(j, need.Resource, k, k, need.Units, atBench, 0))
			}
		}
		var d demand
		for _, r := range j.Operations[k].OneOf {
			d.ways = append(d.ways, []part{span(j, r, k, k, 1, atBench, 0)})
		}
		if d.ways != nil {
			l.all = append(l.all, d)
		}
	}
}

// ofBlocks are the demands of what is held, and of machines.
func (l *demandList) ofBlocks(j *instance.CompiledJob) {
	chains, seen := 0, 0
	for _, b := range j.Blocks {
		chains += len(b.Chains)
	}
	for i := range j.Blocks {
		b := &j.Blocks[i]
		for _, h := range b.Holds {
			if h.Resource >= 0 {
				l.certain(span(j, h.Resource, h.From, h.To, 1, atBench, 0))
			}
		}
		for c := range b.Chains {
			seen++
			l.all = append(l.all, l.ofChain(j, b, &b.Chains[c], seen == 1, seen == chains))
		}
	}
}

// ofChain is the demand of a chain, which is maybe the first or the last of its job.
func (l *demandList) ofChain(j *instance.CompiledJob, b *instance.Block, c *instance.Chain, first, last bool) demand {
	from, to := j.ChainSpan(c.Index)
	ahead, given := queueAhead(j, from, first), map[int]*queued{}
	var behind *queued
	if last {
		behind = queueBehind(j, to)
		for _, h := range b.Holds {
			if given[h.To] == nil {
				given[h.To] = queueBehind(j, h.To)
			}
		}
	}
	var d demand
	for option, machine := range l.Options[c.Index] {
		at := span(j, machine, from, to, 1, c.Index, option)
		at.ahead, at.behind = ahead, behind
		way := []part{at}
		at.resource = l.machines
		way = append(way, at)
		for _, h := range b.Holds {
			if h.Resource < 0 && h.Chain == c.Index && h.ByOption[option] >= l.Machines {
				held := span(j, h.ByOption[option], h.From, h.To, 1, c.Index, option)
				held.behind = given[h.To]
				way = append(way, held)
				held.resource = l.taken
				way = append(way, held)
			}
		}
		d.ways = append(d.ways, way)
	}
	return d
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
	m := s.newMarket(least)
	if len(m.used) == 0 {
		return 0
	}
	best := 0.0
	for round := range priceRounds {
		bound, ok := m.bound()
		if !ok {
			break
		}
		best = max(best, bound)
		m.raise(bound, 1.5*math.Pow(0.997, float64(round)))
	}
	return schedule.Tick(best)
}

// A market has what is asked of all rows, and their prices.
type market struct {
	demands  []demand
	capacity []int
	// idle is how long a row cannot be used, used are the rows that somebody asks for.
	idle []float64
	used []int
	// price and work are by row: work is what was asked of it at these prices.
	price, work []float64
}

func (s bounds) newMarket(least schedule.Tick) *market {
	rows := len(s.Capacity) + 2
	m := &market{demands: s.demands(), capacity: make([]int, rows), idle: make([]float64, rows),
		price: make([]float64, rows), work: make([]float64, rows)}
	copy(m.capacity, s.Capacity)
	for r := range s.Capacity {
		switch {
		case r < s.Machines:
			m.capacity[rows-2] += s.Capacity[r]
		case s.isTaken(r):
			m.capacity[rows-1] += s.Capacity[r]
		}
	}
	heads, tails, uses := m.edges()
	for r := range m.capacity {
		if uses[r] == 0 || m.capacity[r] == 0 {
			continue
		}
		m.used, m.price[r] = append(m.used, r), 1
		before, after := heads[r].least(m.capacity[r], s.Capacity), tails[r].least(m.capacity[r], s.Capacity)
		fewest := schedule.Never
		for n := range min(len(before), len(after)) {
			fewest = min(fewest, before[n]+after[n]+schedule.Tick(m.capacity[r]-n)*least)
		}
		m.idle[r] = float64(fewest)
	}
	return m
}

// edges are both ends of the day at each row, and how often it is used.
func (m *market) edges() (heads, tails []edge, uses []int) {
	rows := len(m.capacity)
	heads, tails, uses = make([]edge, rows), make([]edge, rows), make([]int, rows)
	for _, d := range m.demands {
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
	return heads, tails, uses
}

// bound is the time that no plan can beat at these prices; ok is false where something asked for is
// not there at all.
func (m *market) bound() (bound float64, ok bool) {
	clear(m.work)
	total, sum := 0.0, 0.0
	for _, d := range m.demands {
		way, cost := d.cheapest(m.price, m.capacity)
		if way < 0 {
			return 0, false
		}
		total += cost
		for _, p := range d.ways[way] {
			m.work[p.resource] += float64(p.work)
		}
	}
	for _, r := range m.used {
		total += m.price[r] * m.idle[r]
		sum += m.price[r] * float64(m.capacity[r])
	}
	return total / sum, true
}

// raise changes the prices: up where a unit would have to do more than the bound, down elsewhere.
func (m *market) raise(bound, change float64) {
	most := 0.0
	for _, r := range m.used {
		over := (m.work[r]+m.idle[r])/float64(m.capacity[r]) - bound
		m.price[r] *= math.Exp(change * over / max(bound, 1))
		most = max(most, m.price[r])
	}
	for _, r := range m.used {
		m.price[r] /= most
	}
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
