package people

import (
	"slices"

	"chalkstep/app/desk"
	"chalkstep/core/skill"
)

// A StudentsPage is a stretch of the students.
type StudentsPage struct {
	Students []desk.StudentLine
	Pages    desk.Pages
}

// Students lists the students whose names hold words.
func (d Desk) Students(words string, page int) (StudentsPage, error) {
	if err := d.Need(desk.See); err != nil {
		return StudentsPage{}, err
	}
	const onPage = 50
	list := StudentsPage{Pages: desk.NewPages(words, page, onPage)}
	students, total, err := d.Shop.Students(list.Pages.Words, list.Pages.Stretch())
	list.Pages.Total = total
	for _, s := range students {
		list.Students = append(list.Students, desk.NewStudentLine(s))
	}
	return list, err
}

// StudentNames suggests names of students.
func (d Desk) StudentNames(words string) ([]string, error) {
	if err := d.Need(desk.See); err != nil {
		return nil, err
	}
	return d.Shop.StudentNames(desk.Cleaned(words), desk.MostSuggested)
}

// A StudentPage is a student's ladder.
type StudentPage struct {
	desk.StudentLine
	Rungs []Rung
}

// A Rung is a step of the ladder as it stands for a student.
type Rung struct {
	skill.Step
	SignOffs []skill.SignOff
	// Waits lists what has to be signed first.
	Waits []skill.Step
}

// Student opens one student's page.
func (d Desk) Student(id int64) (StudentPage, error) {
	if err := d.Need(desk.See); err != nil {
		return StudentPage{}, err
	}
	s, err := d.Shop.Student(id)
	if err != nil {
		return StudentPage{}, err
	}
	page := StudentPage{StudentLine: desk.NewStudentLine(s)}
	signed := s.Signed()
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

// A studentSaid is what the form of a student says.
type studentSaid struct {
	Name       string `says:"Name"`
	FirstTimer bool   `says:"First-timer"`
	Units      string `says:"Their card in"`
}

func said(s skill.Student) studentSaid { return studentSaid{s.Name, s.FirstTimer, s.Units} }

// SaveStudent adds or changes a student.
func (d Desk) SaveStudent(s skill.Student) (int64, error) {
	if err := d.Need(desk.ChangeStudents); err != nil {
		return 0, err
	}
	problems := desk.Problems{}
	s.Name = desk.Name(problems, "name", s.Name, "Write the student's name.")
	s.Units = desk.Chosen(problems, "units", s.Units, desk.UnitChoices, "Choose millimetres, inches or neither.")
	if err := problems.OrNil(); err != nil {
		return 0, err
	}
	return desk.Once(d, func(d Desk) (int64, error) {
		id, err := d.Shop.SaveStudent(s)
		err = desk.Beside(err, said(s), func() (studentSaid, int, error) {
			now, err := d.Shop.Student(s.ID)
			return said(now), now.Version, err
		})
		return id, desk.Saved(err, s.Name)
	})
}

// SignOff records that a student has shown a step, today, to whoever is
// signed in.
func (d Desk) SignOff(studentID int64, key skill.Key, on skill.Kind) error {
	if err := d.Need(desk.SignOff); err != nil {
		return err
	}
	if err := checkSignOff(key, on); err != nil {
		return err
	}
	shown := skill.SignOff{Skill: key, On: on, Date: d.Now.In(d.Who.Zone)}
	return desk.OnceOnly(d, func(d Desk) error {
		return desk.Saved(d.Shop.SignOff(studentID, shown, d.Who.AccountID), "")
	})
}

func checkSignOff(key skill.Key, on skill.Kind) error {
	if _, ok := skill.ByKey(key); !ok {
		return desk.Problems{"": "That step is not on the ladder."}
	}
	if !slices.Contains(skill.Kinds, on) {
		return desk.Problems{"": "Choose the kind of machine it was shown on."}
	}
	return nil
}

// TakeBack removes a sign-off given by mistake.
func (d Desk) TakeBack(studentID int64, key skill.Key, on skill.Kind) error {
	if err := d.Need(desk.SignOff); err != nil {
		return err
	}
	if err := checkSignOff(key, on); err != nil {
		return err
	}
	return desk.OnceOnly(d, func(d Desk) error { return d.Shop.TakeBack(studentID, key, on) })
}
