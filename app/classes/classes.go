package classes

import (
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"chalkstep/app/desk"
	"chalkstep/core/day"
	"chalkstep/core/project"
	"chalkstep/core/room"
	"chalkstep/store"
)

// A ClassesPage is a stretch of the classes.
type ClassesPage struct {
	Classes []ClassLine
	// Coming and Over count all there are of each.
	Coming, Over int
	Pages        desk.Pages
}

// A ClassLine is a class as the list shows it.
type ClassLine struct {
	day.Line
	Over bool
}

// Classes lists the classes: those to come first, then those that are over.
func (d Desk) Classes(page int) (ClassesPage, error) {
	if err := d.Need(desk.See); err != nil {
		return ClassesPage{}, err
	}
	const onPage = 50
	return d.classes(desk.NewPages("", page, onPage))
}

func (d Desk) classes(pages desk.Pages) (ClassesPage, error) {
	list := ClassesPage{Pages: pages}
	lines, coming, over, err := d.Shop.Classes(d.Now, pages.Stretch())
	if err != nil {
		return list, err
	}
	list.Coming, list.Over, list.Pages.Total = coming, over, coming+over
	for _, c := range lines {
		list.Classes = append(list.Classes, ClassLine{c, c.EndsAt.Before(d.Now)})
	}
	return list, nil
}

// A ClassForm is what there is to choose from when a class is made.
type ClassForm struct {
	Machines []room.Machine
	Roster   RosterPicks
}

// ClassForm opens the choices: the students who are picked already, and those
// whose names hold words.
func (d Desk) ClassForm(picked []int64, words string) (ClassForm, error) {
	if err := d.Need(desk.ChangeClasses); err != nil {
		return ClassForm{}, err
	}
	var form ClassForm
	var err error
	if form.Machines, err = d.Shop.Machines(); err != nil {
		return form, err
	}
	form.Roster, err = d.RosterPicks(picked, words)
	return form, err
}

// RosterPicks are students to pick from: those picked already, and more.
type RosterPicks struct {
	Words string
	// Picked come first, then Found, none of whom is picked.
	Picked, Found []desk.StudentLine
	// More are found beyond those shown.
	More int
}

// mostPicked students are in a class.
const mostPicked = 60

// RosterPicks finds students to pick from.
func (d Desk) RosterPicks(picked []int64, words string) (RosterPicks, error) {
	if err := d.Need(desk.ChangeClasses); err != nil {
		return RosterPicks{}, err
	}
	const shown = 40
	pages := desk.NewPages(words, 1, shown)
	picks := RosterPicks{Words: pages.Words}
	chosen, err := d.Shop.StudentsByID(picked[:min(len(picked), mostPicked)]...)
	if err != nil {
		return picks, err
	}
	found, total, err := d.Shop.Students(picks.Words, pages.Stretch())
	if err != nil {
		return picks, err
	}
	for _, s := range chosen {
		picks.Picked = append(picks.Picked, desk.NewStudentLine(s))
	}
	for _, s := range found {
		if !slices.Contains(picked, s.ID) {
			picks.Found = append(picks.Found, desk.NewStudentLine(s))
		}
	}
	picks.More = total - len(found)
	return picks, nil
}

// A ClassInput is what a person says of a class; numbers are typed.
type ClassInput struct {
	ID      int64
	Version int
	Name    string
	// Project is the name of what it makes.
	Project              string
	Date, From, To       string
	Instructors, Irons   string
	StudentIDs, Machines []int64
	// Newest plans with the project as it is now instead of as it was.
	Newest bool
	// Outdated tells that the project has changed since the class was planned.
	Outdated bool
}

// ClassInput opens a class for editing.
func (d Desk) ClassInput(id int64) (ClassInput, error) {
	if err := d.Need(desk.ChangeClasses); err != nil {
		return ClassInput{}, err
	}
	c, err := d.Shop.Class(id)
	if err != nil {
		return ClassInput{}, err
	}
	start, end := c.StartsAt.In(d.Who.Zone), c.EndsAt.In(d.Who.Zone)
	in := ClassInput{
		ID: c.ID, Version: c.Version, Name: c.Name, Project: c.Project.Name, Date: start.Format("2006-01-02"), From: start.Format("15:04"), To: end.Format("15:04"),
		Instructors: fmt.Sprint(c.Instructors), Irons: fmt.Sprint(c.Irons),
	}
	for _, p := range c.Places {
		in.StudentIDs = append(in.StudentIDs, p.Student.ID)
	}
	for _, m := range c.Machines {
		in.Machines = append(in.Machines, m.ID)
	}
	newest, err := d.Shop.NewestVersion(c.Project.ID)
	in.Outdated = newest != c.Project.Version
	return in, err
}

// SaveClass adds or changes a class and books its machines.
func (d Desk) SaveClass(in ClassInput) (int64, error) {
	if err := d.Need(desk.ChangeClasses); err != nil {
		return 0, err
	}
	return desk.Once(d, func(d Desk) (int64, error) { return d.saveClass(in) })
}

