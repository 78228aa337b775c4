package planning

import (
	"cmp"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/classday"
	"chalkstep/core/fleet"
	"chalkstep/core/project"
	"chalkstep/core/say"
	"chalkstep/core/skill"
	"chalkstep/store"
)

// A ClassesPage is a stretch of the classes.
type ClassesPage struct {
	Classes []ClassLine
	// Coming and Over count all there are of each.
	Coming, Over int
	Pages        form.Pages
}

// A ClassLine is a class as the list shows it.
type ClassLine struct {
	classday.Line
	Over bool
}

// Classes lists the classes: those to come first, then those that are over.
func (d UseCases) Classes(page int) (ClassesPage, error) {
	if err := d.Need(actor.See); err != nil {
		return ClassesPage{}, err
	}
	const onPage = 50
	return d.classes(form.NewPages("", page, onPage))
}

func (d UseCases) classes(pages form.Pages) (ClassesPage, error) {
	list := ClassesPage{Pages: pages}
	lines, coming, over, err := d.Workshop.Classes(d.Now, pages.Rows())
	if err != nil {
		return list, err
	}
	list.Coming, list.Over, list.Pages.Total = coming, over, coming+over
	for _, c := range lines {
		list.Classes = append(list.Classes, ClassLine{c, c.OverAt.Before(d.Now)})
	}
	return list, nil
}

// A ClassForm is what there is to choose from when a class is made.
type ClassForm struct {
	Machines []fleet.Machine
	Roster   RosterPicks
}

// ClassForm opens the choices: the students who are picked already, and those
// whose names hold words.
func (d UseCases) ClassForm(picked []int64, words string) (ClassForm, error) {
	if err := d.Need(actor.ChangeClasses); err != nil {
		return ClassForm{}, err
	}
	var form ClassForm
	var err error
	if form.Machines, err = d.Workshop.Machines(); err != nil {
		return form, err
	}
	form.Roster, err = d.RosterPicks(picked, words)
	return form, err
}

// RosterPicks are students to pick from: those picked already, and more.
type RosterPicks struct {
	Words string
	// Picked come first, then Found, none of whom is picked.
	Picked, Found []actor.StudentLine
	// More are found beyond those shown.
	More int
}

// mostPicked students are in a class.
const mostPicked = 60

// RosterPicks finds students to pick from.
func (d UseCases) RosterPicks(picked []int64, words string) (RosterPicks, error) {
	if err := d.Need(actor.ChangeClasses); err != nil {
		return RosterPicks{}, err
	}
	const shown = 40
	pages := form.NewPages(words, 1, shown)
	picks := RosterPicks{Words: pages.Words}
	chosen, err := d.Workshop.StudentsByID(picked[:min(len(picked), mostPicked)]...)
	if err != nil {
		return picks, err
	}
	found, total, err := d.Workshop.Students(picks.Words, pages.Rows())
	if err != nil {
		return picks, err
	}
	add := func(to *[]actor.StudentLine, s skill.Student) {
		line, one := d.StudentLine(s)
		*to, err = append(*to, line), errors.Join(err, one)
	}
	for _, s := range chosen {
		add(&picks.Picked, s)
	}
	for _, s := range found {
		if !slices.Contains(picked, s.ID) {
			add(&picks.Found, s)
		}
	}
	picks.More = total - len(found)
	return picks, err
}

// A ClassInput is what a person says of a class; numbers are typed.
type ClassInput struct {
	ID      int64  `form:"-"`
	Version int    `form:"version"`
	Name    string `form:"name"`
	// Project is the name of what it makes.
	Project string `form:"project"`
	Date    string `form:"date"`
	From    string `form:"from"`
	To      string `form:"to"`
	// Far says that a day far ahead is meant.
	Far         bool   `form:"far"`
	Instructors string `form:"instructors"`
	Irons       string `form:"irons"`
	// Assistants and Benches are none, and enough, where they are empty.
	Assistants string `form:"assistants"`
	Benches    string `form:"benches"`
	// AssistantMinutes is how long assistants are there, empty for all of the class.
	AssistantMinutes string `form:"assistant-minutes"`
	// Opening and Closing are minutes of what is done together.
	Opening string `form:"opening"`
	Closing string `form:"closing"`
	// BreakAt is a time of the day, BreakMinutes how long all stop then; empty for no
	// break.
	BreakAt      string  `form:"break-at"`
	BreakMinutes string  `form:"break-minutes"`
	StudentIDs   []int64 `form:"students"`
	Machines     []int64 `form:"machines"`
	// Newest plans with the project as it is now instead of as it was.
	Newest bool `form:"newest"`
	// Outdated tells that the project has changed since the class was Planned.
	Outdated bool `form:"outdated"`
	// Moves are bookings that give way, as they were shown.
	Moves string `form:"moves"`
}

