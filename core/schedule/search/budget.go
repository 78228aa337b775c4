package search

import "math"

// A budget is a part of what a search may do: so many changes, or as many as there is time
// for between two shares of it.
type budget struct {
	neighbours int
	used       func() float64
	from, to   float64
}

// part is what lies between two shares of the search.
func (o Options) part(from, to float64) budget {
	if o.Used != nil {
		return budget{math.MaxInt, o.Used, from, to}
	}
	at := func(share float64) int { return int(math.Ceil(share * float64(o.Iterations))) }
	return budget{neighbours: at(to) - at(from)}
}

// share is what one of several who do it side by side may do.
func (s budget) share(one, all int) budget {
	changes := s.neighbours / all
	if one < s.neighbours%all {
		changes++
	}
	s.neighbours = changes
	return s
}

// spent is the share of it that is over after so many changes: 1 or more at its end.
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
