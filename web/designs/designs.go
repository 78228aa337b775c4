// Package designs is the area of stitch files: what each is, and which
// machine can sew it.
package designs

import (
	"fmt"
	"maps"
	"strings"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app"
	"chalkstep/core/recipe"
	"chalkstep/core/stitch"
	"chalkstep/web/ui"
)

const area = "Designs"

// Routes of the area.
func Routes(f *fiber.App) {
	f.Get("/designs", ui.With(func(c fiber.Ctx, d app.Desk) error { return list(c, d, app.Problems{}) }))
	f.Post("/designs", ui.With(add))
	f.Get("/designs/:id", ui.WithID(show))
	f.Post("/designs/:id", ui.WithID(save))
	f.Post("/designs/:id/delete", ui.WithID(remove))
	f.Get("/designs/:id/file", ui.WithID(download))
	f.Get("/designs/:id/charts/:n", ui.WithID(chart))
	f.Get("/designs/:id/restart", ui.WithID(restart))
	f.Get("/designs/:id/copies", ui.WithID(copies))
	f.Get("/designs/:id/copies/file", ui.WithID(downloadCopies))
	f.Get("/designs/:id/stitches", ui.WithID(stitches))
	f.Get("/designs/:id/density.png", ui.WithID(density))
	f.Get("/designs/:id/placing", ui.WithID(placing))
	f.Post("/designs/:id/placing", ui.WithID(savePlacing))
	f.Get("/designs/:id/template", ui.WithID(printTemplate))
	f.Get("/designs/:id/border", ui.WithID(border))
	f.Get("/designs/:id/align", ui.WithID(align))
	f.Get("/designs/:id/pieces", ui.WithID(pieces))
	f.Get("/designs/:id/pieces.svg", ui.WithID(downloadPieces))
	f.Post("/designs/:id/stitch-outs", ui.WithID(logStitchOut))
	f.Post("/designs/:id/stitch-outs/:run/remove", ui.WithID(removeStitchOut))
	f.Get("/designs/:id/stitch-outs/:run/photo", ui.WithID(photo))
}

func list(c fiber.Ctx, d app.Desk, problems app.Problems) error {
	filter := app.DesignFilter{
		Words: c.Query("words"), HoopID: ui.Number(c.Query("hoop")), MostStops: int(ui.Number(c.Query("stops"))), MostMM: ui.Decimal(c.Query("size")),
		Level: int(ui.Number(c.Query("level"))), Tag: c.Query("tag"),
	}
	library, err := d.Designs(filter)
	if err != nil {
		return err
	}
	return ui.Render(c, "designs/list", area, area, fiber.Map{"Library": library, "Filter": filter, "Filtered": filter != app.DesignFilter{}, "Levels": levels, "Problems": problems, "Formats": stitch.Names()})
}

func add(c fiber.Ctx, d app.Desk) error {
	name, data, err := ui.Upload(c, "file")
	if err != nil {
		return err
	}
	id, err := d.AddDesign(name, data)
	if err != nil {
		return ui.Again(c, err, func(p app.Problems) error { return list(c, d, p) })
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/designs/%d", id))
}

func show(c fiber.Ctx, d app.Desk, id int64) error {
	page, err := d.Design(id)
	if err != nil {
		return err
	}
	return render(c, page, stitch.Place{}, app.Problems{})
}

// render shows a design; more adds to what its page shows or replaces it.
func render(c fiber.Ctx, page app.DesignPage, place stitch.Place, problems app.Problems, more ...fiber.Map) error {
	data := fiber.Map{
		"Page": page, "Place": place, "Drawing": newDrawing(page), "Strip": newStrip(page), "Roles": stitch.Roles, "Levels": levels,
		"Tags": strings.Join(page.Design.Tags, ", "), "Fabrics": recipe.Fabrics, "Run": app.StitchOutInput{}, "Problems": problems,
	}
	for _, m := range more {
		maps.Copy(data, m)
	}
	return ui.Render(c, "designs/show", area, page.Design.Name, data)
}

func save(c fiber.Ctx, d app.Desk, id int64) error {
	colors, roles, sews := ui.All(c, "color"), ui.All(c, "role"), ui.All(c, "sews")
	choices := make([]app.StopChoice, min(len(colors), len(roles), len(sews)))
	for i := range choices {
		choices[i] = app.StopChoice{Color: colors[i], Role: roles[i], Sews: sews[i]}
	}
	in := app.DesignInput{Version: int(ui.Number(c.FormValue("version"))), Name: c.FormValue("name"), Level: int(ui.Number(c.FormValue("level"))), Tags: c.FormValue("tags"), Stops: choices}
	err := d.SaveDesign(id, in)
	if err == nil {
		return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/designs/%d", id))
	}
	return ui.Again(c, err, func(p app.Problems) error {
		page, err := d.Design(id)
		if err != nil {
			return err
		}
		page.Design.Name, page.Design.Level = in.Name, in.Level
		for i, choice := range choices {
			if i < len(page.Stops) {
				page.Stops[i].Color, page.Stops[i].Role, page.Stops[i].Sews = choice.Color, choice.Role, choice.Sews
			}
		}
		return render(c, page, stitch.Place{}, p, fiber.Map{"Tags": in.Tags})
	})
}

func download(c fiber.Ctx, d app.Desk, id int64) error {
	open := d.DesignFile
	if format := c.Query("as"); format != "" {
		open = func(id int64) (string, []byte, error) { return d.FileAs(id, format) }
	}
	name, data, err := open(id)
	if err != nil {
		return err
	}
	return ui.Send(c, name, data)
}

func chart(c fiber.Ctx, d app.Desk, id int64) error {
	name, data, err := d.Chart(id, fiber.Params[int](c, "n"))
	if err != nil {
		return err
	}
	return ui.Send(c, name, data)
}

func remove(c fiber.Ctx, d app.Desk, id int64) error {
	if err := d.DeleteDesign(id); err != nil {
		return ui.Again(c, err, func(p app.Problems) error {
			page, err := d.Design(id)
			if err != nil {
				return err
			}
			return render(c, page, stitch.Place{}, p)
		})
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/designs")
}
