package planning

import (
	"errors"
	"fmt"
	"slices"
	"strings"

	"chalkstep/app/form"
	"chalkstep/core/booking"
	"chalkstep/core/fleet"
	"chalkstep/core/say"
	"chalkstep/core/skill"
	"chalkstep/store"
)

// A moving is a booking of a student that stands in the way of a class, and where it goes;
// ok is false where no other time is free.
type moving struct {
	fleet.Booking
	to      booking.Span
	machine fleet.Named
	ok      bool
}

// key names what is offered, so that what is agreed to is what was shown.
func (m moving) key() string { return fmt.Sprintf("%d:%d:%d", m.ID, m.machine.ID, m.to.From.Unix()) }

// mostMoved bookings give way to one class.
const mostMoved = 20

// inTheWay are bookings of students that a class would take the machine of, or whose student
// is in the class.
func (d UseCases) inTheWay(w wish) ([]fleet.Booking, error) {
	all, _, err := d.Workshop.BookingsBetween(w.StartsAt, w.EndsAt, store.Rows{Limit: form.MostAtOnce})
	if err != nil {
		return nil, err
	}
	return slices.DeleteFunc(all, func(b fleet.Booking) bool {
		return !b.GivesWay(d.Now) || !slices.Contains(w.machines, b.Machine.ID) &&
			!slices.Contains(w.studentIDs, b.Student.ID)
	}), nil
}

// lockAll lets one transaction at a time decide where the students of a class are, and those
// who give way to it.
func (d UseCases) lockAll(w wish) error {
	way, err := d.inTheWay(w)
	if err != nil {
		return err
	}
	ids := slices.Clone(w.studentIDs)
	for _, b := range way {
		ids = append(ids, b.Student.ID)
	}
	return d.Workshop.LockStudents(unique(ids)...) // everyone locks in one order
}

// makeRoom moves the bookings of students that stand in the way of a class to the nearest
// free times, once somebody has seen whose they are and where they go.
func (d UseCases) makeRoom(w wish) error {
	way, err := d.inTheWay(w)
	if err != nil || len(way) == 0 {
		return err
	}
	if len(way) > mostMoved {
		return form.Problems{
			"machines": fmt.Sprintf("%d bookings of students are in the way: choose another time or fewer machines.", len(way))}
	}
	moves, err := d.moves(w, way)
	if err != nil {
		return err
	}
	var keys []string
	var says say.List
	for _, m := range moves {
		keys = append(keys, m.key())
		says = append(says, d.offered(m))
	}
	shown := strings.Join(keys, " ")
	if w.moves != shown {
		return form.Offer{Field: "moves", Words: d.Printer().Sentence(says), Key: shown}
	}
	for _, m := range moves {
		if err := d.giveWay(m); err != nil {
			return err
		}
	}
	return nil
}

// offered says whose booking it is, and where it goes.
func (d UseCases) offered(m moving) say.Text {
	had := say.T("%s has %s from %s to %s", say.Name(m.Student.Name), say.Name(m.Machine.Name), say.Clock(m.StartsAt),
		say.Clock(m.EndsAt))
	if !m.ok {
		return say.T("%s: no other time is free, so it ends, and they wait for it", had)
	}
	return say.T("%s: instead %s, %s, %s to %s", had, say.Name(m.machine.Name), say.Day(m.to.From), say.Clock(m.to.From),
		say.Clock(m.to.To))
}

// moves are the nearest free times for bookings that give way to a class, one after the
// other.
func (d UseCases) moves(c wish, way []fleet.Booking) ([]moving, error) {
	m, err := d.newMover(c, way)
	if err != nil {
		return nil, err
	}
	for _, b := range way {
		if err := m.move(b); err != nil {
			return nil, err
		}
	}
	return m.all, nil
}

// A mover finds other times for bookings, one after the other: all is what it has found.
type mover struct {
	UseCases
	wish   wish
	rules  booking.Rules
	within booking.Span

	machines []fleet.Machine
	booked   []fleet.Booking
	busy     fleet.Instructors
	all      []moving
}

func (d UseCases) newMover(c wish, way []fleet.Booking) (*mover, error) {
	settings, err := d.Settings()
	if err != nil {
		return nil, err
	}
	m := &mover{UseCases: d, wish: c, rules: settings.Booking}
	if m.machines, err = d.Workshop.Machines(); err != nil {
		return nil, err
	}
	const back, ahead, most = 7, 14, 2000
	m.within = booking.Span{From: c.StartsAt.AddDate(0, 0, -back), To: c.StartsAt.AddDate(0, 0, ahead)}.Since(d.Now)
	booked, _, err := d.Workshop.BookingsBetween(m.within.From, m.within.To, store.Rows{Limit: most})
	if err != nil {
		return nil, err
	}
	m.booked = slices.DeleteFunc(booked, func(b fleet.Booking) bool { // the class as it was goes too
		return c.ID != 0 && b.Class != nil && b.Class.ID == c.ID ||
			slices.ContainsFunc(way, func(other fleet.Booking) bool { return other.ID == b.ID })
	})
	if m.busy, err = d.Workshop.LockInstructors(m.within.From, m.within.To, c.ID); err != nil {
		return nil, err
	}
	m.busy.Busy = append(m.busy.Busy, fleet.Busy{StartsAt: c.StartsAt, EndsAt: c.EndsAt, Instructors: c.Instructors})
	return m, nil
}

