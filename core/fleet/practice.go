package fleet

import (
	"slices"
	"time"

	"chalkstep/core/booking"
	"chalkstep/core/design"
	"chalkstep/core/pace"
	"chalkstep/core/policy"
)

// PracticeMinutes are how long somebody is at a machine with a design, from marking the
// cloth to cleaning up (handbook, Time): hand is how much longer than practised they take
// over hand steps.
func (s Seat) PracticeMinutes(d design.Design, rules policy.Rules, hand float64) float64 {
	f := rules.Timing()
	steps := f.Mark + f.Stabilise + f.HoopWoven + f.Load + f.Unhoop + f.CleanUp
	sewing := f.StitchOut(s.Machine.Pacing(), d.Pacing(), hand).Total
	return steps*hand + sewing*rules.Learned.Of(pace.StepSew, 0, s.Machine.ID, d.ID)
}

// WhereIs tells when a student is somewhere, by bookings of several and the classes they are
// in, and how many minutes they have booked themselves, by the beginning of the week.
func WhereIs(studentID int64, bookings []Booking, zone *time.Location) (elsewhere []booking.Span,
	booked map[time.Time]float64) {
	booked = map[time.Time]float64{}
	for _, b := range bookings {
		if b.Student == nil || b.Student.ID != studentID {
			continue
		}
		elsewhere = append(elsewhere, b.Span())
		if b.Class == nil {
			booked[booking.Week(b.StartsAt, zone).From] += b.Span().Length().Minutes()
		}
	}
	return elsewhere, booked
}

// WhenTaken is when a machine is not to be had: its bookings, and when it is out of order, up
// to a moment.
func WhenTaken(machineID int64, bookings []Booking, outages []Outage, until booking.Span) []booking.Span {
	var taken []booking.Span
	for _, b := range bookings {
		if b.Machine.ID == machineID {
			taken = append(taken, b.Span())
		}
	}
	for _, o := range outages {
		if o.Machine.ID != machineID || !o.Within(until.From, until.To) {
			continue
		}
		s := booking.Span{From: o.StartsAt, To: until.To}
		if o.EndsAt != nil {
			s.To = *o.EndsAt
		}
		taken = append(taken, s)
	}
	slices.SortFunc(taken, func(a, b booking.Span) int { return a.From.Compare(b.From) })
	return taken
}
