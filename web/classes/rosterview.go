package classes

import (
	"cmp"
	"fmt"

	"chalkstep/app/classes"
	"chalkstep/core/blank"
	"chalkstep/core/classday"
)

// A rosterView is who comes, and what they make.
type rosterView struct {
	head
	Rows        []rosterRow
	Attendances []classday.Attendance
	// AnySized tells that some blank comes in Sizes.
	AnySized bool
	Sizes    []string
}

type rosterRow struct {
	ID          int64
	Version     int
	Name, Makes string
	Attendance  classday.Attendance
	Late        string
	// HoopedAhead tells that staff hoop their first blank before class.
	HoopedAhead bool
	// Sized tells that their blank comes in sizes.
	Sized bool
	Size  string
}

func newRosterView(d classes.UseCases, plan classday.Plan) rosterView {
	v := rosterView{head: newHead(d, plan, "plan", "", ""), Attendances: []classday.Attendance{classday.Expected, classday.Late, classday.Absent}, Sizes: blank.Sizes}
	for _, place := range plan.Class.Places {
		row := rosterRow{ID: place.ID, Version: place.Version, Name: place.Name, Makes: plan.Class.Project.Name, Attendance: place.Attendance, HoopedAhead: place.HoopedAhead}
		if place.Makes != nil {
			row.Makes = place.Makes.Name
		}
		if place.LateMinutes > 0 {
			row.Late = fmt.Sprint(place.LateMinutes)
		}
		made := plan.Class.Project
		if place.Makes != nil {
			made = *place.Makes
		}
		if row.Sized = made.Sized(); row.Sized {
			row.Size, v.AnySized = cmp.Or(place.Wears(), made.Blank.Size), true
		}
		v.Rows = append(v.Rows, row)
	}
	return v
}
