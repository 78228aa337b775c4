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
})

// EndsAfter its time a class ends by itself.
const EndsAfter = time.Hour

// FreeFrom is from when the machines and people of a class are free, as far as it is known: since
// somebody ended it, or since all are done, with what is done together at the end. Whoever is awaited is
// waited for as long as the house waits. It is zero where somebody is still at something.
func (s State) FreeFrom() time.Time {
	if !s.EndedAt.IsZero() {
		return s.EndedAt
	}
	last, grace := time.Time{}, time.Duration(s.Plan.Rules.Booking.GraceMinutes)*time.Minute
	done := false
	for _, at := range s.Standings {
		until := at.free
		switch {
		case at.Presence == Left:
			continue
		case at.Presence == Awaited && grace > 0:
			until = s.timeOf(s.comes(at)).Add(grace)
		case !at.Finished():
			return time.Time{}
		default:
			done = true
		}
		if until.After(last) {
			last = until
		}
	}
	if !done {
		return time.Time{}
	}
	return last.Add(time.Duration(s.Plan.Class.ClosingMinutes) * time.Minute)
}

// Ended tells since when a class is over: somebody said so, all are done, or its time is over for an
// hour.
func (p Page) Ended() (at time.Time, ended bool) {
	if !p.Running() {
		return time.Time{}, false
	}
	at = p.Plan.Class.EndsAt.Add(EndsAfter)
	if free := p.FreeFrom(); !free.IsZero() && free.Before(at) {
		at = free
	}
	return at, !p.Now.Before(at)
}
