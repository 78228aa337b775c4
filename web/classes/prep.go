package classes

import (
	"cmp"
	"fmt"
	"strconv"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app"
	"chalkstep/core/cutplan"
	"chalkstep/store"
	"chalkstep/web/ui"
)

// A prepPart is one page of preparing a class.
type prepPart struct{ Key, Name, Path string }

var prepParts = []prepPart{{"bring", "What to bring", "prep"}, {"shelf", "From the shelf and cut", "shelf"}, {"kits", "Kits", "kits"}}

// prepRoutes are the parts of preparing a class: what to bring, what comes from the shelf,
// how it is cut, and the kits.
func prepRoutes(f *fiber.App) {
	f.Get("/classes/:id/prep", ui.WithID(bring))
	f.Get("/classes/:id/shelf", ui.WithID(func(c fiber.Ctx, d app.Desk, id int64) error { return shelf(c, d, id, app.Problems{}) }))
	f.Post("/classes/:id/shelf", ui.WithID(reserve))
	f.Post("/classes/:id/shelf/right", ui.WithID(putRight))
	f.Post("/classes/:id/shelf/offcuts", ui.WithID(offcuts))
	f.Get("/classes/:id/cut.pdf", ui.WithID(cutPDF))
	f.Get("/classes/:id/kits", ui.WithID(func(c fiber.Ctx, d app.Desk, id int64) error { return kits(c, d, id, app.Problems{}) }))
	f.Post("/classes/:id/kits", ui.WithID(saveKit))
	f.Get("/classes/:id/labels.pdf", ui.WithID(labels))
	f.Get("/classes/:id/cards.pdf", ui.WithID(cardsPDF))
	f.Get("/classes/:id/stick/:machine", ui.WithID(stick))
	f.Get("/classes/:id/roster", ui.WithID(func(c fiber.Ctx, d app.Desk, id int64) error { return roster(c, d, id, app.Problems{}) }))
	f.Post("/classes/:id/roster", ui.WithID(savePlace))
}

func bring(c fiber.Ctx, d app.Desk, id int64) error {
	page, err := d.Class(id)
	if err != nil {
		return err
	}
	threads, err := d.ShelfThreads(page)
	if err != nil {
		return err
	}
	return ui.Render(c, "classes/prep", area, page.Class.Name, fiber.Map{"Page": page, "Part": "prep", "Sub": "bring", "Threads": threads})
}

func shelf(c fiber.Ctx, d app.Desk, id int64, problems app.Problems) error {
	page, err := d.Shelf(id)
	if err != nil {
		return err
	}
	var drawings []cutDrawing
	for _, sheet := range page.Cuts {
		for _, l := range sheet.LaidOut() {
			drawing := newCutDrawing(sheet, cmp.Or(l.From, "a roll of 1 m"), l.WidthMM, l.Layout)
			if l.Remnant {
				drawing.Offcuts = 0 // what is left of a remnant is not kept again
			}
			drawings = append(drawings, drawing)
		}
	}
	return ui.Render(c, "classes/shelf", area, page.Class.Name, fiber.Map{"Page": page, "Part": "prep", "Sub": "shelf", "Drawings": drawings, "Sheets": app.PaperSizes(), "Problems": problems})
}

