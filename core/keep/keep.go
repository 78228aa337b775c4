// Package keep is about what is taken off a workshop's lists: what something
// of the past refers to is kept for it, and can be put back.
package keep

import (
	"slices"
	"time"
)

// A Kind of thing that can be taken off its list.
type Kind string

// The kinds.
const (
	Machine Kind = "machine"
	Hoop    Kind = "hoop"
	Item    Kind = "item"
	Student Kind = "student"
	Project Kind = "project"
)

// Kinds lists them, as a page does.
var Kinds = []Kind{Machine, Hoop, Item, Student, Project}

// Known tells a kind from a slip.
func (k Kind) Known() bool { return slices.Contains(Kinds, k) }

// A Removed thing is off its list since a time.
type Removed struct {
	Kind Kind
	ID   int64
	Name string
	At   time.Time
}

// A Use is something to come that still needs a thing: a class or a booking by
// its name, and when; without a time, what the thing itself holds.
type Use struct {
	Name     string
	StartsAt *time.Time
}
