package planning

import (
	"slices"
	"time"

	"chalkstep/app/form"
	"chalkstep/core/classday"
	"chalkstep/core/live"
)

// theyStand is why the plan of a class cannot be changed once the class has begun.
const theyStand = "The class has begun, so its plan stands. Note on its board who comes late, leaves or sits " +
	"elsewhere, and which machine is out of order."

// stands refuses to change what a class was planned from once it has begun.
func (d UseCases) stands(classID int64) error {
	begun, err := d.load().Begun(classID)
	if err == nil && begun {
		return form.Problems{"": theyStand}
	}
	return err
}

// saveBegun saves what may change of a class that has begun: its name, and who joins it.
func (d UseCases) saveBegun(w wish) (int64, error) {
	joins, same := w.joins()
	if !same {
		return 0, form.Problems{"": theyStand + " Its name can be changed, and students can be added."}
	}
	id, err := d.keepClass(w)
	if err != nil || len(joins) == 0 {
		return id, err
	}
	n, err := d.load().OpenLog(id)
	if err != nil {
		return id, err
	}
	for _, studentID := range joins {
		machine, ok := n.Page.PlaceFor(studentID, n.Page.Now)
		e := live.Event{Kind: live.Joined, At: n.Page.Now, StudentID: studentID, MachineID: machine, By: d.Who.Name}
		fits := false
		if ok {
			if fits, err = d.load().Note(n, e); err != nil {
				return id, err
			}
		}
		if !fits {
			return id, form.Problems{"students": d.Say(live.Joined.Refused())}
		}
	}
	return id, nil
}

// joins are those a wish adds to the class as it was; same is false where it changes more than that
// and the name.
func (w wish) joins() (ids []int64, same bool) {
	was := w.was
	var students, machines []int64
	for _, p := range was.Places {
		students = append(students, p.ID)
	}
	for _, m := range was.Machines {
		machines = append(machines, m.ID)
	}
	for _, id := range w.studentIDs {
		if !slices.Contains(students, id) {
			ids = append(ids, id)
		}
	}
	all := func(of, in []int64) bool {
		return !slices.ContainsFunc(of, func(id int64) bool { return !slices.Contains(in, id) })
	}
	same = w.makes == was.Project.At() && all(students, w.studentIDs) && all(machines, w.machines) &&
		all(w.machines, machines) && sameDay(was, w.Class)
	return ids, same
}

// sameDay tells whether two classes have the same times and hands.
func sameDay(a, b classday.Class) bool {
	type day struct {
		starts, ends                                  time.Time
		instructors, irons, assistants, stay, benches int
		opening, closing, breakAt, breakMinutes       int
	}
	of := func(c classday.Class) day {
		return day{c.StartsAt.UTC(), c.EndsAt.UTC(), c.Instructors, c.Irons, c.Assistants, c.AssistantMinutes, c.Benches,
			c.OpeningMinutes, c.ClosingMinutes, c.BreakAt, c.BreakMinutes}
	}
	return of(a) == of(b)
}

// noteAttendance notes on the board of a class that has begun that somebody is late, or does not come.
func (d UseCases) noteAttendance(classID int64, place classday.Place, was classday.Place) error {
	if !sameProject(place.Makes, was.Makes) || place.Size != was.Size || place.HoopedAhead != was.HoopedAhead {
		return form.Problems{"": theyStand + " What somebody makes stays as it was planned."}
	}
	n, err := d.load().OpenLog(classID)
	if err != nil {
		return err
	}
	e := live.Event{At: n.Page.Now, StudentID: place.ID, By: d.Who.Name}
	at, known := n.Page.Standing(place.ID)
	switch {
	case !known:
		return form.Problems{"": d.Say(live.Here.Refused())}
	case place.Attendance == classday.Absent:
		if at.Presence == live.Left {
			return nil
		}
		e.Kind = live.Gone
	case place.Attendance == classday.Late:
		e.Kind = live.Late
		e.Until = n.Page.Plan.Class.StartsAt.Add(time.Duration(place.LateMinutes) * time.Minute)
		if e.Until.Equal(at.Expected) {
			return nil
		}
	case at.Presence == live.Left:
		e.Kind = live.Here
	default:
		return nil
	}
	fits, err := d.load().Note(n, e)
	if err == nil && !fits {
		return form.Problems{"": d.Say(e.Kind.Refused())}
	}
	return err
}
