package floor

import (
	"cmp"
	"errors"
	"math/rand/v2"
	"slices"
	"sync"
)

// Options bound the search for a better plan.
type Options struct {
	// Iterations is how many changed plans are tried; 0 means DefaultIterations.
	Iterations int
	// Seed makes the search repeatable.
	Seed uint64
	// Stop ends the search when it returns true, whatever Iterations says.
	Stop func() bool
}

// DefaultIterations is enough for a class of a dozen to settle.
const DefaultIterations = 3000

// Plan finds a short plan, and where the problem weighs what is good for people, one
// that is good for them. The same problem, iterations and seed give the same plan, as
// long as Stop does not cut the search off.
func Plan(p Problem, o Options) (Result, error) {
	s, err := compile(p)
	if err != nil {
		return Result{}, err
	}
	if o.Iterations <= 0 {
		o.Iterations = DefaultIterations
	}
	bound := s.lowerBound()
	t := newTeam(s, o)
	t[0].firstPlan()
	if t[0].best.makespan >= never {
		return Result{}, errors.New("no plan exists: a step asks at once for more of a pool than there is, on every station it may use")
	}
	t.share(0)
	if p.Weights == nil {
		t.improve(o, bound)
		return s.result(t[0].best, bound), nil
	}
	half := o
	half.Iterations = (o.Iterations + 1) / 2
	t.improve(half, bound)
	shortest, shortestIdle := t[0].best.makespan, t[0].longestIdle(t[0].best, p.Weights)
	half.Iterations = o.Iterations - half.Iterations
	t.weigh(p.Weights)
	t.improve(half, 0)
	r := s.result(t[0].best, bound)
	r.ShortestMinutes, r.ShortestWaitMinutes = toMinutes(shortest), toMinutes(shortestIdle)
	r.LongestWaitMinutes = toMinutes(t[0].longestIdle(t[0].best, p.Weights))
	if t[0].best.makespan <= shortest {
		r.ShortestMinutes, r.ShortestWaitMinutes = r.MakespanMinutes, r.LongestWaitMinutes
	}
	return r, nil
}

// A team searches side by side, each with numbers of its own, and shares what is
// best after every round. How many they are does not depend on the processors, so
// that the plan does not.
type team [2]*search

func newTeam(s *shop, o Options) team {
	var t team
	var mutex sync.Mutex
	for i := range t {
		t[i] = newSearch(s, rand.New(rand.NewPCG(o.Seed, 0x5eed+uint64(i))))
		if o.Stop != nil {
			t[i].stop = func() bool {
				mutex.Lock()
				defer mutex.Unlock()
				return o.Stop()
			}
		}
	}
	return t
}

// share gives the plan of one to all.
func (t team) share(from int) {
	for _, s := range t {
		if s != t[from] {
			s.best.copyFrom(t[from].best)
			s.bestOrder, s.bestChoice = append(s.bestOrder[:0], t[from].bestOrder...), append(s.bestChoice[:0], t[from].bestChoice...)
		}
	}
}

// weigh makes them look for what is good for people.
func (t team) weigh(w *Weights) {
	for _, s := range t {
		s.weights = w
		s.best.value = s.valueOf(s.best)
	}
}

// improve searches in rounds until the iterations are used up, Stop says so, or the
// lower bound is reached. The first of the team then has the best plan.
func (t team) improve(o Options, bound tick) {
	if len(t[0].bestOrder) < 2 {
		return
	}
	for left := o.Iterations; left > 0 && t[0].best.makespan > bound && !t[0].stopped(); {
		var done [len(t)]int
		var group sync.WaitGroup
		for i, s := range t {
			mine := (left + len(t) - 1 - i) / len(t)
			group.Go(func() { done[i] = s.round(mine, bound) })
		}
		group.Wait()
		best := 0
		for i, s := range t {
			left -= done[i]
			if s.best.better(t[best].best) {
				best = i
			}
		}
		t.share(best)
	}
}

