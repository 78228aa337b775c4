package live

import (
	"time"

	"chalkstep/core/say"
)

// Ended is that the class is over before its time, or after it: machines and people are free from then on.
const Ended Kind = "ended"

var _ = declare(Ended, declaration{
	refused: say.T("The class has ended already."),
	said:    words("the class ended"),
	ofClass: func(s *State, e Event) bool {
		if !s.EndedAt.IsZero() {
			return false
		}
		s.EndedAt = e.At
		return true
	},
	leaves: func(_ State, e Event) Trace { return Trace{FreeFrom: e.At} },
})

// endsAfter its time a class ends by itself.
const endsAfter = time.Hour

// Ended tells since when a class is over: somebody said so, all are done, or its time is over for an
// hour.
func (p Page) Ended() (at time.Time, ended bool) {
	switch last := p.Plan.Class.EndsAt.Add(endsAfter); {
	case !p.Running():
	case !p.EndedAt.IsZero():
		return p.EndedAt, true
	case !p.Now.Before(last):
		return last, true
	}
	return time.Time{}, false
}
