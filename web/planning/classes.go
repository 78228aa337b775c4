// Package planning is the pages on which classes are planned.
package planning

import (
	"fmt"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/actor"
	app "chalkstep/app/planning"
	"chalkstep/web/classhead"
	"chalkstep/web/ui"
)

// Routes of the area.
func Routes(f *fiber.App) {
	f.Get("/classes", ui.With(list))
	f.Get("/classes/new", ui.With(ui.Needs(actor.ChangeClasses, func(c fiber.Ctx, d app.UseCases) error {
		if like := ui.Number(c.Query("like")); like > 0 {
			in, err := d.Repeat(like)
			if err != nil {
				return err
			}
			return showForm(c, d, in, nil)
		}
		in := app.ClassInput{Project: c.Query("project"), From: "10:00", To: "13:00", Instructors: "1", Irons: "1",
			Opening: "0", Closing: "0"}
		return showForm(c, d, in, nil)
	})))
	f.Get("/classes/picks", ui.With(picks))
	f.Get("/classes/preview", ui.With(preview))
	f.Post("/classes/new", ui.With(save))
	f.Get("/classes/:id",
		ui.WithID(func(c fiber.Ctx, d app.UseCases, id int64) error { return showPlan(c, d, id, nil) }))
	f.Post("/classes/:id/move", ui.WithID(move))
	f.Get("/classes/:id/edit", ui.WithID(edit))
	f.Post("/classes/:id/edit", ui.WithID(func(c fiber.Ctx, d app.UseCases, _ int64) error { return save(c, d) }))
	f.Post("/classes/:id/cancel", ui.WithID(func(c fiber.Ctx, d app.UseCases, id int64) error {
		return classhead.Back(c, d, id, "", d.CallOff(id), showPlan)
	}))
	f.Post("/classes/:id/reinstate", ui.WithID(reinstate))
	f.Post("/classes/:id/delete", ui.WithID(func(c fiber.Ctx, d app.UseCases, id int64) error {
		return gone(c, d, id, d.DeleteClass(id))
	}))
	f.Get("/classes/:id/roster",
		ui.WithID(func(c fiber.Ctx, d app.UseCases, id int64) error { return roster(c, d, id, nil) }))
	f.Post("/classes/:id/roster", ui.WithID(savePlace))
	f.Get("/classes/:id/levers", ui.WithID(levers))
	f.Post("/classes/:id/levers", ui.WithID(adopt))
}

func list(c fiber.Ctx, d app.UseCases) error {
	page, err := d.Classes(ui.Page(c))
	if err != nil {
		return err
	}
	return ui.Render(c, "planning/list", classhead.Area, classhead.Area, fiber.Map{"Page": page, "Pages": page.Pages})
}

func showPlan(c fiber.Ctx, d app.UseCases, id int64, problems *ui.Refused) error {
	page, err := d.Class(id)
	if err != nil {
		return err
	}
	untested, err := d.Untested(page)
	if err != nil {
		return err
	}
	v := newPlanView(d, page)
	if page.Begun {
		now, err := d.AsItRuns(id)
		if err != nil {
			return err
		}
		v.Live = d.Say(now.Outcome())
		_, v.Ended = now.Ended()
	}
	if v.Planned && v.MayChange && !page.Class.Over(d.Now) {
		v.Move = newMoveView(c, ui.P{Printer: d.Printer()}, page)
	}
	return ui.Render(c, "planning/plan", classhead.Area, page.Class.Name,
		fiber.Map{"View": v, "Untested": untested, "Taken": c.Locals(takenKey), "Problems": problems})
}

// reinstate takes back that a class was called off, and says what it has no more.
func reinstate(c fiber.Ctx, d app.UseCases, id int64) error {
	taken, err := d.Reinstate(id)
	if err != nil || len(taken) == 0 {
		return classhead.Back(c, d, id, "", err, showPlan)
	}
	c.Locals(takenKey, d.Printer().Lines(taken))
	return showPlan(c, d, id, nil)
}

// takenKey names what a class has no more, for the page that follows.
const takenKey = "classes: taken"

func edit(c fiber.Ctx, d app.UseCases, id int64) error {
	in, err := d.ClassToChange(id)
	if err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error { return showPlan(c, d, id, p) })
	}
	return showForm(c, d, in, nil)
}

func showForm(c fiber.Ctx, d app.UseCases, in app.ClassInput, problems *ui.Refused) error {
	choices, err := d.ClassForm(in.StudentIDs, c.FormValue("find"))
	if err != nil {
		return err
	}
	title := "New class"
	if in.ID != 0 {
		title = in.Name
	}
	return ui.Render(c, "planning/form", classhead.Area, title,
		fiber.Map{"In": in, "Choices": choices, "Picks": picksView{ui.P{Printer: d.Printer()}, choices.Roster},
			"Problems": problems})
}

// A picksView is the students to pick from, as they are shown.
type picksView struct {
	P ui.P
	app.RosterPicks
}

// picks answers with the students to pick from, those already picked among
// them.
func picks(c fiber.Ctx, d app.UseCases) error {
	var picked []int64
	for _, v := range c.RequestCtx().QueryArgs().PeekMulti("students") {
		picked = append(picked, ui.Number(string(v)))
	}
	roster, err := d.RosterPicks(picked, c.Query("find"))
	if err != nil {
		return err
	}
	c.Set(fiber.HeaderCacheControl, "no-store")
	return c.Render("planning/picks", picksView{ui.P{Printer: d.Printer()}, roster})
}

func save(c fiber.Ctx, d app.UseCases) error {
	var in app.ClassInput
	if err := ui.Bind(c, &in); err != nil {
		return err
	}
	in.ID = max(0, ui.Number(c.Params("id")))
	if c.FormValue("look") != "" { // for students, without scripts
		return showForm(c, d, in, nil)
	}
	id, err := d.SaveClass(in)
	if err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error { return showForm(c, d, in, p) })
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/classes/%d", id))
}

// gone goes on after a class was deleted, or says on its form why it was not.
func gone(c fiber.Ctx, d app.UseCases, id int64, err error) error {
	if err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error {
			in, err := d.ClassInput(id)
			if err != nil {
				return err
			}
			return showForm(c, d, in, p)
		})
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/classes")
}
