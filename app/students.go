package app

import (
	"strings"

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

var machineKinds = []string{store.SingleNeedle, store.MultiNeedle}

func newStudentLine(s store.Student) StudentLine {
	line := StudentLine{Student: s}
	signed := s.Signed(machineKinds...)
	line.SignedCount = len(signed)
	next, ok := skill.Next(signed)
	line.Next, line.Top = next, !ok
	for _, kind := range machineKinds {
		if may, _ := skill.MayBookAlone(s.Signed(kind)); may {
			line.Alone = append(line.Alone, kind)
		}
	}
	return line
}

// Students lists the students.
func (d Desk) Students() ([]StudentLine, error) {
	students, err := d.shop.Students()
	if err != nil {
		return nil, err
	}
	var lines []StudentLine
	for _, s := range students {
		lines = append(lines, newStudentLine(s))
	}
	return lines, nil
}

// A StudentPage is a student's ladder.
type StudentPage struct {
	StudentLine
	Rungs []Rung
}

// A Rung is a step of the ladder as it stands for a student.
type Rung struct {
	skill.Step
	SignOffs []store.SignOff
	// Waits lists what has to be signed first.
	Waits []skill.Step
}

// Student opens one student's page.
func (d Desk) Student(id int64) (StudentPage, error) {
	s, err := d.shop.Student(id)
	if err != nil {
		return StudentPage{}, err
	}
	page := StudentPage{StudentLine: newStudentLine(s)}
	signed := s.Signed(machineKinds...)
	for _, step := range skill.Ladder {
		rung := Rung{Step: step, Waits: skill.Missing(signed, step.After)}
		for _, o := range s.SignOffs {
			if o.Skill == step.Key {
				rung.SignOffs = append(rung.SignOffs, o)
			}
		}
		page.Rungs = append(page.Rungs, rung)
	}
	return page, nil
}

// SaveStudent adds or changes a student.
func (d Desk) SaveStudent(s *store.Student) error {
	if err := d.mayChange(); err != nil {
		return err
	}
	if s.Name = strings.TrimSpace(s.Name); s.Name == "" {
		return Problems{"name": "Write the student's name."}
	}
	return saved(d.shop.SaveStudent(s), s.Name)
}

// SignOff records that a student has shown a step, today, to whoever is
// signed in.
func (d Desk) SignOff(studentID int64, key, machineKind string) error {
	if _, ok := skill.ByKey(key); !ok {
		return Problems{"": "That step is not on the ladder."}
	}
	if machineKind != store.SingleNeedle && machineKind != store.MultiNeedle {
		return Problems{"": "Choose the kind of machine it was shown on."}
	}
	today := d.now.In(d.Who.Zone)
	return saved(d.shop.SignOff(store.SignOff{StudentID: studentID, Skill: key, MachineKind: machineKind, SignedOn: today, AssessorID: d.Who.AccountID}), "")
}

// TakeBack removes a sign-off given by mistake.
func (d Desk) TakeBack(studentID int64, key, machineKind string) error {
	return d.shop.TakeBack(studentID, key, machineKind)
}
