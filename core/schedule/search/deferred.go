package search

import (
	"slices"

	"chalkstep/core/schedule"
)

// toggleDeferred has the order to be tried say when somebody's next deferred turn is, or leave one
// deferred again that need not be said; it is false where there is none.
func (s *annealer) toggleDeferred() bool {
	clear(s.mentions)
	needless, found := 0, 0
	for i, job := range s.tryOrder {
		if s.mentions[job]++; s.mentions[job] > s.Jobs[job].Ordered {
			if found++; s.rng.IntN(found) == 0 {
				needless = i
			}
		}
	}
	if s.rng.IntN(2) == 0 {
		if found > 0 {
			s.tryOrder = slices.Delete(s.tryOrder, needless, needless+1)
		}
		return found > 0
	}
	job := s.rng.IntN(len(s.Jobs))
	turn := s.mentions[job]
	if turn == len(s.Jobs[job].Turns) {
		return false
	}
	s.tryOrder = slices.Insert(s.tryOrder, s.placeToName(job, turn), job)
	return true
}

// placeToName is where in the order to be tried somebody's turn may be said: anywhere after
// their turns before it, or before the first turn there that now ends after they are ready
// for it.
func (s *annealer) placeToName(job, turn int) int {
	first := s.positionOf(job, turn-1) + 1
	if s.rng.IntN(2) == 0 {
		return first + s.rng.IntN(len(s.tryOrder)-first+1)
	}
	s.Time(s.now)
	ready := schedule.Tick(0)
	if step := s.Jobs[job].Waits(s.Jobs[job].Turns[turn]); step > 0 {
		ready = s.now.End[job][step-1]
	}
	clear(s.mentions)
	for i, other := range s.tryOrder {
		j := &s.Jobs[other]
		last := j.Blocks[j.Waiting(j.Turns[s.mentions[other]])].To - 1
		s.mentions[other]++
		if i >= first && s.now.End[other][last] > ready {
			return i
		}
	}
	return len(s.tryOrder)
}
