package floor

import (
	"cmp"
	"errors"
	"fmt"
	"maps"
	"math"
	"slices"
)

// tick is the planner's unit of time: a millionth of a minute, so that sums
// of decimals are exact.
type tick = int64

const ticksPerMinute = 1e6

func ticks(minutes float64) tick { return tick(math.Round(minutes * ticksPerMinute)) }

func toMinutes(t tick) float64 { return float64(t) / ticksPerMinute }

// A shop is a Problem with its names replaced by indices: resources are the
// stations, each of capacity 1 unless it stands for twins, and after them the pools.
type shop struct {
	problem  Problem
	stations int
	capacity []int
	people   []job
	// options has, for each station choice to be made over all people, the
	// station of each option; one stands there for each set of pools that may be
	// taken for it.
	options [][]int
	// open are the choices with more than one option that do not follow another.
	open []int
	// base is what of each resource is out, closed when nobody works.
	base   []profile
	closed profile
	// takenPools are those of which somebody keeps a unit from step to step, parted tells that
	// there are blocks in parts.
	takenPools map[int]bool
	parted     bool
	// pinned names people, once for each turn that is placed before all others.
	pinned []int
	// plain is nil where the shop is not.
	plain *plain
	// alike are the pools and twins the stations that are one here, where the problem was joined.
	alike alike
	twins twins
}

// A job is one person's steps, cut into blocks.
type job struct {
	ready tick
	// fill is how much of their waits is not idle, whatever it is; practice is what they
	// can do in them, once each.
	fill     tick
	practice []practice
	steps    []op
	blocks   []block
	// turns are how many of the blocks are placed with each turn in an order: up
	// to the next for which others may have to be waited for. leads is the time before that
	// block in each turn, left the least after the turn.
	turns       []int
	leads, left []tick
	// ordered is how many of the turns an order has to say: all up to the last at a
	// station, or all where there is none.
	ordered int
}

// An op is a step.
type op struct {
	minutes tick
	// chain is the station choice the step follows, -1 at the bench.
	chain int
	// on holds, by index into the chain's options, the step's ticks there.
	on    []tick
	needs []claim
	// oneOf are resources of which one gives a unit.
	oneOf []int
	// at is the minute before which it does not begin.
	at tick
}

type claim struct{ resource, units int }

// A hold keeps a unit of a resource from the start of step from to the end
// of step to, both counted in the job.
type hold struct {
	from, to int
	// resource is fixed, or -1 where it follows the chain's choice: then
	// byOption has it for each option (-1 for none).
	resource int
	chain    int
	byOption []int
	// sits is the first step of that chain.
	sits int
	// choice has the pools by station, until the chain's options are final.
	choice [][]int
}

// A block is a stretch of steps inside which something is held from step to
// step. Before and after it the person holds nothing, so blocks can be placed
// one after another in any order without a deadlock.
type block struct {
	from, to int // steps from … to−1 of the job
	holds    []hold
	chains   []chain
	// free tells that it waits for nothing but the block before.
	free bool
	// leads tells that its steps before its one chain wait for nothing of their own.
	leads bool
	// parted is nil for a block that is whole. The parts of one follow one another; then it has
	// all of it, parts tells how many are left with this one, and later that it is not the first.
	parted *block
	parts  int
	later  bool
	// sure tells that it can be placed wherever the windows of its one chain are free:
	// nothing of it waits for anything else.
	sure bool
	// alone are, for one step at the bench that waits for pools and nothing else, what has
	// to be free from its start; nil for all others.
	alone []window
}

// A chain is one choice of a station, shared by the steps that keep it.
type chain struct {
	index   int
	options []int // stations
	// before and after are the least time of its block before and after it, length
	// is its own by option.
	before, after tick
	length        []tick
	// windows are, by option, what has to be free around its start.
	windows [][]window
	// tied is the chain of the block whose station this one follows, −1 for none: then
	// follows has the option here for each of that one, and leader is a step of that one.
	tied    int
	follows []int
	leader  int
}

