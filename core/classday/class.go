// Package classday is a class day put together: who makes what at which machine, in
// which hoop, what of it the planner has to place, and what follows from its
// plan: when the class is done, what is tight, and what lies in each bag.
package classday

import (
	"cmp"
	"slices"
	"strings"
	"time"

	"chalkstep/core/blank"
	"chalkstep/core/design"
	"chalkstep/core/fleet"
	"chalkstep/core/hoop"
	"chalkstep/core/kit"
	"chalkstep/core/pace"
	"chalkstep/core/policy"
	"chalkstep/core/project"
	"chalkstep/core/say"
	"chalkstep/core/schedule"
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
	// Size of their blank, where it comes in sizes; empty for the project's own.
	Size string
	// Kit says how far the kit is, Packed what is in the bag.
	Kit    kit.State
	Packed []kit.ItemID
	// HoopedAhead tells that staff hoop their first blank before class.
	HoopedAhead bool
	// Pins say where or when they sew, by the instructor's wish.
	Pins []Pin
	// Version of the place, which is changed by itself.
	Version int
}

// A Pin is where somebody sews a hooping, counted from 1: at which machine, 0 for any,
// and from which minute of the class, nil for any.
type Pin struct {
	Hooping   int   `json:"hooping"`
	MachineID int64 `json:"machine,omitempty"`
	Minute    *int  `json:"minute,omitempty"`
}

// PinOf is what is pinned of a hooping.
func (p Place) PinOf(hooping int) (Pin, bool) {
	i := slices.IndexFunc(p.Pins, func(pin Pin) bool { return pin.Hooping == hooping })
	if i < 0 {
		return Pin{}, false
	}
	return p.Pins[i], true
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
	// Assistants help with what the house lets them; Benches are how many places
	// there are to work at, 0 for enough.
	Assistants, Benches int
	// AssistantMinutes is how long of the class assistants are there, 0 for all of it.
	AssistantMinutes int
	// BreakAt is the minute of the class at which everybody stops, for BreakMinutes;
	// 0 for no break.
	BreakAt, BreakMinutes int
	// OpeningMinutes are what everyone does together at the beginning: welcome,
	// safety, a demonstration; ClosingMinutes at the end: tidying up.
	OpeningMinutes, ClosingMinutes int
	// Adopted are what of the levers was adopted, in order.
	Adopted []LeverKey
	// OffAt is when it was called off, nil while it stands; FreedAt is when its
	// slots were freed, which is a little later.
	OffAt, FreedAt *time.Time
	// Places by name.
	Places   []Place
	Machines []fleet.Machine
	// Unbooked are those of its machines that are not booked, because they could
	// sew nothing of it when it was saved.
	Unbooked []int64
	// Lent is what of the room's hoops other classes have while it runs.
	Lent []Lent
	// Reserved is what it has spoken for of the shelf, by item.
	Reserved map[int64]float64
}

// HeldFor is how long the slots of a class that was called off are held, so that
// it can be taken back.
const HeldFor = time.Minute

// Off tells that the class was called off.
func (c Class) Off() bool { return c.OffAt != nil }

// HeldUntil is until when a class that was called off has its slots yet; the zero
// time where it has them no more.
func (c Class) HeldUntil() time.Time {
	if c.OffAt == nil || c.FreedAt != nil {
		return time.Time{}
	}
	return c.OffAt.Add(HeldFor)
}

// Lent is how many hoops of a kind another class has at the same time.
type Lent struct {
	HoopID int64
	Count  int
	Class  string
}

// In is the class with its machines as they stand in the room, less the hoops
// that other classes have; machines that are not there any more are left out.
func (c Class) In(machines []fleet.Machine) Class {
	lent := map[int64]int{}
	for _, l := range c.Lent {
		lent[l.HoopID] += l.Count
	}
	var there []fleet.Machine
	for _, named := range c.Machines {
		i := slices.IndexFunc(machines, func(m fleet.Machine) bool { return m.ID == named.ID })
		if i < 0 {
			continue
		}
		m := machines[i]
		m.Hoops = slices.Clone(m.Hoops)
		for h := range m.Hoops {
			m.Hoops[h].Count = max(0, m.Hoops[h].Count-lent[m.Hoops[h].ID])
		}
		there = append(there, m)
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
	OffAt              *time.Time
	// Begun tells that it was started, OverAt when it is over: one that runs when its students are done.
	Begun  bool
	OverAt time.Time
}

// WindowMinutes is how long the class has.
func (c Class) WindowMinutes() float64 { return c.EndsAt.Sub(c.StartsAt).Minutes() }

// WorkMinutes is how long of that each works for themselves, at most.
func (c Class) WorkMinutes() float64 {
	return max(0, c.WindowMinutes()-float64(c.ClosingMinutes))
}

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
	Seats  []fleet.Seat
}

