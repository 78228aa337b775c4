package floor

import "slices"

// annealHeat is the heat at the beginning of a stretch of annealing, as a share of the
// plan's length; astray is how much worse than the best a plan may be to go on from.
const (
	annealHeat = 0.005
	astray     = 1.01
)

// anneal makes so many changes, beginning with where the last stretch ended or the best
// plan, and takes worse plans less and less often. It tells how many it made.
func (s *search) anneal(iterations int, bound tick) int {
	heat := annealHeat * float64(s.best.makespan)
	if len(s.order) == 0 || s.now.value > astray*s.best.value {
		s.order, s.choice = append(s.order[:0], s.bestOrder...), append(s.choice[:0], s.bestChoice...)
	}
	s.begin()
	if s.now.better(s.best) {
		s.copyBest()
	}
	for i := range iterations {
		if s.best.makespan <= bound || s.stopped() {
			return i
		}
		s.tryOrder = append(s.tryOrder[:0], s.order...)
		s.tryChoice = append(s.tryChoice[:0], s.choice...)
		s.change()
		cooling := 1 - float64(i)/float64(iterations)
		// So much worse is taken this time.
		limit := s.now.value + s.rng.ExpFloat64()*(heat*cooling*cooling+1)
		if !s.retry(tick(limit)) || s.trying.value > limit {
			continue
		}
		s.accept()
		if s.now.better(s.best) {
			s.copyBest()
		}
	}
	return iterations
}

func (s *search) copyBest() {
	s.best.copyFrom(s.now)
	s.bestOrder = append(s.bestOrder[:0], s.order...)
	s.bestChoice = append(s.bestChoice[:0], s.choice...)
}

// So many of a hundred changes make an order anew, and of all others so many exchange two
// stations, then so many choose one, and then so many are of links of the longest path,
// fewer where it is not the length alone that counts.
const (
	justifyShare  = 5
	exchangeShare = 40
	stationShare  = 25
	linkShare     = 60
	fairLinkShare = 20
)

// change makes one small change: a turn moves in the order, most often one of the
// longest path, or stations are chosen otherwise.
func (s *search) change() {
	if s.mirror != nil && s.rng.IntN(100) < justifyShare {
		s.justify()
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
	if s.weights != nil {
		share = fairLinkShare
	}
	if s.rng.IntN(100) < share && s.relink() {
		return
	}
	from := s.rng.IntN(len(s.tryOrder))
	if s.rng.IntN(2) == 0 {
		from = s.lateTurn()
	}
	to := s.rng.IntN(len(s.tryOrder))
	person := s.tryOrder[from]
	s.tryOrder = slices.Insert(slices.Delete(s.tryOrder, from, from+1), to, person)
}

// lateTurn finds a place in the order that belongs to someone who ends at
// the makespan: only their plan's path can shorten it.
func (s *search) lateTurn() int {
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