// A window is a stretch around the start of a chain in which a resource has to have
// units free, however its block is placed.
type window struct {
	resource, units int
	from, to        tick
}

// compile checks a problem and turns it into a shop.
func compile(p Problem) (*shop, error) {
	if err := p.Check(); err != nil {
		return nil, err
	}
	return build(p, nil)
}

// build is the shop of a problem that was checked, in which some stations stand for several.
func build(p Problem, twins twins) (*shop, error) {
	s := &shop{problem: p, stations: len(p.Stations)}
	station, pool := map[string]int{}, map[string]int{}
	s.closed = away(p.Closed, 1)
	for i, st := range p.Stations {
		station[st.ID] = i
		s.capacity = append(s.capacity, max(1, len(twins[st.ID])))
		s.base = append(s.base, away(st.Out, 1))
	}
	for i, pl := range p.Pools {
		pool[pl.ID] = len(p.Stations) + i
		s.capacity = append(s.capacity, pl.Count)
		s.base = append(s.base, away(pl.Out, pl.Count))
	}
	s.takenPools = map[int]bool{}
	for _, person := range p.People {
		for _, step := range person.Steps {
			for _, name := range slices.Concat(step.Take, step.mayTakes()) {
				s.takenPools[pool[name]] = true
			}
		}
	}
	for _, person := range p.People {
		j, err := s.compileJob(person, station, pool)
		if err != nil {
			return nil, err
		}
		s.people = append(s.people, j)
		s.parted = s.parted || slices.ContainsFunc(j.blocks, func(b block) bool { return b.parted != nil })
	}
	s.open = s.openChoices()
	s.pin()
	s.plain = s.newPlain()
	return s, nil
}

// away is what spans take of a resource.
func away(spans []Span, all int) profile {
	var p profile
	p.reset()
	for _, span := range spans {
		p.add(ticks(span.From), ticks(span.To), cmp.Or(span.Units, all))
	}
	return p
}

// pin lists who is placed first: those who are pinned, up to their last pinned step, the
// earliest pin first.
func (s *shop) pin() {
	type pin struct {
		person, turns int
		at            float64
	}
	var pins []pin
	for i, person := range s.problem.People {
		p := pin{person: i, at: math.Inf(1)}
		for k, step := range person.Steps {
			if step.At != nil {
				p.at = min(p.at, *step.At)
				p.turns = 1 + slices.IndexFunc(s.people[i].turns, func(blocks int) bool { return k < s.people[i].blocks[blocks-1].to })
			}
		}
		if p.turns > 0 {
			pins = append(pins, p)
		}
	}
	slices.SortStableFunc(pins, func(a, b pin) int { return cmp.Compare(a.at, b.at) })
	for _, p := range pins {
		for range p.turns {
			s.pinned = append(s.pinned, p.person)
		}
	}
}

