// Package placing makes schedules of orders: serial schedule generation, in which each turn of an
// order is placed as early as it can be, and what a schedule is worth.
package placing

import (
	"chalkstep/core/schedule"
	"chalkstep/core/schedule/internal/instance"
)

// A Schedule is the times of every operation, generated from an order of blocks and
// a choice of machines.
type Schedule struct {
	// Start, end and option are by job and operation; option is the index into
	// the operation's chain of machines.
	Start, End [][]schedule.Tick
	Option     [][]int
	// With is the resource that an operation's oneOf chose, −1 for none.
	With [][]int
	// times and choices are all of them one after the other, to be copied at once.
	times   []schedule.Tick
	choices []int
	// Done is by job, when they are through.
	Done []schedule.Tick
	// PlainTurns are those of a plain instance. The times of operations follow from them, where they are not
	// timed yet.
	PlainTurns []PlainTurnTimes
	timed      bool
	// Busy is that of the generator after each place of the order, in a plain instance.
	Busy     []schedule.Tick
	Makespan schedule.Tick
	// sumEnds breaks ties between plans of equal makespan.
	sumEnds schedule.Tick
	// Objective is what plans are compared by, in ticks: less is better. surrogate objective is what
	// annealing goes by, which tells plans of about one value apart.
	Objective, Surrogate float64
}

func (a *Schedule) Better(b *Schedule) bool { return a.Objective < b.Objective }

func (a *Schedule) CopyFrom(b *Schedule) {
	copy(a.times, b.times)
	copy(a.choices, b.choices)
	copy(a.Done, b.Done)
	copy(a.PlainTurns, b.PlainTurns)
	copy(a.Busy, b.Busy)
	a.timed, a.Makespan, a.sumEnds, a.Objective, a.Surrogate = b.timed, b.Makespan, b.sumEnds, b.Objective, b.Surrogate
}

// BeginAs makes a schedule begin as another, which it is to differ from later on.
func (a *Schedule) BeginAs(b *Schedule) {
	if len(a.PlainTurns) > 0 {
		copy(a.PlainTurns, b.PlainTurns) // all else follows from them
		copy(a.Busy, b.Busy)
		return
	}
	a.CopyFrom(b)
}

// A Generator turns decisions into schedules, reusing its memory.
type Generator struct {
	*instance.Instance
	Weights *schedule.Weights
	Checkpoint
	trial  placement
	Best   placement
	starts []schedule.Tick // by option of a chain
	// consecutive is how many turns of whoever is placed next are said one after the other.
	consecutive int
	deferred    []deferredTurn
}

func NewGenerator(s *instance.Instance) *Generator {
	d := &Generator{Instance: s, Checkpoint: newCheckpoint(s)}
	longest, chains, options := 0, 0, 0
	for _, j := range s.Jobs {
		for i := range j.Blocks {
			b := &j.Blocks[i]
			if b.Parted != nil {
				b = b.Parted
			}
			longest, chains = max(longest, b.To-b.From), max(chains, len(b.Chains))
			for _, c := range b.Chains {
				options = max(options, len(c.Options))
			}
		}
	}
	d.starts = make([]schedule.Tick, options)
	for _, p := range []*placement{&d.trial, &d.Best} {
		*p = placement{make([]schedule.Tick, longest), make([]schedule.Tick, longest), make([]int, longest),
			make([]int, chains)}
	}
	return d
}

func (d *Generator) NewSchedule() *Schedule {
	steps := 0
	for _, j := range d.Jobs {
		steps += len(j.Operations)
	}
	out := &Schedule{times: make([]schedule.Tick, 2*steps), choices: make([]int, 2*steps),
		Done: make([]schedule.Tick, len(d.Jobs)), timed: d.Plain == nil}
	if d.Plain != nil {
		out.PlainTurns, out.Busy = make([]PlainTurnTimes, len(d.Plain.Turns)), make([]schedule.Tick, len(d.Plain.Turns))
	}
	for i := range steps {
		out.choices[steps+i] = -1 // where there is nothing to choose it stays so
	}
	from := 0
	for _, j := range d.Jobs {
		to := from + len(j.Operations)
		out.Start, out.End = append(out.Start, out.times[from:to]), append(out.End, out.times[steps+from:steps+to])
		out.Option, out.With = append(out.Option, out.choices[from:to]), append(out.With, out.choices[steps+from:steps+to])
		from = to
	}
	return out
}

// A Cutoff is when the generating of an order is given up: as soon as it is known that the surrogate objective
// of the plan is over a limit, or likely. Likely it is where, from a place on, all turns are those
// of another plan, and what is taken in order is busy for more longer than it is there.
type Cutoff struct {
	Surrogate schedule.Tick
	After     int
	Busy      []schedule.Tick
	More      schedule.Tick
}

