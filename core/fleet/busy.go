package fleet

import (
	"time"

	"chalkstep/core/say"
)

// Busy is how many of the workshop's instructors something takes, when.
type Busy struct {
	Name             string
	StartsAt, EndsAt time.Time
	Instructors      int
}

// Instructors are how many there are, and what takes them.
type Instructors struct {
	Staff int
	Busy  []Busy
}

// AtMost is how many are taken at once in a stretch of time. What takes one
// begins somewhere, so it is enough to look at the beginnings.
func (i Instructors) AtMost(from, to time.Time) int {
	most := 0
	for _, at := range append([]Busy{{StartsAt: from}}, i.Busy...) {
		if at.StartsAt.Before(from) || !at.StartsAt.Before(to) {
			continue
		}
		taken := 0
		for _, b := range i.Busy {
			if !b.StartsAt.After(at.StartsAt) && b.EndsAt.After(at.StartsAt) {
				taken += b.Instructors
			}
		}
		most = max(most, taken)
	}
	return most
}

// Free tells whether one of them is free all through a stretch of time.
func (i Instructors) Free(from, to time.Time) bool { return i.AtMost(from, to) < i.Staff }

// Say lists what takes them.
func (i Instructors) Say() say.Text {
	var all say.List
	for _, b := range i.Busy {
		all = append(all, say.T("%s has %s from %s to %s", b.Name, say.N{N: b.Instructors, Noun: "instructor"},
			say.Clock(b.StartsAt), say.Clock(b.EndsAt)))
	}
	return say.T("of %s, %s", say.N{N: i.Staff, Noun: "instructor"}, all)
}
