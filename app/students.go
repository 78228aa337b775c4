package app

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

// A StudentsPage is a stretch of the students.
type StudentsPage struct {
	Students []StudentLine
	Pages    Pages
}

// Students lists the students whose names hold words.
func (d Desk) Students(words string, page int) (StudentsPage, error) {
	if err := d.may(See); err != nil {
		return StudentsPage{}, err
	}
	const onPage = 50
	list := StudentsPage{Pages: newPages(words, page, onPage)}
	students, total, err := d.shop.Students(list.Pages.Words, list.Pages.stretch())
	list.Pages.Total = total
	for _, s := range students {
		list.Students = append(list.Students, newStudentLine(s))
	}
	return list, err
}

// StudentNames suggests names of students.
func (d Desk) StudentNames(words string) ([]string, error) {
	if err := d.may(See); err != nil {
		return nil, err
	}
	return d.shop.StudentNames(cleaned(words), mostSuggested)
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
	if err := d.may(See); err != nil {
		return StudentPage{}, err
	}
	s, err := d.shop.Student(id)
	if err != nil {
		return StudentPage{}, err
	}
	page := StudentPage{StudentLine: newStudentLine(s)}
	signed := s.Signed(machineKinds...)
	for _, step := range skill.Ladder {
		rung := Rung{Step: step, Waits: skill.Missing(signed, step.After)}
		for _, o := range s.SignOffs {
			if o.Skill == string(step.Key) {
				rung.SignOffs = append(rung.SignOffs, o)
			}
		}
		page.Rungs = append(page.Rungs, rung)
	}
	return page, nil
}

// SaveStudent adds or changes a student.
func (d Desk) SaveStudent(s *store.Student) (int64, error) {
	if err := d.may(ChangeStudents); err != nil {
		return 0, err
	}
	problems := Problems{}
	s.Name = name(problems, "name", s.Name, "Write the student's name.")
	s.Units = chosen(problems, "units", s.Units, UnitChoices, "Choose millimetres, inches or neither.")
	if err := problems.orNil(); err != nil {
		return 0, err
	}
	return d.once(func(d Desk) (int64, error) {
		err := saved(d.shop.SaveStudent(s), s.Name)
		return s.ID, err
	})
}

// SignOff records that a student has shown a step, today, to whoever is
// signed in.
func (d Desk) SignOff(studentID int64, key, machineKind string) error {
	if err := d.may(SignOff); err != nil {
		return err
	}
	if err := checkSignOff(key, machineKind); err != nil {
		return err
	}
	today := d.now.In(d.Who.Zone)
	return d.onceOnly(func(d Desk) error {
		return saved(d.shop.SignOff(store.SignOff{StudentID: studentID, Skill: key, MachineKind: machineKind, SignedOn: today, AssessorID: d.Who.AccountID}), "")
	})
}

func checkSignOff(key, machineKind string) error {
	if _, ok := skill.ByKey(skill.Key(key)); !ok {
		return Problems{"": "That step is not on the ladder."}
	}
	if machineKind != store.SingleNeedle && machineKind != store.MultiNeedle {
		return Problems{"": "Choose the kind of machine it was shown on."}
	}
	return nil
}

// TakeBack removes a sign-off given by mistake.
func (d Desk) TakeBack(studentID int64, key, machineKind string) error {
	if err := d.may(SignOff); err != nil {
		return err
	}
	if err := checkSignOff(key, machineKind); err != nil {
		return err
	}
	return d.onceOnly(func(d Desk) error { return d.shop.TakeBack(studentID, key, machineKind) })
}
