package store

import "time"

// A ChangedThing is what is changed, by the name of its table.
type ChangedThing string

// An Kind is what was done to it.
type ChangeKind string

// The actions.
const (
	ThingAdded   ChangeKind = "added"
	ThingChanged ChangeKind = "changed"
	ThingRemoved ChangeKind = "removed"
)

// A Change is something that somebody changed, as the database wrote it down.
type Change struct {
	At time.Time
	// By is who of the staff did it, ByStudent which student; neither where the program did.
	By, ByStudent string
	What          ChangedThing
	Kind          ChangeKind
	ID            int64
	// Name of the thing, and of whom, of which machine and of which class it is; empty
	// where it has none.
	Name, Student, Machine, Class string
	// Columns are what they were and what they are, nil for nothing.
	Columns map[string][2]*string
}
