package desk

import (
	"chalkstep/core/skill"
	"chalkstep/store"
)

// A StudentLine is a student as the list shows them.
type StudentLine struct {
	store.Student
	SignedCount int
	// Next is the next rung; Top tells there is none left.
	Next skill.Step
	Top  bool
	// Alone lists the kinds of machine the student may book alone.
	Alone []string
}

// MachineKinds are the kinds of machine a student is signed off for.
var MachineKinds = []string{store.SingleNeedle, store.MultiNeedle}

// NewStudentLine is a student as a list shows them.
func NewStudentLine(s store.Student) StudentLine {
	line := StudentLine{Student: s}
	signed := s.Signed(MachineKinds...)
	line.SignedCount = len(signed)
	next, ok := skill.Next(signed)
	line.Next, line.Top = next, !ok
	for _, kind := range MachineKinds {
		if may, _ := skill.MayBookAlone(s.Signed(kind)); may {
			line.Alone = append(line.Alone, kind)
		}
	}
	return line
}
