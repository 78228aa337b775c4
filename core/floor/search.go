package floor

import (
	"errors"
	"math"
	"math/rand/v2"
	"slices"
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

// Plan finds a short plan. The same problem, iterations and seed give the
// same plan, as long as Stop does not cut the search off.
func Plan(p Problem, o Options) (Result, error) {
	s, err := compile(p)
	if err != nil {
		return Result{}, err
	}
	if o.Iterations <= 0 {
		o.Iterations = DefaultIterations
	}
	bound := s.lowerBound()
	search := newSearch(s, rand.New(rand.NewPCG(o.Seed, 0x5eed)))
	search.firstPlan()
	if search.best.makespan >= never {
		return Result{}, errors.New("no plan exists: a step asks at once for more of a pool than there is, on every station it may use")
	}
	search.improve(o, bound)
	return s.result(search.best, bound), nil
}

// A search walks from plan to plan by small changes of the order of blocks
// and the choice of stations, as simulated annealing does: a worse plan is
// sometimes taken, less and less often, and the best is remembered.
type search struct {
	*decoder
	rng           *rand.Rand
	order, choice []int
	tryOrder      []int
	tryChoice     []int
	now, trying   *schedule
	best          *schedule
	// bestOrder and bestChoice are where each round begins again.
	bestOrder, bestChoice []int
}

func newSearch(s *shop, rng *rand.Rand) *search {
	out := &search{decoder: newDecoder(s), rng: rng, now: s.newSchedule(), trying: s.newSchedule(), best: s.newSchedule()}
	out.choice = make([]int, len(s.options))
	for i := range out.choice {
		out.choice[i] = -1
	}
	return out
}

// firstPlan tries several priority rules and keeps the best of their plans.
func (s *search) firstPlan() {
	s.best.makespan = math.MaxInt64
	for _, rule := range priorityRules {
		order := s.orderBy(rule)
		s.decode(order, s.choice, s.trying)
		if s.trying.better(s.best) {
			s.best, s.trying = s.trying, s.best
			s.bestOrder = order
		}
	}
	s.bestChoice = slices.Clone(s.choice)
}

// A priorityRule says how urgent a person's next block is, given the work
// done and left and the blocks done; the most urgent goes first.
type priorityRule func(ready, done, left tick, blocks int) tick

var priorityRules = []priorityRule{
	func(_, _, left tick, _ int) tick { return left },              // most work left
	func(_, _, left tick, _ int) tick { return -left },             // least work left: one person after another
	func(ready, done, _ tick, _ int) tick { return -ready - done }, // whoever would be free first
	func(_, _, _ tick, blocks int) tick { return -tick(blocks) },   // in turn
	func(ready, _, left tick, _ int) tick { return left + ready },
}

func (s *search) orderBy(rule priorityRule) []int {
	var order []int
	next := make([]int, len(s.people))
	done, left := make([]tick, len(s.people)), make([]tick, len(s.people))
	for i, j := range s.people {
		for b := range j.blocks {
			left[i] += j.blockMinimum(&j.blocks[b])
		}
	}
	for {
		chosen, urgency := -1, tick(math.MinInt64)
		for i, j := range s.people {
			if next[i] == len(j.blocks) {
				continue
			}
			if u := rule(j.ready, done[i], left[i], next[i]); u > urgency {
				chosen, urgency = i, u
			}
		}
		if chosen < 0 {
			return order
		}
		j := &s.people[chosen]
		work := j.blockMinimum(&j.blocks[next[chosen]])
		done[chosen], left[chosen] = done[chosen]+work, left[chosen]-work
		next[chosen]++
		order = append(order, chosen)
	}
}

func (a *schedule) better(b *schedule) bool {
	return a.makespan < b.makespan || a.makespan == b.makespan && a.sumEnds < b.sumEnds
}

// cost is what annealing compares: the makespan, and a little of everyone's end.
func (a *schedule) cost(people int) float64 {
	return float64(a.makespan) + 0.05*float64(a.sumEnds)/float64(max(1, people))
}

// improve anneals in rounds, each from the best plan so far, until the
// iterations are used up, Stop says so, or the lower bound is reached.
func (s *search) improve(o Options, bound tick) {
	const round = 600
	if len(s.bestOrder) < 2 {
		return
	}
	heat := 0.03 * float64(s.best.makespan)
	for i := range o.Iterations {
		if s.best.makespan <= bound || o.Stop != nil && o.Stop() {
			return
		}
		if i%round == 0 {
			s.order, s.choice = slices.Clone(s.bestOrder), slices.Clone(s.bestChoice)
			s.decode(s.order, s.choice, s.now)
		}
		s.tryOrder = append(s.tryOrder[:0], s.order...)
		s.tryChoice = append(s.tryChoice[:0], s.choice...)
		s.change()
		s.decode(s.tryOrder, s.tryChoice, s.trying)
		cooling := 1 - float64(i%round)/round
		worse := s.trying.cost(len(s.people)) - s.now.cost(len(s.people))
		if worse > 0 && s.rng.Float64() >= math.Exp(-worse/(heat*cooling*cooling+1)) {
			continue
		}
		s.order, s.tryOrder = s.tryOrder, s.order
		s.choice, s.tryChoice = s.tryChoice, s.choice
		s.now, s.trying = s.trying, s.now
		if s.now.better(s.best) {
			s.copyBest()
		}
	}
}

func (s *search) copyBest() {
	for i := range s.people {
		copy(s.best.start[i], s.now.start[i])
		copy(s.best.end[i], s.now.end[i])
		copy(s.best.option[i], s.now.option[i])
	}
	s.best.makespan, s.best.sumEnds = s.now.makespan, s.now.sumEnds
	s.bestOrder = append(s.bestOrder[:0], s.order...)
	s.bestChoice = append(s.bestChoice[:0], s.choice...)
}

// change makes one small change: a block moves in the order, more often one
// of a person who finishes last, or a station is chosen otherwise.
func (s *search) change() {
	if len(s.tryChoice) > 0 && s.rng.IntN(4) == 0 {
		s.changeStation()
		return
	}
	from := s.rng.IntN(len(s.tryOrder))
	if s.rng.IntN(2) == 0 {
		from = s.lateBlock()
	}
	to := s.rng.IntN(len(s.tryOrder))
	person := s.tryOrder[from]
	s.tryOrder = slices.Insert(slices.Delete(s.tryOrder, from, from+1), to, person)
}

// lateBlock finds a place in the order that belongs to someone who ends at
// the makespan: only their plan's path can shorten it.
func (s *search) lateBlock() int {
	from := s.rng.IntN(len(s.tryOrder))
	for n := range len(s.tryOrder) {
		i := (from + n) % len(s.tryOrder)
		ends := s.now.end[s.tryOrder[i]]
		if ends[len(ends)-1] == s.now.makespan {
			return i
		}
	}
	return from
}

func (s *search) changeStation() {
	i := s.rng.IntN(len(s.tryChoice))
	s.tryChoice[i] = s.rng.IntN(len(s.options[i])+1) - 1
}
