package live

import (
	"chalkstep/core/classday"
	"chalkstep/core/say"
)

// Failed is that a machine is out of order. Whoever sews there goes on elsewhere, or when it works.
const Failed Kind = "failed"

var _ = declare(Failed, declaration{
	has: Fields{Machine: true}, phone: MachinePhone,
	refused: notedBefore,
	said:    ofMachine("%s went out of order"),
	offered: Choice{At: 7, Text: say.T("a machine is out of order"), Asks: "machine at"},
	ofClass: func(s *State, e Event) bool {
		station := classday.StationID(e.MachineID)
		if _, there := s.Plan.Machine(station); !there || s.isOut(station) {
			return false
		}
		s.Out[station] = e.At
		for i := range s.Standings {
			if at := &s.Standings[i]; at.Presence == Present && at.has(s.Plan.Problem, station) {
				at.interrupt()
			}
		}
		s.begin(e.At)
		return true
	},
})