func (s *shop) compileJob(person Person, station, pool map[string]int) (job, error) {
	j := job{ready: ticks(person.Ready), fill: ticks(person.FillMinutes), practice: practised(person.Practice), steps: make([]op, len(person.Steps))}
	var holds []hold
	var chains []chain
	chainOf := make([]int, len(person.Steps)) // index into chains, -1 at the bench
	kept := -1
	for i, step := range person.Steps {
		chainOf[i] = -1
		if step.Minutes != nil {
			j.steps[i].minutes = ticks(*step.Minutes)
		}
		if len(step.On) > 0 {
			if kept >= 0 {
				// The chain goes on: only stations that serve both steps are left.
				chainOf[i] = chainOf[kept]
				holds = append(holds, hold{from: kept, to: i, resource: -1, chain: chainOf[i]})
				c := &chains[chainOf[i]]
				c.options = slices.DeleteFunc(c.options, func(o int) bool { _, ok := step.On[s.problem.Stations[o].ID]; return !ok })
				if len(c.options) == 0 {
					return job{}, fmt.Errorf("person %s, step %d (%s): no station does both this step and the one that keeps its station", person.ID, i+1, step.ID)
				}
			} else {
				c := chain{index: len(s.options), tied: -1}
				for _, name := range slices.Sorted(maps.Keys(step.On)) {
					c.options = append(c.options, station[name])
				}
				s.options = append(s.options, nil)
				chainOf[i] = len(chains)
				chains = append(chains, c)
			}
			if step.Same && kept < 0 {
				last := onBefore(person, i)
				c := &chains[chainOf[i]]
				if c.tied = chainOf[last]; chains[c.tied].tied >= 0 {
					c.tied = chains[c.tied].tied
				}
				holds = append(holds, s.nothing(last, i, chainOf[last]))
			}
			kept = -1
			if step.Keep {
				kept = i
			}
		}
		if step.At != nil {
			j.steps[i].at = ticks(*step.At)
		}
		for _, name := range step.NeedsOne {
			j.steps[i].oneOf = append(j.steps[i].oneOf, pool[name])
		}
		for _, name := range slices.Sorted(maps.Keys(step.Needs)) {
			if units := step.Needs[name]; units > 0 {
				j.steps[i].needs = append(j.steps[i].needs, claim{pool[name], units})
			}
		}
	}
	holds = append(holds, s.takes(person, pool, chainOf)...)
	if err := tie(chains); err != nil {
		return job{}, fmt.Errorf("person %s: %w", person.ID, err)
	}
	for c := range chains {
		if err := widen(&chains[c], c, holds); err != nil {
			return job{}, fmt.Errorf("person %s: %w", person.ID, err)
		}
		s.options[chains[c].index] = chains[c].options
	}
	for c := range chains {
		if chains[c].tied >= 0 {
			chains[c].follow(&chains[chains[c].tied])
		}
	}
	for i, step := range person.Steps {
		j.steps[i].chain = -1
		if c := chainOf[i]; c >= 0 {
			j.steps[i].chain = chains[c].index
			for _, o := range chains[c].options {
				j.steps[i].on = append(j.steps[i].on, ticks(step.On[s.problem.Stations[o].ID]))
			}
		}
	}
	for i := range holds {
		if h := &holds[i]; h.chain >= 0 {
			if h.choice == nil {
				h.byOption = chains[h.chain].options // a kept station
			}
			h.chain, h.choice = chains[h.chain].index, nil
		}
	}
	s.cutBlocks(&j, holds, chains, chainOf)
	return j, nil
}

// onBefore is the step with On before one.
func onBefore(person Person, i int) int {
	for i--; len(person.Steps[i].On) == 0; i-- {
	}
	return i
}

// tie leaves chains that others follow only the stations that serve those too.
func tie(chains []chain) error {
	for _, c := range chains {
		if c.tied < 0 {
			continue
		}
		first := &chains[c.tied]
		first.options = slices.DeleteFunc(slices.Clone(first.options), func(o int) bool { return !slices.Contains(c.options, o) })
		if len(first.options) == 0 {
			return errors.New("no station does both a step and the later one that wants the same")
		}
	}
	return nil
}

// nothing is a hold that keeps two steps in one block and takes nothing.
func (s *shop) nothing(from, to, chain int) hold {
	h := hold{from: from, to: to, resource: -1, chain: chain}
	for range s.stations {
		h.choice = append(h.choice, []int{-1})
	}
	return h
}

// follow gives a tied chain its option for each of the other's, once these are final.
func (c *chain) follow(earlier *chain) {
	for _, station := range earlier.options {
		c.follows = append(c.follows, slices.Index(c.options, station))
	}
}

// mostOptions of one choice: stations times the pools that may be taken there.
const mostOptions = 200

