package planning

import (
	"errors"
	"fmt"
	"math"
	"slices"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/blank"
	"chalkstep/core/classday"
	"chalkstep/core/live"
	"chalkstep/core/project"
	"chalkstep/store"
)

// A PlaceInput is what a person says of a student's place in a class.
type PlaceInput struct {
	// Project is the name of what they make; empty for what the class makes.
	Project    string `form:"project" says:"Makes"`
	Attendance string `form:"attendance" says:"Comes"`
	// LateMinutes are typed.
	LateMinutes string `form:"late" says:"Minutes late"`
	// Size of their blank, where it comes in sizes; empty for the project's own.
	Size string `form:"size" says:"Size"`
	// HoopedAhead tells that staff hoop their first blank before class.
	HoopedAhead bool `form:"hooped"`
	// Version of the place, as it was read.
	Version int `form:"version"`
}

// A RosterPage is a class with who comes.
type RosterPage struct {
	classday.Plan
	// Now is set if the class has begun.
	Now *live.Page
}

// Roster opens a class with who comes, as it is said now: the plan of a class that has begun is made from
// who was to come then.
func (d UseCases) Roster(id int64) (RosterPage, error) {
	plan, err := d.Class(id)
	page := RosterPage{Plan: plan}
	if err != nil {
		return page, err
	}
	if plan.Begun {
		now, err := d.load().Runs(id)
		if err != nil {
			return page, err
		}
		page.Now = &now
	}
	today, err := d.Workshop.Class(id)
	if err != nil {
		return page, err
	}
	page.Class.Places = slices.Clone(plan.Class.Places)
	for i, p := range page.Class.Places {
		place := &page.Class.Places[i]
		for _, now := range today.Places {
			if now.ID == p.ID {
				place.Attendance, place.LateMinutes, place.Version = now.Attendance, now.LateMinutes, now.Version
			}
		}
		if page.Now != nil {
			*place = asItIs(*place, *page.Now)
		}
	}
	return page, nil
}

// asItIs is a place by what was noted while the class runs.
func asItIs(place classday.Place, now live.Page) classday.Place {
	at, known := now.Standing(place.ID)
	switch {
	case !known:
	case at.Presence == live.Left:
		place.Attendance, place.LateMinutes = classday.Absent, 0
	case at.Presence == live.Present:
		place.Attendance, place.LateMinutes = classday.Expected, 0
	case !at.Expected.IsZero():
		place.Attendance = classday.Late
		place.LateMinutes = int(math.Round(at.Expected.Sub(now.Plan.Class.StartsAt).Minutes()))
	}
	return place
}

// SavePlace changes a student's place: another project, late, or absent.
func (d UseCases) SavePlace(classID, studentID int64, in PlaceInput) error {
	if err := d.Need(actor.ChangeClasses); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error { return d.savePlace(classID, studentID, in) })
}

func (d UseCases) savePlace(classID, studentID int64, in PlaceInput) error {
	c, err := d.load().LockedClass(classID)
	if err != nil {
		return err
	}
	at := slices.IndexFunc(c.Places, func(p classday.Place) bool { return p.Student.ID == studentID })
	if at < 0 {
		return fmt.Errorf("finding student %d in class %d: %w", studentID, classID, store.ErrNotFound)
	}
	was := c.Places[at]
	place := classday.Place{Student: was.Student, Attendance: classday.Attendance(in.Attendance), Version: in.Version}
	problems := form.Problems{}
	place.Pins, place.HoopedAhead = was.Pins, in.HoopedAhead
	switch place.Attendance {
	case classday.Expected, classday.Absent:
	case classday.Late:
		window := min(600, int(c.EndsAt.Sub(c.StartsAt).Minutes()))
		place.LateMinutes = form.Whole(problems, "late", in.LateMinutes, 1, window,
			fmt.Sprintf("Write by how many minutes they are late, 1 to %d.", window))
	default:
		problems["attendance"] = "Choose expected, late or absent."
	}
	makes := form.Text(problems, "project", in.Project, form.LongestName)
	switch {
	case makes == "" || makes == c.Project.Name:
	case was.Makes != nil && makes == was.Makes.Name:
		place.Makes = was.Makes
	default:
		other, err := d.Workshop.ProjectNamed(makes)
		switch {
		case errors.Is(err, store.ErrNotFound):
			problems["project"] = form.NoneCalled("project", makes)
		case err != nil:
			return err
		case other.ID != c.Project.ID:
			place.Makes = &project.Project{ID: other.ID, Version: other.Version}
		}
	}
	if !sameProject(place.Makes, was.Makes) {
		place.Pins = nil // they are of other hoopings
	}
	place.Size = form.Chosen(problems, "size", in.Size, append([]string{""}, blank.Sizes...),
		"Choose a size from the list.")
	if err := problems.OrNil(); err != nil {
		return err
	}
	begun, err := d.load().Begun(classID)
	if err != nil {
		return err
	}
	if begun {
		if err := d.noteAttendance(classID, place, was); err != nil {
			return err
		}
	}
	err = form.Compare(d.Workshop.SavePlace(classID, place), in, func() (PlaceInput, int, error) {
		makes := c.Project.Name
		if was.Makes != nil {
			makes = was.Makes.Name
		}
		late := ""
		if was.LateMinutes > 0 {
			late = fmt.Sprint(was.LateMinutes)
		}
		return PlaceInput{Project: makes, Attendance: string(was.Attendance), LateMinutes: late, Size: was.Size,
			HoopedAhead: was.HoopedAhead}, was.Version, nil
	})
	return form.Saved(err, "")
}

// sameProject tells whether two make the same, nil for what the class makes.
func sameProject(a, b *project.Project) bool {
	if a == nil || b == nil {
		return a == b
	}
	return a.ID == b.ID
}
