package app

import (
	"errors"
	"fmt"
	"strings"
	"time"

	"chalkstep/core/skill"
	"chalkstep/store"
)

// A BookingsPage is who has which machine in the coming days.
type BookingsPage struct {
	Bookings []store.Booking
	Machines []store.Machine
	Pages    Pages
}

const bookingDays = 28

// Bookings opens a page of the coming bookings.
func (d Desk) Bookings(page int) (BookingsPage, error) {
	if err := d.may(See); err != nil {
		return BookingsPage{}, err
	}
	const onPage = 50
	list := BookingsPage{Pages: newPages("", page, onPage)}
	var err error
	from := midnight(d.now, d.Who.Zone)
	if list.Bookings, list.Pages.Total, err = d.shop.BookingsBetween(from, from.AddDate(0, 0, bookingDays), list.Pages.stretch()); err != nil {
		return list, err
	}
	list.Machines, err = d.shop.Machines()
	return list, err
}

func midnight(t time.Time, zone *time.Location) time.Time {
	y, m, day := t.In(zone).Date()
	return time.Date(y, m, day, 0, 0, 0, 0, zone)
}

// A BookingInput is what a person asks for.
type BookingInput struct {
	MachineID int64
	// Student is the name of one.
	Student        string
	Date, From, To string
	// Accompanied says that an instructor stays beside the student.
	Accompanied bool
}

// Book gives a student a machine for a stretch of time. A student who may
// not book alone needs someone beside them.
func (d Desk) Book(in BookingInput) error {
	if err := d.may(Book); err != nil {
		return err
	}
	return d.onceOnly(func(d Desk) error { return d.book(in) })
}

func (d Desk) book(in BookingInput) error {
	problems := Problems{}
	start, end := d.stretch(problems, in.Date, in.From, in.To)
	machine, err := d.shop.Machine(in.MachineID)
	if errors.Is(err, store.ErrNotFound) {
		problems["machine"] = "Choose a machine."
	} else if err != nil {
		return err
	}
	student, err := d.studentNamed(problems, "student", in.Student)
	if err != nil {
		return err
	}
	if err := problems.orNil(); err != nil {
		return err
	}
	if end.Before(d.now) {
		return Problems{"date": "That time is over: choose a later one."}
	}
	if alone, missing := skill.MayBookAlone(student.Signed(machine.Kind())); !alone && !in.Accompanied {
		return Problems{"accompanied": fmt.Sprintf("%s may not work alone on a %s machine yet: %s still to be signed off. Tick that an instructor stays, or choose someone else.", student.Name, machine.Kind(), d.Say(skill.Titles(missing)))}
	}
	err = d.shop.Book(&store.Booking{MachineID: machine.ID, StudentID: &student.ID, StartsAt: start, EndsAt: end, Accompanied: in.Accompanied})
	if errors.Is(err, store.ErrOverlap) {
		return Problems{"from": d.whoHas(machine, start, end) + " Choose another time or machine."}
	}
	return saved(err, "")
}

// studentNamed finds a student by the name a person wrote.
func (d Desk) studentNamed(problems Problems, field, typed string) (store.Student, error) {
	wanted := text(problems, field, typed, LongestName)
	if wanted == "" {
		if problems[field] == "" {
			problems[field] = "Choose a student."
		}
		return store.Student{}, nil
	}
	student, err := d.shop.StudentNamed(wanted)
	if errors.Is(err, store.ErrNotFound) {
		problems[field] = noneCalled("student", wanted)
		return student, nil
	}
	return student, err
}

// whoHas says who has a machine in a stretch of time.
func (d Desk) whoHas(m store.Machine, start, end time.Time) string {
	bookings, _, err := d.shop.BookingsBetween(start, end, store.Stretch{Limit: mostAtOnce})
	if err != nil {
		return m.Name + " is booked then."
	}
	for _, b := range bookings {
		if b.MachineID == m.ID {
			return fmt.Sprintf("%s is booked %s–%s for %s.", m.Name, b.StartsAt.In(d.Who.Zone).Format("15:04"), b.EndsAt.In(d.Who.Zone).Format("15:04"), BookedFor(b))
		}
	}
	return m.Name + " is booked then."
}

// mostAtOnce bookings are looked through to say who has a machine.
const mostAtOnce = 500

// BookedFor names who a booking is for.
func BookedFor(b store.Booking) string {
	if b.Student != nil {
		return b.Student.Name
	}
	return "the class " + b.Class.Name
}

// CancelBooking frees a machine again.
func (d Desk) CancelBooking(id int64) error {
	if err := d.may(Book); err != nil {
		return err
	}
	return d.onceOnly(func(d Desk) error { return d.shop.CancelBooking(id) })
}

// Years outside of these are slips of a key.
const firstYear, lastYear = 2000, 2199

// stretch reads a date and two clock times in the workshop's time zone.
func (d Desk) stretch(problems Problems, date, from, to string) (start, end time.Time) {
	day, err := time.ParseInLocation("2006-01-02", strings.TrimSpace(date), d.Who.Zone)
	if err != nil {
		problems["date"] = "Choose a date."
	} else if day.Year() < firstYear || day.Year() > lastYear {
		problems["date"] = "Choose a day of these years."
	}
	clock := func(field, typed string) time.Time {
		t, err := time.ParseInLocation("15:04", strings.TrimSpace(typed), d.Who.Zone)
		if err != nil {
			problems[field] = "Write a clock time such as 10:00."
		}
		return time.Date(day.Year(), day.Month(), day.Day(), t.Hour(), t.Minute(), 0, 0, d.Who.Zone)
	}
	start, end = clock("from", from), clock("to", to)
	if len(problems) == 0 && !end.After(start) {
		problems["to"] = "The end has to be after the start."
	}
	if len(problems) == 0 && end.Sub(start) > 12*time.Hour {
		problems["to"] = "At most 12 hours at a time."
	}
	return start, end
}
