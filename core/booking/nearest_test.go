package booking_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"chalkstep/core/booking"
)

// The nearest free time to one that a class takes: before it or after it, on the machine
// that somebody had or another, never where they are elsewhere.
func TestTheNearestFreeTime(t *testing.T) {
	zone := time.UTC
	at := func(day, hour, minute int) time.Time { return time.Date(2026, 11, day, hour, minute, 0, 0, zone) }
	span := func(day, from, to int) booking.Span { return booking.Span{From: at(day, from, 0), To: at(day, to, 0)} }
	had, class := span(25, 14, 15), span(25, 13, 16)
	rules := booking.Defaults()
	anyTime := func(booking.Span) bool { return true }
	for name, c := range map[string]struct {
		taken, other, elsewhere []booking.Span
		fits                    func(booking.Span) bool
		machine                 int64
		from                    time.Time
	}{
		"before the class, with the gap": {other: []booking.Span{span(20, 0, 24), span(25, 0, 24)}, machine: 1,
			from: at(25, 11, 45)},
		"at once on another":       {machine: 2, from: at(25, 14, 0)},
		"where they are elsewhere": {elsewhere: []booking.Span{span(25, 9, 15)}, machine: 2, from: at(25, 15, 0)},
		"where nobody can stay": {fits: func(s booking.Span) bool {
			return s.From.Day() != 25
		}, machine: 1, from: at(24, 20, 0)},
		"nowhere": {fits: func(booking.Span) bool { return false }},
	} {
		t.Run(name, func(t *testing.T) {
			if c.fits == nil {
				c.fits = anyTime
			}
			want := booking.Want{Now: at(24, 8, 0), Zone: zone, Within: span(24, 8, 24), Elsewhere: c.elsewhere,
				Machines: []booking.Machine{
					{ID: 1, Taken: append(c.taken, class)}, {ID: 2, Taken: c.other},
				}}
			want.Within.To = at(27, 0, 0)
			id, to, ok := rules.Nearest(want, had, c.fits)
			assert.Equal(t, c.machine != 0, ok)
			assert.Equal(t, c.machine, id)
			if ok {
				assert.Equal(t, c.from, to.From)
				assert.Equal(t, had.Length(), to.Length())
			}
		})
	}
}