// ClassInput opens a class for editing.
func (d UseCases) ClassInput(id int64) (ClassInput, error) {
	in, _, err := d.classInput(id)
	return in, err
}

func (d UseCases) classInput(id int64) (ClassInput, classday.Class, error) {
	if err := d.Need(actor.ChangeClasses); err != nil {
		return ClassInput{}, classday.Class{}, err
	}
	c, err := d.Workshop.Class(id)
	if err != nil {
		return ClassInput{}, c, err
	}
	in := d.typedClass(c)
	newest, err := d.Workshop.NewestVersion(c.Project.ID)
	in.Outdated = newest != c.Project.Version
	return in, c, err
}

// ClassToChange is [UseCases.ClassInput] of a class that may be changed yet.
func (d UseCases) ClassToChange(id int64) (ClassInput, error) {
	in, c, err := d.classInput(id)
	if err != nil {
		return in, err
	}
	return in, d.load().Changeable(c)
}

// Repeat opens the form of a new class that is like one that was: everything but the
// day, which is that weekday of a week to come, and what only that class had: who was late or
// absent, pins and kits.
func (d UseCases) Repeat(id int64) (ClassInput, error) {
	in, err := d.ClassInput(id)
	if err != nil {
		return in, err
	}
	day, err := time.ParseInLocation("2006-01-02", in.Date, d.Who.Zone)
	if err != nil {
		return in, fmt.Errorf("reading the day of class %d: %w", id, err)
	}
	today := form.Midnight(d.Now, d.Who.Zone)
	const week = 7
	day = day.AddDate(0, 0, week)
	for !day.After(today) {
		day = day.AddDate(0, 0, week)
	}
	in.ID, in.Version, in.Outdated, in.Date = 0, 0, false, day.Format("2006-01-02")
	return in, nil
}

// typedClass is a class as its form has it.
func (d UseCases) typedClass(c classday.Class) ClassInput {
	start, end := c.StartsAt.In(d.Who.Zone), c.EndsAt.In(d.Who.Zone)
	in := ClassInput{
		ID: c.ID, Version: c.Version, Name: c.Name, Project: c.Project.Name, Date: start.Format("2006-01-02"),
		From: start.Format("15:04"), To: end.Format("15:04"),
		Instructors: fmt.Sprint(c.Instructors), Irons: fmt.Sprint(c.Irons), Opening: fmt.Sprint(c.OpeningMinutes),
		Closing:    fmt.Sprint(c.ClosingMinutes),
		Assistants: fmt.Sprint(c.Assistants),
	}
	if c.AssistantMinutes > 0 {
		in.AssistantMinutes = fmt.Sprint(c.AssistantMinutes)
	}
	if c.Benches > 0 {
		in.Benches = fmt.Sprint(c.Benches)
	}
	if c.BreakMinutes > 0 {
		in.BreakAt, in.BreakMinutes = start.Add(time.Duration(c.BreakAt)*time.Minute).Format("15:04"),
			fmt.Sprint(c.BreakMinutes)
	}
	for _, p := range c.Places {
		in.StudentIDs = append(in.StudentIDs, p.Student.ID)
	}
	for _, m := range c.Machines {
		in.Machines = append(in.Machines, m.ID)
	}
	return in
}

// What a class may have at most: instructors or assistants, irons, minutes that assistants
// stay, and minutes at the beginning or at the end that are done together.
const (
	mostHands    = 10
	mostIrons    = 20
	mostStay     = 24 * 60
	mostTogether = 240
)