// widen gives a chain an option for each of its stations and each set of pools
// that its holds may take for it.
func widen(c *chain, at int, holds []hold) error {
	for i := range holds {
		h := &holds[i]
		if h.chain != at || h.choice == nil {
			continue
		}
		var stations []int
		var mine []int
		from := []int{} // the option each new one comes of
		for o, st := range c.options {
			for _, resource := range h.choice[st] {
				stations, mine, from = append(stations, st), append(mine, resource), append(from, o)
			}
		}
		if len(stations) > mostOptions {
			return fmt.Errorf("it may choose among %d ways at a station: expected at most %d", len(stations), mostOptions)
		}
		for k := range holds[:i] {
			if earlier := &holds[k]; earlier.chain == at && earlier.byOption != nil {
				wide := make([]int, len(from))
				for n, o := range from {
					wide[n] = earlier.byOption[o]
				}
				earlier.byOption = wide
			}
		}
		c.options, h.byOption = stations, mine
	}
	return nil
}

// takes lists what a person's Take, TakeFor and Release hold and for how
// long.
func (s *shop) takes(person Person, pool map[string]int, chainOf []int) []hold {
	var holds []hold
	last := len(person.Steps) - 1
	until := func(from int, names []string) int {
		for i := from; i <= last; i++ {
			if slices.ContainsFunc(names, func(n string) bool { return slices.Contains(person.Steps[i].Release, n) }) {
				return i
			}
		}
		return last
	}
	for i, step := range person.Steps {
		for n, name := range step.Take {
			from := i
			// A second unit of the same pool goes back at the next release.
			for _, earlier := range step.Take[:n] {
				if earlier == name {
					from = min(last, until(from, []string{name})+1)
				}
			}
			holds = append(holds, hold{from: i, to: until(from, []string{name}), resource: pool[name], chain: -1})
		}
		if len(step.TakeFor) > 0 {
			next := i
			for chainOf[next] < 0 {
				next++
			}
			h := hold{from: i, resource: -1, chain: chainOf[next]}
			h.to = max(next, until(i, step.mayTakes()))
			for _, st := range s.problem.Stations {
				choice := []int{-1}
				if names, ok := step.TakeFor[st.ID]; ok {
					choice = choice[:0]
					for _, name := range names {
						choice = append(choice, pool[name])
					}
				}
				h.choice = append(h.choice, choice)
			}
			holds = append(holds, h)
		}
	}
	return holds
}

// cutBlocks cuts the job wherever nothing is held from one step to the next,
// and gives each block its holds and chains.
func (s *shop) cutBlocks(j *job, holds []hold, chains []chain, chainOf []int) {
	start := 0
	for i := range j.steps {
		held := slices.ContainsFunc(holds, func(h hold) bool { return h.from <= i && i < h.to })
		if held {
			continue
		}
		b := block{from: start, to: i + 1}
		for _, h := range holds {
			if h.from >= start && h.from <= i {
				if h.chain >= 0 {
					h.sits, _ = j.chainSpan(h.chain)
				}
				b.holds = append(b.holds, h)
			}
		}
		first := -1
		for c := range chains {
			if at := slices.Index(chainOf, c); at >= start && at <= i {
				if first < 0 {
					first = c
				}
				one := chains[c]
				if one.tied >= 0 {
					one.leader = slices.Index(chainOf, one.tied)
					one.tied -= first // its place in the block
				}
				b.chains = append(b.chains, one)
			}
		}
		for c := range b.chains {
			j.measure(&b, &b.chains[c])
		}
		j.watch(&b)
		b.free = len(b.holds) == 0 && i == start && j.steps[i].free()
		j.blocks = append(j.blocks, j.part(&b, s.takenPools)...)
		start = i + 1
	}
	j.cutTurns()
}

// waits is the first step of the turn of so many blocks that may have to wait.
func (j *job) waits(blocks int) int { return j.blocks[j.waiting(blocks)].from }

// waiting is the block of the turn of so many blocks that may have to wait.
func (j *job) waiting(blocks int) int {
	b := blocks - 1
	for b > 0 && j.blocks[b].free {
		b--
	}
	return b
}

// free tells whether a step waits for nothing but the one before it.
func (o *op) free() bool { return o.chain < 0 && o.waitsForNothing() }

// waitsForNothing tells that a step waits for nothing of its own, but maybe for a station.
func (o *op) waitsForNothing() bool {
	return o.at == 0 && len(o.oneOf) == 0 && len(o.needs) == 0
}

