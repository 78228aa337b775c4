package booking

// A CalendarKind says of what a calendar is.
type CalendarKind string

// The kinds of calendars.
const (
	OfWorkshop CalendarKind = "workshop"
	OfMachine  CalendarKind = "machine"
	OfStudent  CalendarKind = "student"
)

// A Calendar is that of the workshop, of a machine or of a student. ID is 0 for the
// workshop.
type Calendar struct {
	Kind CalendarKind
	ID   int64
}

// An Entry of a calendar: a class, or a booking of a machine by somebody, or for its care
// where Name is empty.
type Entry struct {
	ID       int64
	Class    bool
	Name     string
	Machines string
	// Version counts its changes.
	Version   int
	Cancelled bool
	Span
}
