package floor

import "slices"

// A plain shop is one in which nothing is out, pinned or at a minute, somebody may choose a
// station, and every block waits for nothing, for pools at its one step, or for what its one
// station takes, as where everybody hoops alone. There all that has to be found out of a turn
// is when its block begins and with which option; the times of the steps follow. A station,
// and a pool that is only taken with one, goes from one to the next in the order: whoever
// would fill a gap can be said earlier instead, so that it is enough to know from when on
// each unit is free. So does what is only asked for in turns that are left unsaid, as an iron:
// these come in the order in which people are ready for them. Only what is taken at the bench
// and with a station, as the time of an instructor, has gaps that are filled.
type plain struct {
	// turns are those of all people, one person's after the other's; first is by person the
	// first of theirs, person by turn whose it is.
	turns  []plainTurn
	first  []int
	person []int
	// shared are the resources with gaps. The units of all others stand one behind the
	// other, those of a resource from firstUnit on; units is how many they are.
	shared    []int
	units     int
	firstUnit []int32
}

// A plainTurn is somebody's turn: time at the bench, a block, and time at the bench.
type plainTurn struct {
	lead, rest tick
	// left is the least time after the turn.
	left tick
	// chain is the choice of its station, −1 for none: then there is one way to place it,
	// else one for each option.
	chain int
	ways  []way
}

// A way to place a block. What it takes is counted from a moment so long after it begins and
// before it ends, the start of its station where it has one: units that go from one to the
// next, and what has gaps. All of it lies together: it is looked at hundreds of thousands of
// times a second.
type way struct {
	before, after tick
	// taken and filled are how many of the takes and gaps there are.
	taken, filled int
	takes         [mostTakes]taking
	gaps          [mostGaps]window
}

// mostTakes and mostGaps of one way: a station and a hoop; an instructor and another.
const (
	mostTakes = 2
	mostGaps  = 2
)

func (w *way) units() []taking { return w.takes[:w.taken] }

func (w *way) inGaps() []window { return w.gaps[:w.filled] }

// A taking is of one unit of those from first up to end, and from when to when.
type taking struct {
	first, end int32
	from, to   tick
}

// A unit is free from a time on; turn is who had it before, 1 more than its number, 0 for
// nobody.
type unit struct {
	from tick
	turn int32
}

// placedPlainly is when the block of a turn begins, in which way, and what it waits for.
type placedPlainly struct {
	begins tick
	way    int32
	waits  int32
}

// What a turn waits for that does not wait for another turn, which is 1 more than its number.
const (
	waitsForItself = 0
	waitsForAGap   = -1
)

// newPlain is none where the shop is not plain.
func (s *shop) newPlain() *plain {
	if !s.anyTime() || len(s.open) == 0 {
		return nil
	}
	p := &plain{shared: s.withGaps(), firstUnit: make([]int32, len(s.capacity))}
	scarce := s.scarce()
	for r, capacity := range s.capacity {
		p.firstUnit[r] = int32(p.units)
		if scarce[r] && !slices.Contains(p.shared, r) {
			p.units += capacity
		}
	}
	for i := range s.people {
		p.first = append(p.first, len(p.turns))
		from := 0
		for t, blocks := range s.people[i].turns {
			turn, ok := s.plainTurn(p, &s.people[i], from, blocks, scarce)
			if !ok {
				return nil
			}
			turn.lead, turn.left = s.people[i].leads[t], s.people[i].left[t]
			p.turns, p.person = append(p.turns, turn), append(p.person, i)
			from = blocks
		}
	}
	return p
}

// withGaps are the resources with gaps that are filled: those that are taken at the bench, where
// somebody takes several units, or an order has to say some turn that takes them.
func (s *shop) withGaps() (shared []int) {
	atBench, filled := make([]bool, len(s.capacity)), make([]bool, len(s.capacity))
	for i := range s.people {
		j := &s.people[i]
		said := 0
		if j.ordered > 0 {
			said = j.turns[j.ordered-1]
		}
		for k := range j.blocks {
			for _, w := range j.blocks[k].alone {
				atBench[w.resource] = true
				filled[w.resource] = filled[w.resource] || k < said || w.units > 1
			}
			for _, c := range j.blocks[k].chains {
				for _, w := range slices.Concat(c.windows...) {
					filled[w.resource] = true
				}
			}
		}
	}
	for r := range s.capacity {
		if atBench[r] && filled[r] {
			shared = append(shared, r)
		}
	}
	return shared
}

