// Package prep is the pages on which classes are got ready.
package prep

import (
	"github.com/gofiber/fiber/v3"

	app "chalkstep/app/prep"
	"chalkstep/web/classhead"
	"chalkstep/web/guard"
	"chalkstep/web/ui"
)

// Routes are the parts of preparing a class: what to bring, what comes from the shelf,
// how it is cut, and the kits.
func Routes(f *fiber.App) {
	f.Get("/classes/:id/prep", ui.WithID(bring))
	f.Get("/classes/:id/shelf",
		ui.WithID(func(c fiber.Ctx, d app.UseCases, id int64) error { return showShelf(c, d, id, nil) }))
	f.Post("/classes/:id/shelf", ui.WithID(reserve))
	f.Post("/classes/:id/shelf/right", ui.WithID(putRight))
	f.Post("/classes/:id/shelf/offcuts", ui.WithID(offcuts))
	f.Get("/classes/:id/cut.pdf", ui.WithID(cutPDF))
	f.Get("/classes/:id/kits",
		ui.WithID(func(c fiber.Ctx, d app.UseCases, id int64) error { return kits(c, d, id, nil) }))
	f.Post("/classes/:id/kits", ui.WithID(saveKit))
	f.Get("/classes/:id/labels.pdf", ui.WithID(labels))
	f.Get("/classes/:id/cards.pdf", ui.WithID(cardsPDF))
	f.Get("/classes/:id/stick/:machine", ui.WithID(stick))
	f.Get("/classes/:id/cards", ui.WithID(cards))
	f.Get("/classes/:id/cards/:student", ui.WithID(showCard))
}

func bring(c fiber.Ctx, d app.UseCases, id int64) error {
	page, err := d.Kits(id)
	if err != nil {
		return err
	}
	return ui.Render(c, "prep/prep", classhead.Area, page.Class.Name,
		fiber.Map{"View": newBringView(d, page, d.Unprintable(page.Plan))})
}

func showShelf(c fiber.Ctx, d app.UseCases, id int64, problems *ui.Refused) error {
	page, err := d.Shelf(id)
	if err != nil {
		return err
	}
	return ui.Render(c, "prep/shelf", classhead.Area, page.Class.Name,
		fiber.Map{"View": newShelfView(d, page, d.Unprintable(page.Plan)), "Problems": problems})
}

func reserve(c fiber.Ctx, d app.UseCases, id int64) error {
	return classhead.Back(c, d, id, "shelf", d.Reserve(id), showShelf)
}

func putRight(c fiber.Ctx, d app.UseCases, id int64) error {
	gone := map[int64]app.Gone{}
	for _, row := range ui.Rows(c, "item", "used", "spoiled") {
		gone[ui.Number(row[0])] = app.Gone{Used: row[1], Spoiled: row[2]}
	}
	return classhead.Back(c, d, id, "shelf", d.PutRight(id, gone), showShelf)
}

func offcuts(c fiber.Ctx, d app.UseCases, id int64) error {
	_, err := d.KeepOffcuts(id, c.FormValue("material"))
	return classhead.Back(c, d, id, "shelf", err, showShelf)
}

func cutPDF(c fiber.Ctx, d app.UseCases, id int64) error {
	data, err := d.CutPDF(c.Context(), id, c.Query("sheet", "A4"))
	if err != nil {
		return err
	}
	return ui.Send(c, "cut-plan.pdf", data)
}

func kits(c fiber.Ctx, d app.UseCases, id int64, problems *ui.Refused) error {
	page, err := d.Kits(id)
	if err != nil {
		return err
	}
	return ui.Render(c, "prep/kits", classhead.Area, page.Class.Name,
		fiber.Map{"View": newKitsView(d, page, d.Unprintable(page.Plan)), "Problems": problems})
}

func saveKit(c fiber.Ctx, d app.UseCases, id int64) error {
	var in app.KitInput
	if err := ui.Bind(c, &in); err != nil {
		return err
	}
	return classhead.Back(c, d, id, "kits", d.SaveKit(id, in), kits)
}

func labels(c fiber.Ctx, d app.UseCases, id int64) error {
	data, err := d.LabelsPDF(c.Context(), id, guard.Base(c), c.Query("sheet"))
	if err != nil {
		return err
	}
	return ui.Send(c, "kit-labels.pdf", data)
}

func cardsPDF(c fiber.Ctx, d app.UseCases, id int64) error {
	data, err := d.CardsPDF(c.Context(), id, c.Query("sheet", "A4"))
	if err != nil {
		return err
	}
	return ui.Send(c, "step-cards.pdf", data)
}

func stick(c fiber.Ctx, d app.UseCases, id int64) error {
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
