package planning

import (
	"errors"
	"maps"
	"slices"
	"strings"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/classday"
	"chalkstep/core/say"
	"chalkstep/core/stock"
	"chalkstep/store"
)

// CallOff calls a class off that has not begun. Its machines and what it had reserved are
// held for a minute and free after that; it stays in the list.
func (d UseCases) CallOff(id int64) error {
	if err := d.Need(actor.ChangeClasses); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error {
		c, err := d.load().LockedClass(id)
		if err != nil {
			return err
		}
		begun, err := d.load().Begun(id)
		switch {
		case err != nil:
			return err
		case c.Off():
			return form.Problems{"": "The class is called off already."}
		case begun:
			return form.Problems{"": "The class has begun, so it cannot be called off any more."}
		}
		return form.Saved(d.Workshop.CallOff(id, d.Now, d.Who.AccountID), c.Name)
	})
}

// Reinstate takes back that a class was called off. Its slots are held for a minute; after
// that it takes what is still free, and taken says what is not.
func (d UseCases) Reinstate(id int64) (taken []say.Text, err error) {
	if err := d.Need(actor.ChangeClasses); err != nil {
		return nil, err
	}
	err = actor.OnceOnly(d, func(d UseCases) error {
		c, err := d.load().LockedClass(id)
		switch {
		case err != nil:
			return err
		case !c.Off():
			return form.Problems{"": "The class is not called off."}
		case c.FreedAt == nil:
			return form.Saved(d.Workshop.Reinstate(c, nil, nil, nil), c.Name)
		}
		taken, err = d.retake(c)
		return err
	})
	return taken, err
}

// retake gives a class what is still free of what it had.
func (d UseCases) retake(c classday.Class) (taken []say.Text, err error) {
	var students, machines []int64
	for _, p := range c.Places {
		students = append(students, p.ID)
	}
	for _, m := range c.Machines {
		machines = append(machines, m.ID)
	}
	if err := d.Workshop.LockStudents(students...); err != nil {
		return nil, err
	}
	problems := form.Problems{}
	if err := d.instructorsFree(problems, c); err != nil {
		return nil, err
	}
	if len(problems) > 0 {
		return nil, form.Problems{"": problems["instructors"]}
	}
	bookings, _, err := d.Workshop.BookingsBetween(c.StartsAt, c.EndsAt, store.Rows{Limit: form.MostAtOnce})
	if err != nil {
		return nil, err
	}
	var lost, absent []int64
	for _, b := range bookings {
		if slices.Contains(machines, b.Machine.ID) {
			lost, taken = append(lost, b.Machine.ID), append(taken, say.T("%s", b.Taken(d.Who.Zone)))
		}
	}
	lost = unique(lost)
	machines = slices.DeleteFunc(machines, func(id int64) bool { return slices.Contains(lost, id) })
	if len(machines) == 0 {
		return nil, form.Problems{"": strings.Join(d.Printer().Lines(taken), " ") +
			" So it has no machine: choose others, or another time, under Change."}
	}
	elsewhere, err := d.Workshop.Elsewhere(students, c.StartsAt, c.EndsAt, c.ID)
	if err != nil {
		return nil, err
	}
	for _, b := range elsewhere {
		at := slices.IndexFunc(c.Places, func(p classday.Place) bool { return p.ID == b.Student.ID })
		if c.Places[at].Attendance != classday.Absent {
			absent, taken = append(absent, b.Student.ID), append(taken, say.T("%s They are down as absent.", b.Busy(d.Who.Zone)))
		}
	}
	anew := c
	anew.Machines, anew.Unbooked = nil, nil
	usable, err := d.Usable(anew, c.Project.At(), c, machines)
	if err != nil {
		return nil, err
	}
	if err := d.Workshop.Reinstate(c, usable, lost, unique(absent)); err != nil {
		if errors.Is(err, store.ErrOverlap) || errors.Is(err, store.ErrElsewhere) {
			return nil, form.Problems{"": "Some of its slots were taken just now. Try again."}
		}
		return nil, form.Saved(err, c.Name)
	}
	short, err := d.reserveAgain(c)
	return slices.Concat(taken, short), err
}

// reserveAgain reserves what a class gave back, as far as it is there.
func (d UseCases) reserveAgain(c classday.Class) (short []say.Text, err error) {
	had, err := d.Workshop.GaveBack(c.ID, *c.FreedAt)
	if err != nil {
		return nil, err
	}
	ids := slices.Sorted(maps.Keys(had))
	if err := d.Workshop.LockStock(ids...); err != nil {
		return nil, err
	}
	var moves []stock.Move
	for _, id := range ids {
		item, err := d.Workshop.StockItem(id)
		if err != nil {
			return nil, err
		}
		n := min(had[id], item.Available())
		if n > stock.Hair {
			moves = append(moves,
				stock.Move{ItemID: id, Kind: stock.Promised, Reserved: n, ClassID: c.ID, ByID: d.Who.AccountID, At: d.Now})
		}
		if n < had[id]-stock.Hair {
			short = append(short,
				say.T("Of %s it had %s reserved, and %s are free.", say.Name(item.Name), item.Amount(had[id]), item.Amount(n)))
		}
	}
	return short, d.Workshop.Move(moves...)
}
