package search

import "chalkstep/core/schedule/internal/instance"

// A chooser is whose turn it is in which a chain's machine is chosen, and their first operation
// there.
type chooser struct{ job, turn, operation int }

func choosers(s *instance.Instance) []chooser {
	out := make([]chooser, len(s.Options))
	for i := range s.Jobs {
		for _, b := range s.Jobs[i].Blocks {
			for _, c := range b.Chains {
				first, _ := s.Jobs[i].ChainSpan(c.Index)
				out[c.Index] = chooser{i, s.Jobs[i].TurnOf(b.From), first}
			}
		}
	}
	return out
}