// SaveClass adds or changes a class and books its machines.
func (d UseCases) SaveClass(in ClassInput) (int64, error) {
	if err := d.Need(actor.ChangeClasses); err != nil {
		return 0, err
	}
	return actor.Once(d, func(d UseCases) (int64, error) { return d.saveClass(in) })
}

// saveClass saves what a form says.
func (d UseCases) saveClass(in ClassInput) (int64, error) {
	w, err := d.readClass(in)
	if err != nil {
		return 0, err
	}
	keep := d.keepClass
	if in.ID != 0 {
		begun, err := d.load().Begun(in.ID)
		if err != nil {
			return 0, err
		}
		if begun {
			keep = d.saveBegun
		}
	}
	id, err := keep(w)
	err = form.Compare(err, d.said(in), func() (classSaid, int, error) {
		now, err := d.ClassInput(in.ID)
		return d.said(now), now.Version, err
	})
	return id, form.Saved(err, in.Name)
}

// A wish is a class as somebody wants it, with whom and at which machines.
type wish struct {
	classday.Class
	was                  classday.Class
	makes                project.At
	studentIDs, machines []int64
	// moves are those that were shown to who agrees to them.
	moves string
}

// readClass reads what a form says.
func (d UseCases) readClass(in ClassInput) (wish, error) {
	problems := form.Problems{}
	w := wish{studentIDs: unique(in.StudentIDs), machines: unique(in.Machines), moves: in.Moves}
	w.ID, w.Version = in.ID, in.Version
	w.StartsAt, w.EndsAt = d.Clock().Times(problems, in.Date, in.From, in.To, in.Far)
	var err error
	if in.ID != 0 {
		if w.was, err = d.load().LockedClass(in.ID); err != nil {
			return w, err
		}
	}
	w.Adopted = w.was.Adopted
	if w.makes, err = d.projectFor(problems, in, w.was); err != nil {
		return w, err
	}
	switch n := len(w.studentIDs); {
	case n == 0:
		problems["students"] = "Choose at least one student."
	case n > mostPicked:
		problems["students"] = fmt.Sprintf("A class has at most %d students.", mostPicked)
	}
	if len(w.machines) == 0 {
		problems["machines"] = "Choose at least one machine."
	}
	d.readHands(problems, &w.Class, in)
	d.readBreak(problems, &w.Class, in)
	w.Name = form.Name(problems, "name", in.Name, "Give the class a name.")
	if in.ID != 0 && len(problems) == 0 && w.Over(d.Now) {
		problems["to"] = "That is over already: choose a time to come."
	}
	return w, problems.OrNil()
}

// readHands reads who helps in a class, what it has, and what is done together.
func (d UseCases) readHands(problems form.Problems, c *classday.Class, in ClassInput) {
	c.Instructors = form.Whole(problems, "instructors", in.Instructors, 1, mostHands, "A class has 1 to 10 instructors.")
	c.Irons = form.Whole(problems, "irons", in.Irons, 1, mostIrons, "A class has 1 to 20 irons.")
	c.Assistants = form.Whole(problems, "assistants", cmp.Or(in.Assistants, "0"), 0, mostHands,
		"Write 0 to 10 assistants, or leave it empty.")
	c.AssistantMinutes = form.Whole(problems, "assistant-minutes", cmp.Or(in.AssistantMinutes, "0"), 0, mostStay,
		"Write for how many minutes they are there, or leave it empty for all of the class.")
	c.Benches = form.Whole(problems, "benches", cmp.Or(in.Benches, "0"), 0, mostPicked,
		"Write how many places to work at there are, 1 to 60, or leave it empty.")
	c.OpeningMinutes = form.Whole(problems, "opening", cmp.Or(in.Opening, "0"), 0, mostTogether,
		"Write minutes from 0 to 240, or leave it empty.")
	c.ClosingMinutes = form.Whole(problems, "closing", cmp.Or(in.Closing, "0"), 0, mostTogether,
		"Write minutes from 0 to 240, or leave it empty.")
	if together := float64(c.OpeningMinutes + c.ClosingMinutes); len(problems) == 0 && together >= c.WindowMinutes() {
		problems["closing"] = "That leaves no time to sew: write less, or end later."
	}
}

