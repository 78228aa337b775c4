// Package students is the area of people and the ladder they climb.
package students

import (
	"fmt"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app"
	"chalkstep/core/skill"
	"chalkstep/store"
	"chalkstep/web/ui"
)

const area = "Students"

// Routes of the area.
func Routes(f *fiber.App) {
	f.Get("/students", ui.With(func(c fiber.Ctx, d app.Desk) error {
		return list(c, d, store.Student{FirstTimer: true}, app.Problems{})
	}))
	f.Post("/students", ui.With(save))
	f.Get("/students/:id", ui.With(func(c fiber.Ctx, d app.Desk) error { return show(c, d, app.Problems{}) }))
	f.Post("/students/:id", ui.With(save))
	f.Post("/students/:id/sign-offs", ui.WithID(signOff))
}

func list(c fiber.Ctx, d app.Desk, typed store.Student, problems app.Problems) error {
	students, err := d.Students()
	if err != nil {
		return err
	}
	return ui.Render(c, "students/list", area, area, fiber.Map{"Students": students, "Typed": typed, "Rungs": len(skill.Ladder), "Problems": problems})
}

func show(c fiber.Ctx, d app.Desk, problems app.Problems) error {
	id, err := ui.ID(c, "id")
	if err != nil {
		return err
	}
	page, err := d.Student(id)
	if err != nil {
		return err
	}
	if name := c.FormValue("name"); len(problems) > 0 && c.Method() == fiber.MethodPost {
		page.FirstTimer = c.FormValue("first_timer") != ""
		return ui.Render(c, "students/show", area, page.Name, fiber.Map{"Page": page, "Typed": name, "Problems": problems})
	}
	return ui.Render(c, "students/show", area, page.Name, fiber.Map{"Page": page, "Typed": page.Name, "Problems": problems})
}

func save(c fiber.Ctx, d app.Desk) error {
	s := store.Student{ID: fiber.Params[int64](c, "id"), Version: int(ui.Number(c.FormValue("version"))), Name: c.FormValue("name"), FirstTimer: c.FormValue("first_timer") != ""}
	isNew := s.ID == 0
	if err := d.SaveStudent(&s); err != nil {
		return ui.Again(c, err, func(p app.Problems) error {
			if isNew {
				return list(c, d, s, p)
			}
			return show(c, d, p)
		})
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/students/%d", s.ID))
}

func signOff(c fiber.Ctx, d app.Desk, id int64) error {
	key, kind := c.FormValue("skill"), c.FormValue("kind")
	change := d.SignOff
	if c.FormValue("take_back") != "" {
		change = d.TakeBack
	}
	if err := change(id, key, kind); err != nil {
		return err
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/students/%d", id))
}
