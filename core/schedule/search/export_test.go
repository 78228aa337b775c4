package search

import (
	"math/rand/v2"
	"reflect"
	"slices"

	"chalkstep/core/schedule"
	"chalkstep/core/schedule/bound"
	"chalkstep/core/schedule/internal/instance"
)

// LowerBound is what no plan can beat, as it was before any plan was known.
func LowerBound(p schedule.Problem) (float64, error) {
	s, err := instance.Compile(p)
	if err != nil {
		return 0, err
	}
	return schedule.ToMinutes(bound.LowerBound(s)), nil
}

// atFirstPlan is a search that has made no change yet.
func atFirstPlan(s *instance.Instance, seed uint64) *annealer {
	search := newAnnealer(s, rand.New(rand.NewPCG(seed, 3)))
	search.initialPlan()
	search.order, search.choice = slices.Clone(search.bestOrder), slices.Clone(search.bestChoice)
	search.restart()
	return search
}

// Resumed makes so many random changes of a plan and counts those that come out
// otherwise when they are decoded from where they begin to differ than from the start.
func Resumed(p schedule.Problem, seed uint64, changes int) (different int, err error) {
	s, err := instance.Compile(p)
	if err != nil {
		return 0, err
	}
	search := atFirstPlan(s, seed)
	whole := search.NewSchedule()
	for range changes {
		search.neighbour()
		if !search.evaluateNeighbour(schedule.Never, schedule.Never) {
			continue // nothing was changed
		}
		search.Generate(search.tryOrder, search.tryChoice, whole)
		search.Time(whole)
		search.Time(search.trying)
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
func InOrder(times []int64) (jobs []int) {
	var placed []placedTurn
	for job, at := range times {
		placed = append(placed, placedAt(at, job, len(times)))
	}
	slices.Sort(placed)
	for _, p := range placed {
		jobs = append(jobs, p.person(len(times)))
	}
	return jobs
}

// Plainly makes so many random changes of a plan of a plain shop. It gives every plan it comes
// by, and counts the links of longest paths in which one turn does not begin when the other
// gives back what it takes. ok is false where the shop is not plain.
func Plainly(p schedule.Problem, seed uint64, changes int) (plans []schedule.Plan, loose int, ok bool) {
	s, err := instance.Compile(p)
	if err != nil || s.Plain == nil {
		return nil, 0, false
	}
	search := atFirstPlan(s, seed)
	for range changes {
		search.neighbour()
		if !search.evaluateNeighbour(schedule.Never, schedule.Never) {
			continue // nothing was changed
		}
		search.accept()
		search.Time(search.now)
		plans = append(plans, search.Plan(search.now, 0))
		search.findCriticalPath(search.now)
		for _, l := range search.critical {
			if !search.passes(l) {
				loose++
			}
		}
	}
	return plans, loose, true
}

// passes tells whether one turn of a link gives back what the other takes when that begins.
func (s *annealer) passes(l arc) bool {
	waits, other := s.Plain.First[l.job]+l.turn, s.Plain.First[l.waitsFor]+l.waitsForTurn
	back := func(first int32, at schedule.Tick) bool {
		return slices.ContainsFunc(s.wayOf(s.now, other).Units(), func(t instance.Taking) bool {
			return t.First == first && s.takenAt(s.now, other)+t.To == at
		})
	}
	for _, t := range s.wayOf(s.now, waits).Units() {
		if back(t.First, s.takenAt(s.now, waits)+t.From) {
			return true
		}
	}
	for _, g := range s.wayOf(s.now, waits).InGaps() {
		for _, h := range s.wayOf(s.now, other).InGaps() {
			if g.Resource == h.Resource && s.takenAt(s.now, other)+h.To == s.takenAt(s.now, waits)+g.From {
				return true
			}
		}
	}
	return false
}

// LeftOpen places one turn each of some people, in their order, all of whom may choose, in a
// plain shop: everybody at a station, with whatever may be taken there. It gives the plan.
func LeftOpen(p schedule.Problem, machine string) (schedule.Plan, error) {
	s, err := instance.Compile(p)
	if err != nil {
		return schedule.Plan{}, err
	}
	at := slices.IndexFunc(p.Machines, func(st schedule.Machine) bool { return st.ID == machine })
	search := newAnnealer(s, rand.New(rand.NewPCG(1, 3)))
	var order []int
	for i := range s.Jobs {
		order = append(order, i)
	}
	for _, c := range s.OpenChoices {
		search.choice[c] = search.anyAt(c, at)
	}
	search.Generate(order, search.choice, search.now)
	search.Time(search.now)
	return search.Plan(search.now, 0), nil
}

// AlikePools are the pools taken for a machine, those that the search has as one together.
func AlikePools(p schedule.Problem) [][]string { return instance.InterchangeableResources(p) }

// GivenUp makes so many random changes of a plan, and tells how many are given up for what they
// lose, how many are taken, and how many are given up that would have been taken.
func GivenUp(p schedule.Problem, seed uint64, changes int) (given, taken, wronged int, err error) {
	s, err := instance.Compile(p)
	if err != nil {
		return 0, 0, 0, err
	}
	search := atFirstPlan(s, seed)
	for range changes {
		limit := schedule.Tick(search.now.Surrogate + search.rng.ExpFloat64()*machineTemperature*search.now.Surrogate)
		search.neighbour()
		may := search.evaluateNeighbour(limit, schedule.Never)
		if search.evaluateNeighbour(limit, search.worstLoss()) {
			search.accept()
			taken++
		} else if may {
			wronged++
		}
		if !search.evaluateNeighbour(schedule.Never, search.worstLoss()) {
			given++
		}
	}
	return given, taken, wronged, nil
}

// TwinStations are the stations that the search has as one, by the first of them.
func TwinStations(p schedule.Problem) map[string][]string { return instance.IdenticalMachines(p) }
