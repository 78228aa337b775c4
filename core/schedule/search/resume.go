package search

import (
	"chalkstep/core/schedule"
	"chalkstep/core/schedule/internal/placing"
)

// restart decodes the search's order and choice into now, with its trail.
func (s *annealer) restart() {
	s.Clear()
	s.GenerateFrom(0, s.order, s.choice, s.now, placing.NoCutoff, s.checkpoints)
	s.criticalKnown, s.costsKnown, s.positions.known = false, false, false
}

// evaluateNeighbour decodes what is tried, from where it begins to differ from now; it is false
// where that is nowhere, or where it is given up: when its surrogate objective is over a limit, or what is
// taken in order is busy for so much longer than it is now.
func (s *annealer) evaluateNeighbour(limit, more schedule.Tick) bool {
	first, last, changed := s.changed()
	if !changed {
		return false
	}
	if s.Parted { // what is said together is placed together
		for first > 0 && s.order[first-1] == s.order[min(first, len(s.order)-1)] || first > 0 && first < len(s.tryOrder) &&
			s.tryOrder[first-1] == s.tryOrder[first] {
			first--
		}
	}
	s.resumed = first / placing.CheckpointEvery
	if s.resumed == 0 {
		s.Clear()
	} else {
		s.Checkpoint.CopyFrom(&s.checkpoints[s.resumed])
		s.trying.BeginAs(s.now)
	}
	when := placing.Cutoff{Surrogate: limit, After: last + lostAfter, Busy: s.now.Busy, More: more}
	return s.GenerateFrom(s.resumed*placing.CheckpointEvery, s.tryOrder, s.tryChoice, s.trying, when, s.tryCheckpoints)
}

// accept makes what was tried what is. What was left to whatever ends earliest is said from
// then on: it would be chosen anew with each change of what comes before it, so that no change
// stood alone.
func (s *annealer) accept() {
	s.order, s.tryOrder = s.tryOrder, s.order
	s.choice, s.tryChoice = s.tryChoice, s.choice
	s.now, s.trying = s.trying, s.now
	for i := range s.resumed + 1 {
		s.checkpoints[i], s.tryCheckpoints[i] = s.tryCheckpoints[i], s.checkpoints[i]
	}
	s.checkpoints, s.tryCheckpoints = s.tryCheckpoints, s.checkpoints
	s.criticalKnown, s.costsKnown, s.positions.known = false, false, false
	for _, c := range s.OpenChoices {
		if s.choice[c] < 0 {
			s.choice[c] = s.chosen(c)
		}
	}
}

// changed tells the first and the last place of the order that is not as it is now: another
// turn, or one whose machine is chosen otherwise. There is no last where a turn is said that
// was not, or is not said any more; ok is false where all is as it is now.
func (s *annealer) changed() (first, last int, ok bool) {
	shorter := min(len(s.order), len(s.tryOrder))
	for first < shorter && s.order[first] == s.tryOrder[first] {
		first++
	}
	last = -1
	if len(s.order) != len(s.tryOrder) {
		first, last = min(first, shorter-1), placing.Nowhere
	} else if first < shorter {
		for last = shorter - 1; s.order[last] == s.tryOrder[last]; last-- {
		}
	}
	for c := range s.choice {
		if s.choice[c] == s.tryChoice[c] {
			continue
		}
		if len(s.Pinned) > 0 { // theirs are placed before all
			return 0, placing.Nowhere, true
		}
		// Where it is said now will do: if it is said elsewhere then, both places are changed.
		at := s.positionOf(s.chooser[c].job, s.chooser[c].turn)
		first, last = min(first, at), max(last, at)
	}
	return first, last, last >= 0
}
