package skill

import "time"

// A Made thing is what a student made, or began, in a class.
type Made struct {
	ClassID        int64
	Class, Project string
	At             time.Time
	// Finished tells that it is, Missed that they did not come.
	Finished, Missed bool
	Note             string
	HasPhoto         bool
	// Inspected tells that it was looked at, ToPutRight how much of it was not good.
	Inspected  bool
	ToPutRight int
	// Version is that of what staff say of it.
	Version int
}
