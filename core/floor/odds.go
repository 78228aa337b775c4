package floor

import (
	"cmp"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
)

// How minutes vary from day to day where nobody has learned it: figures of ours.
// Hands vary more than machines.
const (
	BenchSpread       = 0.25
	StationSpread     = 0.12
	UsualBreakMinutes = 6
	mostDays          = 100_000
)

// OddsDays are played wherever nobody says how many, so that no page tells other odds of a
// plan than the next: a chance of one in twenty is told to a hundredth.
const OddsDays = 500

// An Outlook is what becomes of a plan on many days on which nothing takes quite
// as long as was said.
type Outlook struct {
	Days int `json:"days"`
	// FitsShare is the share of days on which everyone finishes in the window.
	FitsShare float64 `json:"fits_share"`
	// P10, P50 and P90 are when one, five and nine days of ten are done.
	P10 float64 `json:"p10_minutes"`
	P50 float64 `json:"p50_minutes"`
	P90 float64 `json:"p90_minutes"`
	// Late are those who are late on some days, most often first.
	Late []Risk `json:"late"`
}

// A Risk is somebody and the share of days on which they end after the window.
type Risk struct {
	Person string  `json:"person"`
	Share  float64 `json:"share"`
}

// Odds plays a plan through on many days. Whoever was to be first at a machine or
// with a hoop is first again, and each begins as soon as that, their own step
// before and what they need allow. The same seed gives the same days.
func Odds(p Problem, r Result, days int, seed uint64) (Outlook, error) {
	if days < 1 || days > mostDays {
		return Outlook{}, fmt.Errorf("days is %d: expected 1 to %d", days, mostDays)
	}
	s, err := compile(p)
	if err != nil {
		return Outlook{}, err
	}
	moves, err := s.moves(r)
	if err != nil {
		return Outlook{}, err
	}
	o := Outlook{Days: days, Late: []Risk{}}
	ends := make([]float64, days)
	late := make([]int, len(p.People))
	run := newRun(s)
	fits := 0
	for day := range days {
		rng := rand.New(rand.NewPCG(seed, uint64(day)))
		for i, end := range run.play(moves, rng) {
			ends[day] = max(ends[day], end)
			if end > p.WindowMinutes+1e-9 {
				late[i]++
			}
		}
		if ends[day] <= p.WindowMinutes+1e-9 {
			fits++
		}
	}
	slices.Sort(ends)
	at := func(share float64) float64 {
		return math.Round(10*ends[max(0, int(math.Ceil(share*float64(days)))-1)]) / 10
	}
	o.FitsShare, o.P10, o.P50, o.P90 = float64(fits)/float64(days), at(0.1), at(0.5), at(0.9)
	for i, n := range late {
		if n > 0 {
			o.Late = append(o.Late, Risk{p.People[i].ID, float64(n) / float64(days)})
		}
	}
	slices.SortStableFunc(o.Late, func(a, b Risk) int { return cmp.Compare(b.Share, a.Share) })
	return o, nil
}

// A move is one step of a plan with what it needs of the room.
type move struct {
	person  int
	minutes float64
	spread  float64
	breaks  float64
	// at is the minute before which it does not begin.
	at float64
	// station is taken for the step, −1 at the bench.
	station int
	needs   []claim
	// oneOf are resources of which one gives a unit: the one of the plan, first of
	// them, as long as it begins by the minute planned, then whichever is free first.
	oneOf   []int
	planned float64
	// takes are the holds that begin with it, gives those that end.
	takes, gives []held
}

// A held unit of a resource, by a number of its own.
type held struct{ resource, hold int }

