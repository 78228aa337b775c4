package classes

import (
	"errors"
	"maps"
	"slices"
	"strings"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/classday"
	"chalkstep/core/live"
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
		c, err := d.lockedClass(id)
		if err != nil {
			return err
		}
		begun, err := d.begun(id)
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

// lockedClass finds a class that may be changed yet, and keeps others from changing it.
func (d UseCases) lockedClass(id int64) (classday.Class, error) {
	if err := d.Workshop.LockClass(id); err != nil {
		return classday.Class{}, err
	}
	c, err := d.Workshop.Class(id)
	if err != nil {
		return c, err
	}
	return c, d.changeable(c)
}

// changeable refuses to change a class that is over: it is a record.
func (d UseCases) changeable(c classday.Class) error {
	if c.Over(d.Now) {
		return form.Problems{"": "The class is over, so it stays as it was. Notes, marks and outcomes go under Wrap up."}
	}
	return nil
}

// begun tells whether a class was started.
func (d UseCases) begun(id int64) (bool, error) {
	events, err := d.Workshop.Events(id)
	return live.Of(classday.Plan{}, events).Running(), err
}

// Reinstate takes back that a class was called off. Its slots are held for a minute; after
// that it takes what is still free, and taken says what is not.
func (d UseCases) Reinstate(id int64) (taken []say.Text, err error) {
	if err := d.Need(actor.ChangeClasses); err != nil {
		return nil, err
	}
	err = actor.OnceOnly(d, func(d UseCases) error {
		c, err := d.lockedClass(id)
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
		return nil, form.Problems{"": strings.Join(d.Printer().Lines(taken), " ") + " So it has no machine: choose others, or another time, under Change."}
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
		if n > hair {
			moves = append(moves, stock.Move{ItemID: id, Kind: stock.Promised, Reserved: n, ClassID: c.ID, ByID: d.Who.AccountID, At: d.Now})
		}
		if n < had[id]-hair {
			short = append(short, say.T("Of %s it had %s reserved, and %s are free.", say.Name(item.Name), item.Amount(had[id]), item.Amount(n)))
		}
	}
	return short, d.Workshop.Move(moves...)
}
