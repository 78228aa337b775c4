// Package keeping is the area of what was taken off the lists.
package keeping

import (
	"fmt"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/keeping"
	"chalkstep/web/ui"
)

const area = "Settings"

// Routes of the area.
func Routes(f *fiber.App) {
	f.Get("/removed", ui.With(func(c fiber.Ctx, d keeping.UseCases) error { return removed(c, d, nil) }))
	f.Post("/removed/:kind/:id", ui.WithID(remove))
	f.Post("/removed/:kind/:id/back", ui.WithID(putBack))
}

// places are where the things of a kind are.
var places = map[keeping.Listed]string{keeping.Machine: "/machines", keeping.Hoop: "/hoops", keeping.Item: "/stock",
	keeping.Student: "/students", keeping.Project: "/projects"}

// placeOf is the page of a thing.
func placeOf(kind keeping.Listed, id int64) string { return fmt.Sprintf("%s/%d", places[kind], id) }

// Funcs are the words only this area's templates need.
var Funcs = map[string]any{"placeOf": placeOf}

func removed(c fiber.Ctx, d keeping.UseCases, problems *ui.Refused) error {
	page, err := d.Removed(ui.Page(c))
	if err != nil {
		return err
	}
	return ui.Render(c, "keeping/removed", area, "What was removed",
		fiber.Map{"Page": page, "Pages": page.Pages, "Desk": d, "Problems": problems})
}

func remove(c fiber.Ctx, d keeping.UseCases, id int64) error {
	kind := keeping.Listed(c.Params("kind"))
	kept, err := d.Remove(kind, id)
	if err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error {
			return ui.Render(c, "keeping/refused", area, "It stays", fiber.Map{"Place": placeOf(kind, id), "Problems": p})
		})
	}
	if kept {
		return c.Redirect().Status(fiber.StatusSeeOther).To("/removed")
	}
	list := places[kind]
	if kind == keeping.Hoop {
		list = places[keeping.Machine] // hoops are listed there
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(list)
}

func putBack(c fiber.Ctx, d keeping.UseCases, id int64) error {
	if err := d.PutBack(keeping.Listed(c.Params("kind")), id); err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error { return removed(c, d, p) })
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/removed")
}
