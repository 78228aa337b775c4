package fleet

import (
	"slices"
	"time"

	"chalkstep/core/booking"
	"chalkstep/core/say"
)

// A Wait is somebody who waits for a machine that another has.
type Wait struct {
	ID               int64
	Student, Machine Named
	StartsAt, EndsAt time.Time
	Accompanied      bool
}

// WaitsOf are those of one student among some.
func WaitsOf(waits []Wait, studentID int64) []Wait {
	return slices.DeleteFunc(slices.Clone(waits), func(w Wait) bool { return w.Student.ID != studentID })
}

// A MessageKind is what somebody is told of.
type MessageKind string

// What students are told of.
const (
	// Filled: what they waited for is theirs.
	Filled MessageKind = "filled"
	// GivenUp: nobody had sat down.
	GivenUp MessageKind = "given-up"
	// Moved for a class; Dropped for one, where no other time was free.
	Moved   MessageKind = "moved"
	Dropped MessageKind = "dropped"
	// Cancelled by somebody of the staff.
	Cancelled MessageKind = "cancelled"
	// ToFinish: a time to finish what was begun in a class, or missed, is theirs.
	ToFinish MessageKind = "make-up"
)

// A Message tells a student what became of a booking.
type Message struct {
	ID      int64
	Student Named
	Kind    MessageKind
	Machine Named
	booking.Span
	// ToMachine and To are where it was moved.
	ToMachine Named
	To        booking.Span
	ToldAt    time.Time
	// ReadAt is nil until they have read it.
	ReadAt *time.Time
}

// Message tells the student of a booking what became of it.
func (b Booking) Message(kind MessageKind, now time.Time) Message {
	return Message{Student: *b.Student, Kind: kind, Machine: b.Machine, Span: b.Span(), ToldAt: now}
}

// Say is the message in words.
func (m Message) Say() say.Text {
	had := say.T("%s, %s, %s to %s", say.Name(m.Machine.Name), say.Day(m.From), say.Clock(m.From), say.Clock(m.Span.To))
	switch m.Kind {
	case Filled:
		return say.T("What you waited for is yours: %s.", had)
	case GivenUp:
		return say.T("Nobody had sat down, so it is free for others: %s.", had)
	case Moved:
		return say.T("A class needs the machine. Instead of %s you have %s, %s, %s to %s.", had, say.Name(m.ToMachine.Name),
			say.Day(m.To.From), say.Clock(m.To.From), say.Clock(m.To.To))
	case Dropped:
		return say.T("A class needs the machine, and no other time was free: %s. You are on the waiting list.", had)
	case ToFinish:
		return say.T("A time to finish is yours: %s. Your kit waits on the shelf under your name.", had)
	case Cancelled:
		return say.T("Your booking was called off by the workshop: %s.", had)
	}
	return say.Text{}
}