// plainTurn is the turn of blocks from one to another; ok is false where it is not plain.
func (s *shop) plainTurn(p *plain, j *job, from, to int, scarce []bool) (turn plainTurn, ok bool) {
	turn.chain = -1
	waiting := j.waiting(to)
	for k := waiting + 1; k < to; k++ {
		turn.rest += j.blockMinimum(&j.blocks[k])
	}
	b := &j.blocks[waiting]
	switch {
	case b.free || b.alone != nil:
		w, ok := s.newWay(p, b.alone, 0, j.blockMinimum(b), scarce)
		turn.ways = []way{w}
		return turn, ok
	case !b.sure:
		return turn, false
	}
	c := &b.chains[0]
	turn.chain = c.index
	for option, windows := range c.windows {
		w, ok := s.newWay(p, windows, c.before, c.length[option]+c.after, scarce)
		if !ok {
			return turn, false
		}
		turn.ways = append(turn.ways, w)
	}
	return turn, true
}

// newWay is the way that takes what some windows say; ok is false where that is more than a
// unit of what goes from one to the next, more than there is, or more things than a way has.
func (s *shop) newWay(p *plain, windows []window, before, after tick, scarce []bool) (w way, ok bool) {
	w = way{before: before, after: after}
	for _, at := range windows {
		switch r := at.resource; {
		case at.units > s.capacity[r] || at.to <= at.from:
			return w, false
		case slices.Contains(p.shared, r):
			if w.filled == mostGaps {
				return w, false
			}
			w.gaps[w.filled] = at
			w.filled++
		case !scarce[r]:
		case at.units > 1 || w.taken == mostTakes:
			return w, false
		default:
			w.takes[w.taken] = taking{p.firstUnit[r], p.firstUnit[r] + int32(s.capacity[r]), at.from, at.to}
			w.taken++
		}
	}
	return w, true
}

// placePlainly places a person's next turn, and tells the least time at which they can be
// done.
func (d *decoder) placePlainly(person int, choice []int, out *schedule) tick {
	t := d.plain.first[person] + d.turn[person]
	d.turn[person]++
	turn := &d.plain.turns[t]
	from := d.free[person] + turn.lead
	choose, chosen := 0, 0
	if turn.chain >= 0 {
		choose = choice[turn.chain]
	}
	var start tick
	var waits int32
	if choose >= 0 {
		chosen = choose
		start, waits = d.soonestWay(&turn.ways[chosen], from, never)
	} else {
		ends := never
		for option, station := range d.options[turn.chain] {
			if !choosesAt(choose, station) {
				continue
			}
			w := &turn.ways[option]
			if at, on := d.soonestWay(w, from, ends-w.after); at+w.after < ends {
				chosen, start, waits, ends = option, at, on, at+w.after
			}
		}
	}
	w := &turn.ways[chosen]
	for i := range w.taken {
		at := &w.takes[i]
		d.busy += pass(d.units[at.first:at.end], start+at.from, unit{start + at.to, int32(t + 1)})
	}
	d.take(w.inGaps(), start)
	out.turns[t] = placedPlainly{start - w.before, int32(chosen), waits}
	d.free[person] = start + w.after + turn.rest
	return d.free[person] + turn.left
}

// soonestWay is the soonest moment from which what a way takes can be counted, for somebody
// who is at their block from a time on, and what that waits for. A moment that is not before a
// limit may still be too soon.
func (d *decoder) soonestWay(w *way, from, limit tick) (start tick, waits int32) {
	start, waits = from+w.before, waitsForItself
	for i := range w.taken {
		at := &w.takes[i]
		if free := &d.units[at.first]; free.from-at.from > start {
			start, waits = free.from-at.from, free.turn
		}
	}
	if w.filled == 0 || start >= limit {
		return start, waits
	}
	if at := d.fit(w.inGaps(), start, never); at > start {
		return at, waitsForAGap
	}
	return start, waits
}