// moves are the steps of a plan in the order in which they begin.
func (s *shop) moves(r Result) ([]move, error) {
	type step struct{ person, id string }
	placed := map[step]Placed{}
	for _, at := range r.Steps {
		placed[step{at.Person, at.Step}] = at
	}
	type timed struct {
		move
		start, end float64
		index      int
	}
	var all []timed
	holds := 0
	for i := range s.people {
		j, person := &s.people[i], s.problem.People[i]
		mine := make([]timed, len(person.Steps))
		options := make([]int, len(person.Steps))
		for k, st := range person.Steps {
			at, ok := placed[step{person.ID, st.ID}]
			if !ok {
				return nil, fmt.Errorf("the plan has no step %s of %s", st.ID, person.ID)
			}
			m := timed{move: move{person: i, minutes: at.End - at.Start, station: -1, breaks: st.Breaks, spread: BenchSpread}, start: at.Start, end: at.End, index: k}
			if c := j.steps[k].chain; c >= 0 {
				m.spread = StationSpread
				options[k] = s.optionOf(j, c, at.Station, func(from int) []string { return placed[step{person.ID, person.Steps[from].ID}].Took })
				if options[k] < 0 {
					return nil, fmt.Errorf("the plan has %s of %s on %q, where it cannot be", st.ID, person.ID, at.Station)
				}
				m.station = s.options[c][options[k]]
				at := s.problem.Stations[m.station]
				m.breaks *= cmp.Or(at.BreakFactor, 1)
				if at.Spread != nil {
					m.spread = *at.Spread
				}
			}
			if st.Spread != nil {
				m.spread = *st.Spread
			}
			if at.End > at.Start { // what takes no time needs nothing
				m.needs = j.steps[k].needs
			}
			if at.With != "" {
				m.planned = at.Start
				m.oneOf = slices.Clone(j.steps[k].oneOf)
				slices.SortStableFunc(m.oneOf, func(a, b int) int { return boolFirst(s.name(a) == at.With, s.name(b) == at.With) })
			}
			m.at = toMinutes(j.steps[k].at)
			mine[k] = m
		}
		for _, b := range j.blocks {
			for _, h := range b.holds {
				// A kept station is busy from one of its steps to the next anyway.
				if resource := j.held(h, options); resource >= s.stations {
					mine[h.from].takes = append(mine[h.from].takes, held{resource, holds})
					mine[h.to].gives = append(mine[h.to].gives, held{resource, holds})
					holds++
				}
			}
		}
		all = append(all, mine...)
	}
	slices.SortStableFunc(all, func(a, b timed) int {
		return cmp.Or(cmp.Compare(a.start, b.start), cmp.Compare(a.end, b.end), cmp.Compare(a.person, b.person), cmp.Compare(a.index, b.index))
	})
	if len(all) == 0 {
		return nil, errors.New("there is nobody to play a day for")
	}
	moves := make([]move, len(all))
	for i, m := range all {
		moves[i] = m.move
	}
	return moves, nil
}

// optionOf is the option of a chain that stands for a station and for the pools
// that were taken for it; −1 for none.
func (s *shop) optionOf(j *job, chain int, station string, took func(step int) []string) int {
	for o, st := range s.options[chain] {
		if s.problem.Stations[st].ID == station && s.tookFor(j, chain, o, took) {
			return o
		}
	}
	return -1
}

// tookFor tells whether what was taken for a chain is what an option asks for. A
// plan that names nothing may have taken anything.
func (s *shop) tookFor(j *job, chain, option int, took func(step int) []string) bool {
	for _, b := range j.blocks {
		for _, h := range b.holds {
			if h.chain != chain || h.resource >= 0 || h.byOption[option] < s.stations {
				continue
			}
			if names := took(h.from); len(names) > 0 && !slices.Contains(names, s.name(h.byOption[option])) {
				return false
			}
		}
	}
	return true
}

// A run plays days, reusing its memory.
type run struct {
	*shop
	breakMinutes float64
	outages      bool
	free         []float64   // by person
	units        [][]float64 // by resource: when each unit is free
	unitOf       map[int]int // by hold
}

func newRun(s *shop) *run {
	r := &run{shop: s, breakMinutes: cmp.Or(s.problem.BreakMinutes, UsualBreakMinutes), free: make([]float64, len(s.people)), unitOf: map[int]int{}}
	r.outages = s.calendar()
	for _, c := range s.capacity {
		r.units = append(r.units, make([]float64, c))
	}
	return r
}

