package app

import (
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"chalkstep/core/skill"
	"chalkstep/store"
)

// A ClassLine is a class as the list shows it.
type ClassLine struct {
	store.Class
	Over bool
}

// Classes lists the classes: those to come first, then those that are over.
func (d Desk) Classes() ([]ClassLine, error) {
	classes, err := d.shop.Classes()
	if err != nil {
		return nil, err
	}
	var coming, over []ClassLine
	for _, c := range classes {
		if line := (ClassLine{Class: c, Over: c.EndsAt.Before(d.now)}); line.Over {
			over = append(over, line)
		} else {
			coming = append(coming, line)
		}
	}
	slices.Reverse(over)
	return append(coming, over...), nil
}

// A ClassForm is what there is to choose from when a class is made.
type ClassForm struct {
	Projects []store.Project
	Students []StudentLine
	Machines []store.Machine
}

// ClassForm opens the choices.
func (d Desk) ClassForm() (ClassForm, error) {
	var form ClassForm
	var err error
	if form.Projects, err = d.shop.Projects(); err != nil {
		return form, err
	}
	if form.Students, err = d.Students(); err != nil {
		return form, err
	}
	form.Machines, err = d.shop.Machines()
	return form, err
}

// A ClassInput is what a person says of a class.
type ClassInput struct {
	ID                   int64
	Version              int
	Name                 string
	ProjectID            int64
	Date, From, To       string
	Instructors, Irons   int
	StudentIDs, Machines []int64
	// Newest plans with the project as it is now instead of as it was.
	Newest bool
	// Outdated tells that the project has changed since the class was planned.
	Outdated bool
}

// ClassInput opens a class for editing.
func (d Desk) ClassInput(id int64) (ClassInput, error) {
	c, err := d.shop.Class(id)
	if err != nil {
		return ClassInput{}, err
	}
	start, end := c.StartsAt.In(d.Who.Zone), c.EndsAt.In(d.Who.Zone)
	in := ClassInput{ID: c.ID, Version: c.Version, Name: c.Name, ProjectID: c.ProjectID, Date: start.Format("2006-01-02"), From: start.Format("15:04"), To: end.Format("15:04"), Instructors: c.Instructors, Irons: c.Irons}
	for _, s := range c.Students {
		in.StudentIDs = append(in.StudentIDs, s.StudentID)
	}
	for _, b := range c.Bookings {
		in.Machines = append(in.Machines, b.MachineID)
	}
	newest, err := d.shop.NewestVersion(c.ProjectID)
	in.Outdated = newest != c.ProjectVersion
	return in, err
}

// SaveClass adds or changes a class and books its machines.
func (d Desk) SaveClass(in ClassInput) (int64, error) {
	if err := d.mayChange(); err != nil {
		return 0, err
	}
	problems := Problems{}
	start, end := d.stretch(problems, in.Date, in.From, in.To)
	if _, err := d.shop.Project(in.ProjectID); err != nil {
		problems["project"] = "Choose what the class makes."
	}
	if len(in.StudentIDs) == 0 {
		problems["students"] = "Choose at least one student."
	}
	if len(in.Machines) == 0 {
		problems["machines"] = "Choose at least one machine."
	}
	between(problems, "instructors", float64(in.Instructors), 1, 10, "A class has 1 to 10 instructors.")
	between(problems, "irons", float64(in.Irons), 1, 20, "A class has 1 to 20 irons.")
	if in.Name = strings.TrimSpace(in.Name); in.Name == "" {
		problems["name"] = "Give the class a name."
	}
	if err := problems.orNil(); err != nil {
		return 0, err
	}
	c := store.Class{ID: in.ID, Version: in.Version, Name: in.Name, ProjectID: in.ProjectID, StartsAt: start, EndsAt: end, Instructors: in.Instructors, Irons: in.Irons}
	var err error
	if c.ProjectVersion, err = d.versionFor(in); err != nil {
		return 0, err
	}
	err = d.shop.SaveClass(&c, in.StudentIDs, in.Machines)
	if errors.Is(err, store.ErrOverlap) {
		return 0, Problems{"machines": d.takenMachines(in, start, end)}
	}
	return c.ID, saved(err, in.Name)
}

// versionFor is the version of its project that a class is planned with: the
// one it had, unless the project is another or the newest is asked for.
func (d Desk) versionFor(in ClassInput) (int, error) {
	if in.ID != 0 && !in.Newest {
		was, err := d.shop.Class(in.ID)
		if err != nil {
			return 0, err
		}
		if was.ProjectID == in.ProjectID {
			return was.ProjectVersion, nil
		}
	}
	return d.shop.NewestVersion(in.ProjectID)
}

// takenMachines says which of a class's machines are booked by others.
func (d Desk) takenMachines(in ClassInput, start, end time.Time) string {
	bookings, err := d.shop.BookingsBetween(start, end)
	if err != nil {
		return "A machine is booked at that time."
	}
	var taken []string
	for _, b := range bookings {
		if slices.Contains(in.Machines, b.MachineID) && (b.ClassID == nil || *b.ClassID != in.ID) {
			taken = append(taken, fmt.Sprintf("%s is booked %s–%s for %s.", b.Machine.Name, b.StartsAt.In(d.Who.Zone).Format("15:04"), b.EndsAt.In(d.Who.Zone).Format("15:04"), BookedFor(b)))
		}
	}
	return strings.Join(taken, " ") + " Leave it out, or choose another time."
}

// NotReady is a student with the steps they have not been signed off on.
type NotReady struct {
	Student store.Student
	Missing []skill.Step
}

// notReady lists who has not yet shown what the project needs.
func notReady(c store.Class) []NotReady {
	var list []NotReady
	needs := needsOf(c.Project)
	for _, s := range c.Students {
		if missing := skill.Missing(s.Student.Signed(machineKinds...), needs); len(missing) > 0 {
			list = append(list, NotReady{s.Student, missing})
		}
	}
	return list
}