// pass gives a unit to whoever takes it at a time: of those that are free then, the one that
// is free last, so that others go to whoever can begin sooner. Units stay in the order in
// which they are free.
func pass(units []unit, at tick, next unit) (busy tick) {
	i := 0
	for i+1 < len(units) && units[i+1].from <= at {
		i++
	}
	busy = next.from - units[i].from
	for ; i+1 < len(units) && units[i+1].from < next.from; i++ {
		units[i] = units[i+1]
	}
	units[i] = next
	return busy
}

// time gives all steps the times that follow from when the blocks of turns begin, where they
// have none yet.
func (d *decoder) time(out *schedule) {
	if out.timed {
		return
	}
	out.timed = true
	for i := range d.people {
		j := &d.people[i]
		at, from := j.ready, 0
		starts, ends, options := out.start[i], out.end[i], out.option[i]
		for t, blocks := range j.turns {
			placed := &out.turns[d.plain.first[i]+t]
			waiting := j.waiting(blocks)
			for k := from; k < blocks; k++ {
				if k == waiting {
					at = placed.begins
				}
				for n := j.blocks[k].from; n < j.blocks[k].to; n++ {
					o := &j.steps[n]
					starts[n] = at
					if o.chain >= 0 {
						options[n] = int(placed.way)
						at += o.on[placed.way]
					} else {
						at += o.minutes
					}
					ends[n] = at
				}
			}
			from = blocks
		}
	}
}

// linksOfPlain finds the links of the path that ends at the makespan of a schedule.
func (s *search) linksOfPlain(a *schedule) {
	i := 0
	for person, done := range a.done {
		if done == a.makespan {
			i = person
		}
	}
	at := s.plain.first[i] + len(s.people[i].turns) - 1
	for len(s.links) < mostLinks && at >= s.plain.first[i] {
		waits := int(a.turns[at].waits)
		if waits == waitsForAGap {
			waits = s.gapBefore(a, at)
		}
		if waits == waitsForItself {
			at--
			continue
		}
		other := s.plain.person[waits-1]
		if other != i {
			s.links = append(s.links, link{i, at - s.plain.first[i], other, waits - 1 - s.plain.first[other]})
		}
		i, at = other, waits-1
	}
}

// gapBefore is whose end begins the gap in which a turn is placed, as waits tells of it.
func (s *search) gapBefore(a *schedule, turn int) int {
	begins := s.takenAt(a, turn)
	for _, mine := range s.wayOf(a, turn).inGaps() {
		for other := range s.plain.turns {
			if other == turn {
				continue
			}
			for _, its := range s.wayOf(a, other).inGaps() {
				if its.resource == mine.resource && s.takenAt(a, other)+its.to == begins+mine.from {
					return other + 1
				}
			}
		}
	}
	return waitsForItself
}

// wayOf is the way in which a turn is placed, takenAt what it takes is counted from.
func (s *search) wayOf(a *schedule, turn int) *way {
	return &s.plain.turns[turn].ways[a.turns[turn].way]
}

func (s *search) takenAt(a *schedule, turn int) tick {
	return a.turns[turn].begins + s.wayOf(a, turn).before
}

// scarce tells which resources may be short: others never make anybody wait.
func (s *shop) scarce() []bool {
	most := make([]int, len(s.capacity))
	for i := range s.people {
		mine := make([]int, len(s.capacity))
		for _, o := range s.people[i].steps {
			for _, need := range o.needs {
				mine[need.resource] = max(mine[need.resource], need.units)
			}
		}
		for r := range mine {
			for _, b := range s.people[i].blocks {
				for _, h := range b.holds {
					if h.resource == r || h.resource < 0 && slices.Contains(h.byOption, r) {
						mine[r]++
					}
				}
			}
			most[r] += mine[r]
		}
	}
	scarce := make([]bool, len(s.capacity))
	for r := range scarce {
		scarce[r] = r < s.stations || most[r] > s.capacity[r]
	}
	return scarce
}
