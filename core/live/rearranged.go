package live

import "chalkstep/core/say"

// Rearranged stands for that an offer is taken: some sit at other machines.
const Rearranged Kind = "rearranged"

var _ = declare(Rearranged, declaration{
	has:     Fields{Moves: true},
	refused: say.T("Something happened since that was offered: look at the board again."),
	stands: func(s State, e Event) []Event {
		var all []Event
		then := s.copied()
		for _, m := range e.Moves {
			one := Event{Kind: Seated, At: e.At, NotedAt: e.NotedAt, StudentID: m.StudentID, MachineID: m.MachineID, By: e.By}
			if !then.apply(one) {
				return nil
			}
			all = append(all, one)
		}
		return all
	},
})
