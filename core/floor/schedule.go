package floor

// A schedule is the times of every step, decoded from an order of blocks and
// a choice of stations.
type schedule struct {
	// start, end and option are by person and step; option is the index into
	// the step's chain of stations.
	start, end [][]tick
	option     [][]int
	// with is the resource that a step's oneOf chose, −1 for none.
	with [][]int
	// times and choices are all of them one after the other, to be copied at once.
	times   []tick
	choices []int
	// done is by person, when they are through.
	done []tick
	// turns are those of a plain shop. The times of steps follow from them, where they are not
	// timed yet.
	turns []placedPlainly
	timed bool
	// busy is that of the decoder after each place of the order, in a plain shop.
	busy     []tick
	makespan tick
	// sumEnds breaks ties between plans of equal makespan.
	sumEnds tick
	// value is what plans are compared by, in ticks: less is better. heading is what
	// annealing goes by, which tells plans of about one value apart.
	value, heading float64
}

func (a *schedule) better(b *schedule) bool { return a.value < b.value }

func (a *schedule) copyFrom(b *schedule) {
	copy(a.times, b.times)
	copy(a.choices, b.choices)
	copy(a.done, b.done)
	copy(a.turns, b.turns)
	copy(a.busy, b.busy)
	a.timed, a.makespan, a.sumEnds, a.value, a.heading = b.timed, b.makespan, b.sumEnds, b.value, b.heading
}

// beginAs makes a schedule begin as another, which it is to differ from later on.
func (a *schedule) beginAs(b *schedule) {
	if len(a.turns) > 0 {
		copy(a.turns, b.turns) // all else follows from them
		copy(a.busy, b.busy)
		return
	}
	a.copyFrom(b)
}

// A decoder turns decisions into schedules, reusing its memory.
type decoder struct {
	*shop
	weights *Weights
	mark
	trial  placement
	best   placement
	starts []tick // by option of a chain
	// saidTogether is how many turns of whoever is placed next are said one after the other.
	saidTogether int
	unsaid       []unsaid
}

func newDecoder(s *shop) *decoder {
	d := &decoder{shop: s, mark: s.newMark()}
	longest, chains, options := 0, 0, 0
	for _, j := range s.people {
		for i := range j.blocks {
			b := &j.blocks[i]
			if b.parted != nil {
				b = b.parted
			}
			longest, chains = max(longest, b.to-b.from), max(chains, len(b.chains))
			for _, c := range b.chains {
				options = max(options, len(c.options))
			}
		}
	}
	d.starts = make([]tick, options)
	for _, p := range []*placement{&d.trial, &d.best} {
		*p = placement{make([]tick, longest), make([]tick, longest), make([]int, longest), make([]int, chains)}
	}
	return d
}

func (s *shop) newSchedule() *schedule {
	steps := 0
	for _, j := range s.people {
		steps += len(j.steps)
	}
	out := &schedule{times: make([]tick, 2*steps), choices: make([]int, 2*steps), done: make([]tick, len(s.people)), timed: s.plain == nil}
	if s.plain != nil {
		out.turns, out.busy = make([]placedPlainly, len(s.plain.turns)), make([]tick, len(s.plain.turns))
	}
	for i := range steps {
		out.choices[steps+i] = -1 // where there is nothing to choose it stays so
	}
	from := 0
	for _, j := range s.people {
		to := from + len(j.steps)
		out.start, out.end = append(out.start, out.times[from:to]), append(out.end, out.times[steps+from:steps+to])
		out.option, out.with = append(out.option, out.choices[from:to]), append(out.with, out.choices[steps+from:steps+to])
		from = to
	}
	return out
}

// A giveUp is when the decoding of an order is given up: as soon as it is known that the heading
// of the plan is over a limit, or likely. Likely it is where, from a place on, all turns are those
// of another plan, and what is taken in order is busy for more longer than it is there.
type giveUp struct {
	over  tick
	after int
	busy  []tick
	more  tick
}

// notAtAll has every order decoded to its end.
var notAtAll = giveUp{over: never, after: nowhere}

// decode places turns in the given order, each block as early as it can be. order
// names people; the n-th mention of one is their n-th turn, and what it leaves unsaid comes
// last. choice has, by chain, the option to use, or what it leaves to whatever ends earliest:
// anywhere, or in a plain shop at a station.
func (d *decoder) decode(order, choice []int, out *schedule) {
	d.clear()
	d.goOn(0, order, choice, out, notAtAll, nil)
}

// goOn decodes an order from one of its places on, 0 for all of it, and leaves marks of
// how that went. It is false where that is given up.
func (d *decoder) goOn(from int, order, choice []int, out *schedule, when giveUp, marks trail) bool {
	if from == 0 {
		for i, person := range d.pinned {
			d.saidTogether = d.together(d.pinned[i:])
			d.placeTurn(person, choice, out)
			d.skip[person]++
		}
	}
	for i, person := range order[from:] {
		at := from + i
		if marks != nil && i > 0 && at%trailStep == 0 {
			marks[at/trailStep].copyFrom(&d.mark)
		}
		if d.skip[person] > 0 {
			d.skip[person]--
			continue
		}
		d.saidTogether = d.together(order[at:])
		if d.placeSaid(person, choice, out) > when.over {
			return false
		}
		if d.plain != nil {
			out.busy[at] = d.busy
			if at >= when.after && d.busy-when.busy[at] > when.more {
				return false
			}
		}
	}
	d.saidTogether = 0
	if d.plain != nil {
		clear(out.busy[len(order):])
	}
	if d.weights == nil && when.over < never && d.atBest(out) > float64(when.over) {
		return false
	}
	if !d.finish(choice, out, when.over) {
		return false
	}
	copy(out.done, d.free)
	d.sumUp(out)
	out.timed = d.plain == nil
	if d.weights != nil { // length alone does not ask for the times of steps
		d.time(out)
	}
	d.rate(out)
	return out.heading <= float64(when.over)
}

// together is how often an order names its first one after the other, where that tells anything.
func (s *shop) together(order []int) int {
	if !s.parted {
		return 0
	}
	n := 1
	for n < len(order) && order[n] == order[0] {
		n++
	}
	return n
}

// placeSaid places the turn that an order says next.
func (d *decoder) placeSaid(person int, choice []int, out *schedule) tick {
	if d.plain != nil {
		return d.placePlainly(person, choice, out)
	}
	return d.placeTurn(person, choice, out)
}

// atBest is the heading of a plan in which nobody waits any more.
func (d *decoder) atBest(out *schedule) float64 {
	for person, free := range d.free {
		out.done[person] = free
		if turn := d.turn[person]; turn > 0 {
			out.done[person] += d.people[person].left[turn-1]
		}
	}
	d.sumUp(out)
	d.rate(out)
	return out.heading
}

// sumUp finds of a schedule what follows from when people are through.
func (d *decoder) sumUp(out *schedule) {
	out.makespan, out.sumEnds = 0, 0
	for _, end := range out.done {
		out.makespan = max(out.makespan, end)
		out.sumEnds += end
	}
}

// clear is the day with nobody in it.
func (d *decoder) clear() {
	for i := range d.profiles {
		d.profiles[i].copyFrom(&d.base[i])
	}
	for i := range d.people {
		d.next[i], d.turn[i], d.skip[i], d.free[i] = 0, 0, 0, d.people[i].ready
	}
	clear(d.units)
	d.busy = 0
}
