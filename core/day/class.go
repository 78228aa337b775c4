// Package day is a class day put together: who makes what at which machine, in
// which hoop, what of it the planner has to place, and what follows from its
// plan: when the class is done, what is tight, and what lies in each bag.
package day

import (
	"slices"
	"time"

	"chalkstep/core/design"
	"chalkstep/core/house"
	"chalkstep/core/kit"
	"chalkstep/core/pace"
	"chalkstep/core/project"
	"chalkstep/core/room"
	"chalkstep/core/say"
	"chalkstep/core/skill"
)

// How a student attends.
type Attendance string

// The ways to attend. Somebody who is late is ready so many minutes after the
// class begins.
const (
	Expected Attendance = "expected"
	Late     Attendance = "late"
	Absent   Attendance = "absent"
)

// A Place is a student's on the roster of a class.
type Place struct {
	skill.Student
	// Makes is what they make instead of what the class makes, nil for that.
	Makes       *project.Project
	Attendance  Attendance
	LateMinutes int
	// Kit says how far the kit is, Packed what is in the bag.
	Kit    kit.State
	Packed []kit.ItemID
	// Version of the place, which is changed by itself.
	Version int
}

// A Class is a project made by students at machines in a window of time. ID and
// Version name the row.
type Class struct {
	ID                 int64
	Version            int
	Name               string
	Project            project.Project
	StartsAt, EndsAt   time.Time
	Instructors, Irons int
	// Places by name.
	Places   []Place
	Machines []room.Machine
}

// In is the class with its machines as they stand in the room; those that are
// not there any more are left out.
func (c Class) In(machines []room.Machine) Class {
	var there []room.Machine
	for _, named := range c.Machines {
		if i := slices.IndexFunc(machines, func(m room.Machine) bool { return m.ID == named.ID }); i >= 0 {
			there = append(there, machines[i])
		}
	}
	c.Machines = there
	return c
}

// A Line is a class as a list shows it.
type Line struct {
	ID                 int64
	Name               string
	StartsAt, EndsAt   time.Time
	ProjectName        string
	Students, Machines int
}

// WindowMinutes is how long the class has.
func (c Class) WindowMinutes() float64 { return c.EndsAt.Sub(c.StartsAt).Minutes() }

// A Work is what students of a class make: mostly all the same, now and then
// something else.
type Work struct {
	project.Project
	Steps []pace.Step
	// Sewing is each hooping, in order, as every machine of the class takes it.
	Sewing []Sewing
	// Places of those who make it and are not absent.
	Places []Place
	// Why says why nobody can make it in this class; it is silent where they
	// can.
	Why say.Text
}

// Planned tells that the planner places the steps of those who make it.
func (w Work) Planned() bool { return w.Why.Silent() && len(w.Places) > 0 }

// A Sewing is one hooping of a work at the machines of a class, in their order.
type Sewing struct {
	Design design.Design
	Seats  []room.Seat
}

// Fits tells whether a machine can sew every hooping of the work.
func (w Work) Fits(machineID int64) bool {
	for _, s := range w.Sewing {
		if !slices.ContainsFunc(s.Seats, func(seat room.Seat) bool { return seat.Machine.ID == machineID && seat.Fits() }) {
			return false
		}
	}
	return len(w.Sewing) > 0
}

// SeatAt is how a machine takes a hooping, counted from 1.
func (w Work) SeatAt(machineID int64, hooping int) (room.Seat, bool) {
	if hooping < 1 || hooping > len(w.Sewing) {
		return room.Seat{}, false
	}
	for _, seat := range w.Sewing[hooping-1].Seats {
		if seat.Machine.ID == machineID {
			return seat, true
		}
	}
	return room.Seat{}, false
}

// usable are the seats of all hoopings at machines that can sew the work.
func (w Work) usable() []room.Seat {
	var seats []room.Seat
	for _, s := range w.Sewing {
		for _, seat := range s.Seats {
			if w.Fits(seat.Machine.ID) {
				seats = append(seats, seat)
			}
		}
	}
	return seats
}

// worksOf sorts a class's students by what they make, the class's own project
// first, even if nobody makes it.
func worksOf(c Class, rules house.Rules) []Work {
	works := []Work{newWork(c.Project, c.Machines, rules)}
	for _, p := range c.Places {
		if p.Attendance == Absent {
			continue
		}
		at := 0
		if p.Makes != nil {
			at = slices.IndexFunc(works, func(w Work) bool { return w.ID == p.Makes.ID && w.Version == p.Makes.Version })
			if at < 0 {
				at = len(works)
				works = append(works, newWork(*p.Makes, c.Machines, rules))
			}
		}
		works[at].Places = append(works[at].Places, p)
	}
	return works
}

// newWork tries every hooping of a project on the machines of a class.
func newWork(p project.Project, machines []room.Machine, rules house.Rules) Work {
	w := Work{Project: p}
	if p.Gone() {
		w.Why = say.T("A design of “%s” is gone from the workshop: give the class a project that has its designs.", p.Name)
		return w
	}
	var err error
	if w.Steps, err = p.Steps(rules); err != nil {
		w.Why = say.T("%s", say.Printer{}.Sentence(say.Of(err)))
		return w
	}
	own := rules.In(p.House)
	for _, h := range p.Hoopings {
		s := Sewing{Design: h.Design}
		for _, m := range machines {
			s.Seats = append(s.Seats, room.SeatAt(m, h.Design, p.Garment(), own))
		}
		room.Share(s.Seats, h.Design)
		w.Sewing = append(w.Sewing, s)
	}
	if !slices.ContainsFunc(machines, func(m room.Machine) bool { return w.Fits(m.ID) }) {
		w.Why = say.T("None of the class's machines can sew “%s”.", p.Name)
	}
	return w
}

// A LeftOut is a student who cannot make in this class what they are to make,
// and why.
type LeftOut struct {
	Student skill.Student
	Makes   string
	Why     say.Text
}

// leftOut lists who the class has nothing for, while it has for others.
func leftOut(works []Work) []LeftOut {
	var list []LeftOut
	for _, w := range works {
		if w.Why.Silent() {
			continue
		}
		for _, p := range w.Places {
			list = append(list, LeftOut{p.Student, w.Name, w.Why})
		}
	}
	return list
}

// A NotReady is a student with the steps they have not been signed off on.
type NotReady struct {
	Student skill.Student
	Missing []skill.Step
}

// notReady lists who has not yet shown what they are to make asks for.
func notReady(works []Work) []NotReady {
	var list []NotReady
	for _, w := range works {
		if !w.Planned() {
			continue // what nobody can make here, nobody has to be ready for
		}
		needs := pace.Needs(w.Steps)
		for _, p := range w.Places {
			if missing := skill.Missing(p.Signed(), needs); len(missing) > 0 {
				list = append(list, NotReady{p.Student, missing})
			}
		}
	}
	return list
}
