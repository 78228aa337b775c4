package floor

import (
	"errors"
	"math/rand/v2"
	"sync"
)

// Options bound the search for a better plan.
type Options struct {
	// Iterations is how many changed plans are tried; 0 means DefaultIterations.
	Iterations int
	// Seed makes the search repeatable.
	Seed uint64
	// Used tells what share of the time for the search has gone by, where that is what ends
	// it and not Iterations. Several goroutines ask it.
	Used func() float64
}

// DefaultIterations is enough for a class of a dozen to settle.
const DefaultIterations = 3000

// shortestPart is the share of the search that is for the shortest plan where what is good
// for people is weighed: it tells what that costs.
const shortestPart = 0.25

// Plan finds a short plan, and where the problem weighs what is good for people, one
// that is good for them. The same problem, iterations and seed give the same plan, as
// long as it is not time that ends the search.
func Plan(p Problem, o Options) (Result, error) {
	s, err := compileJoined(p)
	if err != nil {
		return Result{}, err
	}
	if o.Iterations <= 0 {
		o.Iterations = DefaultIterations
	}
	var bound tick
	var bounded sync.WaitGroup
	bounded.Go(func() { bound = s.lowerBound() })
	t := newTeam(s, o.Seed)
	first := t.members[0]
	first.firstPlan()
	bounded.Wait()
	if first.best.makespan >= never {
		return Result{}, errors.New("no plan exists: a step asks at once for more of a pool than there is, on every station it may use")
	}
	t.share(0)
	if p.Weights == nil {
		t.improve(o.part(0, 1), bound)
		return s.result(first.best, bound), nil
	}
	t.improve(o.part(0, shortestPart), bound)
	shortest, shortestIdle := first.best.makespan, first.longestIdle(first.best)
	t.weigh(p.Weights)
	t.improve(o.part(shortestPart, 1), 0)
	r := s.result(first.best, bound)
	r.ShortestMinutes, r.ShortestWaitMinutes = toMinutes(shortest), toMinutes(shortestIdle)
	r.LongestWaitMinutes = toMinutes(first.longestIdle(first.best))
	if first.best.makespan <= shortest {
		r.ShortestMinutes, r.ShortestWaitMinutes = r.MakespanMinutes, r.LongestWaitMinutes
	}
	return r, nil
}

// A team searches side by side, each with numbers of its own. How many they are does not
// depend on the processors, so that the plan does not.
type team struct{ members [2]*search }

func newTeam(s *shop, seed uint64) *team {
	t := &team{}
	for i := range t.members {
		t.members[i] = newSearch(s, rand.New(rand.NewPCG(seed, 0x5eed+uint64(i))))
	}
	return t
}

// sideBySide has all of them do something.
func (t *team) sideBySide(do func(i int, s *search)) {
	var group sync.WaitGroup
	for i, s := range t.members {
		group.Go(func() { do(i, s) })
	}
	group.Wait()
}

// shareBest gives the best plan of all to all.
func (t *team) shareBest() {
	best := 0
	for i, s := range t.members {
		if s.best.better(t.members[best].best) {
			best = i
		}
	}
	t.share(best)
}

// share gives the plan of one to all.
func (t *team) share(from int) {
	with := t.members[from]
	for _, s := range t.members {
		if s != with {
			s.best.copyFrom(with.best)
			s.bestOrder, s.bestChoice = append(s.bestOrder[:0], with.bestOrder...), append(s.bestChoice[:0], with.bestChoice...)
		}
	}
}

// weigh makes them look for what is good for people.
func (t *team) weigh(w *Weights) {
	for _, s := range t.members {
		s.weights = w
		s.rate(s.best)
	}
}

// improve searches until the stretch is over or the lower bound is reached. All of the team
// then have the best plan.
func (t *team) improve(whole stretch, bound tick) {
	if len(t.members[0].bestOrder) < 2 {
		return
	}
	t.sideBySide(func(i int, s *search) { s.anneal(whole.of(i, len(t.members)), bound) })
	t.shareBest()
}

// A search walks from plan to plan by small changes of the order of turns and the
// choice of stations, and along the longest path of the plan.
type search struct {
	*decoder
	rng           *rand.Rand
	order, choice []int
	tryOrder      []int
	tryChoice     []int
	now, trying   *schedule
	best          *schedule
	// trail is that of now, tryTrail that of trying, behind the mark at which it was
	// resumed.
	trail, tryTrail trail
	resumed         int
	chooser         []chooser // by chain
	placed          []placedTurn
	mentions        []int // by person, to count
	places          places
	// bestOrder and bestChoice are where each stretch begins.
	bestOrder, bestChoice []int
	// links are those of the longest path of now, where linked says so; freeing is for
	// finding them.
	links   []link
	freeing [][]freed
	linked  bool
	// hard is what now costs each, where weighed says so.
	hard    []float64
	weighed bool
}

func newSearch(s *shop, rng *rand.Rand) *search {
	out := &search{decoder: newDecoder(s), rng: rng, freeing: make([][]freed, len(s.capacity)), now: s.newSchedule(), trying: s.newSchedule(), best: s.newSchedule(),
		trail: s.newTrail(), tryTrail: s.newTrail(), chooser: s.choosers(), mentions: make([]int, len(s.people))}
	out.places = out.newPlaces()
	out.choice = make([]int, len(s.options))
	for i := range out.choice {
		out.choice[i] = anywhere
	}
	return out
}