// measure tells how long a chain is, and its block before and after it.
func (j *job) measure(b *block, c *chain) {
	first, last := j.chainSpan(c.index)
	if first > b.from {
		c.before = j.between(b.from, first-1)
	}
	c.after = j.between(last+1, b.to-1)
	for option := range c.options {
		length := tick(0)
		for k := first; k <= last; k++ {
			if j.steps[k].chain == c.index {
				length += j.steps[k].on[option]
			} else {
				length += j.stepMinimum(k)
			}
		}
		c.length = append(c.length, length)
	}
}

// watch finds the windows of a block's chain, where it has one alone, whether they are all
// there is to wait for, and whether the steps before it wait for nothing of their own.
func (j *job) watch(b *block) {
	if o := &j.steps[b.from]; b.to == b.from+1 && len(b.holds) == 0 && o.chain < 0 && o.at == 0 && len(o.oneOf) == 0 {
		for _, need := range o.needs {
			b.alone = append(b.alone, window{need.resource, need.units, 0, o.minutes})
		}
	}
	if len(b.chains) != 1 {
		return
	}
	c := &b.chains[0]
	first, last := j.chainSpan(c.index)
	b.leads = true
	for k := b.from; k < first; k++ {
		b.leads = b.leads && j.steps[k].free()
	}
	b.sure = b.leads && j.steps[first].at == 0 && len(j.steps[first].oneOf) == 0
	for k := first + 1; k < b.to; k++ {
		b.sure = b.sure && j.steps[k].waitsForNothing()
	}
	for option, station := range c.options {
		windows := []window{{station, 1, 0, c.length[option]}}
		for _, need := range j.steps[first].needs {
			windows = append(windows, window{need.resource, need.units, 0, j.steps[first].on[option]})
		}
		for _, h := range b.holds {
			resource := h.resource
			if resource < 0 {
				resource = h.byOption[option]
			}
			switch {
			case resource == station:
				b.sure = b.sure && h.from >= first && h.to <= last
				continue
			case resource < 0:
				continue
			case h.from > first || h.to < first:
				b.sure = false
				continue
			}
			to := tick(0)
			for k := first; k <= h.to; k++ {
				if j.steps[k].chain == c.index {
					to += j.steps[k].on[option]
				} else {
					to += j.steps[k].minutes
				}
			}
			windows = append(windows, window{resource, 1, -j.between(h.from, first-1), to})
		}
		for i, w := range windows {
			b.sure = b.sure && !slices.ContainsFunc(windows[:i], func(other window) bool { return other.resource == w.resource })
		}
		c.windows = append(c.windows, windows)
	}
}

// calendar tells whether anything is out at times.
func (s *shop) calendar() bool {
	return !s.closed.flat() || slices.ContainsFunc(s.base, func(p profile) bool { return !p.flat() })
}

// anyTime tells that nothing is bound to a time, nothing is out and no step pinned: an order
// says all there is to say.
func (s *shop) anyTime() bool { return len(s.pinned) == 0 && !s.calendar() }

func (j *job) cutTurns() {
	for b := range j.blocks {
		if !j.blocks[b].free {
			j.turns = append(j.turns, b+1)
		}
	}
	if len(j.blocks) == 0 {
		return
	}
	if len(j.turns) == 0 {
		j.turns = []int{len(j.blocks)}
	}
	j.turns[len(j.turns)-1] = len(j.blocks)
	j.ordered = len(j.turns)
	for last := len(j.turns); last > 0; last-- {
		if len(j.blocks[j.waiting(j.turns[last-1])].chains) > 0 {
			j.ordered = last
			break
		}
	}
	from := 0
	for _, blocks := range j.turns {
		lead, left := tick(0), tick(0)
		for b := from; b < j.waiting(blocks); b++ {
			lead += j.blockMinimum(&j.blocks[b])
		}
		from = blocks
		for b := blocks; b < len(j.blocks); b++ {
			left += j.blockMinimum(&j.blocks[b])
		}
		j.leads, j.left = append(j.leads, lead), append(j.left, left)
	}
}
