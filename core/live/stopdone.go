package live

import (
	"chalkstep/core/say"
)

// StopDone is that a stop of the sewing a student is at is sewn. The last stop ends the step,
// which is Done.
const StopDone Kind = "stop-done"

var _ = declare(StopDone, declaration{
	has: Fields{Student: true, Step: true, Stop: true}, phone: OwnPhone,
	refused: say.T("That stop is not what they sew: somebody noted it just now. Look again."),
	said: func(s State, e Event) say.Text {
		at, _ := s.Standing(e.StudentID)
		return say.T("%s is done with stop %s", say.Name(at.Name), say.Count(e.Stop))
	},
	ofStudent: func(s *State, at *Standing, e Event) bool {
		if !at.isAt(e.Step) || !at.Begun || at.Stop+1 >= len(at.Stops) || at.Stops[at.Stop].N != e.Stop {
			return false
		}
		at.Stop++
		at.StopSince = e.At
		s.sewsAgain(at, e.At)
		return true
	},
})
