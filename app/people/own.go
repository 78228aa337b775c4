package people

import (
	"slices"
	"time"

	"chalkstep/app/actor"
	"chalkstep/app/classload"
	"chalkstep/core/booking"
	"chalkstep/core/classday"
	"chalkstep/core/fleet"
	"chalkstep/core/kit"
	"chalkstep/core/say"
	"chalkstep/core/skill"
	"chalkstep/store"
)

// A MinePage is what a student sees of themselves, and nobody else of.
type MinePage struct {
	Student skill.Student
	// Class is the one they come to next; nil for none.
	Class *OwnClass
	// Bookings are theirs from now on.
	Bookings []fleet.Booking
	// Machines are those they may have alone; Why says of a kind what is missing.
	Machines []fleet.Machine
	Why      map[skill.Kind]say.Text
	Next     skill.Step
	Top      bool
	// Ladder is that of the house.
	Ladder skill.Ladder
	// Standings are how they stand at the steps of the ladder, on any kind of machine.
	Standings map[skill.Key]skill.Standing
	// Waits are what they wait for, Messages what they were told and have not read.
	Waits    []fleet.Wait
	Messages []fleet.Message
	// Feed is the token of their calendar.
	Feed string
}

// An OwnClass is a class as one student sees it.
type OwnClass struct {
	Name, Project    string
	StartsAt, EndsAt time.Time
	Kit              kit.State
	// Steps are what they do when, and where.
	Steps []OwnStep
	// Done is when they are done with everything, as planned, or as it goes where it Runs.
	Done time.Time
	Runs bool
	// Tells says what is to be known where they have nothing to do next, silent where they have.
	Tells say.Text
}

// An OwnStep is a step of a student in a class.
type OwnStep struct {
	At      time.Time
	Title   say.Text
	Machine string
}

// mostOwn days ahead somebody's bookings are shown.
const mostOwn = 120

// Mine opens the own page of the student who asks.
func (d UseCases) Mine() (MinePage, error) {
	if err := d.Need(actor.SeeOwn); err != nil {
		return MinePage{}, err
	}
	page := MinePage{Why: map[skill.Kind]say.Text{}}
	var err error
	if page.Student, err = d.Workshop.Student(d.Who.StudentID); err != nil {
		return page, err
	}
	marks, err := d.Workshop.MarksOf(page.Student.ID)
	if err != nil {
		return page, err
	}
	page.Standings = skill.NewRecord(page.Student, marks).Standings
	settings, err := d.Settings()
	if err != nil {
		return page, err
	}
	page.Ladder = settings.Ladder
	next, some := page.Ladder.Next(page.Student.Signed())
	page.Next, page.Top = next, !some
	if page.Class, err = d.ownClass(page.Student.ID); err != nil {
		return page, err
	}
	if err := d.ownBookings(&page); err != nil {
		return page, err
	}
	waits, err := d.Workshop.Waits(d.Now)
	if err != nil {
		return page, err
	}
	page.Waits = fleet.WaitsOf(waits, page.Student.ID)
	const mostMessages = 10
	if page.Messages, _, err = d.Workshop.Messages(page.Student.ID, store.Rows{Limit: mostMessages}); err != nil {
		return page, err
	}
	keys, err := d.Workshop.FeedKeys()
	page.Feed = actor.NewFeedLink(d.Who.WorkshopID, booking.Calendar{Kind: booking.OfStudent, ID: page.Student.ID},
		keys).Token(keys.Key)
	return page, err
}

// ownBookings are the machines a student has, and those they may have.
func (d UseCases) ownBookings(page *MinePage) error {
	all, err := d.Workshop.Elsewhere([]int64{page.Student.ID}, d.Now, d.Now.AddDate(0, 0, mostOwn), 0)
	if err != nil {
		return err
	}
	page.Bookings = slices.DeleteFunc(all, func(b fleet.Booking) bool { return b.Class != nil })
	machines, err := d.Workshop.Machines()
	if err != nil {
		return err
	}
	for _, m := range machines {
		c, err := d.Clearance(page.Student, m.Kind())
		if err != nil {
			return err
		}
		if c.May() {
			page.Machines = append(page.Machines, m)
		} else {
			page.Why[m.Kind()] = c.Why()
		}
	}
	return nil
}

// ownClass is the class that a student comes to next, with their own steps alone.
func (d UseCases) ownClass(studentID int64) (*OwnClass, error) {
	id, some, err := d.Workshop.NextClassOf(studentID, d.Now)
	if err != nil || !some {
		return nil, err
	}
	load := classload.Loader{Actor: d.Actor}
	plan, _, err := load.ClassIn(id)
	if err != nil {
		return nil, err
	}
	own := &OwnClass{Name: plan.Class.Name, Project: plan.Class.Project.Name, StartsAt: plan.Class.StartsAt,
		EndsAt: plan.Class.EndsAt}
	work, place, makes := plan.Maker(classday.PersonID(studentID))
	if !makes {
		return own, nil
	}
	own.Kit, own.Project = place.Kit, work.Project.Name
	left := plan.Result.Assignments
	if plan.Begun { // what is left, as it goes
		page, err := load.Runs(id)
		if err != nil {
			return nil, err
		}
		left, own.Runs, own.Tells = page.Forecast.Steps, true, page.Tells(studentID)
		if !own.Tells.Silent() {
			left = nil
		}
	}
	for _, placed := range left {
		if placed.Job != classday.PersonID(studentID) {
			continue
		}
		step, _ := work.Step(placed.Operation)
		one := OwnStep{At: plan.At(placed.Start), Title: step.Title}
		if m, seated := plan.Machine(placed.Machine); seated {
			one.Machine = m.Name
		}
		own.Steps = append(own.Steps, one)
		if end := plan.At(placed.End); end.After(own.Done) {
			own.Done = end
		}
	}
	slices.SortStableFunc(own.Steps, func(a, b OwnStep) int { return a.At.Compare(b.At) })
	return own, nil
}
