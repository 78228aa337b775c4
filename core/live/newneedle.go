package live

import (
	"chalkstep/core/classday"
	"chalkstep/core/fleet/care"
	"chalkstep/core/say"
)

// NewNeedle is that a new needle was put into a machine, which is care done to it.
const NewNeedle Kind = "new-needle"

var _ = declare(NewNeedle, declaration{
	has:     Fields{Machine: true},
	refused: say.T("Choose a machine of the class."),
	said:    ofMachine("%s has a new needle"),
	offered: Choice{At: 8, Text: say.T("a new needle is in"), Asks: "machine at"},
	ofClass: func(s *State, e Event) bool {
		_, there := s.Plan.Machine(classday.StationID(e.MachineID))
		return there
	},
	leaves: func(_ State, e Event) Trace { return Trace{CaredID: e.MachineID, Care: care.Needle} },
})