// keepClass saves a class with its machines and students, for whom others make room.
func (d UseCases) keepClass(w wish) (int64, error) {
	if err := d.lockAll(w); err != nil {
		return 0, err
	}
	problems := form.Problems{}
	if err := d.nobodyElsewhere(problems, w); err != nil {
		return 0, err
	}
	if err := d.instructorsFree(problems, w.Class); err != nil {
		return 0, err
	}
	if len(problems) > 0 { // what else is in the way is said at once
		if taken := d.takenMachines(w); len(taken) > 0 {
			problems["machines"] = strings.Join(taken, " ") + " Leave it out, or choose another time."
		}
		return 0, problems
	}
	if err := d.makeRoom(w); err != nil {
		return 0, err
	}
	usable, err := d.Usable(w.Class, w.makes, w.was, w.machines)
	if err != nil {
		return 0, err
	}
	id, err := d.Workshop.SaveClass(w.Class, w.makes, w.studentIDs, w.machines, usable)
	if errors.Is(err, store.ErrOverlap) {
		taken := append(d.takenMachines(w), "Leave it out, or choose another time.")
		if len(taken) == 1 {
			taken = slices.Insert(taken, 0, "A machine is booked at that time.")
		}
		return 0, form.Problems{"machines": strings.Join(taken, " ")}
	}
	return id, err
}

// mostBreak minutes all stop.
const mostBreak = 180

// readBreak reads when all stop, and for how long.
func (d UseCases) readBreak(problems form.Problems, c *classday.Class, in ClassInput) {
	if strings.TrimSpace(in.BreakAt) == "" && strings.TrimSpace(cmp.Or(in.BreakMinutes, "0")) == "0" {
		return
	}
	c.BreakMinutes = form.Whole(problems, "break-minutes", in.BreakMinutes, 1, mostBreak,
		"Write how long the break is, in minutes from 1 to 180, or leave both empty.")
	minute, ok := d.minuteOf(*c, in.BreakAt)
	if !ok {
		problems["break-at"] = "Write when the break begins, or leave both empty."
		return
	}
	if problems["date"]+problems["from"]+problems["to"]+problems["break-minutes"] != "" {
		return
	}
	c.BreakAt = minute
	if c.BreakAt < c.OpeningMinutes || float64(c.BreakAt+c.BreakMinutes) > c.WorkMinutes() {
		problems["break-at"] = "A break lies between what is done together first and last."
	}
}

// A classSaid is what the form of a class says, with names for numbers.
type classSaid struct {
	Name           string   `says:"Name"`
	Project        string   `says:"Makes"`
	Date           string   `says:"Day"`
	From           string   `says:"From"`
	To             string   `says:"To"`
	Instructors    string   `says:"Instructors"`
	Assistants     string   `says:"Assistants"`
	AssistantsStay string   `says:"Assistants stay"`
	Irons          string   `says:"Irons"`
	Benches        string   `says:"Benches"`
	Opening        string   `says:"Together at first"`
	Closing        string   `says:"Together at last"`
	BreakAt        string   `says:"Break at"`
	Break          string   `says:"Break of minutes"`
	Machines       []string `says:"Machines"`
	Students       []string `says:"Students"`
}

// said puts names to what a form says; one that cannot be found has none.
func (d UseCases) said(in ClassInput) classSaid {
	said := classSaid{Name: in.Name, Project: in.Project, Date: in.Date, From: in.From, To: in.To,
		Instructors: in.Instructors, Irons: in.Irons, Opening: in.Opening, Closing: in.Closing,
		Assistants: in.Assistants, AssistantsStay: in.AssistantMinutes, Benches: in.Benches, BreakAt: in.BreakAt,
		Break: in.BreakMinutes}
	if students, err := d.Workshop.StudentsByID(in.StudentIDs...); err == nil {
		for _, s := range students {
			said.Students = append(said.Students, s.Name)
		}
	}
	if machines, err := d.Workshop.Machines(); err == nil {
		for _, m := range machines {
			if slices.Contains(in.Machines, m.ID) {
				said.Machines = append(said.Machines, m.Name)
			}
		}
	}
	return said
}