// A search walks from plan to plan by small changes of the order of turns and the
// choice of stations, and along the longest path of the plan.
type search struct {
	*decoder
	rng           *rand.Rand
	stop          func() bool
	order, choice []int
	tryOrder      []int
	tryChoice     []int
	now, trying   *schedule
	best          *schedule
	// bestOrder and bestChoice are where each round begins again.
	bestOrder, bestChoice []int
	// along is the search along the longest path, nil where there is none; asked
	// tells that it is known whether there is.
	along *tabu
	// anneals and walks are how long the next stretch of each way of searching is.
	anneals, walks int
	// links are those of the longest path of now, where linked says so; freeing is for
	// finding them.
	links   []link
	freeing [][]freed
	linked  bool
	asked   bool
}

func newSearch(s *shop, rng *rand.Rand) *search {
	out := &search{decoder: newDecoder(s), rng: rng, anneals: annealed, walks: walked, freeing: make([][]freed, len(s.capacity)), now: s.newSchedule(), trying: s.newSchedule(), best: s.newSchedule()}
	out.choice = make([]int, len(s.options))
	for i := range out.choice {
		out.choice[i] = -1
	}
	return out
}

func (s *search) stopped() bool { return s.stop != nil && s.stop() }

// How a round goes: a stretch of annealing, which changes much, and one along the
// longest path, which is fast where it is machines that are waited for. Whichever
// finds something goes on for longer the next time.
const (
	annealed, leastAnnealed, mostAnnealed = 2400, 600, 4800
	walked, leastWalked, mostWalked       = 400, 150, 3000
)

// paced is how long a way of searching goes on the next time.
func paced(length int, found bool, least, most int) int {
	if found {
		return min(most, 2*length)
	}
	return max(least, length/2)
}

// round searches from the best plan, with at most so many iterations, and tells how
// many it took.
func (s *search) round(iterations int, bound tick) int {
	before := s.best.value
	done := s.anneal(min(s.anneals, (iterations+1)/2), bound)
	s.anneals = paced(s.anneals, s.best.value < before, leastAnnealed, mostAnnealed)
	if !s.asked {
		s.asked, s.along = true, s.newTabu()
	}
	if s.along == nil || s.weights != nil || done >= iterations || s.best.makespan <= bound || !s.along.take(s.best) {
		return done
	}
	done += s.along.improve(min(s.walks, iterations-done), bound, s.stop)
	shorter := s.along.makespan < s.best.makespan
	if shorter {
		s.adopt(s.along.graph)
	}
	s.walks = paced(s.walks, shorter, leastWalked, mostWalked)
	return done
}

// newTabu is none where steps are pinned or something is out: orders alone do not
// tell of that.
func (s *search) newTabu() *tabu {
	if len(s.pinned) > 0 || s.calendar() {
		return nil
	}
	g, ok := newGraph(s.shop)
	if !ok {
		return nil
	}
	return newTabu(g, s.rng)
}

// calendar tells whether anything is out at times.
func (s *shop) calendar() bool {
	return len(s.closed.times) > 1 || slices.ContainsFunc(s.base, func(p profile) bool { return len(p.times) > 1 })
}

// adopt makes a graph's plan the best, as its order of blocks gives it where that is
// no longer.
func (s *search) adopt(g *graph) {
	g.schedule(s.trying)
	type placed struct {
		person int
		start  tick
	}
	var turns []placed
	for i := range s.people {
		for _, blocks := range s.people[i].turns {
			turns = append(turns, placed{i, s.trying.start[i][s.people[i].waits(blocks)]})
		}
	}
	slices.SortStableFunc(turns, func(a, b placed) int { return cmp.Compare(a.start, b.start) })
	s.order = s.order[:0]
	for _, t := range turns {
		s.order = append(s.order, t.person)
	}
	s.choice = append(s.choice[:0], g.option...)
	s.decode(s.order, s.choice, s.now, never)
	if s.now.makespan > g.makespan {
		s.now, s.trying = s.trying, s.now
		s.now.value = s.valueOf(s.now)
	}
	if s.now.better(s.best) {
		s.copyBest()
	}
}
