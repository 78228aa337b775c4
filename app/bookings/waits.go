package bookings

import (
	"context"
	"errors"
	"time"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/fleet"
	"chalkstep/store"
)

// wait puts somebody on the waiting list for what could not be booked.
func (d UseCases) wait(b fleet.Booking) error {
	waits, err := d.Workshop.Waits(d.Now)
	if err != nil {
		return err
	}
	if len(waits) >= store.MostWaits {
		return form.Problems{"": "The waiting list is full: call off what is not waited for any more."}
	}
	err = d.Workshop.Wait(fleet.Wait{Student: *b.Student, Machine: b.Machine, StartsAt: b.StartsAt, EndsAt: b.EndsAt,
		Accompanied: b.Accompanied}, d.Who.AccountID, d.Now)
	if errors.Is(err, store.ErrTaken) {
		return form.Problems{"from": b.Student.Name + " waits for that already."}
	}
	return err
}

// fill gives what is free to whoever waits for it, in the order in which they asked, and
// tells them.
func (d UseCases) fill() error {
	waits, err := d.Workshop.Waits(d.Now)
	if err != nil || len(waits) == 0 {
		return err
	}
	outages, err := d.Workshop.Outages(d.Now)
	if err != nil {
		return err
	}
	for _, x := range waits {
		err := d.Workshop.InTx(func(tx store.Workshop) error { // what cannot be had changes nothing
			at := d
			at.Workshop = tx
			return at.fillOne(x, outages)
		})
		var problems form.Problems
		if err != nil && !errors.As(err, &problems) {
			return err
		}
	}
	return nil
}

func (d UseCases) fillOne(x fleet.Wait, outages []fleet.Outage) error {
	if err := d.Workshop.LockStudents(x.Student.ID); err != nil {
		return err
	}
	student, err := d.Workshop.Student(x.Student.ID)
	if err != nil {
		return err
	}
	machine, err := d.Workshop.Machine(x.Machine.ID)
	if err != nil {
		return err
	}
	b := fleet.Booking{Machine: x.Machine, Student: &x.Student, StartsAt: x.StartsAt, EndsAt: x.EndsAt,
		Accompanied: x.Accompanied}
	if err := d.bookOne(b, machine, &student, outages); err != nil {
		return err
	}
	if err := d.Workshop.EndWait(x.ID, 0, d.Now); err != nil {
		return err
	}
	return d.tell(fleet.Filled, b)
}

// tell leaves a message for the student of a booking.
func (d UseCases) tell(kind fleet.MessageKind, b fleet.Booking) error {
	return d.Workshop.Tell(b.Message(kind, d.Now))
}

// EndWait takes somebody off the waiting list.
func (d UseCases) EndWait(id int64) error {
	if err := d.Need(actor.Book); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error { return d.Workshop.EndWait(id, 0, d.Now) })
}

// EndOwnWait takes the student who asks off the waiting list.
func (d UseCases) EndOwnWait(id int64) error {
	if err := d.Need(actor.BookOwn); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error { return d.Workshop.EndWait(id, d.Who.StudentID, d.Now) })
}

// SatDown notes that somebody sat down at what they had booked.
func (d UseCases) SatDown(id int64) error {
	if err := d.Need(actor.RunClasses); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error { return d.Workshop.SatDown(id, 0, d.Now) })
}

// SatDownOwn notes that the student who asks sat down.
func (d UseCases) SatDownOwn(id int64) error {
	if err := d.Need(actor.BookOwn); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error { return d.Workshop.SatDown(id, d.Who.StudentID, d.Now) })
}

// ReadOwn notes that the student who asks has read what they were told up to a message.
func (d UseCases) ReadOwn(upTo int64) error {
	if err := d.Need(actor.SeeOwn); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error { return d.Workshop.ReadMessages(d.Who.StudentID, upTo, d.Now) })
}

// A MessagesPage is a stretch of what students were told, the newest first.
type MessagesPage struct {
	Messages []fleet.Message
	Pages    form.Pages
}

// Messages opens what students were told of their bookings.
func (d UseCases) Messages(page int) (MessagesPage, error) {
	if err := d.Need(actor.See); err != nil {
		return MessagesPage{}, err
	}
	const onPage = 30
	list := MessagesPage{Pages: form.NewPages("", page, onPage)}
	var err error
	list.Messages, list.Pages.Total, err = d.Workshop.Messages(0, list.Pages.Rows())
	return list, err
}

// keep frees what nobody came to, by the grace of the house, and fills what is free.
func (d UseCases) keep() error {
	if err := d.Need(actor.Book); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error {
		settings, err := d.Settings()
		if err != nil {
			return err
		}
		if grace := settings.Booking.GraceMinutes; grace > 0 {
			freed, err := d.Workshop.GiveUp(d.Now.Add(-time.Duration(grace)*time.Minute), d.Now)
			if err != nil {
				return err
			}
			for _, b := range freed {
				if err := d.tell(fleet.GivenUp, b); err != nil {
					return err
				}
			}
		}
		return d.fill()
	})
}

// Keep has every workshop free what nobody came to, and give it to whoever waits. Any copy
// of the application may, as often as it likes.
func Keep(ctx context.Context, a *actor.App) error {
	desks, err := a.Watched(ctx)
	if err != nil {
		return err
	}
	var all []error
	for _, d := range desks {
		all = append(all, actor.As[UseCases](d).keep())
	}
	return errors.Join(all...)
}
