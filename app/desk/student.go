package desk

import "chalkstep/core/skill"

// A StudentLine is a student as the list shows them.
type StudentLine struct {
	skill.Student
	SignedCount int
	// Next is the next rung; Top tells there is none left.
	Next skill.Step
	Top  bool
	// Alone lists the kinds of machine the student may book alone.
	Alone []string
}

// NewStudentLine is a student as a list shows them.
func NewStudentLine(s skill.Student) StudentLine {
	line := StudentLine{Student: s}
	signed := s.Signed()
	line.SignedCount = len(signed)
	next, ok := skill.Next(signed)
	line.Next, line.Top = next, !ok
	for _, kind := range skill.Kinds {
		if may, _ := skill.MayBookAlone(s.AloneOn(kind)); may {
			line.Alone = append(line.Alone, string(kind))
		}
	}
	return line
}
