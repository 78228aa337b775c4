package placing

import (
	"chalkstep/core/schedule"
	"chalkstep/core/schedule/internal/instance"
)

// Checkpoints are the states of a generator before every CheckpointEvery-th turn of an order: an order
// that begins alike is generated from the last one they share.
type Checkpoints []Checkpoint

// A Checkpoint is where a generator is in an order.
type Checkpoint struct {
	profiles []instance.Profile
	changing []int           // the resources whose profile generating changes
	next     []int           // by job: the next block
	Turn     []int           // by job: the next turn
	skip     []int           // by job: how many of their turns were placed first
	free     []schedule.Tick // by job: the end of the last block
	units    []unit          // of a plain instance
	busy     schedule.Tick   // until when all of these are taken, added up
}

func newCheckpoint(s *instance.Instance) Checkpoint {
	n := len(s.Jobs)
	m := Checkpoint{profiles: make([]instance.Profile, len(s.Capacity)), next: make([]int, n), Turn: make([]int, n),
		skip: make([]int, n), free: make([]schedule.Tick, n)}
	if s.Plain != nil {
		m.changing, m.units = s.Plain.Shared, make([]unit, s.Plain.Units)
		return m
	}
	for r := range s.Capacity {
		m.changing = append(m.changing, r)
	}
	return m
}

func (m *Checkpoint) CopyFrom(other *Checkpoint) {
	for _, r := range m.changing {
		m.profiles[r].CopyFrom(&other.profiles[r])
	}
	copy(m.next, other.next)
	copy(m.Turn, other.Turn)
	copy(m.skip, other.skip)
	copy(m.free, other.free)
	copy(m.units, other.units)
	m.busy = other.busy
}

// CheckpointEvery weighs the copying of checkpoints against the placing of turns again.
const CheckpointEvery = 6

func NewCheckpoints(s *instance.Instance) Checkpoints {
	turns := 0
	for i := range s.Jobs {
		turns += len(s.Jobs[i].Turns)
	}
	out := make(Checkpoints, turns/CheckpointEvery+1)
	for i := range out {
		if out[i] = newCheckpoint(s); s.Plain != nil {
			out[i].next, out[i].skip = nil, nil // are not looked at
		}
	}
	return out
}
