package people

import (
	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/project"
	"chalkstep/core/skill"
	"chalkstep/store"
)

// A NextPage says what each of a group should do next, and which project suits most of them.
type NextPage struct {
	Students []actor.StudentLine
	Pages    form.Pages
	// Offers are the projects, the best for the group first; More is how many are not
	// looked at.
	Offers []project.Offer
	More   int
	// Class names whose students they are, where it is those of a class.
	Class   string
	ClassID int64
	Stuck   []skill.Stuck
}

// mostOffered projects are looked at: the first by name.
const mostOffered = 60

// Next opens what students whose names hold words should do next, or those of a class where
// it is named.
func (d UseCases) Next(words string, page int, classID int64) (NextPage, error) {
	if err := d.Need(actor.See); err != nil {
		return NextPage{}, err
	}
	const onPage = 24
	next := NextPage{Pages: form.NewPages(words, page, onPage), ClassID: classID}
	var students []skill.Student
	var err error
	students, next.Class, err = d.group(&next.Pages, classID)
	if err != nil {
		return next, err
	}
	ids := make([]int64, len(students))
	for i, s := range students {
		line, err := d.StudentLine(s)
		if err != nil {
			return next, err
		}
		next.Students, ids[i] = append(next.Students, line), s.ID
	}
	settings, err := d.Settings()
	if err != nil {
		return next, err
	}
	projects, total, err := d.Workshop.Projects("", store.Rows{Limit: mostOffered})
	if err != nil {
		return next, err
	}
	next.Offers, next.More = project.Offers(projects, students, settings.Rules), total-len(projects)
	marks, err := d.Workshop.MarksOf(ids...)
	if err != nil {
		return next, err
	}
	var group skill.Group
	for _, s := range students {
		group = append(group, skill.NewRecord(s, marks))
	}
	next.Stuck = group.Stuck(settings.Ladder)
	return next, nil
}

// group finds the students that are looked at: those of a class where it is named, else
// those of the list.
func (d UseCases) group(pages *form.Pages, classID int64) (students []skill.Student, class string, err error) {
	if classID == 0 {
		students, pages.Total, err = d.Workshop.Students(pages.Words, pages.Rows())
		return students, "", err
	}
	ids, class, err := d.Workshop.StudentsIn(classID)
	if err != nil {
		return nil, "", err
	}
	students, err = d.Workshop.StudentsByID(ids...)
	pages.Page, pages.Total, pages.OnPage = 1, len(students), max(1, len(students))
	return students, class, err
}
