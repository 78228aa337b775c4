package search

import (
	"slices"

	"chalkstep/core/schedule"
)

// annealHeat is the temperature at the beginning of a stretch of annealing, as a share of the
// best plan's value, jobHeat that where no machine can be chosen, and fairHeat that where it
// is not the length alone that counts: there, a change costs more before it pays.
const (
	machineTemperature = 0.0036
	jobTemperature     = 0.015
	fairTemperature    = 0.01
)

// temperature is that at the beginning of a stretch.
func (s *annealer) temperature() float64 {
	switch {
	case s.Weights != nil:
		return fairTemperature * s.best.Objective
	case len(s.OpenChoices) == 0:
		return jobTemperature * s.best.Objective
	}
	return machineTemperature * s.best.Objective
}

// anneal changes the best plan and what comes of it until a stretch is over or a plan is as
// short as the bound, and takes worse plans less and less often: the slower, the shorter the
// plans it ends with, so that it cools as slowly as there is time for.
func (s *annealer) anneal(whole budget, bound schedule.Tick) {
	heat := s.temperature()
	s.returnToBest()
	back := firstBack
	if len(s.OpenChoices) == 0 {
		back = 1 // at the end, that is not at all
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
		// So much worse is taken this time.
		limit := s.now.Surrogate + s.rng.ExpFloat64()*(heat*(1-gone)+1)
		if !s.evaluateNeighbour(schedule.Tick(limit), s.worstLoss()) {
			continue
		}
		s.accept()
		if s.now.Better(s.best) {
			s.copyBest()
		}
	}
}

// firstBack is the share of a stretch of annealing after which it goes back to the best plan, and
// backEvery after how much more it does again: what is taken that is worse leads further away than
// so cool a search comes back from. Plans of the 18 hardest of the 200 classes are 0.15 % shorter.
// Where no machine can be chosen it leads astray.
const (
	firstBack = 0.6
	backEvery = 0.1
)

// returnToBest makes the best plan what is.
func (s *annealer) returnToBest() {
	s.order, s.choice = append(s.order[:0], s.bestOrder...), append(s.choice[:0], s.bestChoice...)
	s.restart()
}

// lostShare is how much longer what is taken in order may be busy after a change than before, as a
// share of the best plan's length, lostAfter from how many turns after the change on: what is lost
// by then is seldom made up for, before that it tells little. In the hardest of the 200 classes two
// changes in five are given up so; of those that are taken not one in a hundred would have been.
const (
	lostShare = 0.08
	lostAfter = 6
)

// worstLoss is that in ticks, anything where it is not the length alone that counts, or where no
// machine can be chosen: there the shortest plans are found by way of longer ones.
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

// So many of a hundred changes put an order in that of time, so many say another turn or leave
// one deferred, so many exchange the rest of the day of two machines, and of all others so many
// exchange two turns' machines, then so many choose one, and then so many are of links of the
// critical path, more where no machine can be chosen and fewer where it is not the length alone that
// counts. There, so many of the turns
// that move are of somebody whom the plan is costly for, and go before others.
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

// neighbour has what is now tried with one small change: a turn moves in the order, most often
// one of the critical path, or machines are chosen otherwise.
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
