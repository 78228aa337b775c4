// Package students is the area of people and the ladder they climb.
package students

import (
	"fmt"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/desk"
	"chalkstep/app/people"
	"chalkstep/core/skill"
	"chalkstep/web/ui"
)

const area = "Students"

// Routes of the area.
func Routes(f *fiber.App) {
	f.Get("/students", ui.With(func(c fiber.Ctx, d people.Desk) error {
		return list(c, d, skill.Student{FirstTimer: true}, desk.Problems{})
	}))
	f.Post("/students", ui.With(func(c fiber.Ctx, d people.Desk) error { return save(c, d, 0) }))
	f.Get("/students/names", ui.Suggest(people.Desk.StudentNames))
	f.Get("/students/:id", ui.WithID(func(c fiber.Ctx, d people.Desk, id int64) error { return show(c, d, id, desk.Problems{}) }))
	f.Post("/students/:id", ui.WithID(save))
	f.Post("/students/:id/sign-offs", ui.WithID(signOff))
}

func list(c fiber.Ctx, d people.Desk, typed skill.Student, problems desk.Problems) error {
	page, err := d.Students(c.Query("words"), ui.Page(c))
	if err != nil {
		return err
	}
	return ui.Render(c, "students/list", area, area, fiber.Map{"Page": page, "Pages": page.Pages, "Typed": typed, "Rungs": len(skill.Ladder), "Problems": problems})
}

func show(c fiber.Ctx, d people.Desk, id int64, problems desk.Problems) error {
	page, err := d.Student(id)
	if err != nil {
		return err
	}
	typed := page.Name
	if c.Method() == fiber.MethodPost {
		typed, page.FirstTimer, page.Units = c.FormValue("name"), c.FormValue("first_timer") != "", c.FormValue("units")
	}
	return ui.Render(c, "students/show", area, page.Name, fiber.Map{"Page": page, "Typed": typed, "Problems": problems})
}

func save(c fiber.Ctx, d people.Desk, id int64) error {
	s := skill.Student{ID: id, Version: ui.Small(c.FormValue("version")), Name: c.FormValue("name"), FirstTimer: c.FormValue("first_timer") != "", Units: c.FormValue("units")}
	saved, err := d.SaveStudent(s)
	if err != nil {
		return ui.Again(c, err, func(p desk.Problems) error {
			if id == 0 {
				return list(c, d, s, p)
			}
			return show(c, d, id, p)
		})
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/students/%d", saved))
}

func signOff(c fiber.Ctx, d people.Desk, id int64) error {
	key, kind := skill.Key(c.FormValue("skill")), skill.Kind(c.FormValue("kind"))
	change := d.SignOff
	if c.FormValue("take_back") != "" {
		change = d.TakeBack
	}
	if err := change(id, key, kind); err != nil {
		return err
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/students/%d", id))
}
