package floor

import "slices"

// annealHeat is the heat at the beginning of a stretch of annealing, as a share of the
// best plan's value, jobHeat that where no station can be chosen, and fairHeat that where it
// is not the length alone that counts: there, a change costs more before it pays.
const (
	annealHeat = 0.0036
	jobHeat    = 0.003
	fairHeat   = 0.01
)

// heat is that at the beginning of a stretch.
func (s *search) heat() float64 {
	switch {
	case s.weights != nil:
		return fairHeat * s.best.value
	case len(s.open) == 0:
		return jobHeat * s.best.value
	}
	return annealHeat * s.best.value
}

// anneal changes the best plan and what comes of it until a stretch is over or a plan is as
// short as the bound, and takes worse plans less and less often: the slower, the shorter the
// plans it ends with, so that it cools as slowly as there is time for.
func (s *search) anneal(whole stretch, bound tick) {
	heat := s.heat()
	s.goBack()
	back := firstBack
	if len(s.open) == 0 {
		back = 1 // at the end, that is not at all
	}
	for done := 0; ; done++ {
		gone := whole.gone(done)
		if gone >= 1 || s.best.makespan <= bound {
			return
		}
		if gone > back {
			back += backEvery
			s.goBack()
		}
		s.change()
		// So much worse is taken this time.
		limit := s.now.heading + s.rng.ExpFloat64()*(heat*(1-gone)+1)
		if !s.retry(tick(limit), s.mostLost()) {
			continue
		}
		s.accept()
		if s.now.better(s.best) {
			s.copyBest()
		}
	}
}

// firstBack is the share of a stretch of annealing after which it goes back to the best plan, and
// backEvery after how much more it does again: what is taken that is worse leads further away than
// so cool a search comes back from. Plans of the 18 hardest of the 200 classes are 0.15 % shorter.
// Where no station can be chosen it leads astray.
const (
	firstBack = 0.6
	backEvery = 0.1
)

// goBack makes the best plan what is.
func (s *search) goBack() {
	s.order, s.choice = append(s.order[:0], s.bestOrder...), append(s.choice[:0], s.bestChoice...)
	s.begin()
}

// lostShare is how much longer what is taken in order may be busy after a change than before, as a
// share of the best plan's length, lostAfter from how many turns after the change on: what is lost
// by then is seldom made up for, before that it tells little. In the hardest of the 200 classes two
// changes in five are given up so; of those that are taken not one in a hundred would have been.
const (
	lostShare = 0.08
	lostAfter = 6
)

// mostLost is that in ticks, anything where it is not the length alone that counts, or where no
// station can be chosen: there the shortest plans are found by way of longer ones.
func (s *search) mostLost() tick {
	if s.weights != nil || len(s.open) == 0 {
		return never
	}
	return tick(lostShare * float64(s.best.makespan))
}

// lastPart is the share of a plan's length at its end in which it counts who is still there.
const lastPart = 0.05

// rate gives a plan its value and its heading.
func (d *decoder) rate(a *schedule) {
	a.value = d.valueOf(a)
	a.heading = d.headingOf(a)
}

// headingOf is a plan's value and, where it is its length alone, how many are still there
// in its last part: where all of them are through at the last minute, one change that makes
// it shorter is not to be found. Where no station can be chosen it leads astray: 10 jobs on
// 10 machines end later.
func (d *decoder) headingOf(a *schedule) float64 {
	if d.weights != nil || len(d.open) == 0 {
		return a.value
	}
	last := lastPart * float64(a.makespan)
	sum := 0.0
	for _, done := range a.done {
		if there := last - float64(a.makespan-done); there > 0 {
			sum += there * there
		}
	}
	return a.value + sum/max(1, last*float64(len(a.done)))
}

func (s *search) copyBest() {
	s.time(s.now)
	s.best.copyFrom(s.now)
	s.bestOrder = append(s.bestOrder[:0], s.order...)
	s.bestChoice = append(s.bestChoice[:0], s.choice...)
}

// So many of a hundred changes put an order in that of time, so many say another turn or leave
// one unsaid, so many exchange the rest of the day of two stations, and of all others so many
// exchange two turns' stations, then so many choose one, and then so many are of links of the
// longest path, more where no station can be chosen and fewer where it is not the length alone that
// counts. There, so many of the turns
// that move are of somebody whom the plan is hard on, and go before others.
const (
	tidyShare     = 2
	sayShare      = 1
	restShare     = 2
	exchangeShare = 88
	stationShare  = 50
	linkShare     = 80
	jobLinkShare  = 95
	fairLinkShare = 20
	hardShare     = 70
)

// change has what is now tried with one small change: a turn moves in the order, most often
// one of the longest path, or stations are chosen otherwise.
func (s *search) change() {
	s.tryOrder = append(s.tryOrder[:0], s.order...)
	s.tryChoice = append(s.tryChoice[:0], s.choice...)
	if s.rng.IntN(100) < tidyShare {
		s.tryOrder = s.byTime(s.tryOrder, s.now)
		return
	}
	if s.rng.IntN(100) < sayShare && s.say() {
		return
	}
	if len(s.open) > 1 && s.rng.IntN(100) < restShare && s.exchangeRest() {
		return
	}
	if len(s.open) > 1 && s.rng.IntN(100) < exchangeShare && s.exchange() {
		return
	}
	if len(s.open) > 0 && s.rng.IntN(100) < stationShare {
		if s.weights != nil && s.rng.IntN(2) == 0 {
			s.settle()
		} else {
			s.changeStation()
		}
		return
	}
	share := linkShare
	switch {
	case s.weights != nil:
		share = fairLinkShare
	case len(s.open) == 0:
		share = jobLinkShare
	}
	if s.rng.IntN(100) < share && s.relink() {
		return
	}
	from := s.rng.IntN(len(s.tryOrder))
	if s.rng.IntN(2) == 0 {
		from = s.lateTurn()
	}
	to := s.rng.IntN(len(s.tryOrder))
	if s.weights != nil && s.rng.IntN(100) < hardShare {
		if hard, found := s.hardTurn(); found {
			from, to = hard, s.rng.IntN(hard+1)
		}
	}
	person := s.tryOrder[from]
	s.tryOrder = slices.Insert(slices.Delete(s.tryOrder, from, from+1), to, person)
}

// lateTurn finds a place in the order that belongs to someone who ends at
// the makespan: only their plan's path can shorten it.
func (s *search) lateTurn() int {
	from := s.rng.IntN(len(s.tryOrder))
	for n := range len(s.tryOrder) {
		i := (from + n) % len(s.tryOrder)
		if s.now.done[s.tryOrder[i]] == s.now.makespan {
			return i
		}
	}
	return from
}

// hardTurn finds a place in the order of somebody whom the plan is hard on, most often
// whom it is hardest on; it is false where there is nobody.
func (s *search) hardTurn() (place int, found bool) {
	if !s.weighed {
		s.weighed, s.hard = true, s.hard[:0]
		for i := range s.people {
			cost, longest := s.hardOn(i, s.now)
			s.hard = append(s.hard, cost+s.weights.LongestWait*float64(max(0, longest-ticks(s.weights.ShortMinutes))))
		}
	}
	all := 0.0
	for _, cost := range s.hard {
		all += cost
	}
	for i, left := 0, s.rng.Float64()*all; i < len(s.hard); i++ {
		if left -= s.hard[i]; left < 0 {
			place = s.placeOf(i, s.rng.IntN(len(s.people[i].turns)))
			return place, place >= 0
		}
	}
	return 0, false
}
