package live

import (
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"chalkstep/core/classday"
	"chalkstep/core/schedule"
)

// An Offer is what would help where the plan cannot be kept, or where somebody will not finish in
// time who could: a few who sit elsewhere, or without Moves one more instructor.
type Offer struct {
	Moves []Move
	// Was is when all would be done without it, zero where somebody cannot go on; Done with it.
	Was, Done time.Time
	// Late are how many would then not finish in time, Stuck how many could not go on.
	Late, Stuck int
}

// A Move is somebody who sits at another machine, after somebody else where After names one.
type Move struct {
	StudentID int64
	Name      string
	MachineID int64
	After     string
}

// Key names what is offered.
func (o Offer) Key() string {
	var all []string
	for _, m := range o.Moves {
		all = append(all, fmt.Sprintf("%d-%d", m.StudentID, m.MachineID))
	}
	return strings.Join(all, ".")
}

// MovesOf reads the moves of a key; none where it is none.
func MovesOf(key string) []Move {
	var all []Move
	for _, one := range strings.Split(key, ".") {
		var m Move
		if n, err := fmt.Sscanf(one, "%d-%d", &m.StudentID, &m.MachineID); n != 2 || err != nil || len(all) == mostMoves {
			return nil
		}
		all = append(all, m)
	}
	return all
}

// What offers are weighed by, in minutes: somebody who cannot go on, each minute somebody is late, and
// each who moves though their machine works. A help of less than leastSooner is none.
const (
	stuckCosts  = 1000
	lateCosts   = 2
	moveCosts   = 4
	leastSooner = 3
	mostMoves   = 6
)

// Offers look from a moment on for what would help those who cannot go on, or will not finish in
// time. What was declined is not offered again.
func (s State) Offers(now time.Time, f Forecast) []Offer {
	late := f.Late(s)
	if len(late) == 0 && len(f.Stuck) == 0 {
		return nil
	}
	var offers []Offer
	if o, helps := s.rearranged(now); helps && !s.Declined[o.Key()] {
		offers = append(offers, o)
	}
	if len(late) > 0 {
		if o, helps := s.oneMore(now, f, len(late)); helps {
			offers = append(offers, o)
		}
	}
	return offers
}

// An arrangement is a state after some moves, and what it comes to.
type arrangement struct {
	state    State
	moves    []Event
	forecast Forecast
	cost     float64
}

// rearranged looks for the fewest who sit elsewhere, so that all go on and finish in time.
func (s State) rearranged(now time.Time) (Offer, bool) {
	paces := s.Paces(now)
	stranded := map[int64]bool{}
	for _, at := range s.Stranded() {
		stranded[at.StudentID] = true
	}
	base := s.arranged(now, paces, stranded)
	best := base
	for len(best.moves) < mostMoves {
		next := best
		for _, at := range best.state.Standings {
			if at.Presence == Left || at.Finished() || s.isMissing(at, now) ||
				at.Presence == Awaited && !stranded[at.StudentID] {
				continue
			}
			for _, machineID := range best.state.MayBeSeated(at) {
				e := Event{Kind: Seated, At: now, StudentID: at.StudentID, MachineID: machineID}
				other := best.state.copied()
				if !other.apply(e) {
					continue
				}
				a := other.arranged(now, paces, stranded, append(slices.Clip(best.moves), e)...)
				if a.cost < next.cost-schedule.Hair {
					next = a
				}
			}
		}
		if next.cost > best.cost-1 {
			break
		}
		best = next
	}
	return s.offered(base, best)
}

// arranged is what a state comes to.
func (s State) arranged(now time.Time, paces Paces, stranded map[int64]bool, moves ...Event) arrangement {
	a := arrangement{state: s, moves: moves, forecast: s.ForecastAt(now, paces)}
	a.cost = a.forecast.Finish.Sub(now).Minutes() + stuckCosts*float64(len(a.forecast.Stuck))
	limit := s.Plan.Class.EndsAt.Add(-time.Duration(s.Plan.Class.ClosingMinutes) * time.Minute)
	for _, end := range a.forecast.Ends {
		a.cost += lateCosts * max(0, end.Sub(limit).Minutes())
	}
	moved := map[int64]bool{}
	for _, e := range moves {
		if !moved[e.StudentID] && !stranded[e.StudentID] {
			a.cost += moveCosts
		}
		moved[e.StudentID] = true
	}
	return a
}

// offered is an arrangement as an offer; helps is false where it is none.
func (s State) offered(base, best arrangement) (o Offer, helps bool) {
	f := base.forecast
	late, stuck := len(best.forecast.Late(best.state)), len(best.forecast.Stuck)
	switch {
	case len(best.moves) == 0:
		return o, false
	case stuck < len(f.Stuck):
	case late >= len(f.Late(s)) && f.Finish.Sub(best.forecast.Finish).Minutes() < leastSooner:
		return o, false
	}
	o = Offer{Done: best.forecast.Finish, Late: late, Stuck: stuck}
	if len(f.Stuck) == 0 {
		o.Was = f.Finish
	}
	last := map[int64]Event{}
	var order []int64
	for _, e := range best.moves {
		if _, before := last[e.StudentID]; !before {
			order = append(order, e.StudentID)
		}
		last[e.StudentID] = e
	}
	for _, id := range order {
		at, _ := s.Standing(id)
		m := Move{StudentID: id, Name: at.Name, MachineID: last[id].MachineID}
		station := classday.StationID(m.MachineID)
		if there, taken := best.state.At(station); taken && there.StudentID != id {
			m.After = there.Name
		}
		for _, sitting := range best.forecast.Sittings(best.state, station) {
			if sitting.StudentID == id {
				break
			}
			m.After = sitting.Name
		}
		o.Moves = append(o.Moves, m)
	}
	return o, true
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
	g := other.ForecastAt(now, s.Paces(now))
	if f.Finish.Sub(g.Finish).Minutes() < leastSooner || len(g.Stuck) > len(f.Stuck) {
		return Offer{}, false
	}
	n := len(g.Late(other))
	return Offer{Was: f.Finish, Done: g.Finish, Late: n, Stuck: len(g.Stuck)}, n <= late
}

// copied can be changed without changing the state.
func (s State) copied() State {
	s.Standings, s.Hands, s.Calls, s.Out, s.Declined = slices.Clone(s.Standings), slices.Clone(s.Hands),
		slices.Clone(s.Calls), maps.Clone(s.Out), maps.Clone(s.Declined)
	return s
}
