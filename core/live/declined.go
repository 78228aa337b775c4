package live

import "chalkstep/core/say"

// Declined is that an offer is not taken: it is not made again.
const Declined Kind = "declined"

var _ = declare(Declined, declaration{
	has:     Fields{Text: true},
	refused: notedBefore,
	said:    func(State, Event) say.Text { return say.T("an offer was declined") },
	ofClass: func(s *State, e Event) bool {
		if s.Declined[e.Text] {
			return false
		}
		s.Declined[e.Text] = true
		return true
	},
})
