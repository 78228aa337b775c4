package search

import "math"

// A budget is a part of the search: a number of neighbours, or the time between two shares of it.
type budget struct {
	neighbours int
	used       func() float64
	from, to   float64
}

// part returns the budget between two shares of the search.
func (o Options) part(from, to float64) budget {
	if o.Used != nil {
		return budget{math.MaxInt, o.Used, from, to}
	}
	at := func(share float64) int { return int(math.Ceil(share * float64(o.Iterations))) }
	return budget{neighbours: at(to) - at(from)}
}

// share returns the part of a budget for one of several searchers that run side by side.
func (s budget) share(one, all int) budget {
	changes := s.neighbours / all
	if one < s.neighbours%all {
		changes++
	}
	s.neighbours = changes
	return s
}

// spent returns the share of the budget that is used up after a number of neighbours, 1 or more at its end.
func (s budget) spent(done int) float64 {
	if done >= s.neighbours {
		return 1
	}
	gone := float64(done) / float64(s.neighbours)
	if s.used == nil {
		return gone
	}
	used := s.used()
	if used >= s.to {
		return 1
	}
	return max(gone, (used-s.from)/(s.to-s.from))
}
