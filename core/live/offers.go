package live

import (
	"maps"
	"slices"
	"time"

	"chalkstep/core/classday"
)

// An Offer is what would have somebody finish sooner who will not finish in time: to sit at
// another machine, or for StudentID 0 one more instructor.
type Offer struct {
	StudentID int64
	Name      string
	MachineID int64
	// Done is when they would be done, Late how many would then not finish in time.
	Done time.Time
	Late int
}

// Limits of looking for offers: each takes a plan of what is left.
const (
	mostLateHelped = 3
	leastSooner    = 3 * time.Minute
	// offerIterations tell whether a move helps; whoever makes it sees the whole plan.
	offerIterations = 60
)

// Offers look from a moment on for what would help those who will not finish in time.
func (s State) Offers(now time.Time, f Forecast) []Offer {
	var offers []Offer
	late := f.Late(s)
	for _, at := range late[:min(len(late), mostLateHelped)] {
		var best *Offer
		for _, machineID := range s.MayBeSeated(at) {
			other := s.copied()
			if !other.apply(Event{Kind: Seated, At: now, StudentID: at.StudentID, MachineID: machineID}) {
				continue
			}
			g, err := other.forecast(now, offerIterations)
			if err != nil || g.Ends[at.StudentID].IsZero() || f.Ends[at.StudentID].Sub(g.Ends[at.StudentID]) < leastSooner ||
				len(g.Late(other)) > len(late) {
				continue
			}
			if best == nil || g.Ends[at.StudentID].Before(best.Done) {
				best = &Offer{StudentID: at.StudentID, Name: at.Name, MachineID: machineID, Done: g.Ends[at.StudentID],
					Late: len(g.Late(other))}
			}
		}
		if best != nil {
			offers = append(offers, *best)
		}
	}
	if len(late) > 0 {
		if o, helps := s.oneMore(now, f, len(late)); helps {
			offers = append(offers, o)
		}
	}
	return offers
}

// oneMore is what another instructor would come to.
func (s State) oneMore(now time.Time, f Forecast, late int) (Offer, bool) {
	other := s.copied()
	other.Plan.Problem.Resources = slices.Clone(other.Plan.Problem.Resources)
	for i := range other.Plan.Problem.Resources {
		if p := &other.Plan.Problem.Resources[i]; p.ID == classday.Instructor {
			p.Count++
		}
	}
	g, err := other.forecast(now, offerIterations)
	if err != nil || f.Finish.Sub(g.Finish) < leastSooner {
		return Offer{}, false
	}
	n := len(g.Late(other))
	return Offer{Done: g.Finish, Late: n}, n <= late
}

// copied can be changed without changing the state.
func (s State) copied() State {
	s.Standings, s.Hands, s.Calls, s.Out = slices.Clone(s.Standings), slices.Clone(s.Hands), slices.Clone(s.Calls),
		maps.Clone(s.Out)
	return s
}