// Fits tells whether a machine can sew every hooping of the work.
func (w Work) Fits(machineID int64) bool {
	for _, s := range w.Sewing {
		if !slices.ContainsFunc(s.Seats, func(seat fleet.Seat) bool { return seat.Machine.ID == machineID && seat.Fits() }) {
			return false
		}
	}
	return len(w.Sewing) > 0
}

// SeatAt is how a machine takes a hooping, counted from 1.
func (w Work) SeatAt(machineID int64, hooping int) (fleet.Seat, bool) {
	if hooping < 1 || hooping > len(w.Sewing) {
		return fleet.Seat{}, false
	}
	for _, seat := range w.Sewing[hooping-1].Seats {
		if seat.Machine.ID == machineID {
			return seat, true
		}
	}
	return fleet.Seat{}, false
}

// leastOpenMinutes of a machine are worth planning with.
const leastOpenMinutes = 30

// outAllDay tells whether a machine is out of order for so much of the class that
// nobody can sew at it.
func (c Class) outAllDay(m fleet.Machine) bool {
	open, from := 0.0, 0.0
	for _, span := range c.outSpans(m) {
		open = max(open, span.From-from)
		from = max(from, span.To)
	}
	return max(open, c.WindowMinutes()-from) < leastOpenMinutes
}

// openEnd is how many minutes after a class something is still out that nobody has
// said will come back.
const openEnd = 24 * 60

// outSpans are when a machine is out of order, in minutes of the class, in order.
func (c Class) outSpans(m fleet.Machine) []schedule.Interval {
	var spans []schedule.Interval
	for _, o := range m.Outages {
		if !o.Within(c.StartsAt, c.EndsAt) {
			continue
		}
		span := schedule.Interval{From: max(0, o.StartsAt.Sub(c.StartsAt).Minutes()), To: c.WindowMinutes() + openEnd}
		if o.EndsAt != nil {
			span.To = o.EndsAt.Sub(c.StartsAt).Minutes()
		}
		spans = append(spans, span)
	}
	slices.SortFunc(spans, func(a, b schedule.Interval) int { return cmp.Compare(a.From, b.From) })
	return spans
}

// SizeOf is the size of a student's blank, empty where it comes in one.
func (w Work) SizeOf(p Place) string {
	if !w.Sized() {
		return ""
	}
	return cmp.Or(p.Wears(), w.Blank.Size)
}

// Wears is the size that a student has in the class, or wears as they said themselves; empty
// where neither is known.
func (p Place) Wears() string {
	if own := strings.TrimSpace(p.Student.Size); p.Size == "" && slices.Contains(blank.Sizes, own) {
		return own
	}
	return p.Size
}

