package search

import (
	"slices"

	"chalkstep/core/schedule"
)

// The temperature at the start of annealing, as a share of the best plan's objective: where jobs
// choose among machines; where no job has a choice, as in a classical job shop; and where the
// objective weighs more than the makespan, because there a change costs more before it pays.
const (
	machineTemperature = 0.0036
	jobTemperature     = 0.015
	fairTemperature    = 0.01
)

// temperature returns the starting temperature in ticks.
func (s *annealer) temperature() float64 {
	switch {
	case s.Weights != nil:
		return fairTemperature * s.best.Objective
	case len(s.OpenChoices) == 0:
		return jobTemperature * s.best.Objective
	}
	return machineTemperature * s.best.Objective
}

// anneal searches from the best plan until the budget is spent or the makespan reaches the bound.
// The temperature falls linearly over the whole budget: the slower it falls, the shorter the plans.
func (s *annealer) anneal(whole budget, bound schedule.Tick) {
	temperature := s.temperature()
	s.returnToBest()
	back := firstBack
	if len(s.OpenChoices) == 0 {
		back = 1 // never before the end
	}
	for done := 0; ; done++ {
		gone := whole.spent(done)
		if gone >= 1 || s.best.Makespan <= bound {
			return
		}
		if gone > back {
			back += backEvery
			s.returnToBest()
		}
		s.neighbour()
		// Accept a plan that is worse by at most this much.
		limit := s.now.Surrogate + s.rng.ExpFloat64()*(temperature*(1-gone)+1)
		if !s.evaluateNeighbour(schedule.Tick(limit), s.worstLoss()) {
			continue
		}
		s.accept()
		if s.now.Better(s.best) {
			s.copyBest()
		}
	}
}

// The search returns to the best plan after the share firstBack of the budget, and then after every
// backEvery: a cool search cannot undo the worse plans that it accepted earlier. This makes plans of
// the 18 hardest of the 200 classes 0.15 % shorter. Without a choice of machines it makes them longer.
const (
	firstBack = 0.6
	backEvery = 0.1
)

// returnToBest continues from the best plan found so far.
func (s *annealer) returnToBest() {
	s.order, s.choice = append(s.order[:0], s.bestOrder...), append(s.choice[:0], s.bestChoice...)
	s.restart()
}

// A neighbour is given up as soon as its machines and resources are busy for longer than before the
// change, by more than lostShare of the best makespan, lostAfter turns after the change: later turns
// seldom make up for such a loss, and earlier the loss says little. In the hardest of the 200 classes
// this gives up two changes in five, and fewer than one in a hundred of those it would have accepted.
const (
	lostShare = 0.08
	lostAfter = 6
)

// worstLoss returns the largest such loss in ticks. It is unlimited where the objective weighs more than
// the makespan, and where no job has a choice of machines: there good plans are found through bad ones.
func (s *annealer) worstLoss() schedule.Tick {
	if s.Weights != nil || len(s.OpenChoices) == 0 {
		return schedule.Never
	}
	return schedule.Tick(lostShare * float64(s.best.Makespan))
}

func (s *annealer) copyBest() {
	s.Time(s.now)
	s.best.CopyFrom(s.now)
	s.bestOrder = append(s.bestOrder[:0], s.order...)
	s.bestChoice = append(s.bestChoice[:0], s.choice...)
}

// How often of a hundred the search tries each kind of neighbour, in this order; each share is of what
// the ones before it leave. It sorts the order by time, defers a turn or names it again, exchanges
// whole queues of two machines, exchanges the machines of two turns, chooses one machine, and moves a
// turn along the critical path. Of the remaining moves under weights, costlyShare bring forward a turn
// of a job that the plan is costly for.
const (
	tidyShare     = 2
	deferShare    = 1
	restShare     = 2
	exchangeShare = 88
	machineShare  = 50
	pathShare     = 80
	jobPathShare  = 95
	fairPathShare = 20
	costlyShare   = 70
)

// neighbour makes tryOrder and tryChoice a copy of the current plan's with one small change.
func (s *annealer) neighbour() {
	s.tryOrder = append(s.tryOrder[:0], s.order...)
	s.tryChoice = append(s.tryChoice[:0], s.choice...)
	if s.rng.IntN(100) < tidyShare {
		s.tryOrder = s.byTime(s.tryOrder, s.now)
		return
	}
	if s.rng.IntN(100) < deferShare && s.toggleDeferred() {
		return
	}
	if len(s.OpenChoices) > 1 && s.rng.IntN(100) < restShare && s.exchangeQueues() {
		return
	}
	if len(s.OpenChoices) > 1 && s.rng.IntN(100) < exchangeShare && s.exchange() {
		return
	}
	if len(s.OpenChoices) > 0 && s.rng.IntN(100) < machineShare {
		if s.Weights != nil && s.rng.IntN(2) == 0 {
			s.keepMachine()
		} else {
			s.changeMachine()
		}
		return
	}
	share := pathShare
	switch {
	case s.Weights != nil:
		share = fairPathShare
	case len(s.OpenChoices) == 0:
		share = jobPathShare
	}
	if s.rng.IntN(100) < share && s.moveOnCriticalPath() {
		return
	}
	from := s.rng.IntN(len(s.tryOrder))
	if s.rng.IntN(2) == 0 {
		from = s.lastTurn()
	}
	to := s.rng.IntN(len(s.tryOrder))
	if s.Weights != nil && s.rng.IntN(100) < costlyShare {
		if hard, found := s.costlyTurn(); found {
			from, to = hard, s.rng.IntN(hard+1)
		}
	}
	job := s.tryOrder[from]
	s.tryOrder = slices.Insert(slices.Delete(s.tryOrder, from, from+1), to, job)
}

// lastTurn finds a place in the order that belongs to someone who ends at
// the makespan: only their plan's path can shorten it.
func (s *annealer) lastTurn() int {
	from := s.rng.IntN(len(s.tryOrder))
	for n := range len(s.tryOrder) {
		i := (from + n) % len(s.tryOrder)
		if s.now.Done[s.tryOrder[i]] == s.now.Makespan {
			return i
		}
	}
	return from
}

// costlyTurn finds a place in the order of somebody whom the plan is costly for, most often
// whom it is hardest on; it is false where there is nobody.
func (s *annealer) costlyTurn() (place int, found bool) {
	if !s.costsKnown {
		s.costsKnown, s.costs = true, s.costs[:0]
		for i := range s.Jobs {
			cost, longest := s.CostOf(i, s.now)
			s.costs = append(s.costs, cost+s.Weights.LongestWait*float64(max(0, longest-schedule.Ticks(s.Weights.ShortMinutes))))
		}
	}
	all := 0.0
	for _, cost := range s.costs {
		all += cost
	}
	for i, left := 0, s.rng.Float64()*all; i < len(s.costs); i++ {
		if left -= s.costs[i]; left < 0 {
			place = s.positionOf(i, s.rng.IntN(len(s.Jobs[i].Turns)))
			return place, place >= 0
		}
	}
	return 0, false
}
