package live

import (
	"chalkstep/core/say"
)

// HandUp is that a student wants somebody, for a Reason.
const HandUp Kind = "hand-up"

var _ = declare(HandUp, declaration{
	has: Fields{Student: true, Reason: true}, phone: OwnPhone,
	refused: say.T("Choose somebody who is here, and what for."),
	said:    about("%s's hand went up"),
	ofStudent: func(s *State, at *Standing, e Event) bool {
		if !e.Reason.Is() || at.Presence != Present {
			return false
		}
		s.lower(e.StudentID)
		hand := Hand{e.StudentID, at.Name, e.Reason, e.At}
		s.Hands = append(s.Hands, hand)
		s.Calls = append(s.Calls, Call{Hand: hand, Station: s.StationOf(e.StudentID), Thread: s.thread(at, e.Reason)})
		return true
	},
	leaves: func(s State, e Event) Trace {
		if machine, seated := s.MachineOf(e.StudentID); seated && e.Reason == Strike {
			return Trace{StruckID: machine}
		}
		return Trace{}
	},
})
