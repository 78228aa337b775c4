package live

import (
	"chalkstep/core/say"
)

// Late is that a student comes later, by Until.
const Late Kind = "late"

var _ = declare(Late, declaration{
	has:     Fields{Student: true, Until: true},
	refused: say.T("They are here already."),
	said:    about("%s comes late"),
	offered: Choice{At: 4, Text: say.T("comes late"), Key: "l", Asks: "minutes"},
	ofStudent: func(_ *State, at *Standing, e Event) bool {
		if at.Presence == Present || !e.Until.After(e.At) {
			return false
		}
		at.Presence, at.Expected = Awaited, e.Until
		return true
	},
})
