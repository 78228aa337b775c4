package room

import (
	"errors"
	"fmt"

	"chalkstep/app/desk"
	"chalkstep/core/fleet"
	"chalkstep/store"
)

// BookOwn gives a student who books for themselves a machine, by the rules of the house and
// where they may be alone.
func (d Desk) BookOwn(in BookingInput) error {
	if err := d.Need(desk.BookOwn); err != nil {
		return err
	}
	return desk.OnceOnly(d, func(d Desk) error {
		problems := desk.Problems{}
		start, end := d.Stretch(problems, in.Date, in.From, in.To, false)
		machine, err := d.Shop.Machine(in.MachineID)
		if errors.Is(err, store.ErrNotFound) {
			problems["machine"] = "Choose a machine."
		} else if err != nil {
			return err
		}
		if err := problems.OrNil(); err != nil {
			return err
		}
		if err := d.Shop.LockStudents(d.Who.StudentID); err != nil {
			return err
		}
		student, err := d.Shop.Student(d.Who.StudentID)
		if err != nil {
			return err
		}
		c, err := d.Clearance(student, machine.Kind())
		if err != nil {
			return err
		}
		if !c.May() {
			return desk.Problems{"machine": fmt.Sprintf("You may not have %s alone yet: %s. Ask somebody of the staff to be with you.", machine.Name, d.Say(c.Why()))}
		}
		outages, err := d.Shop.Outages(d.Now)
		if err != nil {
			return err
		}
		b := fleet.Booking{Machine: fleet.Named{ID: machine.ID, Name: machine.Name}, Student: &fleet.Named{ID: student.ID, Name: student.Name}, StartsAt: start, EndsAt: end}
		return d.bookOrWait(b, machine, &student, outages, in.Wait)
	})
}

// CancelOwn frees a machine that a student booked, as long as it has not begun.
func (d Desk) CancelOwn(id int64) error {
	if err := d.Need(desk.BookOwn); err != nil {
		return err
	}
	return desk.OnceOnly(d, func(d Desk) error {
		if err := d.Shop.CancelOwn(id, d.Who.StudentID, d.Now); err != nil {
			return err
		}
		return d.fill()
	})
}
