package planning

import (
	"cmp"
	"fmt"

	"github.com/gofiber/fiber/v3"

	app "chalkstep/app/planning"
	"chalkstep/core/blank"
	"chalkstep/core/classday"
	"chalkstep/web/classhead"
	"chalkstep/web/ui"
)

// A rosterView is who comes, and what they make.
type rosterView struct {
	classhead.Head
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

func newRosterView(d app.UseCases, plan classday.Plan) rosterView {
	v := rosterView{Head: classhead.NewHead(d.Actor, plan, "plan", "", ""),
		Attendances: []classday.Attendance{classday.Expected, classday.Late, classday.Absent}, Sizes: blank.Sizes}
	for _, place := range plan.Class.Places {
		row := rosterRow{ID: place.ID, Version: place.Version, Name: place.Name, Makes: plan.Class.Project.Name,
			Attendance: place.Attendance, HoopedAhead: place.HoopedAhead}
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

func roster(c fiber.Ctx, d app.UseCases, id int64, problems *ui.Refused) error {
	plan, err := d.Roster(id)
	if err != nil {
		return err
	}
	return ui.Render(c, "planning/roster", classhead.Area, plan.Class.Name,
		fiber.Map{"View": newRosterView(d, plan), "Problems": problems})
}

func savePlace(c fiber.Ctx, d app.UseCases, id int64) error {
	var in app.PlaceInput
	if err := ui.Bind(c, &in); err != nil {
		return err
	}
	return classhead.Back(c, d, id, "roster", d.SavePlace(id, ui.Number(c.FormValue("student")), in), roster)
}
