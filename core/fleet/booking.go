package fleet

import (
	"fmt"
	"time"

	"chalkstep/core/booking"
)

// A Named is something that is told by its name, and found by its ID.
type Named struct {
	ID   int64
	Name string
}

// A Booking gives a machine to a student or a class for a stretch of time.
type Booking struct {
	ID      int64
	Machine Named
	// Student or Class is who it is for; the other is nil, and both where the machine is
	// cared for.
	Student, Class   *Named
	StartsAt, EndsAt time.Time
	// Accompanied says that an instructor stays beside the student.
	Accompanied bool
	// Note is what it is for, Overrode why a rule of the house was set aside for it.
	Note, Overrode string
	// SatAt is when somebody sat down, nil while nobody has.
	SatAt *time.Time
	// MakesUpID is the class of which something is finished in it, 0 for none.
	MakesUpID int64
}

// Span of a booking.
func (b Booking) Span() booking.Span { return booking.Span{From: b.StartsAt, To: b.EndsAt} }

// GivesWay tells that it is of a student for themselves and has not begun: a class may move
// it.
func (b Booking) GivesWay(now time.Time) bool {
	return b.Student != nil && b.Class == nil && b.StartsAt.After(now)
}

// Awaited tells that somebody is expected to sit down about now, and has not.
func (b Booking) Awaited(now time.Time) bool { return b.SatAt == nil && b.now(now) }

// Sits tells that somebody has sat down, and has the machine yet.
func (b Booking) Sits(now time.Time) bool { return b.SatAt != nil && b.now(now) }

// now tells that it is of a student for themselves, and goes on or begins within the hour.
func (b Booking) now(now time.Time) bool {
	return b.Student != nil && b.Class == nil && !b.StartsAt.After(now.Add(time.Hour)) && b.EndsAt.After(now)
}

// For names who it is for.
func (b Booking) For() string {
	switch {
	case b.Student != nil:
		return b.Student.Name
	case b.Class != nil:
		return "the class " + b.Class.Name
	}
	return "its care"
}

// Busy says where the student is when, by the clock of a zone.
func (b Booking) Busy(zone *time.Location) string {
	from, to := b.StartsAt.In(zone).Format("15:04"), b.EndsAt.In(zone).Format("15:04")
	if b.Class != nil {
		return fmt.Sprintf("%s is in the class %s %s–%s.", b.Student.Name, b.Class.Name, from, to)
	}
	return fmt.Sprintf("%s has %s %s–%s.", b.Student.Name, b.Machine.Name, from, to)
}

// Taken says who has the machine when, by the clock of a zone.
func (b Booking) Taken(zone *time.Location) string {
	return fmt.Sprintf("%s is booked %s–%s for %s.", b.Machine.Name, b.StartsAt.In(zone).Format("15:04"),
		b.EndsAt.In(zone).Format("15:04"), b.For())
}
