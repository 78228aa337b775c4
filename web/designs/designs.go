// Package designs is the area of stitch files: what each is, and which
// machine can sew it.
package designs

import (
	"fmt"
	"io"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app"
	"chalkstep/core/stitch"
	"chalkstep/web/ui"
)

const area = "Designs"

// Routes of the area.
func Routes(f *fiber.App) {
	f.Get("/designs", ui.With(func(c fiber.Ctx, d app.Desk) error { return list(c, d, app.Problems{}) }))
	f.Post("/designs", ui.With(add))
	f.Get("/designs/:id", ui.With(show))
	f.Post("/designs/:id", ui.With(save))
	f.Post("/designs/:id/delete", ui.With(remove))
	f.Get("/designs/:id/file", ui.With(download))
	f.Get("/designs/:id/charts/:n", ui.With(chart))
	f.Get("/designs/:id/restart", ui.With(restart))
	f.Get("/designs/:id/copies", ui.With(copies))
	f.Get("/designs/:id/copies/file", ui.With(downloadCopies))
	f.Get("/designs/:id/stops/:n/cut.svg", ui.With(cutPath))
}

func list(c fiber.Ctx, d app.Desk, problems app.Problems) error {
	filter := app.DesignFilter{Words: c.Query("words"), HoopID: ui.Number(c.Query("hoop")), MostStops: int(ui.Number(c.Query("stops")))}
	designs, err := d.Designs(filter)
	if err != nil {
		return err
	}
	room, err := d.Machines()
	if err != nil {
		return err
	}
	return ui.Render(c, "designs/list", area, area, fiber.Map{"Designs": designs, "Filter": filter, "Filtered": filter != app.DesignFilter{}, "Hoops": room.Hoops, "Problems": problems, "Formats": stitch.Names()})
}

func add(c fiber.Ctx, d app.Desk) error {
	id, err := addUpload(c, d)
	if err != nil {
		return ui.Again(c, err, func(p app.Problems) error { return list(c, d, p) })
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/designs/%d", id))
}

func addUpload(c fiber.Ctx, d app.Desk) (int64, error) {
	header, err := c.FormFile("file")
	if err != nil {
		return d.AddDesign("", nil)
	}
	if header.Size > stitch.MaxBytes {
		return 0, app.Problems{"file": header.Filename + " is larger than 32 MiB. No stitch file is: check that it is the right one."}
	}
	file, err := header.Open()
	if err != nil {
		return 0, fmt.Errorf("opening the upload: %w", err)
	}
	defer file.Close()
	data, err := io.ReadAll(file)
	if err != nil {
		return 0, fmt.Errorf("reading the upload: %w", err)
	}
	return d.AddDesign(header.Filename, data)
}

func show(c fiber.Ctx, d app.Desk) error {
	id, err := ui.ID(c, "id")
	if err != nil {
		return err
	}
	page, err := d.Design(id)
	if err != nil {
		return err
	}
	return render(c, page, stitch.Place{}, app.Problems{})
}

func render(c fiber.Ctx, page app.DesignPage, place stitch.Place, problems app.Problems) error {
	return ui.Render(c, "designs/show", area, page.Design.Name, fiber.Map{"Page": page, "Place": place, "Drawing": newDrawing(page), "Strip": newStrip(page), "Roles": stitch.Roles, "Problems": problems})
}

func save(c fiber.Ctx, d app.Desk) error {
	id, err := ui.ID(c, "id")
	if err != nil {
		return err
	}
	colors, roles, sews := ui.All(c, "color"), ui.All(c, "role"), ui.All(c, "sews")
	choices := make([]app.StopChoice, min(len(colors), len(roles), len(sews)))
	for i := range choices {
		choices[i] = app.StopChoice{Color: colors[i], Role: roles[i], Sews: sews[i]}
	}
	name := c.FormValue("name")
	err = d.SaveStops(id, int(ui.Number(c.FormValue("version"))), name, choices)
	if err == nil {
		return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/designs/%d", id))
	}
	return ui.Again(c, err, func(p app.Problems) error {
		page, err := d.Design(id)
		if err != nil {
			return err
		}
		page.Design.Name = name
		for i, choice := range choices {
			if i < len(page.Stops) {
				page.Stops[i].Color, page.Stops[i].Role, page.Stops[i].Sews = choice.Color, choice.Role, choice.Sews
			}
		}
		return render(c, page, stitch.Place{}, p)
	})
}

func download(c fiber.Ctx, d app.Desk) error {
	id, err := ui.ID(c, "id")
	if err != nil {
		return err
	}
	open := d.DesignFile
	if format := c.Query("as"); format != "" {
		open = func(id int64) (string, []byte, error) { return d.FileAs(id, format) }
	}
	name, data, err := open(id)
	if err != nil {
		return err
	}
	return send(c, name, data)
}

func chart(c fiber.Ctx, d app.Desk) error {
	id, err := ui.ID(c, "id")
	if err != nil {
		return err
	}
	name, data, err := d.Chart(id, fiber.Params[int](c, "n"))
	if err != nil {
		return err
	}
	return send(c, name, data)
}

// send gives a file to keep.
func send(c fiber.Ctx, name string, data []byte) error {
	c.Attachment(name)
	c.Set(fiber.HeaderContentType, fiber.MIMEOctetStream)
	return c.Send(data)
}

func remove(c fiber.Ctx, d app.Desk) error {
	id, err := ui.ID(c, "id")
	if err != nil {
		return err
	}
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
