package people

import (
	"slices"
	"strings"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/fleet"
	"chalkstep/core/pace"
	"chalkstep/core/skill"
)

// A StudentsPage is a stretch of the students.
type StudentsPage struct {
	Students []actor.StudentLine
	Pages    form.Pages
	// Rungs is how many steps the ladder has.
	Rungs int
}

// Students lists the students whose names hold words.
func (d UseCases) Students(words string, page int) (StudentsPage, error) {
	if err := d.Need(actor.See); err != nil {
		return StudentsPage{}, err
	}
	const onPage = 50
	list := StudentsPage{Pages: form.NewPages(words, page, onPage)}
	students, total, err := d.Workshop.Students(list.Pages.Words, list.Pages.Rows())
	list.Pages.Total = total
	if err != nil {
		return list, err
	}
	settings, err := d.Settings()
	if err != nil {
		return list, err
	}
	list.Rungs = len(settings.Ladder.Steps())
	for _, s := range students {
		line, err := d.StudentLine(s)
		if err != nil {
			return list, err
		}
		list.Students = append(list.Students, line)
	}
	return list, err
}

// StudentNames suggests names of students.
func (d UseCases) StudentNames(words string) ([]string, error) {
	if err := d.Need(actor.See); err != nil {
		return nil, err
	}
	return d.Workshop.StudentNames(form.Cleaned(words), form.MostSuggested)
}

// A StudentPage is a student's ladder.
type StudentPage struct {
	actor.StudentLine
	Ladder skill.Ladder
	Rungs  []Rung
	// Made is what they made in classes, the newest first.
	Made []skill.Made
	// Pace is how long they take of what was planned, as was learned.
	Pace pace.Factor
	// Bookings are theirs from now on, Waits what they wait for.
	Bookings []fleet.Booking
	Waits    []fleet.Wait
}

// A Rung is a step of the ladder as it stands for a student.
type Rung struct {
	skill.Step
	// Kinds are the kinds of machine on which there is a mark of it.
	Kinds []RungOn
	// Waits lists what has to be reached first.
	Waits []skill.Step
	// Reached tells that it is, on any kind.
	Reached bool
}

// A RungOn is a step on a kind of machine, with its marks, the last first.
type RungOn struct {
	On skill.Kind
	skill.Standing
	Marks []skill.Mark
}

// Student opens one student's page.
func (d UseCases) Student(id int64) (StudentPage, error) {
	if err := d.Need(actor.See); err != nil {
		return StudentPage{}, err
	}
	s, err := d.Workshop.Student(id)
	if err != nil {
		return StudentPage{}, err
	}
	marks, err := d.Workshop.MarksOf(id)
	if err != nil {
		return StudentPage{}, err
	}
	line, err := d.StudentLine(s)
	if err != nil {
		return StudentPage{}, err
	}
	page := StudentPage{StudentLine: line}
	signed := s.Signed()
	settings, err := d.Settings()
	if err != nil {
		return page, err
	}
	page.Ladder = settings.Ladder
	for _, step := range page.Ladder.Steps() {
		rung := Rung{Step: step, Waits: page.Ladder.Missing(signed, step.After), Reached: signed[step.Key]}
		for _, on := range skill.Kinds {
			some := slices.DeleteFunc(slices.Clone(marks), func(m skill.Mark) bool { return m.Skill != step.Key || m.On != on })
			if len(some) == 0 {
				continue
			}
			standing := skill.StandingOf(some)
			slices.Reverse(some)
			rung.Kinds = append(rung.Kinds, RungOn{on, standing, some})
		}
		page.Rungs = append(page.Rungs, rung)
	}
	page.Pace = settings.Learned.Students[id]
	return page, d.record(&page)
}

// record is what somebody made, and what machines they have or wait for.
func (d UseCases) record(page *StudentPage) error {
	const mostMade, aheadDays = 20, 120
	var err error
	if page.Made, err = d.Workshop.Made(page.ID, d.Now, mostMade); err != nil {
		return err
	}
	all, err := d.Workshop.Elsewhere([]int64{page.ID}, d.Now, d.Now.AddDate(0, 0, aheadDays), 0)
	if err != nil {
		return err
	}
	page.Bookings = all
	waits, err := d.Workshop.Waits(d.Now)
	page.Waits = fleet.WaitsOf(waits, page.ID)
	return err
}

// A studentSaid is what the form of a student says.
type studentSaid struct {
	Name       string `says:"Name"`
	FirstTimer bool   `says:"First-timer"`
	Units      string `says:"Their card in"`
	Size       string `says:"Size"`
	Notes      string `says:"Notes"`
	Photos     bool   `says:"May be photographed"`
}

func said(s skill.Student) studentSaid {
	return studentSaid{s.Name, s.FirstTimer, s.Units, s.Size, s.Notes, s.Photos}
}

// SaveStudent adds or changes a student.
func (d UseCases) SaveStudent(s skill.Student) (int64, error) {
	if err := d.Need(actor.ChangeStudents); err != nil {
		return 0, err
	}
	problems := form.Problems{}
	s.Name = form.Name(problems, "name", s.Name, "Write the student's name.")
	s.Units = form.Chosen(problems, "units", s.Units, form.UnitChoices, "Choose millimetres, inches or neither.")
	s.Size, s.Notes = form.Text(problems, "size", s.Size, 20), form.Text(problems, "notes", s.Notes, 500)
	if err := problems.OrNil(); err != nil {
		return 0, err
	}
	return actor.Once(d, func(d UseCases) (int64, error) {
		id, err := d.Workshop.SaveStudent(s)
		err = form.Compare(err, said(s), func() (studentSaid, int, error) {
			now, err := d.Workshop.Student(s.ID)
			return said(now), now.Version, err
		})
		return id, form.Saved(err, s.Name)
	})
}

// Suspend keeps a student from having a machine alone, for a reason; none lifts it again.
func (d UseCases) Suspend(id int64, reason string, lift bool) error {
	if err := d.Need(actor.ChangeStudents); err != nil {
		return err
	}
	reason = strings.TrimSpace(form.Cleaned(reason))
	switch {
	case lift:
		reason = ""
	case reason == "":
		return form.Problems{"suspended": "Write why."}
	case len([]rune(reason)) > 200:
		return form.Problems{"suspended": "At most 200 letters."}
	}
	return actor.OnceOnly(d, func(d UseCases) error { return d.Workshop.Suspend(id, reason) })
}
