package instance

import (
	"slices"

	"chalkstep/core/schedule"
)

// A Plain instance is one in which nothing is out, pinned or at a minute, somebody may choose a
// machine, and every block waits for nothing, for resources at its one operation, or for what its one
// machine takes, as where everybody hoops alone. There all that has to be found out of a turn
// is when its block begins and with which option; the times of the operations follow. A machine,
// and a resource that is only taken with one, goes from one to the next in the order: whoever
// would fill a gap can be said earlier instead, so that it is enough to know from when on
// each unit is free. So does what is only asked for in turns that are left deferred, as an iron:
// these come in the order in which jobs are ready for them. Only what is taken at the bench
// and with a machine, as the time of an instructor, has gaps that are filled.
type Plain struct {
	// Turns are those of all jobs, one job's after the other's; first is by job the
	// first of theirs, job by turn whose it is.
	Turns  []PlainTurn
	First  []int
	Person []int
	// Shared are the resources with gaps. The units of all others stand one behind the
	// other, those of a resource from firstUnit on; units is how many they are.
	Shared    []int
	Units     int
	firstUnit []int32
}

// A PlainTurn is somebody's turn: time at the bench, a block, and time at the bench.
type PlainTurn struct {
	Lead, Rest schedule.Tick
	// Left is the least time after the turn.
	Left schedule.Tick
	// Chain is the choice of its machine, −1 for none: then there is one way to place it,
	// else one for each option.
	Chain int
	Ways  []Way
}

// A Way to place a block. What it takes is counted from a moment so long after it begins and
// before it ends, the start of its machine where it has one: units that go from one to the
// next, and what has gaps. All of it lies together: it is looked at hundreds of thousands of
// times a second.
type Way struct {
	Before, After schedule.Tick
	// Taken and filled are how many of the takes and gaps there are.
	Taken, Filled int
	Takes         [mostTakes]Taking
	gaps          [mostGaps]Window
}

// mostTakes and mostGaps of one way: a machine and a hoop; an instructor and another.
const (
	mostTakes = 2
	mostGaps  = 2
)

func (w *Way) Units() []Taking { return w.Takes[:w.Taken] }

func (w *Way) InGaps() []Window { return w.gaps[:w.Filled] }

// A Taking is of one unit of those from first up to end, and from when to when.
type Taking struct {
	First, End int32
	From, To   schedule.Tick
}

// newPlain is none where the instance is not plain.
func (s *Instance) newPlain() *Plain {
	if !s.anyTime() || len(s.OpenChoices) == 0 {
		return nil
	}
	p := &Plain{Shared: s.withGaps(), firstUnit: make([]int32, len(s.Capacity))}
	scarce := s.scarce()
	for r, capacity := range s.Capacity {
		p.firstUnit[r] = int32(p.Units)
		if scarce[r] && !slices.Contains(p.Shared, r) {
			p.Units += capacity
		}
	}
	for i := range s.Jobs {
		p.First = append(p.First, len(p.Turns))
		from := 0
		for t, blocks := range s.Jobs[i].Turns {
			turn, ok := s.plainTurn(p, &s.Jobs[i], from, blocks, scarce)
			if !ok {
				return nil
			}
			turn.Lead, turn.Left = s.Jobs[i].Leads[t], s.Jobs[i].Left[t]
			p.Turns, p.Person = append(p.Turns, turn), append(p.Person, i)
			from = blocks
		}
	}
	return p
}

// withGaps are the resources with gaps that are filled: those that are taken at the bench, where
// somebody takes several units, or an order has to say some turn that takes them.
func (s *Instance) withGaps() (shared []int) {
	atBench, filled := make([]bool, len(s.Capacity)), make([]bool, len(s.Capacity))
	for i := range s.Jobs {
		j := &s.Jobs[i]
		said := 0
		if j.Ordered > 0 {
			said = j.Turns[j.Ordered-1]
		}
		for k := range j.Blocks {
			for _, w := range j.Blocks[k].Alone {
				atBench[w.Resource] = true
				filled[w.Resource] = filled[w.Resource] || k < said || w.Units > 1
			}
			for _, c := range j.Blocks[k].Chains {
				for _, w := range slices.Concat(c.Windows...) {
					filled[w.Resource] = true
				}
			}
		}
	}
	for r := range s.Capacity {
		if atBench[r] && filled[r] {
			shared = append(shared, r)
		}
	}
	return shared
}

// plainTurn is the turn of blocks from one to another; ok is false where it is not plain.
func (s *Instance) plainTurn(p *Plain, j *CompiledJob, from, to int, scarce []bool) (turn PlainTurn, ok bool) {
	turn.Chain = -1
	waiting := j.Waiting(to)
	for k := waiting + 1; k < to; k++ {
		turn.Rest += j.BlockMinimum(&j.Blocks[k])
	}
	b := &j.Blocks[waiting]
	switch {
	case b.Free || b.Alone != nil:
		w, ok := s.newWay(p, b.Alone, 0, j.BlockMinimum(b), scarce)
		turn.Ways = []Way{w}
		return turn, ok
	case !b.Sure:
		return turn, false
	}
	c := &b.Chains[0]
	turn.Chain = c.Index
	for option, windows := range c.Windows {
		w, ok := s.newWay(p, windows, c.Before, c.Length[option]+c.After, scarce)
		if !ok {
			return turn, false
		}
		turn.Ways = append(turn.Ways, w)
	}
	return turn, true
}

// newWay is the way that takes what some windows say; ok is false where that is more than a
// unit of what goes from one to the next, more than there is, or more things than a way has.
func (s *Instance) newWay(p *Plain, windows []Window, before, after schedule.Tick, scarce []bool) (w Way, ok bool) {
	w = Way{Before: before, After: after}
	for _, at := range windows {
		switch r := at.Resource; {
		case at.Units > s.Capacity[r] || at.To <= at.From:
			return w, false
		case slices.Contains(p.Shared, r):
			if w.Filled == mostGaps {
				return w, false
			}
			w.gaps[w.Filled] = at
			w.Filled++
		case !scarce[r]:
		case at.Units > 1 || w.Taken == mostTakes:
			return w, false
		default:
			w.Takes[w.Taken] = Taking{p.firstUnit[r], p.firstUnit[r] + int32(s.Capacity[r]), at.From, at.To}
			w.Taken++
		}
	}
	return w, true
}

// scarce tells which resources may be short: others never make anybody wait.
func (s *Instance) scarce() []bool {
	most := make([]int, len(s.Capacity))
	for i := range s.Jobs {
		mine := make([]int, len(s.Capacity))
		for _, o := range s.Jobs[i].Operations {
			for _, need := range o.Needs {
				mine[need.Resource] = max(mine[need.Resource], need.Units)
			}
		}
		for r := range mine {
			for _, b := range s.Jobs[i].Blocks {
				for _, h := range b.Holds {
					if h.Resource == r || h.Resource < 0 && slices.Contains(h.ByOption, r) {
						mine[r]++
					}
				}
			}
			most[r] += mine[r]
		}
	}
	scarce := make([]bool, len(s.Capacity))
	for r := range scarce {
		scarce[r] = r < s.Machines || most[r] > s.Capacity[r]
	}
	return scarce
}
