package search

import (
	"chalkstep/core/schedule"
	"chalkstep/core/schedule/internal/placing"
)

// restart generates the current schedule from the current order and choices, with its checkpoints.
func (s *annealer) restart() {
	s.Clear()
	s.GenerateFrom(0, s.order, s.choice, s.now, placing.NoCutoff, s.checkpoints)
	s.criticalKnown, s.costsKnown, s.positions.known = false, false, false
}

// evaluateNeighbour generates the schedule of the neighbour from where it first differs from the
// current one. It returns false where nothing differs, or where the neighbour is given up because its
// surrogate objective exceeds a limit or it loses more time than allowed.
func (s *annealer) evaluateNeighbour(limit, more schedule.Tick) bool {
	first, last, changed := s.changed()
	if !changed {
		return false
	}
	if s.Parted { // consecutive turns of a job are placed together, so they are generated again together
		for first > 0 && (continues(s.order, first) || continues(s.tryOrder, first)) {
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

// continues reports whether a place of an order names the same job as the place before it.
func continues(order []int, at int) bool { return at < len(order) && order[at-1] == order[at] }

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
