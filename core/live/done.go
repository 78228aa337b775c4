package live

import (
	"slices"
)

// Done is that a student is done with a step.
const Done Kind = "done"

var _ = declare(Done, declaration{
	has: Fields{Student: true, Step: true}, phone: OwnPhone,
	refused:   notTheirs,
	said:      ofStep("%s is done: %s"),
	ofStudent: func(s *State, at *Standing, e Event) bool { return s.goOn(at, e, false) },
	leaves: func(s State, e Event) Trace {
		if o, known := s.Observed(e.StudentID); known {
			return Trace{Observed: &o}
		}
		return Trace{}
	},
})

// goOn has somebody go on to their next step.
func (s *State) goOn(at *Standing, e Event, skipped bool) bool {
	if step, _ := at.Step(); !at.isAt(e.Step) || step.Machine != "" && !at.Begun {
		return false // nobody is done at a machine that they do not have
	}
	real := Real{Begun: e.At, Ended: e.At, Skipped: skipped}
	if at.Begun && !skipped && !at.resumed {
		real.Begun = at.Since
	}
	at.Real = append(slices.Clip(at.Real), real)
	at.Next++
	at.Begun, at.resumed, at.free, at.Stop, at.Stops = false, false, e.At, 0, nil
	s.sewsAgain(at, e.At)
	return true
}
