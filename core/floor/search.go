package floor

import (
	"errors"
	"math"
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

// Where what is good for people is weighed, one of so many iterations is for the
// shortest plan, which tells what that costs.
const shortestPart = 4

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
	var bound tick
	var bounded sync.WaitGroup
	bounded.Go(func() { bound = s.lowerBound() })
	t := newTeam(s, o)
	t.members[0].firstPlan()
	bounded.Wait()
	if t.members[0].best.makespan >= never {
		return Result{}, errors.New("no plan exists: a step asks at once for more of a pool than there is, on every station it may use")
	}
	t.share(0)
	if p.Weights == nil {
		t.improve(o, bound)
		return s.result(t.members[0].best, bound), nil
	}
	part := o
	part.Iterations = (o.Iterations + shortestPart - 1) / shortestPart
	t.improve(part, bound)
	shortest, shortestIdle := t.members[0].best.makespan, t.members[0].longestIdle(t.members[0].best)
	part.Iterations = o.Iterations - part.Iterations
	t.weigh(p.Weights)
	t.improve(part, 0)
	r := s.result(t.members[0].best, bound)
	r.ShortestMinutes, r.ShortestWaitMinutes = toMinutes(shortest), toMinutes(shortestIdle)
	r.LongestWaitMinutes = toMinutes(t.members[0].longestIdle(t.members[0].best))
	if t.members[0].best.makespan <= shortest {
		r.ShortestMinutes, r.ShortestWaitMinutes = r.MakespanMinutes, r.LongestWaitMinutes
	}
	return r, nil
}

// A team searches side by side, each with numbers of its own, and shares what is
// best after every round. How many they are does not depend on the processors, so
// that the plan does not.
type team struct {
	members [2]*search
	// walks is how long the next stretch along the longest path is.
	walks int
}

func newTeam(s *shop, o Options) *team {
	t := &team{walks: walked}
	if len(s.open) > 0 { // there annealing finds more
		t.walks = leastWalked
	}
	var mutex sync.Mutex
	for i := range t.members {
		t.members[i] = newSearch(s, rand.New(rand.NewPCG(o.Seed, 0x5eed+uint64(i))))
		if o.Stop != nil {
			t.members[i].stop = func() bool {
				mutex.Lock()
				defer mutex.Unlock()
				return o.Stop()
			}
		}
	}
	return t
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
		s.order = s.order[:0] // where they are was good for something else
	}
}

