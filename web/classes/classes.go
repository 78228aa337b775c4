// Package classes is the area of classes: each is one page with its parts in
// working order.
package classes

import (
	"fmt"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app"
	"chalkstep/web/ui"
)

const area = "Classes"

// Routes of the area.
func Routes(f *fiber.App) {
	f.Get("/classes", ui.With(list))
	f.Get("/classes/new", ui.With(func(c fiber.Ctx, d app.Desk) error {
		in := app.ClassInput{ProjectID: ui.Number(c.Query("project")), From: "10:00", To: "13:00", Instructors: 1, Irons: 1}
		return form(c, d, in, app.Problems{})
	}))
	f.Post("/classes/new", ui.With(save))
	f.Get("/classes/:id", ui.WithID(plan))
	f.Get("/classes/:id/edit", ui.WithID(edit))
	f.Post("/classes/:id/edit", ui.With(save))
	prepRoutes(f)
	f.Get("/classes/:id/cards", ui.WithID(cards))
	f.Get("/classes/:id/cards/:student", ui.WithID(card))
}

func list(c fiber.Ctx, d app.Desk) error {
	classes, err := d.Classes()
	if err != nil {
		return err
	}
	coming := 0
	for _, class := range classes {
		if !class.Over {
			coming++
		}
	}
	return ui.Render(c, "classes/list", area, area, fiber.Map{"Classes": classes, "Coming": coming})
}

func plan(c fiber.Ctx, d app.Desk, id int64) error {
	page, err := d.Class(id)
	if err != nil {
		return err
	}
	return ui.Render(c, "classes/plan", area, page.Class.Name, fiber.Map{"Page": page, "Part": "plan", "Day": newDay(page, d.Who.Zone)})
}

func edit(c fiber.Ctx, d app.Desk, id int64) error {
	in, err := d.ClassInput(id)
	if err != nil {
		return err
	}
	return form(c, d, in, app.Problems{})
}

func form(c fiber.Ctx, d app.Desk, in app.ClassInput, problems app.Problems) error {
	choices, err := d.ClassForm()
	if err != nil {
		return err
	}
	title := "New class"
	if in.ID != 0 {
		title = in.Name
	}
	return ui.Render(c, "classes/form", area, title, fiber.Map{"In": in, "Choices": choices, "Problems": problems})
}

func save(c fiber.Ctx, d app.Desk) error {
	in := app.ClassInput{
		ID: fiber.Params[int64](c, "id"), Version: int(ui.Number(c.FormValue("version"))), Name: c.FormValue("name"), ProjectID: ui.Number(c.FormValue("project")),
		Date: c.FormValue("date"), From: c.FormValue("from"), To: c.FormValue("to"),
		Instructors: int(ui.Number(c.FormValue("instructors"))), Irons: int(ui.Number(c.FormValue("irons"))),
		StudentIDs: ui.Numbers(c, "students"), Machines: ui.Numbers(c, "machines"), Newest: c.FormValue("newest") != "",
	}
	id, err := d.SaveClass(in)
	if err != nil {
		return ui.Again(c, err, func(p app.Problems) error { return form(c, d, in, p) })
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/classes/%d", id))
}

func cards(c fiber.Ctx, d app.Desk, id int64) error {
	page, cards, err := d.StepCards(id)
	if err != nil {
		return err
	}
	return ui.Render(c, "classes/cards", area, "Step cards of "+page.Class.Name, fiber.Map{"Page": page, "Cards": cards, "Sheets": app.PaperSizes()})
}

func card(c fiber.Ctx, d app.Desk, id int64) error {
	student, err := ui.ID(c, "student")
	if err != nil {
		return err
	}
	card, err := d.StepCard(id, student)
	if err != nil {
		return err
	}
	return ui.Render(c, "classes/card", area, "Step card of "+card.Student.Name, fiber.Map{"Card": card})
}
