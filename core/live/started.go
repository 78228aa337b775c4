package live

import (
	"chalkstep/core/say"
)

// Started is that the class began; nothing counts before it.
const Started Kind = "started"

var _ = declare(Started, declaration{
	refused: say.T("The class has begun already."),
	said:    words("the class began"),
	ofClass: func(s *State, e Event) bool {
		if s.Running() {
			return false
		}
		s.StartedAt, s.ticked = e.At, e.At
		return true
	},
})
