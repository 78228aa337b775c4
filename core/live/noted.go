package live

import (
	"slices"

	"chalkstep/core/say"
)

// Noted is something to remember of a student or of the class, for staff alone.
const Noted Kind = "noted"

var _ = declare(Noted, declaration{
	has:     Fields{MaybeStudent: true, Text: true},
	refused: say.T("Choose somebody of the class, or nobody for a note on the class."),
	said:    words("a note"),
	offered: Choice{At: 6, Text: say.T("a note"), Key: "t", Asks: "text"},
	ofClass: func(s *State, e Event) bool { return s.note(Note{Text: e.Text, By: e.By, At: e.At}) },
	ofStudent: func(s *State, at *Standing, e Event) bool {
		return s.note(Note{StudentID: e.StudentID, Name: at.Name, Text: e.Text, By: e.By, At: e.At})
	},
})

// LongestNote is how many letters a note about somebody or a class has.
const LongestNote = 500

func (s *State) note(n Note) bool {
	if n.Text == "" {
		return false
	}
	s.Notes = append(slices.Clip(s.Notes), n)
	return true
}
