package live

import (
	"chalkstep/core/say"
)

// Swapped stands for that two students change places, which is that each is seated at the other's
// machine.
const Swapped Kind = "swapped"

var _ = declare(Swapped, declaration{
	has:     Fields{Student: true},
	refused: say.T("Choose two who are to sit at different machines, each of which takes what the other has hooped."),
	offered: Choice{At: 2, Text: say.T("changes places with"), Asks: "with"},
	stands: func(s State, e Event) []Event {
		mine, known := s.MachineOf(e.StudentID)
		other, knownToo := s.MachineOf(e.WithID)
		if !known || !knownToo || mine == other {
			return nil
		}
		first := Event{Kind: Seated, At: e.At, NotedAt: e.NotedAt, StudentID: e.StudentID, MachineID: other, By: e.By}
		second := Event{Kind: Seated, At: e.At, NotedAt: e.NotedAt, StudentID: e.WithID, MachineID: mine, By: e.By}
		then := s.copied()
		if !then.apply(first) || !then.Accepts(second) {
			return nil
		}
		return []Event{first, second}
	},
})
