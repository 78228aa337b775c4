package planning

import (
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/classday"
	"chalkstep/core/fleet"
	"chalkstep/core/schedule/odds"
	"chalkstep/store"
)

// How carefully the levers of a page are tried, so that all of them are there in
// two seconds.
var trying = classday.Trying{Iterations: 4000, Days: odds.UsualDays, Seed: 1}

// A LeversPage is what would help a class.
type LeversPage struct {
	Plan classday.Plan
	Each []classday.Lever
	// Together is what those that were picked give at once, nil for fewer than two.
	Together *classday.Lever
	Picked   []classday.LeverKey
}

// Levers tells what would help a class, and what some of it would give together.
func (d UseCases) Levers(classID int64, together []classday.LeverKey) (LeversPage, error) {
	if err := d.Need(actor.See); err != nil {
		return LeversPage{}, err
	}
	plan, machines, err := d.load().ClassIn(classID)
	if err != nil {
		return LeversPage{}, err
	}
	page := LeversPage{Plan: plan}
	if !plan.Planned() || plan.Class.Over(d.Now) {
		return page, nil
	}
	const most = 24 // together, more than a class is offered
	page.Picked = together[:min(len(together), most)]
	key := actor.LeversKey{WorkshopID: d.Who.WorkshopID, Revision: d.Who.Revision, ClassID: classID,
		Picked: fmt.Sprintf("%q", page.Picked)}
	found, err := actor.Remembered(d.Actor, d.Memo().Levers, "levers", key, func() (made actor.Levers, err error) {
		beside, err := d.beside(plan.Class, machines)
		if err == nil {
			made.Each, made.Together = plan.Levers(beside, page.Picked, trying)
		}
		return made, err
	})
	page.Each, page.Together = found.Each, found.Together
	return page, err
}

// mostSimpler projects are looked through for something simpler to make.
const mostSimpler = 40

// beside is what a class could have beside what it has.
func (d UseCases) beside(c classday.Class, machines []fleet.Machine) (classday.Beside, error) {
	free, err := d.freeMachines(c, machines)
	if err != nil {
		return classday.Beside{}, err
	}
	projects, err := d.Workshop.NewestProjects(mostSimpler)
	return classday.Beside{Machines: free, Projects: projects}, err
}

// freeMachines are those of the room that nobody has while a class runs.
func (d UseCases) freeMachines(c classday.Class, machines []fleet.Machine) ([]fleet.Machine, error) {
	bookings, _, err := d.Workshop.BookingsBetween(c.StartsAt, c.EndsAt, store.Rows{Limit: form.MostAtOnce})
	if err != nil {
		return nil, err
	}
	return slices.DeleteFunc(slices.Clone(machines), func(m fleet.Machine) bool {
		_, out := m.Out(c.StartsAt, c.EndsAt)
		return out || slices.ContainsFunc(c.Machines, func(have fleet.Machine) bool { return have.ID == m.ID }) ||
			slices.ContainsFunc(bookings, func(b fleet.Booking) bool { return b.Machine.ID == m.ID })
	}), nil
}

// Adopt changes a class by levers, all of them or none, as if somebody had changed its
// form and its roster.
func (d UseCases) Adopt(classID int64, version int, keys []classday.LeverKey) error {
	if err := d.Need(actor.ChangeClasses); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error { return d.adopt(classID, version, keys) })
}

func (d UseCases) adopt(classID int64, version int, keys []classday.LeverKey) error {
	plan, machines, err := d.load().ClassIn(classID)
	if err != nil {
		return err
	}
	switch {
	case plan.Class.Version != version:
		return form.Problems{"levers": "The class has been changed meanwhile: look at its plan again."}
	case len(keys) == 0:
		return form.Problems{"levers": "Tick what to adopt first."}
	}
	if !plan.Class.Over(d.Now) {
		if err := d.stands(classID); err != nil {
			return err
		}
	}
	beside, err := d.beside(plan.Class, machines)
	if err != nil {
		return err
	}
	then, refused := plan.With(beside, keys)
	if len(refused) > 0 {
		return form.Problems{"levers": "That is done by hand, not by a press: see what it takes. Nothing was adopted."}
	}
	if d.beyond(then) {
		return form.Problems{"levers": "That is more than a class may have. Nothing was adopted."}
	}
	was, err := d.load().LockedClass(classID)
	if err != nil {
		return err
	}
	w := wish{Class: then, was: was, makes: then.Project.At()}
	for _, p := range then.Places {
		w.studentIDs = append(w.studentIDs, p.Student.ID)
	}
	for _, m := range then.Machines {
		w.machines = append(w.machines, m.ID)
	}
	if _, err := d.keepClass(w); err != nil {
		return inOne(form.Saved(err, then.Name))
	}
	for i, place := range then.Places {
		was := plan.Class.Places[i]
		if sameProject(place.Makes, was.Makes) && place.Attendance == was.Attendance &&
			place.LateMinutes == was.LateMinutes && place.HoopedAhead == was.HoopedAhead {
			continue
		}
		if err := form.Saved(d.Workshop.SavePlace(classID, place), ""); err != nil {
			return err
		}
	}
	return nil
}

// beyond tells that a class has more than its form takes, or ends on another day than it begins.
func (d UseCases) beyond(c classday.Class) bool {
	oneDay := form.Midnight(c.StartsAt, d.Who.Zone).Equal(form.Midnight(c.EndsAt, d.Who.Zone))
	return !oneDay || c.EndsAt.Sub(c.StartsAt) > form.LongestTimes ||
		c.Instructors > mostHands || c.Assistants > mostHands || c.Irons > mostIrons || c.Benches > mostPicked ||
		len(c.Places) > mostPicked
}

// inOne makes one problem of all that keeps levers from being adopted: their page has none of
// the fields of the class's form.
func inOne(err error) error {
	var problems form.Problems
	var offer form.Offer
	switch {
	case errors.As(err, &offer): // somebody has to see first who is moved
		return form.Problems{"levers": offer.Words +
			" Change the class by its form, which asks for that. Nothing was adopted."}
	case !errors.As(err, &problems) || problems[""] != "":
		return err
	}
	var texts []string
	for _, field := range slices.Sorted(maps.Keys(problems)) {
		texts = append(texts, problems[field])
	}
	return form.Problems{"levers": strings.Join(append(texts, "Nothing was adopted."), " ")}
}
