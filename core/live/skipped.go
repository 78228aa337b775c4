package live

import (
	"chalkstep/core/say"
)

// Skipped is that a student leaves a step out.
const Skipped Kind = "skipped"

var _ = declare(Skipped, declaration{
	has:       Fields{Student: true, Step: true},
	refused:   notTheirs,
	said:      ofStep("%s skipped: %s"),
	offered:   Choice{At: 3, Text: say.T("skips the step they are at"), Key: "x"},
	ofStudent: func(s *State, at *Standing, e Event) bool { return s.goOn(at, e, true) },
})
