package fleet

import (
	"time"

	"chalkstep/core/say"
)

// An Outage is a time in which a machine cannot be used, and why.
type Outage struct {
	ID       int64
	Machine  Named
	StartsAt time.Time
	// EndsAt is nil until somebody says when it can be used again.
	EndsAt *time.Time
	Reason string
}

// Within tells whether it touches a stretch of time.
func (o Outage) Within(from, to time.Time) bool {
	return o.StartsAt.Before(to) && (o.EndsAt == nil || o.EndsAt.After(from))
}

// Say tells why the machine cannot be used, and until when.
func (o Outage) Say() say.Text {
	if o.EndsAt == nil {
		return say.T("out of order from %s, %s: %s", say.Day(o.StartsAt), say.Clock(o.StartsAt), o.Reason)
	}
	return say.T("out of order from %s, %s to %s, %s: %s", say.Day(o.StartsAt), say.Clock(o.StartsAt), say.Day(*o.EndsAt),
		say.Clock(*o.EndsAt), o.Reason)
}

// Out finds the first outage of a machine that touches a stretch of time.
func (m Machine) Out(from, to time.Time) (Outage, bool) {
	for _, o := range m.Outages {
		if o.Within(from, to) {
			return o, true
		}
	}
	return Outage{}, false
}