// back goes to a part of a class, or shows it again with problems.
func back(c fiber.Ctx, d app.Desk, id int64, part string, err error, show func(fiber.Ctx, app.Desk, int64, app.Problems) error) error {
	if err != nil {
		return ui.Again(c, err, func(p app.Problems) error { return show(c, d, id, p) })
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/classes/%d/%s", id, part))
}

func reserve(c fiber.Ctx, d app.Desk, id int64) error {
	return back(c, d, id, "shelf", d.Reserve(id), shelf)
}

func putRight(c fiber.Ctx, d app.Desk, id int64) error {
	used := map[int64]float64{}
	items, scales := ui.All(c, "item"), ui.All(c, "scale")
	typed := ui.All(c, "used")
	for i := range items {
		if i < len(typed) && i < len(scales) {
			used[ui.Number(items[i])] = ui.Decimal(typed[i]) * ui.Decimal(scales[i])
		}
	}
	return back(c, d, id, "shelf", d.PutRight(id, used), shelf)
}

func offcuts(c fiber.Ctx, d app.Desk, id int64) error {
	_, err := d.KeepOffcuts(id, c.FormValue("material"))
	return back(c, d, id, "shelf", err, shelf)
}

func cutPDF(c fiber.Ctx, d app.Desk, id int64) error {
	data, err := d.CutPDF(id, c.Query("sheet", "A4"))
	if err != nil {
		return err
	}
	return ui.Send(c, "cut-plan.pdf", data)
}

// A cutDrawing is a layout as SVG, in millimetres, with its cuts numbered.
type cutDrawing struct {
	Material, From string
	Width, Length  float64
	// Layout lies on its side: the length runs to the right.
	ViewBox string
	Pieces  []drawnPiece
	Cuts    []drawnCut
	Waste   float64
	Offcuts int
	Letters float64 // size of text
}

type drawnPiece struct {
	X, Y, W, H float64
	Name, Size string
	ShowWords  bool
}

type drawnCut struct {
	X1, Y1, X2, Y2, MX, MY float64
	N                      int
}

func newCutDrawing(sheet app.CutSheet, from string, width float64, l cutplan.Layout) cutDrawing {
	d := cutDrawing{Material: sheet.Material, From: from, Width: width, Length: l.LengthMM, Waste: l.Waste * 100, Offcuts: len(l.Offcuts)}
	margin := max(width, l.LengthMM) / 60
	d.ViewBox = fmt.Sprintf("%.0f %.0f %.0f %.0f", -margin, -margin, l.LengthMM+2*margin, width+2*margin)
	d.Letters = max(l.LengthMM/62, width/34)
	for _, p := range l.Placed {
		i, _ := strconv.Atoi(p.ID)
		piece := drawnPiece{X: p.YMM, Y: p.XMM, W: p.HMM, H: p.WMM, Name: sheet.AllPieces[i].What, Size: sheet.AllPieces[i].Size()}
		piece.ShowWords = float64(len(piece.Size))*d.Letters*0.52 < piece.W && 2.4*d.Letters < piece.H
		d.Pieces = append(d.Pieces, piece)
	}
	for i, c := range l.Cuts {
		d.Cuts = append(d.Cuts, drawnCut{c.Y1MM, c.X1MM, c.Y2MM, c.X2MM, (c.Y1MM + c.Y2MM) / 2, (c.X1MM + c.X2MM) / 2, i + 1})
	}
	return d
}

func kits(c fiber.Ctx, d app.Desk, id int64, problems app.Problems) error {
	page, err := d.Kits(id)
	if err != nil {
		return err
	}
	return ui.Render(c, "classes/kits", area, page.Class.Name, fiber.Map{"Page": page, "Part": "prep", "Sub": "kits", "States": store.KitStates, "LabelSheets": app.LabelSheets(), "Problems": problems})
}

func saveKit(c fiber.Ctx, d app.Desk, id int64) error {
	in := app.KitInput{StudentID: ui.Number(c.FormValue("student")), Version: int(ui.Number(c.FormValue("version"))), Packed: ui.All(c, "packed"), State: c.FormValue("state"), Scanned: c.FormValue("scanned") != ""}
	return back(c, d, id, "kits", d.SaveKit(id, in), kits)
}

func labels(c fiber.Ctx, d app.Desk, id int64) error {
	data, err := d.LabelsPDF(id, c.BaseURL(), c.Query("sheet"))
	if err != nil {
		return err
	}
	return ui.Send(c, "kit-labels.pdf", data)
}

func cardsPDF(c fiber.Ctx, d app.Desk, id int64) error {
	data, err := d.CardsPDF(id, c.Query("sheet", "A4"))
	if err != nil {
		return err
	}
	return ui.Send(c, "step-cards.pdf", data)
}

func stick(c fiber.Ctx, d app.Desk, id int64) error {
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

func roster(c fiber.Ctx, d app.Desk, id int64, problems app.Problems) error {
	page, err := d.Class(id)
	if err != nil {
		return err
	}
	choices, err := d.ClassForm()
	if err != nil {
		return err
	}
	return ui.Render(c, "classes/roster", area, page.Class.Name, fiber.Map{"Page": page, "Part": "plan", "Projects": choices.Projects, "Attendances": []string{store.Expected, store.Late, store.Absent}, "Problems": problems})
}

func savePlace(c fiber.Ctx, d app.Desk, id int64) error {
	err := d.SavePlace(id, ui.Number(c.FormValue("student")), app.PlaceInput{ProjectID: ui.Number(c.FormValue("project")), Attendance: c.FormValue("attendance"), LateMinutes: int(ui.Number(c.FormValue("late"))), Version: int(ui.Number(c.FormValue("version")))})
	return back(c, d, id, "roster", err, roster)
}