// play gives each person's end on one day.
func (r *run) play(moves []move, rng *rand.Rand) []float64 {
	for i, j := range r.people {
		r.free[i] = toMinutes(j.ready)
	}
	for _, units := range r.units {
		clear(units)
	}
	for _, m := range moves {
		needs := m.needs
		start := math.Inf(1)
		if len(m.oneOf) == 0 {
			start = r.begin(m, needs)
		}
		for _, resource := range m.oneOf {
			with := append(slices.Clip(m.needs), claim{resource, 1})
			if s := r.begin(m, with); s < start {
				start, needs = s, with
			}
			if start <= m.planned+hair {
				break
			}
		}
		end := start + r.length(m, rng)
		r.free[m.person] = end
		if m.station >= 0 {
			r.units[m.station][0] = end
		}
		for _, need := range needs {
			for u := range min(need.units, len(r.units[need.resource])) {
				r.units[need.resource][u] = end
			}
		}
		for _, h := range m.takes {
			if at := r.earliest(h.resource); at >= 0 {
				r.units[h.resource][at], r.unitOf[h.hold] = math.Inf(1), at
			}
		}
		for _, h := range m.gives {
			// Units of a pool are alike, so any that is out comes back.
			if at := slices.IndexFunc(r.units[h.resource], func(t float64) bool { return math.IsInf(t, 1) }); at >= 0 {
				r.units[h.resource][at] = end
			}
		}
	}
	return r.free
}

// begin is when a step may begin, with what it needs.
func (r *run) begin(m move, needs []claim) float64 {
	start := max(r.free[m.person], m.at)
	if m.station >= 0 {
		start = max(start, r.units[m.station][0])
	}
	for _, need := range needs {
		units := r.units[need.resource]
		slices.Sort(units)
		if need.units > 0 && need.units <= len(units) && !math.IsInf(units[need.units-1], 1) {
			start = max(start, units[need.units-1])
		}
	}
	for _, h := range m.takes {
		if at := r.earliest(h.resource); at >= 0 {
			start = max(start, r.units[h.resource][at])
		}
	}
	if r.outages {
		start = r.open(m, needs, start)
	}
	return start
}

// open is when a step may begin, as far as the room is open and what it needs is
// there for the minutes it was said to take.
func (r *run) open(m move, needs []claim, start float64) float64 {
	at, length := ticks(start), ticks(m.minutes)-2 // sums of minutes are not exact
	for moved := true; moved; {
		moved = false
		wait := func(p profile, units, capacity int) {
			if free, blocked := p.conflict(at, at+length, units, capacity); blocked && free < never {
				at, moved = free, true
			}
		}
		wait(r.closed, 1, 1)
		if m.station >= 0 {
			wait(r.base[m.station], 1, 1)
		}
		for _, need := range needs {
			wait(r.base[need.resource], need.units, r.capacity[need.resource])
		}
	}
	return max(start, toMinutes(at))
}

// earliest is the unit of a resource that is free first, −1 where all are out.
func (r *run) earliest(resource int) int {
	best := -1
	for u, t := range r.units[resource] {
		if !math.IsInf(t, 1) && (best < 0 || t < r.units[resource][best]) {
			best = u
		}
	}
	return best
}

// length is how long a step takes on a day: its minutes, spread as a lognormal of
// that mean, and its interruptions, which come by themselves.
func (r *run) length(m move, rng *rand.Rand) float64 {
	minutes := m.minutes
	if m.spread > 0 && minutes > 0 {
		variance := math.Log(1 + m.spread*m.spread)
		minutes *= math.Exp(rng.NormFloat64()*math.Sqrt(variance) - variance/2)
	}
	if m.breaks > 0 {
		for wait := rng.ExpFloat64(); wait < m.breaks; wait += rng.ExpFloat64() {
			minutes += r.breakMinutes
		}
	}
	return minutes
}
