// Package students is the area of people and the ladder they climb.
package students

import (
	"fmt"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/people"
	"chalkstep/core/photo"
	"chalkstep/core/skill"
	"chalkstep/web/ui"
)

const area = "Students"

// Routes of the area.
func Routes(f *fiber.App) {
	f.Get("/students", ui.With(func(c fiber.Ctx, d people.UseCases) error {
		return list(c, d, skill.Student{FirstTimer: true}, nil)
	}))
	f.Post("/students", ui.With(func(c fiber.Ctx, d people.UseCases) error { return save(c, d, 0) }))
	f.Get("/students/names", ui.Suggest(people.UseCases.StudentNames))
	rosterRoutes(f)
	linkRoutes(f)
	stepRoutes(f)
	f.Get("/students/matrix", ui.With(func(c fiber.Ctx, d people.UseCases) error { return matrix(c, d, nil) }))
	f.Get("/students/next", ui.With(showNext))
	f.Post("/students/marks", ui.With(mark))
	f.Get("/students/:id",
		ui.WithID(func(c fiber.Ctx, d people.UseCases, id int64) error { return show(c, d, id, nil) }))
	f.Post("/students/:id", ui.WithID(save))
	f.Post("/students/:id/suspend", ui.WithID(suspend))
	f.Post("/students/:id/marks/:mark/take-back", ui.WithID(takeBack))
	f.Get("/students/:id/marks/:mark/photo", ui.WithID(markPhoto))
}

func list(c fiber.Ctx, d people.UseCases, typed skill.Student, problems *ui.Refused) error {
	page, err := d.Students(c.Query("words"), ui.Page(c))
	if err != nil {
		return err
	}
	return ui.Render(c, "students/list", area, area,
		fiber.Map{"Page": page, "Pages": page.Pages, "Typed": typed, "Rungs": page.Rungs, "Problems": problems})
}

func show(c fiber.Ctx, d people.UseCases, id int64, problems *ui.Refused) error {
	page, err := d.Student(id)
	if err != nil {
		return err
	}
	typed := page.Name
	if c.Method() == fiber.MethodPost && c.FormValue("name") != "" {
		typed, page.FirstTimer, page.Units = c.FormValue("name"), c.FormValue("sewn") == "", c.FormValue("units")
		page.Size, page.Notes, page.Photos = c.FormValue("size"), c.FormValue("notes"), c.FormValue("photos") != ""
	}
	in := people.MarkInput{Skill: page.Next.Key, On: skill.SingleNeedle, Level: skill.Alone}
	if c.FormValue("skill") != "" { // what was pressed is kept
		if err := ui.Bind(c, &in); err != nil {
			return err
		}
	} else if step, known := page.Ladder.ByKey(skill.Key(c.Query("step"))); known {
		in.Skill = step.Key
	}
	drawn := newLadderView(page.Ladder, page.Rungs, func(key skill.Key) string {
		return fmt.Sprintf("/students/%d?step=%s#mark", id, key)
	})
	drawn.Marked = true
	return ui.Render(c, "students/show", area, page.Name, fiber.Map{
		"Page": page, "Ladder": drawn, "Record": newRecordView(ui.P{Printer: d.Printer()}, page),
		"Rungs": rungsOf(ui.P{Printer: d.Printer()}, page), "Mark": in, "Steps": page.Ladder.Steps(), "Kinds": skill.Kinds,
		"Levels": levelChoices(ui.P{Printer: d.Printer()}),
		"Typed":  typed, "Problems": problems,
	})
}

func save(c fiber.Ctx, d people.UseCases, id int64) error {
	s := skill.Student{ID: id, Version: ui.Small(c.FormValue("version")), Name: c.FormValue("name"),
		FirstTimer: c.FormValue("sewn") == "", Units: c.FormValue("units"), Size: c.FormValue("size"),
		Notes: c.FormValue("notes"), Photos: c.FormValue("photos") != ""}
	saved, err := d.SaveStudent(s)
	if err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error {
			if id == 0 {
				return list(c, d, s, p)
			}
			return show(c, d, id, p)
		})
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/students/%d", saved))
}

// takeBack takes a mark back that was given by mistake.
func takeBack(c fiber.Ctx, d people.UseCases, id int64) error {
	if err := d.TakeMarkBack(id, ui.Number(c.Params("mark"))); err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error { return show(c, d, id, p) })
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/students/%d#marks", id))
}

// markPhoto is the photo of what a mark was given for.
func markPhoto(c fiber.Ctx, d people.UseCases, id int64) error {
	p, err := d.MarkPhoto(id, ui.Number(c.Params("mark")))
	if err != nil {
		return err
	}
	return ui.Picture(c, photo.MediaType, p.Data)
}

// suspend keeps a student from being alone at a machine, or lifts that.
func suspend(c fiber.Ctx, d people.UseCases, id int64) error {
	if err := d.Suspend(id, c.FormValue("suspended"), c.FormValue("lift") != ""); err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error { return show(c, d, id, p) })
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/students/%d", id))
}
