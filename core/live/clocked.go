package live

import (
	"chalkstep/core/say"
)

// Clocked sets how fast the clock of the class goes, for a rehearsal.
const Clocked Kind = "clocked"

var _ = declare(Clocked, declaration{
	has:     Fields{Speed: true},
	refused: say.T("The clock goes 1 to 3,600 times as fast as that on the wall."),
	said:    words("the clock was set"),
	ofClass: func(s *State, e Event) bool {
		if e.Speed < slowest || e.Speed > fastest {
			return false
		}
		s.Clock = Clock{From: e.At, NotedAt: e.NotedAt, Speed: e.Speed}
		return true
	},
})
