package floor

import (
	"math"
	"slices"
)

// firstPlan tries several priority rules and keeps the best of their plans.
func (s *search) firstPlan() {
	s.best.makespan, s.best.value = math.MaxInt64, math.Inf(1)
	for _, rule := range priorityRules {
		order := s.said(s.orderBy(rule))
		s.decode(order, s.choice, s.trying)
		if s.trying.better(s.best) {
			s.best, s.trying = s.trying, s.best
			s.bestOrder = order
		}
	}
	for _, patience := range dispatchPatience {
		order := s.said(s.dispatch(patience))
		s.decode(order, s.choice, s.trying)
		if s.trying.better(s.best) {
			s.best, s.trying = s.trying, s.best
			s.bestOrder = order
		}
	}
	s.time(s.best)
	s.bestChoice = slices.Clone(s.choice)
}

// dispatchPatience is how much earlier than others somebody has to be able to
// begin, as a share of the work they have left more, to go first.
var dispatchPatience = []float64{0, 0.05, 0.15, 0.4}

// dispatch makes an order as a day goes: next is whoever can begin soonest, and of
// those the one with the most work left.
func (s *search) dispatch(patience float64) []int {
	var order []int
	s.clear()
	said := make([]int, len(s.people))
	place := func(person int) {
		s.placeTurn(person, s.choice, s.trying)
		for other := range s.people { // who had to end a block first goes first
			for ; other != person && said[other] < s.turn[other]; said[other]++ {
				order = append(order, other)
			}
		}
		said[person]++
		order = append(order, person)
	}
	for _, person := range s.pinned {
		place(person)
	}
	for {
		chosen, urgency := -1, math.Inf(1)
		for i := range s.people {
			j := &s.people[i]
			if s.turn[i] == len(j.turns) {
				continue
			}
			from, b := s.waitsFrom(i)
			start := from
			if b < len(j.blocks) {
				s.placeBest(i, &j.blocks[b], from, s.choice, s.trying)
				start = s.soonestOf(j, &j.blocks[b])
			}
			if u := float64(start) - patience*float64(j.left[s.turn[i]]); u < urgency {
				chosen, urgency = i, u
			}
		}
		if chosen < 0 {
			return order
		}
		place(chosen)
	}
}

// soonestOf is when the block just placed begins at a station, or at all.
func (s *search) soonestOf(j *job, b *block) tick {
	for i := b.from; i < b.to; i++ {
		if j.steps[i].chain >= 0 {
			return s.decoder.best.start[i-b.from]
		}
	}
	return s.decoder.best.start[0]
}

// A priorityRule says how urgent a person's next turn is, given the work
// done and left and the turns done; the most urgent goes first.
type priorityRule func(ready, done, left tick, turns int) tick

var priorityRules = []priorityRule{
	func(_, _, left tick, _ int) tick { return left },              // most work left
	func(_, _, left tick, _ int) tick { return -left },             // least work left: one person after another
	func(ready, done, _ tick, _ int) tick { return -ready - done }, // whoever would be free first
	func(_, _, _ tick, turns int) tick { return -tick(turns) },     // in turn
	func(ready, _, left tick, _ int) tick { return left + ready },
}

func (s *search) orderBy(rule priorityRule) []int {
	var order []int
	next := make([]int, len(s.people))
	all := make([]tick, len(s.people))
	for i := range s.people {
		for b := range s.people[i].blocks {
			all[i] += s.people[i].blockMinimum(&s.people[i].blocks[b])
		}
	}
	for {
		chosen, urgency := -1, tick(math.MinInt64)
		for i := range s.people {
			j := &s.people[i]
			if next[i] == len(j.turns) {
				continue
			}
			left := all[i]
			if next[i] > 0 {
				left = j.left[next[i]-1]
			}
			if u := rule(j.ready, all[i]-left, left, next[i]); u > urgency {
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
