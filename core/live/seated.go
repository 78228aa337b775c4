package live

import (
	"chalkstep/core/say"
)

// Seated is that a student sits, or is to sit, at a machine.
const Seated Kind = "seated"

var _ = declare(Seated, declaration{
	has: Fields{Student: true, Machine: true}, phone: AnyPhone,
	refused: say.T("They cannot sit there: the machine does not take what they have hooped, or is out of order, or " +
		"they sit there already."),
	said: func(s State, e Event) say.Text {
		at, _ := s.Standing(e.StudentID)
		return say.T("%s sits at %s", say.Name(at.Name), s.machineName(e.MachineID))
	},
	offered:   Choice{At: 1, Text: say.T("sits at another machine"), Key: "e", Asks: "machine"},
	ofStudent: func(s *State, at *Standing, e Event) bool { return s.seat(at, e) },
})
