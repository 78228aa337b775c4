package floor

import "math"

// A stretch is a part of what a search may do: so many changes, or as many as there is time
// for between two shares of it.
type stretch struct {
	changes  int
	used     func() float64
	from, to float64
}

// part is what lies between two shares of the search.
func (o Options) part(from, to float64) stretch {
	if o.Used != nil {
		return stretch{math.MaxInt, o.Used, from, to}
	}
	at := func(share float64) int { return int(math.Ceil(share * float64(o.Iterations))) }
	return stretch{changes: at(to) - at(from)}
}

// of is what one of several who do it side by side may do.
func (s stretch) of(one, all int) stretch {
	changes := s.changes / all
	if one < s.changes%all {
		changes++
	}
	s.changes = changes
	return s
}

// gone is the share of it that is over after so many changes: 1 or more at its end.
func (s stretch) gone(done int) float64 {
	if done >= s.changes {
		return 1
	}
	gone := float64(done) / float64(s.changes)
	if s.used == nil {
		return gone
	}
	used := s.used()
	if used >= s.to {
		return 1
	}
	return max(gone, (used-s.from)/(s.to-s.from))
}
