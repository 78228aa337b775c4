package wrapup

import (
	"errors"
	"slices"
	"time"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/booking"
	"chalkstep/core/classday"
	"chalkstep/core/fleet"
	"chalkstep/core/live"
	"chalkstep/store"
)

// A Makeup is a stretch of time in which somebody could finish at a machine.
type Makeup struct {
	Machine          fleet.Named
	StartsAt, EndsAt time.Time
	// Accompanied tells that an instructor has to stay.
	Accompanied bool
}

// Limits of looking for a time to finish.
const (
	MakeupDays   = 14
	mostMakeups  = 3
	mostBookings = 500
)

// LooksAhead tells that it is not too long ago to make up for something.
func (w WrapPage) LooksAhead() bool {
	return !w.Now.After(w.Plan.Class.EndsAt.AddDate(0, 0, MakeupDays))
}

// unfinished are those who have something to make up for: they are not done, or did not come.
func (w WrapPage) unfinished() []live.Outcome {
	var open []live.Outcome
	for _, o := range w.Students {
		if len(o.Steps) > o.Next && o.Reached != live.Finished && (w.Running() || w.Said[o.StudentID].Reached != "") {
			open = append(open, o)
		}
	}
	return open
}

// makeups look for times at which those who have something to make up for could: at the hour of the
// class, or when there is room, on the days that follow, at a machine they may sit at, as the rules of
// booking allow it. What they have booked meanwhile is found too.
func (d UseCases) makeups(w WrapPage) (found map[int64][]Makeup, booked map[int64][]fleet.Booking, err error) {
	found, booked = map[int64][]Makeup{}, map[int64][]fleet.Booking{}
	open, class := w.unfinished(), w.Plan.Class
	if len(open) == 0 || !w.LooksAhead() {
		return found, booked, nil
	}
	ahead := booking.Span{From: d.Now, To: d.Now.AddDate(0, 0, MakeupDays+1)}
	taken, _, err := d.Workshop.BookingsBetween(ahead.From, ahead.To, store.Rows{Limit: mostBookings})
	if err != nil {
		return nil, nil, err
	}
	ids := make([]int64, len(open))
	for i, o := range open {
		ids[i] = o.StudentID
	}
	elsewhere, err := d.Workshop.Elsewhere(ids, booking.Week(d.Now, d.Who.Zone).From, ahead.To, class.ID)
	if err != nil {
		return nil, nil, err
	}
	instructors, err := d.Workshop.Instructors(ahead.From, ahead.To, 0)
	if err != nil {
		return nil, nil, err
	}
	for _, b := range taken {
		if b.MakesUpID == class.ID {
			booked[b.Student.ID] = append(booked[b.Student.ID], b)
		}
	}
	for _, o := range open {
		if len(booked[o.StudentID]) > 0 {
			continue
		}
		want := booking.Want{Now: d.Now, Zone: d.Who.Zone,
			Staffed: func(s booking.Span) bool { return instructors.Free(s.From, s.To) }}
		want.Elsewhere, want.BookedMinutes = fleet.WhereIs(o.StudentID, elsewhere, d.Who.Zone)
		if want.Machines, err = d.machinesFor(w.Plan, o, taken, ahead); err != nil {
			return nil, nil, err
		}
		if found[o.StudentID], err = d.timesFor(want, class.StartsAt); err != nil {
			return nil, nil, err
		}
	}
	return found, booked, nil
}

// machinesFor are the machines of a class that take what somebody has to finish.
func (d UseCases) machinesFor(plan classday.Plan, o live.Outcome, taken []fleet.Booking,
	ahead booking.Span) ([]booking.Machine, error) {
	work, place, made := plan.Maker(classday.PersonID(o.StudentID))
	if !made {
		return nil, nil
	}
	minutes := o.MakeUp().Minutes
	var all []booking.Machine
	for _, m := range plan.Class.Machines {
		if !work.Fits(m.ID) {
			continue
		}
		c, err := d.Clearance(place.Student, m.Kind())
		if err != nil {
			return nil, err
		}
		all = append(all, booking.Machine{ID: m.ID, Name: m.Name, Minutes: minutes, Accompanied: !c.May(),
			Taken: fleet.WhenTaken(m.ID, taken, m.Outages, ahead)})
	}
	return all, nil
}

// timesFor are the first times for something, one a day: at an hour, or when there is room.
func (d UseCases) timesFor(want booking.Want, hour time.Time) ([]Makeup, error) {
	settings, err := d.Settings()
	if err != nil {
		return nil, err
	}
	var found []Makeup
	today, hour := d.Now.In(d.Who.Zone), hour.In(d.Who.Zone)
	for n := 1; n <= MakeupDays && len(found) < mostMakeups; n++ {
		at := func(hour, minute int) time.Time {
			return time.Date(today.Year(), today.Month(), today.Day()+n, hour, minute, 0, 0, d.Who.Zone)
		}
		for _, from := range []time.Time{at(hour.Hour(), hour.Minute()), at(0, 0)} {
			want.Within = booking.Span{From: from, To: at(24, 0)}
			if slots := settings.Booking.Slots(want, 1); len(slots) > 0 {
				s := slots[0]
				found = append(found,
					Makeup{fleet.Named{ID: s.Machine.ID, Name: s.Machine.Name}, s.From, s.To, s.Machine.Accompanied})
				break
			}
		}
	}
	return found, nil
}

// BookMakeup books one of the times that a student was offered, and tells them.
func (d UseCases) BookMakeup(classID, studentID int64, startsAt time.Time) error {
	if err := d.Need(actor.Book); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error {
		if err := d.Workshop.LockStudents(studentID); err != nil {
			return err
		}
		w, err := d.Wrap(classID)
		if err != nil {
			return err
		}
		at := slices.IndexFunc(w.Makeups[studentID], func(m Makeup) bool { return m.StartsAt.Equal(startsAt) })
		if at < 0 {
			return form.Problems{"": "That time is taken meanwhile: choose another."}
		}
		m := w.Makeups[studentID][at]
		if m.Accompanied {
			busy, err := d.Workshop.LockInstructors(m.StartsAt, m.EndsAt, 0)
			if err != nil {
				return err
			}
			if !busy.Free(m.StartsAt, m.EndsAt) {
				return form.Problems{"": "No instructor is free then, and one has to stay: choose another time."}
			}
		}
		b := fleet.Booking{Machine: m.Machine, Student: &fleet.Named{ID: studentID}, StartsAt: m.StartsAt, EndsAt: m.EndsAt,
			Accompanied: m.Accompanied, MakesUpID: classID, Note: "To finish: " + w.Plan.Class.Name}
		_, err = d.Workshop.Book(b, d.Who.AccountID)
		if errors.Is(err, store.ErrOverlap) || errors.Is(err, store.ErrElsewhere) {
			return form.Problems{"": m.Machine.Name + " is taken meanwhile: choose another time."}
		}
		if err != nil {
			return err
		}
		return d.Workshop.Tell(b.Message(fleet.ToFinish, d.Now))
	})
}
