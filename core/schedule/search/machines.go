package search

import (
	"chalkstep/core/schedule"
	"chalkstep/core/schedule/internal/placing"
)

// changeMachine gives one choice another option, or leaves it to whatever ends earliest.
func (s *annealer) changeMachine() {
	i := s.OpenChoices[s.rng.IntN(len(s.OpenChoices))]
	s.tryChoice[i] = s.rng.IntN(len(s.Options[i])+1) + placing.Anywhere
}

// How often of a hundred an exchange begins with the critical path, is with one that is
// about the same time, is of the turns as well, and leaves it to the day what is taken along.
// exchangedApart is how far apart on average those are that are about the same time, as a share
// of all.
const (
	exchangedOfPath   = 30
	exchangedNear     = 80
	exchangedTurns    = 90
	exchangedMachines = 75
	exchangedApart    = 1.0 / 16
)

// exchange gives two choices each other's machines, as far as they may stand there: where
// machines are all taken, none can be chosen otherwise alone. At one machine they exchange
// their turns. It is false where there are no two.
func (s *annealer) exchange() bool {
	i := s.oneToExchange()
	k := s.OpenChoices[s.rng.IntN(len(s.OpenChoices))]
	if s.rng.IntN(100) < exchangedNear {
		k = s.nearbyChoice(i)
	}
	if i == k {
		return false
	}
	s.tryChoice[i], s.tryChoice[k] = s.optionLike(i, k), s.optionLike(k, i)
	if s.rng.IntN(100) < exchangedTurns {
		a, b := s.chooser[i], s.chooser[k]
		x, y := s.positionOf(a.job, a.turn), s.positionOf(b.job, b.turn)
		s.tryOrder[x], s.tryOrder[y] = s.tryOrder[y], s.tryOrder[x]
	}
	return true
}

// oneToExchange is a choice to exchange with another, most often one of the critical path.
func (s *annealer) oneToExchange() int {
	if s.rng.IntN(100) < exchangedOfPath {
		if i, found := s.criticalChoice(); found {
			return i
		}
	}
	return s.OpenChoices[s.rng.IntN(len(s.OpenChoices))]
}

// exchangeQueues gives all who stand at two machines from a moment on each other's: a day that
// would be shorter if whole queues were exchanged is out of reach of exchanges of two. It is
// false where both are at one, or somebody may not stand at the other.
func (s *annealer) exchangeQueues() bool {
	i, k := s.oneToExchange(), s.OpenChoices[s.rng.IntN(len(s.OpenChoices))]
	from, mine, other := s.begins(i), s.machineOf(i), s.machineOf(k)
	if mine == other {
		return false
	}
	for _, c := range s.OpenChoices {
		if s.begins(c) < from {
			continue
		}
		to := s.machineOf(c)
		switch to {
		case mine:
			to = other
		case other:
			to = mine
		default:
			continue
		}
		if s.tryChoice[c] = s.anyAt(c, to); s.tryChoice[c] == placing.Anywhere {
			copy(s.tryChoice, s.choice)
			return false
		}
	}
	return true
}

// criticalChoice is a choice of somebody on the critical path: that of their turn there, or
// the last before it.
func (s *annealer) criticalChoice() (chain int, found bool) {
	l, found := s.criticalArc()
	if !found {
		return 0, false
	}
	choices := s.positions.choices[l.job]
	for turn := l.turn; turn >= 0; turn-- {
		if len(choices[turn]) > 0 {
			return choices[turn][0], true
		}
	}
	return 0, false
}

// chosen is the option of a choice in now.
func (s *annealer) chosen(chain int) int {
	if s.Plain != nil {
		return int(s.now.PlainTurns[s.plainTurnOf(chain)].Way)
	}
	return s.now.Option[s.chooser[chain].job][s.chooser[chain].operation]
}

// plainTurnOf is in which turn of a plain instance a choice is made.
func (s *annealer) plainTurnOf(chain int) int {
	return s.Plain.First[s.chooser[chain].job] + s.chooser[chain].turn
}

// machineOf is the machine of a choice in now.
func (s *annealer) machineOf(chain int) int { return s.Options[chain][s.chosen(chain)] }

// begins is when in now a choice's machine is taken.
func (s *annealer) begins(chain int) schedule.Tick {
	if s.Plain != nil {
		return s.takenAt(s.now, s.plainTurnOf(chain))
	}
	return s.now.Start[s.chooser[chain].job][s.chooser[chain].operation]
}

// optionLike is the option of a choice that is as another's in now: at its machine, and often
// the same one of those where they choose from the same; anywhere where it may not stand there.
func (s *annealer) optionLike(chain, other int) int {
	option, machine := s.chosen(other), s.machineOf(other)
	alike := s.rng.IntN(100) >= exchangedMachines
	if alike && option < len(s.Options[chain]) && s.Options[chain][option] == machine {
		return option
	}
	return s.anyAt(chain, machine)
}

// anyAt is the option of a choice that stands for a machine, or whatever of several ends
// earliest, any of them where the instance is not plain; anywhere where there is none.
func (s *annealer) anyAt(chain, machine int) int {
	chosen, found := placing.Anywhere, 0
	for o, st := range s.Options[chain] {
		if st == machine {
			if found++; s.rng.IntN(found) == 0 {
				chosen = o
			}
		}
	}
	if found > 1 && s.Plain != nil {
		return placing.EarliestAt(machine)
	}
	return chosen
}

// keepMachine has somebody stay at one of their machines of now, as far as they may.
func (s *annealer) keepMachine() {
	i := s.rng.IntN(len(s.Jobs))
	machine, chains, changes := -1, 0, false
	for k := range s.Jobs[i].Operations {
		if c := s.Jobs[i].Operations[k].Chain; c >= 0 {
			at := s.Options[c][s.now.Option[i][k]]
			changes = changes || machine >= 0 && at != machine
			if chains++; s.rng.IntN(chains) == 0 {
				machine = at
			}
		}
	}
	if !changes {
		s.changeMachine()
		return
	}
	for k := range s.Jobs[i].Operations {
		c := s.Jobs[i].Operations[k].Chain
		if c < 0 {
			continue
		}
		s.tryChoice[c] = s.anyAt(c, machine)
	}
}
