package store

import (
	"slices"
	"time"
)

// A Listed of thing that can be taken off its list.
type Listed string

// The kinds.
const (
	ListedMachine Listed = "machine"
	ListedHoop    Listed = "hoop"
	ListedItem    Listed = "item"
	ListedStudent Listed = "student"
	ListedProject Listed = "project"
)

// AllListed lists them, as a page does.
var AllListed = []Listed{ListedMachine, ListedHoop, ListedItem, ListedStudent, ListedProject}

// Known tells a kind from a slip.
func (k Listed) Known() bool { return slices.Contains(AllListed, k) }

// A Removed thing is off its list since a time.
type Removed struct {
	Kind Listed
	ID   int64
	Name string
	At   time.Time
}

// A StillNeeded is something to come that still needs a thing: a class or a booking by
// its name, and when; without a time, what the thing itself holds.
type StillNeeded struct {
	Name     string
	StartsAt *time.Time
}
