package room

import (
	"context"
	"errors"
	"time"

	"chalkstep/app/desk"
	"chalkstep/core/fleet"
	"chalkstep/store"
)

// wait puts somebody on the waiting list for what could not be booked.
func (d Desk) wait(b fleet.Booking) error {
	waits, err := d.Shop.Waits(d.Now)
	if err != nil {
		return err
	}
	if len(waits) >= store.MostWaits {
		return desk.Problems{"": "The waiting list is full: call off what is not waited for any more."}
	}
	err = d.Shop.Wait(fleet.Wait{Student: *b.Student, Machine: b.Machine, StartsAt: b.StartsAt, EndsAt: b.EndsAt, Accompanied: b.Accompanied}, d.Who.AccountID, d.Now)
	if errors.Is(err, store.ErrTaken) {
		return desk.Problems{"from": b.Student.Name + " waits for that already."}
	}
	return err
}

// fill gives what is free to whoever waits for it, in the order in which they asked, and
// tells them.
func (d Desk) fill() error {
	waits, err := d.Shop.Waits(d.Now)
	if err != nil || len(waits) == 0 {
		return err
	}
	outages, err := d.Shop.Outages(d.Now)
	if err != nil {
		return err
	}
	for _, x := range waits {
		err := d.Shop.InTx(func(tx store.Workshop) error { // what cannot be had changes nothing
			at := d
			at.Shop = tx
			return at.fillOne(x, outages)
		})
		var problems desk.Problems
		if err != nil && !errors.As(err, &problems) {
			return err
		}
	}
	return nil
}

func (d Desk) fillOne(x fleet.Wait, outages []fleet.Outage) error {
	if err := d.Shop.LockStudents(x.Student.ID); err != nil {
		return err
	}
	student, err := d.Shop.Student(x.Student.ID)
	if err != nil {
		return err
	}
	machine, err := d.Shop.Machine(x.Machine.ID)
	if err != nil {
		return err
	}
	b := fleet.Booking{Machine: x.Machine, Student: &x.Student, StartsAt: x.StartsAt, EndsAt: x.EndsAt, Accompanied: x.Accompanied}
	if err := d.bookOne(b, machine, &student, outages); err != nil {
		return err
	}
	if err := d.Shop.EndWait(x.ID, 0, d.Now); err != nil {
		return err
	}
	return d.tell(fleet.Filled, b)
}

// tell leaves a message for the student of a booking.
func (d Desk) tell(kind fleet.MessageKind, b fleet.Booking) error {
	return d.Shop.Tell(fleet.Message{Student: *b.Student, Kind: kind, Machine: b.Machine, Span: b.Span(), ToldAt: d.Now})
}

// EndWait takes somebody off the waiting list.
func (d Desk) EndWait(id int64) error {
	if err := d.Need(desk.Book); err != nil {
		return err
	}
	return desk.OnceOnly(d, func(d Desk) error { return d.Shop.EndWait(id, 0, d.Now) })
}

// EndOwnWait takes the student who asks off the waiting list.
func (d Desk) EndOwnWait(id int64) error {
	if err := d.Need(desk.BookOwn); err != nil {
		return err
	}
	return desk.OnceOnly(d, func(d Desk) error { return d.Shop.EndWait(id, d.Who.StudentID, d.Now) })
}

// SatDown notes that somebody sat down at what they had booked.
func (d Desk) SatDown(id int64) error {
	if err := d.Need(desk.RunClasses); err != nil {
		return err
	}
	return desk.OnceOnly(d, func(d Desk) error { return d.Shop.SatDown(id, 0, d.Now) })
}

// SatDownOwn notes that the student who asks sat down.
func (d Desk) SatDownOwn(id int64) error {
	if err := d.Need(desk.BookOwn); err != nil {
		return err
	}
	return desk.OnceOnly(d, func(d Desk) error { return d.Shop.SatDown(id, d.Who.StudentID, d.Now) })
}

// ReadOwn notes that the student who asks has read what they were told up to a message.
func (d Desk) ReadOwn(upTo int64) error {
	if err := d.Need(desk.SeeOwn); err != nil {
		return err
	}
	return desk.OnceOnly(d, func(d Desk) error { return d.Shop.ReadMessages(d.Who.StudentID, upTo, d.Now) })
}

// A MessagesPage is a stretch of what students were told, the newest first.
type MessagesPage struct {
	Messages []fleet.Message
	Pages    desk.Pages
}

// Messages opens what students were told of their bookings.
func (d Desk) Messages(page int) (MessagesPage, error) {
	if err := d.Need(desk.See); err != nil {
		return MessagesPage{}, err
	}
	const onPage = 30
	list := MessagesPage{Pages: desk.NewPages("", page, onPage)}
	var err error
	list.Messages, list.Pages.Total, err = d.Shop.Messages(0, list.Pages.Stretch())
	return list, err
}

// keep frees what nobody came to, by the grace of the house, and fills what is free.
func (d Desk) keep() error {
	if err := d.Need(desk.Book); err != nil {
		return err
	}
	return desk.OnceOnly(d, func(d Desk) error {
		settings, err := d.Settings()
		if err != nil {
			return err
		}
		if grace := settings.Booking.GraceMinutes; grace > 0 {
			freed, err := d.Shop.GiveUp(d.Now.Add(-time.Duration(grace)*time.Minute), d.Now)
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
func Keep(ctx context.Context, a *desk.App) error {
	desks, err := a.Watched(ctx)
	if err != nil {
		return err
	}
	var all []error
	for _, d := range desks {
		all = append(all, desk.In[Desk](d).keep())
	}
	return errors.Join(all...)
}