// class is when the class has its machines and people.
func (m *mover) class() booking.Span { return booking.Span{From: m.wish.StartsAt, To: m.wish.EndsAt} }

// move finds the nearest free time for a booking.
func (m *mover) move(b fleet.Booking) error {
	want, err := m.want(b)
	if err != nil {
		return err
	}
	fits := func(s booking.Span) bool { return !b.Accompanied || m.busy.Free(s.From, s.To) }
	// What fits the machine they had stays there, where it is free that very day.
	that := want
	that.Machines = want.Machines[:min(1, len(want.Machines))]
	that.Within = booking.Span{From: form.Midnight(m.wish.StartsAt, m.Who.Zone),
		To: form.Midnight(m.wish.StartsAt.AddDate(0, 0, 1), m.Who.Zone)}.Since(m.within.From)
	id, to, ok := m.rules.Nearest(that, b.Span(), fits)
	if !ok {
		id, to, ok = m.rules.Nearest(want, b.Span(), fits)
	}
	found := moving{Booking: b, to: to, ok: ok}
	if i := slices.IndexFunc(m.machines, func(one fleet.Machine) bool { return one.ID == id }); ok && i >= 0 {
		found.machine = fleet.Named{ID: id, Name: m.machines[i].Name}
		m.booked = append(m.booked, fleet.Booking{Machine: found.machine, StartsAt: to.From, EndsAt: to.To})
	}
	m.all = append(m.all, found)
	return nil
}

// want is what another time for a booking has to keep to.
func (m *mover) want(b fleet.Booking) (booking.Want, error) {
	want := booking.Want{Within: m.within, Now: m.Now, Zone: m.Who.Zone}
	elsewhere, err := m.Workshop.Elsewhere([]int64{b.Student.ID}, m.within.From, m.within.To, m.wish.ID)
	if err != nil {
		return want, err
	}
	for _, e := range elsewhere {
		if e.ID != b.ID {
			want.Elsewhere = append(want.Elsewhere, e.Span())
		}
	}
	for _, moved := range m.all { // what was moved before
		if moved.ok && moved.Student.ID == b.Student.ID {
			want.Elsewhere = append(want.Elsewhere, moved.to)
		}
	}
	if slices.Contains(m.wish.studentIDs, b.Student.ID) {
		want.Elsewhere = append(want.Elsewhere, m.class())
	}
	student, err := m.Workshop.Student(b.Student.ID)
	if err != nil {
		return want, err
	}
	want.Machines, err = m.others(b, student)
	return want, err
}

// others are the machines of the kind that a student had, that one first, where they may be
// as they were, each with when it is taken.
func (m *mover) others(b fleet.Booking, student skill.Student) ([]booking.Machine, error) {
	had := slices.IndexFunc(m.machines, func(one fleet.Machine) bool { return one.ID == b.Machine.ID })
	if had < 0 {
		return nil, nil
	}
	var all []booking.Machine
	for i, one := range append([]fleet.Machine{m.machines[had]}, m.machines...) {
		if i > 0 && (one.ID == b.Machine.ID || one.Kind() != m.machines[had].Kind()) {
			continue
		}
		c, err := m.Clearance(student, one.Kind())
		if err != nil {
			return nil, err
		}
		if !c.May() && !b.Accompanied && one.ID != b.Machine.ID {
			continue
		}
		taken := fleet.WhenTaken(one.ID, m.booked, one.Outages, m.within)
		if slices.Contains(m.wish.machines, one.ID) {
			taken = append(taken, m.class())
		}
		all = append(all, booking.Machine{ID: one.ID, Name: one.Name, Taken: taken})
	}
	return all, nil
}

// giveWay gives a booking its other time, or ends it and lets its student wait, and tells them.
func (d UseCases) giveWay(m moving) error {
	if !m.ok {
		if err := d.Workshop.CancelBooking(m.ID); err != nil {
			return err
		}
		wait := fleet.Wait{Student: *m.Student, Machine: m.Machine, StartsAt: m.StartsAt, EndsAt: m.EndsAt,
			Accompanied: m.Accompanied}
		if err := d.Workshop.Wait(wait, d.Who.AccountID, d.Now); err != nil {
			return err
		}
		return d.Workshop.Tell(m.Message(fleet.Dropped, d.Now))
	}
	told := m.Message(fleet.Moved, d.Now)
	told.ToMachine, told.To = m.machine, m.to
	err := d.Workshop.MoveBooking(m.ID, m.machine.ID, m.to)
	if errors.Is(err, store.ErrOverlap) || errors.Is(err, store.ErrElsewhere) {
		return form.Problems{"machines": "Somebody booked meanwhile: save again to see who moves where."}
	}
	if err != nil {
		return err
	}
	return d.Workshop.Tell(told)
}
