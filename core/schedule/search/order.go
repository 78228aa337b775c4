package search

import (
	"math"
	"slices"

	"chalkstep/core/schedule"
	"chalkstep/core/schedule/internal/placing"
)

// A placedTurn is a time by which a turn is put in order, and whose it is, in one number:
// numbers are sorted in half the time that pairs take. Times further away than one number
// can tell with the job are all equally far.
type placedTurn int64

func placedAt(at schedule.Tick, job, jobs int) placedTurn {
	furthest := math.MaxInt64/schedule.Tick(jobs) - 1
	return placedTurn(min(at, furthest)*schedule.Tick(jobs) + schedule.Tick(job))
}

func (p placedTurn) person(jobs int) int { return int(int64(p) % int64(jobs)) }

// byTime is the order in which turns begin in a schedule. Turns of about one time are then near
// each other in the order as well, and two that change places put off little in between.
func (s *annealer) byTime(into []int, a *placing.Schedule) []int {
	s.placed = s.placed[:0]
	for i := range s.Jobs {
		for t, blocks := range s.Jobs[i].Turns {
			begins := a.Start[i][s.Jobs[i].Waits(blocks)]
			if s.Plain != nil {
				begins = a.PlainTurns[s.Plain.First[i]+t].Begins
			}
			s.placed = append(s.placed, placedAt(begins, i, len(s.Jobs)))
		}
	}
	slices.Sort(s.placed)
	into = into[:0]
	for _, p := range s.placed {
		into = append(into, p.person(len(s.Jobs)))
	}
	return s.withoutDeferred(into)
}

// withoutDeferred is an order without what it may leave deferred.
func (s *annealer) withoutDeferred(order []int) []int {
	clear(s.mentions)
	return slices.DeleteFunc(order, func(job int) bool {
		s.mentions[job]++
		return s.mentions[job] > s.Jobs[job].Ordered
	})
}
