package floor

// changeStation gives one choice another option, or leaves it to whatever ends earliest.
func (s *search) changeStation() {
	i := s.open[s.rng.IntN(len(s.open))]
	s.tryChoice[i] = s.rng.IntN(len(s.options[i])+1) + anywhere
}

// Of a choice it may be said that it is whatever ends earliest, anywhere or of the options at
// one station, where these differ in what is taken along, as in the hoop.
const anywhere = -1

func earliestAt(station int) (choice int) { return anywhere - 1 - station }

// choosesAt tells whether an option, which is at a station, is one that a choice leaves open.
func choosesAt(choice, station int) bool {
	return choice == anywhere || choice == earliestAt(station)
}

// How often of a hundred an exchange begins with the longest path, is with one that is
// about the same time, is of the turns as well, and leaves it to the day what is taken along.
// exchangedApart is how far apart on average those are that are about the same time, as a share
// of all.
const (
	exchangedOfPath   = 30
	exchangedNear     = 80
	exchangedTurns    = 90
	exchangedStations = 75
	exchangedApart    = 1.0 / 16
)

// exchange gives two choices each other's stations, as far as they may stand there: where
// stations are all taken, none can be chosen otherwise alone. At one station they exchange
// their turns. It is false where there are no two.
func (s *search) exchange() bool {
	i := s.oneToExchange()
	k := s.open[s.rng.IntN(len(s.open))]
	if s.rng.IntN(100) < exchangedNear {
		k = s.nearPlace(i)
	}
	if i == k {
		return false
	}
	s.tryChoice[i], s.tryChoice[k] = s.optionLike(i, k), s.optionLike(k, i)
	if s.rng.IntN(100) < exchangedTurns {
		a, b := s.chooser[i], s.chooser[k]
		x, y := s.placeOf(a.person, a.turn), s.placeOf(b.person, b.turn)
		s.tryOrder[x], s.tryOrder[y] = s.tryOrder[y], s.tryOrder[x]
	}
	return true
}

// oneToExchange is a choice to exchange with another, most often one of the longest path.
func (s *search) oneToExchange() int {
	if s.rng.IntN(100) < exchangedOfPath {
		if i, found := s.linkedChoice(); found {
			return i
		}
	}
	return s.open[s.rng.IntN(len(s.open))]
}

// exchangeRest gives all who stand at two stations from a moment on each other's: a day that
// would be shorter if whole queues were exchanged is out of reach of exchanges of two. It is
// false where both are at one, or somebody may not stand at the other.
func (s *search) exchangeRest() bool {
	i, k := s.oneToExchange(), s.open[s.rng.IntN(len(s.open))]
	from, mine, other := s.begins(i), s.stationOf(i), s.stationOf(k)
	if mine == other {
		return false
	}
	for _, c := range s.open {
		if s.begins(c) < from {
			continue
		}
		to := s.stationOf(c)
		switch to {
		case mine:
			to = other
		case other:
			to = mine
		default:
			continue
		}
		if s.tryChoice[c] = s.anyAt(c, to); s.tryChoice[c] == anywhere {
			copy(s.tryChoice, s.choice)
			return false
		}
	}
	return true
}

// linkedChoice is a choice of somebody on the longest path: that of their turn there, or
// the last before it.
func (s *search) linkedChoice() (chain int, found bool) {
	l, found := s.aLink()
	if !found {
		return 0, false
	}
	choices := s.places.choices[l.person]
	for turn := l.turn; turn >= 0; turn-- {
		if len(choices[turn]) > 0 {
			return choices[turn][0], true
		}
	}
	return 0, false
}

// chosen is the option of a choice in now.
func (s *search) chosen(chain int) int {
	if s.plain != nil {
		return int(s.now.turns[s.plainTurnOf(chain)].way)
	}
	return s.now.option[s.chooser[chain].person][s.chooser[chain].step]
}

// plainTurnOf is in which turn of a plain shop a choice is made.
func (s *search) plainTurnOf(chain int) int {
	return s.plain.first[s.chooser[chain].person] + s.chooser[chain].turn
}

// stationOf is the station of a choice in now.
func (s *search) stationOf(chain int) int { return s.options[chain][s.chosen(chain)] }

// begins is when in now a choice's station is taken.
func (s *search) begins(chain int) tick {
	if s.plain != nil {
		return s.takenAt(s.now, s.plainTurnOf(chain))
	}
	return s.now.start[s.chooser[chain].person][s.chooser[chain].step]
}

// optionLike is the option of a choice that is as another's in now: at its station, and often
// the same one of those where they choose from the same; anywhere where it may not stand there.
func (s *search) optionLike(chain, other int) int {
	option, station := s.chosen(other), s.stationOf(other)
	alike := s.rng.IntN(100) >= exchangedStations
	if alike && option < len(s.options[chain]) && s.options[chain][option] == station {
		return option
	}
	return s.anyAt(chain, station)
}

// anyAt is the option of a choice that stands for a station, or whatever of several ends
// earliest, any of them where the shop is not plain; anywhere where there is none.
func (s *search) anyAt(chain, station int) int {
	chosen, found := anywhere, 0
	for o, st := range s.options[chain] {
		if st == station {
			if found++; s.rng.IntN(found) == 0 {
				chosen = o
			}
		}
	}
	if found > 1 && s.plain != nil {
		return earliestAt(station)
	}
	return chosen
}

// settle has somebody stay at one of their stations of now, as far as they may.
func (s *search) settle() {
	i := s.rng.IntN(len(s.people))
	station, chains, changes := -1, 0, false
	for k := range s.people[i].steps {
		if c := s.people[i].steps[k].chain; c >= 0 {
			at := s.options[c][s.now.option[i][k]]
			changes = changes || station >= 0 && at != station
			if chains++; s.rng.IntN(chains) == 0 {
				station = at
			}
		}
	}
	if !changes {
		s.changeStation()
		return
	}
	for k := range s.people[i].steps {
		c := s.people[i].steps[k].chain
		if c < 0 {
			continue
		}
		s.tryChoice[c] = s.anyAt(c, station)
	}
}
