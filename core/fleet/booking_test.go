package fleet_test

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"chalkstep/core/booking"
	"chalkstep/core/fleet"
	"chalkstep/core/say"
)

// Somebody is awaited from an hour before their time to its end, until they sit.
func TestWhoIsAwaited(t *testing.T) {
	ten := time.Date(2026, 11, 24, 10, 0, 0, 0, time.UTC)
	own := fleet.Booking{Student: &fleet.Named{Name: "Ada"}, StartsAt: ten, EndsAt: ten.Add(time.Hour)}
	for name, c := range map[string]struct {
		change        func(*fleet.Booking)
		minutes       int
		awaited, sits bool
	}{
		"two hours before": {nil, -120, false, false},
		"an hour before":   {nil, -60, true, false},
		"at the time":      {nil, 10, true, false},
		"when it is over":  {nil, 60, false, false},
		"who sits":         {func(b *fleet.Booking) { b.SatAt = &ten }, 10, false, true},
		"who sat":          {func(b *fleet.Booking) { b.SatAt = &ten }, 70, false, false},
		"in a class":       {func(b *fleet.Booking) { b.Class = &fleet.Named{} }, 10, false, false},
		"care":             {func(b *fleet.Booking) { b.Student = nil }, 10, false, false},
	} {
		t.Run(name, func(t *testing.T) {
			b := own
			if c.change != nil {
				c.change(&b)
			}
			at := ten.Add(time.Duration(c.minutes) * time.Minute)
			assert.Equal(t, c.awaited, b.Awaited(at))
			assert.Equal(t, c.sits, b.Sits(at))
		})
	}
}

// Whatever became of a booking is said in whole sentences, with what they had.
func TestWhatStudentsAreTold(t *testing.T) {
	ten := time.Date(2026, 11, 24, 10, 0, 0, 0, time.UTC)
	p := say.Printer{Zone: time.UTC, Today: ten}
	for _, kind := range []fleet.MessageKind{fleet.Filled, fleet.GivenUp, fleet.Moved, fleet.Dropped, fleet.Cancelled} {
		m := fleet.Message{Kind: kind, Machine: fleet.Named{Name: "Heron"},
			Span: booking.Span{From: ten, To: ten.Add(time.Hour)}, ToMachine: fleet.Named{Name: "Kettle"},
			To: booking.Span{From: ten.Add(3 * time.Hour), To: ten.Add(4 * time.Hour)}}
		says := p.Say(m.Say())
		assert.Contains(t, says, "Heron, Tue 24 Nov, 10:00 to 11:00", kind)
		assert.Regexp(t, `^[A-Z].*\.$`, says, kind)
		assert.Equal(t, kind == fleet.Moved, strings.Contains(says, "Kettle, Tue 24 Nov, 13:00 to 14:00"), kind)
	}
	assert.True(t, fleet.Message{Kind: "shouted"}.Say().Silent())
}
