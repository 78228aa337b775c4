package search

import (
	"math"
	"slices"

	"chalkstep/core/schedule"
	"chalkstep/core/schedule/internal/instance"
)

// initialPlan tries several priority rules and keeps the best of their plans.
func (s *annealer) initialPlan() {
	s.best.Makespan, s.best.Objective = math.MaxInt64, math.Inf(1)
	for _, rule := range priorityRules {
		order := s.withoutDeferred(s.orderBy(rule))
		s.Generate(order, s.choice, s.trying)
		if s.trying.Better(s.best) {
			s.best, s.trying = s.trying, s.best
			s.bestOrder = order
		}
	}
	for _, patience := range dispatchPatience {
		order := s.withoutDeferred(s.dispatch(patience))
		s.Generate(order, s.choice, s.trying)
		if s.trying.Better(s.best) {
			s.best, s.trying = s.trying, s.best
			s.bestOrder = order
		}
	}
	s.Time(s.best)
	s.bestChoice = slices.Clone(s.choice)
}

// dispatchPatience is how much earlier than others somebody has to be able to
// begin, as a share of the work they have left more, to go first.
var dispatchPatience = []float64{0, 0.05, 0.15, 0.4}

// dispatch makes an order as a day goes: next is whoever can begin soonest, and of
// those the one with the most work left.
func (s *annealer) dispatch(patience float64) []int {
	var order []int
	s.Clear()
	said := make([]int, len(s.Jobs))
	place := func(job int) {
		s.PlaceTurn(job, s.choice, s.trying)
		for other := range s.Jobs { // who had to end a block first goes first
			for ; other != job && said[other] < s.Turn[other]; said[other]++ {
				order = append(order, other)
			}
		}
		said[job]++
		order = append(order, job)
	}
	for _, job := range s.Pinned {
		place(job)
	}
	for {
		chosen, urgency := -1, math.Inf(1)
		for i := range s.Jobs {
			j := &s.Jobs[i]
			if s.Turn[i] == len(j.Turns) {
				continue
			}
			from, b := s.WaitsFrom(i)
			start := from
			if b < len(j.Blocks) {
				s.PlaceBest(i, &j.Blocks[b], from, s.choice, s.trying)
				start = s.soonestOf(j, &j.Blocks[b])
			}
			if u := float64(start) - patience*float64(j.Left[s.Turn[i]]); u < urgency {
				chosen, urgency = i, u
			}
		}
		if chosen < 0 {
			return order
		}
		place(chosen)
	}
}

// soonestOf is when the block just placed begins at a machine, or at all.
func (s *annealer) soonestOf(j *instance.CompiledJob, b *instance.Block) schedule.Tick {
	for i := b.From; i < b.To; i++ {
		if j.Operations[i].Chain >= 0 {
			return s.Generator.Best.Start[i-b.From]
		}
	}
	return s.Generator.Best.Start[0]
}

// A priorityRule says how urgent a job's next turn is, given the work
// done and left and the turns done; the most urgent goes first.
type priorityRule func(ready, done, left schedule.Tick, turns int) schedule.Tick

var priorityRules = []priorityRule{
	func(_, _, left schedule.Tick, _ int) schedule.Tick { return left }, // most work left
	// least work left: one job after another
	func(_, _, left schedule.Tick, _ int) schedule.Tick { return -left },
	func(ready, done, _ schedule.Tick, _ int) schedule.Tick { return -ready - done },      // whoever would be free first
	func(_, _, _ schedule.Tick, turns int) schedule.Tick { return -schedule.Tick(turns) }, // in turn
	func(ready, _, left schedule.Tick, _ int) schedule.Tick { return left + ready },
}

func (s *annealer) orderBy(rule priorityRule) []int {
	var order []int
	next := make([]int, len(s.Jobs))
	all := make([]schedule.Tick, len(s.Jobs))
	for i := range s.Jobs {
		for b := range s.Jobs[i].Blocks {
			all[i] += s.Jobs[i].BlockMinimum(&s.Jobs[i].Blocks[b])
		}
	}
	for {
		chosen, urgency := -1, schedule.Tick(math.MinInt64)
		for i := range s.Jobs {
			j := &s.Jobs[i]
			if next[i] == len(j.Turns) {
				continue
			}
			left := all[i]
			if next[i] > 0 {
				left = j.Left[next[i]-1]
			}
			if u := rule(j.Ready, all[i]-left, left, next[i]); u > urgency {
				chosen, urgency = i, u
			}
		}
		if chosen < 0 {
			return order
		}
		next[chosen]++
		order = append(order, chosen)
	}
}