// improve searches in rounds until the iterations are used up, Stop says so, or the
// lower bound is reached. The first of the team then has the best plan.
func (t *team) improve(o Options, bound tick) {
	first := t.members[0]
	if len(first.bestOrder) < 2 {
		return
	}
	for left := o.Iterations; left > 0 && first.best.makespan > bound && !first.stopped(); {
		var walked [len(t.members)]walk
		var group sync.WaitGroup
		for i, s := range t.members {
			mine := (left + len(t.members) - 1 - i) / len(t.members)
			group.Go(func() { walked[i] = s.round(mine, t.walks, bound) })
		}
		group.Wait()
		best, found, annealed := 0, false, false
		for i, s := range t.members {
			left -= walked[i].iterations
			found, annealed = found || walked[i].found, annealed || walked[i].annealed
			if s.best.better(t.members[best].best) {
				best = i
			}
		}
		t.share(best)
		t.walks = t.paced(t.walks, found, annealed)
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
	// trail is that of now, tryTrail that of trying, behind the mark at which it was
	// resumed.
	trail, tryTrail trail
	resumed         int
	chooser         []chooser // by chain
	mirror          *mirror   // nil where there is none
	placed          []placedTurn
	mentions        []int // by person, to count
	// bestOrder and bestChoice are where each round begins again.
	bestOrder, bestChoice []int
	// along is the search along the longest path, nil where there is none; asked
	// tells that it is known whether there is.
	along *tabu
	// links are those of the longest path of now, where linked says so; freeing is for
	// finding them.
	links   []link
	freeing [][]freed
	linked  bool
	// hard is what now costs each, where weighed says so.
	hard    []float64
	weighed bool
	asked   bool
}

func newSearch(s *shop, rng *rand.Rand) *search {
	out := &search{decoder: newDecoder(s), rng: rng, freeing: make([][]freed, len(s.capacity)), now: s.newSchedule(), trying: s.newSchedule(), best: s.newSchedule(),
		trail: s.newTrail(), tryTrail: s.newTrail(), chooser: s.choosers(), mirror: newMirror(s), mentions: make([]int, len(s.people))}
	out.choice = make([]int, len(s.options))
	for i := range out.choice {
		out.choice[i] = -1
	}
	return out
}

func (s *search) stopped() bool { return s.stop != nil && s.stop() }

// How a round goes: a stretch of annealing, which changes much, and one along the
// longest path, which is fast where it is machines that are waited for. Where the
// second finds something, it goes on for longer the next time. Where stations can be
// chosen, annealing finds most, the more the slower it cools.
const (
	annealed, slowlyAnnealed        = 1500, 20000
	walked, leastWalked, mostWalked = 400, 20, 6000
)

// paced is how long a walk is the next time: longer where it found something, or where
// there is nothing to choose and annealing finds nothing any more.
func (t *team) paced(length int, found, annealed bool) int {
	if found || !annealed && len(t.members[0].open) == 0 {
		return min(mostWalked, 2*length)
	}
	return max(leastWalked, length/2)
}

// A walk is what a round did: so many iterations, and whether annealing found something,
// and then the walk along the longest path.
type walk struct {
	iterations      int
	annealed, found bool
}

// round searches from the best plan, with at most so many iterations.
func (s *search) round(iterations, walks int, bound tick) walk {
	before := s.best.value
	stretch := annealed
	if len(s.open) > 0 {
		stretch = slowlyAnnealed
	}
	done := s.anneal(min(stretch, (iterations+1)/2), bound)
	if !s.asked {
		s.asked, s.along = true, s.newTabu()
	}
	if s.along == nil || s.weights != nil || done >= iterations || s.best.makespan <= bound || !s.along.take(s.best) {
		return walk{done, true, false}
	}
	annealing := s.best.value < before
	done += s.along.improve(min(walks, iterations-done), bound, s.stop)
	found := s.along.makespan < s.best.makespan
	if found {
		s.adopt(s.along.graph)
	}
	return walk{done, annealing, found}
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
	return !s.closed.flat() || slices.ContainsFunc(s.base, func(p profile) bool { return !p.flat() })
}

// adopt makes a graph's plan the best, as its order of blocks gives it where that is
// no longer.
func (s *search) adopt(g *graph) {
	g.schedule(s.trying)
	s.order = s.said(s.turnsBy(s.order, func(i, blocks int) tick { return s.trying.start[i][s.people[i].waits(blocks)] }))
	s.choice = append(s.choice[:0], g.option...)
	s.decode(s.order, s.choice, s.now, never)
	if s.now.makespan > g.makespan {
		s.now, s.trying = s.trying, s.now
		s.rate(s.now)
	}
	if s.now.better(s.best) {
		s.copyBest()
	}
}

// A placedTurn is a time by which a turn is put in order, and whose it is, in one number:
// numbers are sorted in half the time that pairs take. Times further away than one number
// can tell with the person are all equally far.
type placedTurn int64

func placedAt(at tick, person, people int) placedTurn {
	furthest := math.MaxInt64/tick(people) - 1
	return placedTurn(max(-furthest, min(at, furthest))*tick(people) + tick(person))
}

func (p placedTurn) person(people int) int {
	return int((int64(p)%int64(people) + int64(people)) % int64(people))
}

// turnsBy is the order of everybody's turns by a time, that of the turn of so many
// blocks.
func (s *search) turnsBy(into []int, at func(person, blocks int) tick) []int {
	s.placed = s.placed[:0]
	for i := range s.people {
		for _, blocks := range s.people[i].turns {
			s.placed = append(s.placed, placedAt(at(i, blocks), i, len(s.people)))
		}
	}
	slices.Sort(s.placed)
	into = into[:0]
	for _, p := range s.placed {
		into = append(into, p.person(len(s.people)))
	}
	return into
}
