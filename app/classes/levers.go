package classes

import (
	"slices"
	"strconv"
	"time"

	"chalkstep/app/desk"
	"chalkstep/core/day"
	"chalkstep/core/room"
	"chalkstep/store"
)

// How carefully the levers of a page are tried, so that all of them are there in
// two seconds.
var trying = day.Trying{Iterations: 600, Days: 200, Seed: 1}

// A LeversPage is what would help a class.
type LeversPage struct {
	Plan day.Plan
	Each []day.Lever
	// Together is what those that were picked give at once, nil for fewer than two.
	Together *day.Lever
	Picked   []day.LeverKey
}

// Levers tells what would help a class, and what some of it would give together.
func (d Desk) Levers(classID int64, together []day.LeverKey) (LeversPage, error) {
	if err := d.Need(desk.See); err != nil {
		return LeversPage{}, err
	}
	plan, err := d.Class(classID)
	if err != nil {
		return LeversPage{}, err
	}
	page := LeversPage{Plan: plan}
	if !plan.Planned() || plan.Class.Over(d.Now) {
		return page, nil
	}
	free, err := d.freeMachines(plan.Class)
	if err != nil {
		return page, err
	}
	const most = 6
	page.Picked = together[:min(len(together), most)]
	page.Each, page.Together = plan.Levers(free, page.Picked, trying)
	return page, nil
}

// freeMachines are those of the room that nobody has while a class runs.
func (d Desk) freeMachines(c day.Class) ([]room.Machine, error) {
	_, machines, err := d.Floorplan()
	if err != nil {
		return nil, err
	}
	bookings, _, err := d.Shop.BookingsBetween(c.StartsAt, c.EndsAt, store.Stretch{Limit: desk.MostAtOnce})
	if err != nil {
		return nil, err
	}
	return slices.DeleteFunc(machines, func(m room.Machine) bool {
		_, out := m.Out(c.StartsAt, c.EndsAt)
		return out || slices.ContainsFunc(c.Machines, func(have room.Machine) bool { return have.ID == m.ID }) ||
			slices.ContainsFunc(bookings, func(b room.Booking) bool { return b.Machine.ID == m.ID })
	}), nil
}

// Adopt changes a class by a lever, as if somebody had changed its form.
func (d Desk) Adopt(classID int64, version int, key day.LeverKey) error {
	if err := d.Need(desk.ChangeClasses); err != nil {
		return err
	}
	return desk.OnceOnly(d, func(d Desk) error {
		in, err := d.ClassInput(classID)
		if err != nil {
			return err
		}
		in.Version = version
		if key.Kind() == day.LeverArrivals {
			return d.letComeLater(classID, version)
		}
		switch key.Kind() {
		case day.LeverMachine:
			in.Machines = append(in.Machines, key.Value())
		case day.LeverInstructor:
			in.Instructors = more(in.Instructors)
		case day.LeverIron:
			in.Irons = more(in.Irons)
		case day.LeverOpening:
			in.Opening = "0"
		case day.LeverEarlier:
			in.From = moved(in.From, -key.Value())
		case day.LeverLonger:
			in.To = moved(in.To, key.Value())
		default:
			return desk.Problems{"levers": "That is done by hand, not by a press: see what it takes."}
		}
		_, err = d.saveClass(in)
		return err
	})
}

// letComeLater tells those who would only wait when to come.
func (d Desk) letComeLater(classID int64, version int) error {
	plan, err := d.Class(classID)
	if err != nil {
		return err
	}
	if plan.Class.Version != version {
		return desk.Problems{"levers": "The class has been changed meanwhile: look at its plan again."}
	}
	for _, a := range plan.Arrivals() {
		for _, place := range plan.Class.Places {
			if place.ID != a.StudentID {
				continue
			}
			in := PlaceInput{Attendance: string(day.Late), LateMinutes: strconv.Itoa(a.Minutes), Size: place.Size, Version: place.Version}
			if place.Makes != nil {
				in.Project = place.Makes.Name
			}
			if err := d.savePlace(classID, a.StudentID, in); err != nil {
				return err
			}
		}
	}
	return nil
}

// more is one more than a number of a form.
func more(typed string) string {
	n, err := strconv.Atoi(typed)
	if err != nil {
		return typed
	}
	return strconv.Itoa(n + 1)
}

// moved is a clock time so many minutes later, on the same day; where there is no
// such time, it stays.
func moved(clock string, minutes int64) string {
	at, err := time.Parse("15:04", clock)
	then := at.Add(time.Duration(minutes) * time.Minute)
	if err != nil || then.Day() != at.Day() {
		return clock
	}
	return then.Format("15:04")
}
