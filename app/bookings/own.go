package bookings

import (
	"errors"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/fleet"
	"chalkstep/store"
)

// BookOwn gives a student who books for themselves a machine, by the rules of the house and
// where they may be alone.
func (d UseCases) BookOwn(in BookingInput) error {
	if err := d.Need(actor.BookOwn); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error {
		problems := form.Problems{}
		start, end := d.Clock().Times(problems, in.Date, in.From, in.To, false)
		machine, err := d.Workshop.Machine(in.MachineID)
		if errors.Is(err, store.ErrNotFound) {
			problems["machine"] = "Choose a machine."
		} else if err != nil {
			return err
		}
		if err := problems.OrNil(); err != nil {
			return err
		}
		if err := d.Workshop.LockStudents(d.Who.StudentID); err != nil {
			return err
		}
		student, err := d.Workshop.Student(d.Who.StudentID)
		if err != nil {
			return err
		}
		outages, err := d.Workshop.Outages(d.Now)
		if err != nil {
			return err
		}
		b := fleet.Booking{Machine: fleet.Named{ID: machine.ID, Name: machine.Name},
			Student: &fleet.Named{ID: student.ID, Name: student.Name}, StartsAt: start, EndsAt: end}
		return d.bookOrWait(b, machine, &student, outages, in.Wait)
	})
}

// CancelOwn frees a machine that a student booked, as long as it has not begun.
func (d UseCases) CancelOwn(id int64) error {
	if err := d.Need(actor.BookOwn); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error {
		if err := d.Workshop.CancelOwn(id, d.Who.StudentID, d.Now); err != nil {
			return err
		}
		return d.fill()
	})
}
