package live

import (
	"slices"
)

// A Said is what staff say of a student after a class.
type Said struct {
	StudentID int64
	// Reached is how far they came in a class that was not run here, empty for what the
	// log says.
	Reached Reached
	Note    string
	// KitKept tells that the kit of unfinished work waits on the shelf under their name.
	KitKept  bool
	HasPhoto bool
	Version  int
}

// Is tells whether it is one of the ways to come how far.
func (r Reached) Is() bool {
	return slices.Contains([]Reached{Finished, ToFinish, NotStarted, Missing}, r)
}

// With is a report with what staff say: of a class that was not run, that is all there is.
func (r Report) With(said map[int64]Said) Report {
	r.Students = slices.Clone(r.Students)
	for i := range r.Students {
		if s := said[r.Students[i].StudentID]; s.Reached.Is() {
			r.Students[i].Reached = s.Reached
		}
	}
	return r
}