// instructorsFree makes a problem of instructors who are in other classes then,
// or beside somebody. A class alone may have more of them than sign in here.
func (d UseCases) instructorsFree(problems form.Problems, c classday.Class) error {
	free, err := d.Workshop.LockInstructors(c.StartsAt, c.EndsAt, c.ID)
	if err != nil {
		return err
	}
	if taken := free.AtMost(c.StartsAt, c.EndsAt); taken > 0 && taken+c.Instructors > free.Staff {
		problems["instructors"] = d.Say(say.T("There are not so many instructors then: %s. Choose another time, or fewer.",
			free.Say()))
	}
	return nil
}

// Usable are those of a class's machines that can sew something of what it
// makes, as far as that is known: the others could be had by others.
func (d UseCases) Usable(c classday.Class, makes project.At, was classday.Class, machineIDs []int64) ([]int64, error) {
	if err := d.Need(actor.See); err != nil {
		return nil, err
	}
	rules, machines, err := d.Floorplan()
	if err != nil {
		return nil, err
	}
	projects, err := d.Workshop.ProjectsAt(makes)
	if err != nil {
		return nil, err
	}
	c.Project, c.Places = projects[makes], was.Places
	for _, id := range machineIDs {
		c.Machines = append(c.Machines, fleet.Machine{ID: id})
	}
	idle := classday.Open(c.In(machines), rules).Idle()
	return slices.DeleteFunc(slices.Clone(machineIDs), func(id int64) bool {
		return slices.ContainsFunc(idle, func(i classday.Idle) bool { return i.ID == id })
	}), nil
}

// DeleteClass removes a class that the ledger does not name; others are called
// off.
func (d UseCases) DeleteClass(id int64) error {
	if err := d.Need(actor.ChangeClasses); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error {
		begun, err := d.load().Begun(id)
		if err != nil {
			return err
		}
		if begun {
			return form.Problems{"": "The class has begun: what happened in it is kept, so it cannot be deleted."}
		}
		err = d.Workshop.DeleteClass(id)
		if errors.Is(err, store.ErrInUse) {
			return form.Problems{
				"": "The shelf's ledger or what happened in it names this class, so it cannot be deleted. Call it off instead: " +
					"that frees its machines and what it has reserved."}
		}
		return err
	})
}

// nobodyElsewhere makes a problem of students who are in another class then, or
// at a machine.
func (d UseCases) nobodyElsewhere(problems form.Problems, w wish) error {
	elsewhere, err := d.Workshop.Elsewhere(w.studentIDs, w.StartsAt, w.EndsAt, w.ID)
	if err != nil {
		return err
	}
	elsewhere = slices.DeleteFunc(elsewhere, func(b fleet.Booking) bool { return b.GivesWay(d.Now) })
	if len(elsewhere) == 0 {
		return nil
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
func (d UseCases) projectFor(problems form.Problems, in ClassInput, was classday.Class) (project.At, error) {
	return form.Named(problems, "project", in.Project, "project", "Choose what the class makes.",
		func(name string) (project.At, error) {
			same := was.ID != 0 && name == was.Project.Name
			if same && !in.Newest {
				return was.Project.At(), nil
			}
			if same {
				version, err := d.Workshop.NewestVersion(was.Project.ID)
				return project.At{ID: was.Project.ID, Version: version}, err
			}
			at, err := d.Workshop.ProjectNamed(name)
			if err == nil && was.ID != 0 && at.ID == was.Project.ID && !in.Newest {
				at.Version = was.Project.Version // it has been renamed since
			}
			return at, err
		})
}

// takenMachines says which of a class's machines are booked by others who do not give way.
func (d UseCases) takenMachines(w wish) []string {
	bookings, _, err := d.Workshop.BookingsBetween(w.StartsAt, w.EndsAt, store.Rows{Limit: form.MostAtOnce})
	if err != nil {
		return nil
	}
	var taken []string
	for _, b := range bookings {
		if slices.Contains(w.machines, b.Machine.ID) && !b.GivesWay(d.Now) && (b.Class == nil || b.Class.ID != w.ID) {
			taken = append(taken, b.Taken(d.Who.Zone))
		}
	}
	return taken
}
