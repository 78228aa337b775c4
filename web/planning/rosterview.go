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
	// Runs says how it goes while the class runs, silent where it does not.
	Runs string
}

type rosterRow struct {
	ID          int64
	Version     int
	Name, Makes string
	Attendance  classday.Attendance
	Late        string
	// Where says whether they are there, while the class runs.
	Where string
	// HoopedAhead tells that staff hoop their first blank before class.
	HoopedAhead bool
	// Sized tells that their blank comes in sizes.
	Sized bool
	Size  string
}

func newRosterView(d app.UseCases, page app.RosterPage) rosterView {
	p, plan := ui.P{Printer: d.Printer()}, page.Plan
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
		if page.Now != nil {
			if at, there := page.Now.Standing(place.ID); there {
				row.Where = p.Say(page.Now.Where(at))
			}
		}
		v.Rows = append(v.Rows, row)
	}
	if page.Now != nil {
		v.Runs = p.Say(page.Now.Outcome())
		if _, ended := page.Now.Ended(); !ended {
			v.Runs = "It runs now. " + v.Runs
		}
	}
	return v
}

func roster(c fiber.Ctx, d app.UseCases, id int64, problems *ui.Refused) error {
	page, err := d.Roster(id)
	if err != nil {
		return err
	}
	return ui.Render(c, "planning/roster", classhead.Area, page.Class.Name,
		fiber.Map{"View": newRosterView(d, page), "Problems": problems})
}

func savePlace(c fiber.Ctx, d app.UseCases, id int64) error {
	var in app.PlaceInput
	if err := ui.Bind(c, &in); err != nil {
		return err
	}
	return classhead.Back(c, d, id, "roster", d.SavePlace(id, ui.Number(c.FormValue("student")), in), roster)
}