// NoCutoff has every order generated to its end.
var NoCutoff = Cutoff{Surrogate: schedule.Never, After: Nowhere}

// Generate places turns in the given order, each block as early as it can be. order
// names jobs; the n-th mention of one is their n-th turn, and what it leaves deferred comes
// last. choice has, by chain, the option to use, or what it leaves to whatever ends earliest:
// anywhere, or in a plain instance at a machine.
func (d *Generator) Generate(order, choice []int, out *Schedule) {
	d.Clear()
	d.GenerateFrom(0, order, choice, out, NoCutoff, nil)
}

// GenerateFrom decodes an order from one of its places on, 0 for all of it, and leaves checkpoints of
// how that went. It is false where that is given up.
func (d *Generator) GenerateFrom(from int, order, choice []int, out *Schedule, when Cutoff, marks Checkpoints) bool {
	if from == 0 {
		for i, job := range d.Pinned {
			d.consecutive = d.consecutiveTurns(d.Pinned[i:])
			d.PlaceTurn(job, choice, out)
			d.skip[job]++
		}
	}
	for i, job := range order[from:] {
		at := from + i
		if marks != nil && i > 0 && at%CheckpointEvery == 0 {
			marks[at/CheckpointEvery].CopyFrom(&d.Checkpoint)
		}
		if d.skip[job] > 0 {
			d.skip[job]--
			continue
		}
		d.consecutive = d.consecutiveTurns(order[at:])
		if d.placeNamed(job, choice, out) > when.Surrogate {
			return false
		}
		if d.Plain != nil {
			out.Busy[at] = d.busy
			if at >= when.After && d.busy-when.Busy[at] > when.More {
				return false
			}
		}
	}
	d.consecutive = 0
	if d.Plain != nil {
		clear(out.Busy[len(order):])
	}
	if d.Weights == nil && when.Surrogate < schedule.Never && d.surrogateAtBest(out) > float64(when.Surrogate) {
		return false
	}
	if !d.placeDeferred(choice, out, when.Surrogate) {
		return false
	}
	copy(out.Done, d.free)
	d.summarize(out)
	out.timed = d.Plain == nil
	if d.Weights != nil { // length alone does not ask for the times of operations
		d.Time(out)
	}
	d.Evaluate(out)
	return out.Surrogate <= float64(when.Surrogate)
}

// consecutiveTurns is how often an order names its first one after the other, where that tells anything.
func (d *Generator) consecutiveTurns(order []int) int {
	if !d.Parted {
		return 0
	}
	n := 1
	for n < len(order) && order[n] == order[0] {
		n++
	}
	return n
}

// placeNamed places the turn that an order says next.
func (d *Generator) placeNamed(job int, choice []int, out *Schedule) schedule.Tick {
	if d.Plain != nil {
		return d.placePlainly(job, choice, out)
	}
	return d.PlaceTurn(job, choice, out)
}

// surrogateAtBest is the surrogate objective of a plan in which nobody waits any more.
func (d *Generator) surrogateAtBest(out *Schedule) float64 {
	for job, free := range d.free {
		out.Done[job] = free
		if turn := d.Turn[job]; turn > 0 {
			out.Done[job] += d.Jobs[job].Left[turn-1]
		}
	}
	d.summarize(out)
	d.Evaluate(out)
	return out.Surrogate
}

// summarize finds of a schedule what follows from when jobs are through.
func (d *Generator) summarize(out *Schedule) {
	out.Makespan, out.sumEnds = 0, 0
	for _, end := range out.Done {
		out.Makespan = max(out.Makespan, end)
		out.sumEnds += end
	}
}

// Clear is the day with nobody in it.
func (d *Generator) Clear() {
	for i := range d.profiles {
		d.profiles[i].CopyFrom(&d.Unavailable[i])
	}
	for i := range d.Jobs {
		d.next[i], d.Turn[i], d.skip[i], d.free[i] = 0, 0, 0, d.Jobs[i].Ready
	}
	clear(d.units)
	d.busy = 0
}

// Of a choice it may be said that it is whatever ends earliest, anywhere or of the options at
// one machine, where these differ in what is taken along, as in the hoop.
const Anywhere = -1

func EarliestAt(machine int) (choice int) { return Anywhere - 1 - machine }

// choosesAt tells whether an option, which is at a machine, is one that a choice leaves open.
func choosesAt(choice, machine int) bool {
	return choice == Anywhere || choice == EarliestAt(machine)
}

// Nowhere is after all places of an order.
const Nowhere = 1 << 30
