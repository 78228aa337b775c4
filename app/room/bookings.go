package room

import (
	"errors"
	"fmt"
	"slices"
	"time"

	"chalkstep/app/desk"
	"chalkstep/core/room"
	"chalkstep/core/skill"
	"chalkstep/store"
)

// A BookingsPage is who has which machine from today on, however far ahead.
type BookingsPage struct {
	Bookings []room.Booking
	Machines []room.Machine
	// Outages are when which machine cannot be used.
	Outages []room.Outage
	Pages   desk.Pages
}

// IsOut tells that the machine of a booking cannot be used then.
func (p BookingsPage) IsOut(b room.Booking) bool {
	return slices.ContainsFunc(p.Outages, func(o room.Outage) bool { return o.Machine.ID == b.Machine.ID && o.Within(b.StartsAt, b.EndsAt) })
}

// theEnd is later than any booking.
var theEnd = time.Date(desk.LastYear+1, 1, 1, 0, 0, 0, 0, time.UTC)

// Bookings opens a page of the coming bookings.
func (d Desk) Bookings(page int) (BookingsPage, error) {
	if err := d.Need(desk.See); err != nil {
		return BookingsPage{}, err
	}
	const onPage = 50
	list := BookingsPage{Pages: desk.NewPages("", page, onPage)}
	var err error
	if list.Bookings, list.Pages.Total, err = d.Shop.BookingsBetween(desk.Midnight(d.Now, d.Who.Zone), theEnd, list.Pages.Stretch()); err != nil {
		return list, err
	}
	if list.Machines, err = d.Shop.Machines(); err != nil {
		return list, err
	}
	list.Outages, err = d.Shop.Outages(d.Now)
	return list, err
}

// A BookingInput is what a person asks for.
type BookingInput struct {
	MachineID int64
	// Student is the name of one.
	Student        string
	Date, From, To string
	// Far says that a day far ahead is meant.
	Far bool
	// Accompanied says that an instructor stays beside the student.
	Accompanied bool
}

// Book gives a student a machine for a stretch of time. A student who may
// not book alone needs someone beside them.
func (d Desk) Book(in BookingInput) error {
	if err := d.Need(desk.Book); err != nil {
		return err
	}
	return desk.OnceOnly(d, func(d Desk) error { return d.book(in) })
}

func (d Desk) book(in BookingInput) error {
	problems := desk.Problems{}
	start, end := d.Stretch(problems, in.Date, in.From, in.To, in.Far)
	machine, err := d.Shop.Machine(in.MachineID)
	if errors.Is(err, store.ErrNotFound) {
		problems["machine"] = "Choose a machine."
	} else if err != nil {
		return err
	}
	student, err := d.studentNamed(problems, "student", in.Student)
	if err != nil {
		return err
	}
	if err := problems.OrNil(); err != nil {
		return err
	}
	outages, err := d.Shop.Outages(d.Now)
	if err != nil {
		return err
	}
	for _, o := range outages {
		if o.Machine.ID == machine.ID && o.Within(start, end) {
			return desk.Problems{"machine": machine.Name + " is " + d.Say(o.Say()) + ". Choose another machine or time."}
		}
	}
	if !end.After(d.Now) {
		return desk.Problems{"date": "That time is over: choose a later one."}
	}
	if alone, missing := skill.MayBookAlone(student.AloneOn(machine.Kind())); !alone && !in.Accompanied {
		return desk.Problems{"accompanied": fmt.Sprintf("%s may not work alone on a %s machine yet: %s still to be signed off. Tick that an instructor stays, or choose someone else.", student.Name, machine.Kind(), d.Say(skill.Titles(missing)))}
	}
	if err := d.Shop.LockStudents(student.ID); err != nil {
		return err
	}
	elsewhere, err := d.Shop.Elsewhere([]int64{student.ID}, start, end, 0)
	if err != nil {
		return err
	}
	if len(elsewhere) > 0 {
		return desk.Problems{"student": elsewhere[0].Busy(d.Who.Zone) + " Choose another time or student."}
	}
	if in.Accompanied {
		if err := d.instructorFree(start, end); err != nil {
			return err
		}
	}
	_, err = d.Shop.Book(room.Booking{Machine: room.Named{ID: machine.ID}, Student: &room.Named{ID: student.ID}, StartsAt: start, EndsAt: end, Accompanied: in.Accompanied})
	if errors.Is(err, store.ErrOverlap) {
		return desk.Problems{"from": d.whoHas(machine, start, end) + " Choose another time or machine."}
	}
	return desk.Saved(err, "")
}

// instructorFree makes a problem of a stretch in which every instructor is in
// a class, or beside somebody else.
func (d Desk) instructorFree(start, end time.Time) error {
	busy, err := d.Shop.LockInstructors(start, end, 0)
	if err != nil {
		return err
	}
	if staff, taken := busy.Staff, busy.AtMost(start, end); taken+1 > staff {
		return desk.Problems{"accompanied": fmt.Sprintf("No instructor is free then: %s. Choose another time.", d.Say(busy.Say()))}
	}
	return nil
}

// studentNamed finds a student by the name a person wrote.
func (d Desk) studentNamed(problems desk.Problems, field, typed string) (skill.Student, error) {
	return desk.Named(problems, field, typed, "student", "Choose a student.", d.Shop.StudentNamed)
}

// whoHas says who has a machine in a stretch of time.
func (d Desk) whoHas(m room.Machine, start, end time.Time) string {
	bookings, _, err := d.Shop.BookingsBetween(start, end, store.Stretch{Limit: desk.MostAtOnce})
	if err != nil {
		return m.Name + " is booked then."
	}
	for _, b := range bookings {
		if b.Machine.ID == m.ID {
			return b.Taken(d.Who.Zone)
		}
	}
	return m.Name + " is booked then."
}

// CancelBooking frees a machine again.
func (d Desk) CancelBooking(id int64) error {
	if err := d.Need(desk.Book); err != nil {
		return err
	}
	return desk.OnceOnly(d, func(d Desk) error { return d.Shop.CancelBooking(id) })
}