func (d Desk) saveClass(in ClassInput) (int64, error) {
	problems := desk.Problems{}
	start, end := d.Stretch(problems, in.Date, in.From, in.To)
	var was day.Class
	if in.ID != 0 {
		var err error
		if was, err = d.Shop.Class(in.ID); err != nil {
			return 0, err
		}
	}
	makes, err := d.projectFor(problems, in, was)
	if err != nil {
		return 0, err
	}
	if in.StudentIDs = unique(in.StudentIDs); len(in.StudentIDs) == 0 {
		problems["students"] = "Choose at least one student."
	} else if len(in.StudentIDs) > mostPicked {
		problems["students"] = fmt.Sprintf("A class has at most %d students.", mostPicked)
	}
	if in.Machines = unique(in.Machines); len(in.Machines) == 0 {
		problems["machines"] = "Choose at least one machine."
	}
	c := day.Class{ID: in.ID, Version: in.Version, StartsAt: start, EndsAt: end}
	c.Instructors = desk.Whole(problems, "instructors", in.Instructors, 1, 10, "A class has 1 to 10 instructors.")
	c.Irons = desk.Whole(problems, "irons", in.Irons, 1, 20, "A class has 1 to 20 irons.")
	c.Name = desk.Name(problems, "name", in.Name, "Give the class a name.")
	if err := problems.OrNil(); err != nil {
		return 0, err
	}
	if err := d.nobodyElsewhere(problems, in, start, end); err != nil {
		return 0, err
	}
	if len(problems) > 0 { // what else is in the way is said at once
		if taken := d.takenMachines(in, start, end); len(taken) > 0 {
			problems["machines"] = strings.Join(taken, " ") + " Leave it out, or choose another time."
		}
		return 0, problems
	}
	id, err := d.Shop.SaveClass(c, makes, in.StudentIDs, in.Machines)
	if errors.Is(err, store.ErrOverlap) {
		taken := append(d.takenMachines(in, start, end), "Leave it out, or choose another time.")
		if len(taken) == 1 {
			taken = slices.Insert(taken, 0, "A machine is booked at that time.")
		}
		return 0, desk.Problems{"machines": strings.Join(taken, " ")}
	}
	return id, desk.Saved(err, in.Name)
}

// nobodyElsewhere makes a problem of students who are in another class then, or
// at a machine.
func (d Desk) nobodyElsewhere(problems desk.Problems, in ClassInput, start, end time.Time) error {
	if err := d.Shop.LockStudents(in.StudentIDs...); err != nil {
		return err
	}
	elsewhere, err := d.Shop.Elsewhere(in.StudentIDs, start, end, in.ID)
	if err != nil || len(elsewhere) == 0 {
		return err
	}
	const most = 4
	var busy []string
	for _, b := range elsewhere[:min(most, len(elsewhere))] {
		busy = append(busy, b.Busy(d.Who.Zone))
	}
	if more := len(elsewhere) - len(busy); more > 0 {
		busy = append(busy, fmt.Sprintf("And %d more.", more))
	}
	problems["students"] = strings.Join(busy, " ") + " Leave them out, or choose another time."
	return nil
}

// unique is a list of numbers in order, each once.
func unique(ids []int64) []int64 {
	ids = slices.Clone(ids)
	slices.Sort(ids)
	return slices.Compact(ids)
}

// projectFor is the project of a class, by the name a person wrote, at the
// version the class is planned with: the one it had, unless the project is
// another or the newest is asked for.
func (d Desk) projectFor(problems desk.Problems, in ClassInput, was day.Class) (project.At, error) {
	return desk.Named(problems, "project", in.Project, "project", "Choose what the class makes.", func(name string) (project.At, error) {
		same := was.ID != 0 && name == was.Project.Name
		if same && !in.Newest {
			return was.Project.At(), nil
		}
		if same {
			version, err := d.Shop.NewestVersion(was.Project.ID)
			return project.At{ID: was.Project.ID, Version: version}, err
		}
		at, err := d.Shop.ProjectNamed(name)
		if err == nil && was.ID != 0 && at.ID == was.Project.ID && !in.Newest {
			at.Version = was.Project.Version // it has been renamed since
		}
		return at, err
	})
}

// takenMachines says which of a class's machines are booked by others.
func (d Desk) takenMachines(in ClassInput, start, end time.Time) []string {
	bookings, _, err := d.Shop.BookingsBetween(start, end, store.Stretch{Limit: desk.MostAtOnce})
	if err != nil {
		return nil
	}
	var taken []string
	for _, b := range bookings {
		if slices.Contains(in.Machines, b.Machine.ID) && (b.Class == nil || b.Class.ID != in.ID) {
			taken = append(taken, b.Taken(d.Who.Zone))
		}
	}
	return taken
}
