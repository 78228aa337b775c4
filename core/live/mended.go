package live

import (
	"chalkstep/core/classday"
)

// Mended is that a machine works again that was out of order.
const Mended Kind = "mended"

var _ = declare(Mended, declaration{
	has:     Fields{Machine: true},
	refused: notedBefore,
	said:    ofMachine("%s works again"),
	ofClass: func(s *State, e Event) bool {
		station := classday.StationID(e.MachineID)
		if _, there := s.Plan.Machine(station); !there || !s.isOut(station) {
			return false
		}
		delete(s.Out, station)
		s.begin(e.At)
		return true
	},
})
