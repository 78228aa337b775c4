package floor

import (
	"math/rand/v2"
	"reflect"
	"slices"
)

// LowerBound is what no plan can beat, as it was before any plan was known.
func LowerBound(p Problem) (float64, error) {
	s, err := compile(p)
	if err != nil {
		return 0, err
	}
	return toMinutes(s.lowerBound()), nil
}

// atFirstPlan is a search that has made no change yet.
func atFirstPlan(s *shop, seed uint64) *search {
	search := newSearch(s, rand.New(rand.NewPCG(seed, 3)))
	search.firstPlan()
	search.order, search.choice = slices.Clone(search.bestOrder), slices.Clone(search.bestChoice)
	search.begin()
	return search
}

// Resumed makes so many random changes of a plan and counts those that come out
// otherwise when they are decoded from where they begin to differ than from the start.
func Resumed(p Problem, seed uint64, changes int) (different int, err error) {
	s, err := compile(p)
	if err != nil {
		return 0, err
	}
	search := atFirstPlan(s, seed)
	whole := s.newSchedule()
	for range changes {
		search.change()
		if !search.retry(never, never) {
			continue // nothing was changed
		}
		search.decode(search.tryOrder, search.tryChoice, whole)
		search.time(whole)
		search.time(search.trying)
		if !reflect.DeepEqual(whole, search.trying) {
			different++
		}
		if search.rng.IntN(2) == 0 {
			search.accept()
		}
	}
	return different, nil
}

// InOrder is whose turns come in which order, by times in ticks, one turn each.
func InOrder(times []int64) (people []int) {
	var placed []placedTurn
	for person, at := range times {
		placed = append(placed, placedAt(at, person, len(times)))
	}
	slices.Sort(placed)
	for _, p := range placed {
		people = append(people, p.person(len(times)))
	}
	return people
}

// Plainly makes so many random changes of a plan of a plain shop. It gives every plan it comes
// by, and counts the links of longest paths in which one turn does not begin when the other
// gives back what it takes. ok is false where the shop is not plain.
func Plainly(p Problem, seed uint64, changes int) (plans []Result, loose int, ok bool) {
	s, err := compile(p)
	if err != nil || s.plain == nil {
		return nil, 0, false
	}
	search := atFirstPlan(s, seed)
	for range changes {
		search.change()
		if !search.retry(never, never) {
			continue // nothing was changed
		}
		search.accept()
		search.time(search.now)
		plans = append(plans, s.result(search.now, 0))
		search.linksOf(search.now)
		for _, l := range search.links {
			if !search.passes(l) {
				loose++
			}
		}
	}
	return plans, loose, true
}

// passes tells whether one turn of a link gives back what the other takes when that begins.
func (s *search) passes(l link) bool {
	waits, other := s.plain.first[l.person]+l.turn, s.plain.first[l.other]+l.before
	back := func(first int32, at tick) bool {
		return slices.ContainsFunc(s.wayOf(s.now, other).units(), func(t taking) bool { return t.first == first && s.takenAt(s.now, other)+t.to == at })
	}
	for _, t := range s.wayOf(s.now, waits).units() {
		if back(t.first, s.takenAt(s.now, waits)+t.from) {
			return true
		}
	}
	for _, g := range s.wayOf(s.now, waits).inGaps() {
		for _, h := range s.wayOf(s.now, other).inGaps() {
			if g.resource == h.resource && s.takenAt(s.now, other)+h.to == s.takenAt(s.now, waits)+g.from {
				return true
			}
		}
	}
	return false
}

// LeftOpen places one turn each of some people, in their order, all of whom may choose, in a
// plain shop: everybody at a station, with whatever may be taken there. It gives the plan.
func LeftOpen(p Problem, station string) (Result, error) {
	s, err := compile(p)
	if err != nil {
		return Result{}, err
	}
	at := slices.IndexFunc(p.Stations, func(st Station) bool { return st.ID == station })
	search := newSearch(s, rand.New(rand.NewPCG(1, 3)))
	var order []int
	for i := range s.people {
		order = append(order, i)
	}
	for _, c := range s.open {
		search.choice[c] = search.anyAt(c, at)
	}
	search.decode(order, search.choice, search.now)
	search.time(search.now)
	return s.result(search.now, 0), nil
}

// AlikePools are the pools taken for a machine, those that the search has as one together.
func AlikePools(p Problem) [][]string { return p.alikePools() }

// GivenUp makes so many random changes of a plan, and tells how many are given up for what they
// lose, how many are taken, and how many are given up that would have been taken.
func GivenUp(p Problem, seed uint64, changes int) (given, taken, wronged int, err error) {
	s, err := compile(p)
	if err != nil {
		return 0, 0, 0, err
	}
	search := atFirstPlan(s, seed)
	for range changes {
		limit := tick(search.now.heading + search.rng.ExpFloat64()*annealHeat*search.now.heading)
		search.change()
		may := search.retry(limit, never)
		if search.retry(limit, search.mostLost()) {
			search.accept()
			taken++
		} else if may {
			wronged++
		}
		if !search.retry(never, search.mostLost()) {
			given++
		}
	}
	return given, taken, wronged, nil
}

// TwinStations are the stations that the search has as one, by the first of them.
func TwinStations(p Problem) map[string][]string { return p.twins() }