// usable are the seats of all hoopings at machines that can sew the work.
func (w Work) usable() []fleet.Seat {
	var seats []fleet.Seat
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
func worksOf(c Class, rules policy.Rules) []Work {
	works := []Work{newWork(c.Project, c, rules)}
	for _, p := range c.Places {
		if p.Attendance == Absent {
			continue
		}
		at := 0
		if p.Makes != nil {
			at = slices.IndexFunc(works, func(w Work) bool { return w.ID == p.Makes.ID && w.Version == p.Makes.Version })
			if at < 0 {
				at = len(works)
				works = append(works, newWork(*p.Makes, c, rules))
			}
		}
		works[at].Places = append(works[at].Places, p)
	}
	return works
}

// newWork tries every hooping of a project on the machines of a class.
func newWork(p project.Project, c Class, rules policy.Rules) Work {
	w := Work{Project: p}
	if p.Gone() {
		w.Why = say.T("A design of “%s” is gone from the workshop: give the class a project that has its designs.",
			p.Name)
		return w
	}
	var err error
	if w.Steps, err = p.Steps(rules); err != nil {
		w.Why = say.T("%s", say.Printer{}.Sentence(say.Of(err)))
		return w
	}
	own := p.Rules(rules)
	machines := p.Takes(c.Machines)
	for i := range p.Hoopings {
		s := Sewing{Design: p.Sewn(i)}
		fitted := p.InField(i)
		for _, m := range machines {
			seat := fleet.SeatAt(m, fitted, p.Garment(), own)
			if o, out := m.Out(c.StartsAt, c.EndsAt); out && c.outAllDay(m) {
				seat.Problem = o.Say()
			} else if !seat.Fits() {
				seat.Problem = c.lentAway(m, fitted, seat.Problem)
			}
			if seat.Fits() && slices.Contains(c.Unbooked, m.ID) {
				seat.Problem = say.T("not booked, as it could sew nothing of it before: save the class again")
			}
			s.Seats = append(s.Seats, seat)
		}
		fleet.Share(s.Seats)
		w.Sewing = append(w.Sewing, s)
	}
	if !slices.ContainsFunc(c.Machines, func(m fleet.Machine) bool { return w.Fits(m.ID) }) {
		w.Why = say.T("None of the class's machines can sew “%s”.", p.Name)
	}
	if w.Why.Silent() && w.seams() && !slices.ContainsFunc(c.Machines, func(m fleet.Machine) bool { return m.Sews }) {
		w.Why = say.T("“%s” has a seam in sewing mode, and none of the class's machines sews: add one that does, or "+
			"seam it by hand.", p.Name)
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

// lentAway says that a hoop which would take the design is with another class,
// or otherwise what is in the way.
func (c Class) lentAway(m fleet.Machine, d design.Design, problem say.Text) say.Text {
	for _, h := range m.Hoops {
		if _, err := hoop.Into(h.Field, d.WidthMM, d.HeightMM, 0); err != nil || h.Count > 0 {
			continue
		}
		if at := slices.IndexFunc(c.Lent, func(l Lent) bool { return l.HoopID == h.ID }); at >= 0 {
			return say.T("its %s hoop is with “%s” then", h.Name, c.Lent[at].Class)
		}
	}
	return problem
}

// Loud says which machines of the class are out of order while it runs, and
// which hoops that its machines take are with another class.
func (d Day) Loud() []say.Text {
	var texts []say.Text
	for _, m := range d.Class.Machines {
		if o, out := m.Out(d.Class.StartsAt, d.Class.EndsAt); out {
			texts = append(texts, say.T("%s is %s.", m.Name, o.Say()))
		}
	}
	for _, h := range fleet.Taken(d.Class.Machines) {
		for _, l := range d.Class.Lent {
			if l.HoopID == h.ID {
				format := "%s of the %s hoops are with “%s” while the class runs."
				if l.Count == 1 {
					format = "%s of the %s hoops is with “%s” while the class runs."
				}
				texts = append(texts, say.T(format, say.Count(l.Count), say.Name(strings.ToLower(h.Name)), l.Class))
			}
		}
	}
	return texts
}

// An Idle machine is one that can sew nothing of what the class makes.
type Idle struct {
	ID   int64
	Name string
	Why  say.Text
}

// Idle lists the machines that can sew nothing of what the class makes, as far
// as that is known of its designs.
func (d Day) Idle() []Idle {
	var idle []Idle
	for _, m := range d.Class.Machines {
		why, known := say.Text{}, false
		for _, w := range d.Works {
			if w.Gone() || len(w.Sewing) == 0 || w.Fits(m.ID) || m.Sews && w.seams() {
				known = false
				break
			}
			for n := range w.Sewing {
				if seat, ok := w.SeatAt(m.ID, n+1); ok && !seat.Fits() && !known {
					why, known = seat.Problem, true
				}
			}
		}
		if known {
			idle = append(idle, Idle{m.ID, m.Name, why})
		}
	}
	return idle
}

// A NotReady is a student with the steps they have not been signed off on.
type NotReady struct {
	Student skill.Student
	Missing []skill.Step
}

// notReady lists who has not yet shown what they are to make asks for.
func notReady(works []Work, ladder skill.Ladder) []NotReady {
	var list []NotReady
	for _, w := range works {
		if !w.Planned() {
			continue // what nobody can make here, nobody has to be ready for
		}
		needs := pace.Needs(w.Steps)
		for _, p := range w.Places {
			if missing := ladder.Missing(p.Signed(), needs); len(missing) > 0 {
				list = append(list, NotReady{p.Student, missing})
			}
		}
	}
	return list
}
