package classes

import (
	"fmt"
	"strings"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/classes"
	"chalkstep/app/form"
	"chalkstep/web/guard"
	"chalkstep/web/ui"
)

// A prepPart is one page of preparing a class.
type prepPart struct{ Key, Name, Path string }

var prepParts = []prepPart{{"bring", "What to bring", "prep"}, {"shelf", "From the shelf and cut", "shelf"}, {"kits", "Kits", "kits"}}

// prepRoutes are the parts of preparing a class: what to bring, what comes from the shelf,
// how it is cut, and the kits.
func prepRoutes(f *fiber.App) {
	f.Get("/classes/:id/prep", ui.WithID(bring))
	f.Get("/classes/:id/shelf", ui.WithID(func(c fiber.Ctx, d classes.UseCases, id int64) error { return showShelf(c, d, id, form.Problems{}) }))
	f.Post("/classes/:id/shelf", ui.WithID(reserve))
	f.Post("/classes/:id/shelf/right", ui.WithID(putRight))
	f.Post("/classes/:id/shelf/offcuts", ui.WithID(offcuts))
	f.Get("/classes/:id/cut.pdf", ui.WithID(cutPDF))
	f.Get("/classes/:id/kits", ui.WithID(func(c fiber.Ctx, d classes.UseCases, id int64) error { return kits(c, d, id, form.Problems{}) }))
	f.Post("/classes/:id/kits", ui.WithID(saveKit))
	f.Get("/classes/:id/labels.pdf", ui.WithID(labels))
	f.Get("/classes/:id/cards.pdf", ui.WithID(cardsPDF))
	f.Get("/classes/:id/stick/:machine", ui.WithID(stick))
	f.Get("/classes/:id/roster", ui.WithID(func(c fiber.Ctx, d classes.UseCases, id int64) error { return roster(c, d, id, form.Problems{}) }))
	f.Post("/classes/:id/roster", ui.WithID(savePlace))
}

func printer(d classes.UseCases) ui.P { return ui.P{Printer: d.Printer()} }

func bring(c fiber.Ctx, d classes.UseCases, id int64) error {
	page, err := d.Kits(id)
	if err != nil {
		return err
	}
	return ui.Render(c, "classes/prep", area, page.Class.Name, fiber.Map{"View": newBringView(d, page, d.Unprintable(page.Plan))})
}

func showShelf(c fiber.Ctx, d classes.UseCases, id int64, problems form.Problems) error {
	page, err := d.Shelf(id)
	if err != nil {
		return err
	}
	return ui.Render(c, "classes/shelf", area, page.Class.Name, fiber.Map{"View": newShelfView(d, page, d.Unprintable(page.Plan)), "Problems": problems})
}

// back goes to a part of a class, or shows it again with problems.
func back(c fiber.Ctx, d classes.UseCases, id int64, part string, err error, show func(fiber.Ctx, classes.UseCases, int64, form.Problems) error) error {
	if err != nil {
		return ui.Again(c, err, func(p form.Problems) error { return show(c, d, id, p) })
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(strings.TrimSuffix(fmt.Sprintf("/classes/%d/%s", id, part), "/"))
}

func reserve(c fiber.Ctx, d classes.UseCases, id int64) error {
	return back(c, d, id, "shelf", d.Reserve(id), showShelf)
}

func putRight(c fiber.Ctx, d classes.UseCases, id int64) error {
	gone := map[int64]classes.Gone{}
	for _, row := range ui.Rows(c, "item", "used", "spoiled") {
		gone[ui.Number(row[0])] = classes.Gone{Used: row[1], Spoiled: row[2]}
	}
	return back(c, d, id, "shelf", d.PutRight(id, gone), showShelf)
}

func offcuts(c fiber.Ctx, d classes.UseCases, id int64) error {
	_, err := d.KeepOffcuts(id, c.FormValue("material"))
	return back(c, d, id, "shelf", err, showShelf)
}

func cutPDF(c fiber.Ctx, d classes.UseCases, id int64) error {
	data, err := d.CutPDF(c.Context(), id, c.Query("sheet", "A4"))
	if err != nil {
		return err
	}
	return ui.Send(c, "cut-plan.pdf", data)
}

func kits(c fiber.Ctx, d classes.UseCases, id int64, problems form.Problems) error {
	page, err := d.Kits(id)
	if err != nil {
		return err
	}
	return ui.Render(c, "classes/kits", area, page.Class.Name, fiber.Map{"View": newKitsView(d, page, d.Unprintable(page.Plan)), "Problems": problems})
}

func saveKit(c fiber.Ctx, d classes.UseCases, id int64) error {
	in := classes.KitInput{StudentID: ui.Number(c.FormValue("student")), Version: ui.Small(c.FormValue("version")), Packed: ui.All(c, "packed"), State: c.FormValue("state"), Scanned: c.FormValue("scanned") != ""}
	return back(c, d, id, "kits", d.SaveKit(id, in), kits)
}

func labels(c fiber.Ctx, d classes.UseCases, id int64) error {
	data, err := d.LabelsPDF(c.Context(), id, guard.Base(c), c.Query("sheet"))
	if err != nil {
		return err
	}
	return ui.Send(c, "kit-labels.pdf", data)
}

func cardsPDF(c fiber.Ctx, d classes.UseCases, id int64) error {
	data, err := d.CardsPDF(c.Context(), id, c.Query("sheet", "A4"))
	if err != nil {
		return err
	}
	return ui.Send(c, "step-cards.pdf", data)
}

func stick(c fiber.Ctx, d classes.UseCases, id int64) error {
	machine, err := ui.ID(c, "machine")
	if err != nil {
		return err
	}
	name, data, err := d.Stick(id, machine)
	if err != nil {
		return err
	}
	return ui.Send(c, name, data)
}

func roster(c fiber.Ctx, d classes.UseCases, id int64, problems form.Problems) error {
	plan, err := d.Class(id)
	if err != nil {
		return err
	}
	return ui.Render(c, "classes/roster", area, plan.Class.Name, fiber.Map{"View": newRosterView(d, plan), "Problems": problems})
}

func savePlace(c fiber.Ctx, d classes.UseCases, id int64) error {
	in := classes.PlaceInput{Project: c.FormValue("project"), Attendance: c.FormValue("attendance"), LateMinutes: c.FormValue("late"), Size: c.FormValue("size"), HoopedAhead: c.FormValue("hooped") != "", Version: ui.Small(c.FormValue("version"))}
	return back(c, d, id, "roster", d.SavePlace(id, ui.Number(c.FormValue("student")), in), roster)
}
