// Package search finds a plan: a first one by priority rules, then better ones by simulated
// annealing over the order in which jobs get their turns and the machines they choose. A plan comes
// of an order by serial schedule generation (internal/placing). How far it may be from the
// shortest is said by a lower bound.
package search

import (
	"fmt"
	"math/rand/v2"
	"sync"

	"chalkstep/core/schedule"
	"chalkstep/core/schedule/bound"
	"chalkstep/core/schedule/internal/instance"
	"chalkstep/core/schedule/internal/placing"
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
// for jobs is weighed: it tells what that costs.
const shortestPart = 0.25

// Solve finds a short plan, and where the problem weighs what is good for jobs, one
// that is good for them. The same problem, iterations and seed give the same plan, as
// long as it is not time that ends the search.
func Solve(p schedule.Problem, o Options) (schedule.Plan, error) {
	s, err := instance.CompileJoined(p)
	if err != nil {
		return schedule.Plan{}, err
	}
	if o.Iterations <= 0 {
		o.Iterations = DefaultIterations
	}
	var least schedule.Tick
	var bounded sync.WaitGroup
	bounded.Go(func() { least = bound.LowerBound(s) })
	t := newTeam(s, o.Seed)
	first := t.members[0]
	first.initialPlan()
	bounded.Wait()
	if err := first.possible(); err != nil {
		return schedule.Plan{}, err
	}
	t.share(0)
	if p.Weights == nil {
		t.improve(o.part(0, 1), least)
		return t.exact(p, first.Plan(first.best, least)), nil
	}
	t.improve(o.part(0, shortestPart), least)
	shortest, shortestIdle := first.best.Makespan, first.LongestIdle(first.best)
	t.weigh(p.Weights)
	t.improve(o.part(shortestPart, 1), 0)
	r := first.Plan(first.best, least)
	r.ShortestMinutes, r.ShortestWaitMinutes = schedule.ToMinutes(shortest), schedule.ToMinutes(shortestIdle)
	r.LongestWaitMinutes = schedule.ToMinutes(first.LongestIdle(first.best))
	if first.best.Makespan <= shortest {
		r.ShortestMinutes, r.ShortestWaitMinutes = r.MakespanMinutes, r.LongestWaitMinutes
	}
	return r, nil
}

// exact is the plan of a small day, searched to the end: it is shorter, or known to be the shortest.
func (t *team) exact(p schedule.Problem, r schedule.Plan) schedule.Plan {
	best := t.members[0].best.Makespan
	if !isSmall(p) || schedule.Ticks(r.LowerBoundMinutes) >= best {
		return r
	}
	plan, found, known := exactly(p, best)
	least := r.LowerBoundMinutes
	if found {
		r = plan
	}
	if r.LowerBoundMinutes = least; known {
		r.LowerBoundMinutes = r.MakespanMinutes
	}
	return r
}

// possible names whom the best plan has never be done with what they cannot do.
func (s *annealer) possible() error {
	for i, ends := range s.best.End {
		for k, end := range ends {
			if end >= schedule.Never/2 || end < s.best.Start[i][k] {
				job := s.Problem.Jobs[i]
				return fmt.Errorf("no plan exists: person %s can never do %s: it asks at once for more of a pool than there is, "+
					"on every station it may use", job.ID, job.Operations[k].ID)
			}
		}
	}
	return nil
}

// A team searches side by side, each with numbers of its own. How many they are does not
// depend on the processors, so that the plan does not.
type team struct{ members [2]*annealer }

func newTeam(s *instance.Instance, seed uint64) *team {
	t := &team{}
	for i := range t.members {
		t.members[i] = newAnnealer(s, rand.New(rand.NewPCG(seed, 0x5eed+uint64(i))))
	}
	return t
}

// sideBySide has all of them do something.
func (t *team) sideBySide(do func(i int, s *annealer)) {
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
		if s.best.Better(t.members[best].best) {
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
			s.best.CopyFrom(with.best)
			s.bestOrder, s.bestChoice = append(s.bestOrder[:0], with.bestOrder...), append(s.bestChoice[:0], with.bestChoice...)
		}
	}
}

// weigh makes them look for what is good for jobs.
func (t *team) weigh(w *schedule.Weights) {
	for _, s := range t.members {
		s.Weights = w
		s.Evaluate(s.best)
	}
}

// improve searches until the budget is spent or the lower bound is reached. All of the team
// then have the best plan.
func (t *team) improve(whole budget, bound schedule.Tick) {
	if len(t.members[0].bestOrder) < 2 {
		return
	}
	t.sideBySide(func(i int, s *annealer) { s.anneal(whole.share(i, len(t.members)), bound) })
	t.shareBest()
}

// An annealer walks from plan to plan by small changes of the order of turns and the
// choice of machines, and along the critical path of the plan.
type annealer struct {
	*placing.Generator
	rng           *rand.Rand
	order, choice []int
	tryOrder      []int
	tryChoice     []int
	now, trying   *placing.Schedule
	best          *placing.Schedule
	// checkpoints are those of now, tryCheckpoints those of trying after the one at which it was
	// resumed.
	checkpoints, tryCheckpoints placing.Checkpoints
	resumed                     int
	chooser                     []chooser // by chain
	placed                      []placedTurn
	mentions                    []int // by job, to count
	positions                   positions
	// bestOrder and bestChoice are those of best.
	bestOrder, bestChoice []int
	// critical are those of the critical path of now, where criticalKnown says so; freeing is for
	// finding them.
	critical      []arc
	freeing       [][]release
	criticalKnown bool
	// costs is what now costs each job, where costsKnown says so.
	costs      []float64
	costsKnown bool
}

func newAnnealer(s *instance.Instance, rng *rand.Rand) *annealer {
	d := placing.NewGenerator(s)
	out := &annealer{Generator: d, rng: rng, freeing: make([][]release, len(s.Capacity)), now: d.NewSchedule(),
		trying: d.NewSchedule(), best: d.NewSchedule(),
		checkpoints: placing.NewCheckpoints(s), tryCheckpoints: placing.NewCheckpoints(s), chooser: choosers(s),
		mentions: make([]int, len(s.Jobs))}
	out.positions = out.newPositions()
	out.choice = make([]int, len(s.Options))
	for i := range out.choice {
		out.choice[i] = placing.Anywhere
	}
	return out
}
