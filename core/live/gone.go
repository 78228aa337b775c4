package live

import (
	"chalkstep/core/say"
)

// Gone is that a student left machine and hoop.
const Gone Kind = "gone"

var _ = declare(Gone, declaration{
	has:     Fields{Student: true},
	refused: notedBefore,
	said:    about("%s left"),
	offered: Choice{At: 5, Text: say.T("leaves"), Key: "g"},
	ofStudent: func(s *State, at *Standing, e Event) bool {
		if at.Presence == Left {
			return false
		}
		at.Next = at.again(s.Plan.Problem)
		at.Real = at.Real[:at.Next]
		at.Presence, at.Begun, at.resumed, at.moved, at.Stop, at.Stops = Left, false, false, false, 0, nil
		s.lower(e.StudentID)
		return true
	},
})
