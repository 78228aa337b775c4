package store

import "time"

// A Role is what somebody is in the workshop; what each role may do is
// declared by the application.
type Role string

// The roles.
const (
	Owner      Role = "owner"
	Instructor Role = "instructor"
	Assistant  Role = "assistant"
	// StationPhone is the phone beside a machine, which nobody signs in at.
	StationPhone Role = "station"
	// StudentPage is somebody at their own pages.
	StudentPage Role = "student"
	// CalendarReader is a program that reads a calendar by its link, which nobody signs in at.
	CalendarReader Role = "reader"
	// Keeper is the program itself, which frees and fills what nobody presses for.
	Keeper Role = "keeper"
)

// Roles of people, in the order of what they may.
var Roles = []Role{Owner, Instructor, Assistant}

// A Person is someone who signs in.
type Person struct {
	ID    int64
	Email string
	Name  string
	Role  Role
	// Units and Clock are what they chose, empty for the workshop's.
	Units, Clock string
}

// A Session is a browser at which somebody is signed in.
type Session struct {
	ID              int64
	BeganAt, SeenAt time.Time
	// Agent is the browser's own name.
	Agent string
}

// WrongPINs are tries at the PIN of a student's own page that were wrong, since the last right
// one.
type WrongPINs struct {
	StudentID int64
	Name      string
	Tries     int
	// LastAt is when the last came; before WaitUntil no other is looked at.
	LastAt, WaitUntil time.Time
}
