package crew

import "time"

// A Thing is what is changed, by the name of its table.
type Thing string

// An Action is what was done to it.
type Action string

// The actions.
const (
	Added   Action = "added"
	Changed Action = "changed"
	Removed Action = "removed"
)

// A Change is something that somebody changed, as the database wrote it down.
type Change struct {
	At time.Time
	// By is who of the staff did it, ByStudent which student; neither where the program did.
	By, ByStudent string
	What          Thing
	Action        Action
	ID            int64
	// Name of the thing, and of whom, of which machine and of which class it is; empty
	// where it has none.
	Name, Student, Machine, Class string
	// Columns are what they were and what they are, nil for nothing.
	Columns map[string][2]*string
}
