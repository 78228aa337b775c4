package classday

import (
	"slices"
	"time"

	"chalkstep/core/fleet"
	"chalkstep/core/policy"
	"chalkstep/core/skill"
)

// A Basis is what a class's plan was made from beside the class itself. It is
// kept with the plan, so that a class that is over reads as it did on its day,
// whatever the workshop has changed since.
type Basis struct {
	Rules    policy.Rules
	Machines []fleet.Machine
	Lent     []Lent
	Students []skill.Student
	// Comes is who was to come, and how late, by student: what is known since is noted while the
	// class runs.
	Comes map[int64]Comes
	// Print tells whether more than the roster has changed since.
	Print Print
}

// Comes is whether somebody comes to a class, and how many minutes late.
type Comes struct {
	Attendance  Attendance
	LateMinutes int
}

// Over tells whether the class has ended.
func (c Class) Over(now time.Time) bool { return !c.EndsAt.After(now) }

// Basis is what the day is planned from.
func (d Day) Basis() Basis {
	b := Basis{Rules: d.Rules, Machines: d.Class.Machines, Lent: d.Class.Lent, Comes: map[int64]Comes{},
		Print: d.Print()}
	for _, p := range d.Class.Places {
		b.Students = append(b.Students, p.Student)
		b.Comes[p.ID] = Comes{p.Attendance, p.LateMinutes}
	}
	return b
}

// OpenAsItWas puts a class into the planner's terms by what it was planned from.
// Who is on the roster since is taken as they are today.
func OpenAsItWas(c Class, b Basis) Day {
	c.Lent = b.Lent
	c.Machines = slices.DeleteFunc(slices.Clone(b.Machines), func(m fleet.Machine) bool {
		return !slices.ContainsFunc(c.Machines, func(named fleet.Machine) bool { return named.ID == m.ID })
	})
	c.Places = slices.Clone(c.Places)
	for i, p := range c.Places {
		if at := slices.IndexFunc(b.Students, func(s skill.Student) bool { return s.ID == p.ID }); at >= 0 {
			c.Places[i].Student = b.Students[at]
		}
		if was, known := b.Comes[p.ID]; known {
			c.Places[i].Attendance, c.Places[i].LateMinutes = was.Attendance, was.LateMinutes
		}
	}
	return Open(c, b.Rules)
}
