// Package machines is the area of machines, their hoops, and who has booked
// which when.
package machines

import (
	"fmt"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app"
	"chalkstep/core/stitch"
	"chalkstep/store"
	"chalkstep/web/ui"
)

const area = "Machines"

// Routes of the area.
func Routes(f *fiber.App) {
	f.Get("/machines", ui.With(list))
	f.Get("/machines/bookings", ui.With(func(c fiber.Ctx, d app.Desk) error {
		return bookings(c, d, app.BookingInput{From: "10:00", To: "11:00", Date: d.Date()}, app.Problems{})
	}))
	f.Post("/machines/bookings", ui.With(book))
	f.Post("/machines/bookings/:id/cancel", ui.WithID(cancel))
	f.Get("/machines/new", ui.With(edit))
	f.Post("/machines/new", ui.With(save))
	f.Get("/machines/:id", ui.With(edit))
	f.Post("/machines/:id", ui.With(save))
	f.Get("/hoops/new", ui.With(editHoop))
	f.Post("/hoops/new", ui.With(saveHoop))
	f.Get("/hoops/:id", ui.With(editHoop))
	f.Post("/hoops/:id", ui.With(saveHoop))
}

func list(c fiber.Ctx, d app.Desk) error {
	page, err := d.Machines()
	if err != nil {
		return err
	}
	return ui.Render(c, "machines/list", area, area, fiber.Map{"Page": page})
}

// number is the row's number in the path, 0 for a new one.
func number(c fiber.Ctx) int64 { return fiber.Params[int64](c, "id") }

func edit(c fiber.Ctx, d app.Desk) error {
	m, err := d.Machine(number(c))
	if err != nil {
		return err
	}
	return form(c, d, m, app.Problems{})
}

func form(c fiber.Ctx, d app.Desk, m store.Machine, problems app.Problems) error {
	page, err := d.Machines()
	if err != nil {
		return err
	}
	offsets := map[int64]store.MachineHoop{}
	for _, h := range m.Hoops {
		offsets[h.HoopID] = h
	}
	title := m.Name
	if m.ID == 0 {
		title = "New machine"
	}
	return ui.Render(c, "machines/machine", area, title, fiber.Map{"Machine": m, "Hoops": page.Hoops, "Offsets": offsets, "Formats": stitch.Names(), "Problems": problems})
}

func save(c fiber.Ctx, d app.Desk) error {
	m := store.Machine{
		ID: number(c), Version: int(ui.Number(c.FormValue("version"))), Name: c.FormValue("name"), Formats: ui.All(c, "formats"),
		TopSpeedSPM: int(ui.Number(c.FormValue("top_speed_spm"))), ChangeSeconds: whole(c.FormValue("change_seconds")), Needles: int(ui.Number(c.FormValue("needles"))),
		AutoTrim: c.FormValue("auto_trim") != "", BobbinStyle: c.FormValue("bobbin_style"), BobbinMetres: ui.Decimal(c.FormValue("bobbin_metres")),
	}
	for _, id := range ui.Numbers(c, "hoops") {
		m.Hoops = append(m.Hoops, store.MachineHoop{HoopID: id, DXMM: ui.Decimal(c.FormValue(fmt.Sprintf("dx-%d", id))), DYMM: ui.Decimal(c.FormValue(fmt.Sprintf("dy-%d", id)))})
	}
	if err := d.SaveMachine(&m); err != nil {
		return ui.Again(c, err, func(p app.Problems) error { return form(c, d, m, p) })
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/machines")
}

// whole reads a whole number that may be 0; −1 where there is none, which is
// outside every limit.
func whole(text string) int {
	var n int
	if _, err := fmt.Sscan(text, &n); err != nil {
		return -1
	}
	return n
}

func editHoop(c fiber.Ctx, d app.Desk) error {
	h, err := d.Hoop(number(c))
	if err != nil {
		return err
	}
	width, height := "", ""
	if h.ID != 0 {
		width, height = fmt.Sprintf("%g", h.WidthMM), fmt.Sprintf("%g", h.HeightMM)
	}
	return hoopForm(c, h, width, height, app.Problems{})
}

func hoopForm(c fiber.Ctx, h store.Hoop, width, height string, problems app.Problems) error {
	title := h.Name
	if h.ID == 0 {
		title = "New hoop"
	}
	return ui.Render(c, "machines/hoop", area, title, fiber.Map{"Hoop": h, "Width": width, "Height": height, "Problems": problems})
}

func saveHoop(c fiber.Ctx, d app.Desk) error {
	h := store.Hoop{ID: number(c), Version: int(ui.Number(c.FormValue("version"))), Name: c.FormValue("name"), Count: whole(c.FormValue("count"))}
	width, height := c.FormValue("width"), c.FormValue("height")
	if err := d.SaveHoop(&h, width, height); err != nil {
		return ui.Again(c, err, func(p app.Problems) error { return hoopForm(c, h, width, height, p) })
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/machines")
}

func bookings(c fiber.Ctx, d app.Desk, in app.BookingInput, problems app.Problems) error {
	page, err := d.Bookings()
	if err != nil {
		return err
	}
	return ui.Render(c, "machines/bookings", area, "Bookings", fiber.Map{"Page": page, "In": in, "Problems": problems})
}

func book(c fiber.Ctx, d app.Desk) error {
	in := app.BookingInput{
		MachineID: ui.Number(c.FormValue("machine")), StudentID: ui.Number(c.FormValue("student")),
		Date: c.FormValue("date"), From: c.FormValue("from"), To: c.FormValue("to"), Accompanied: c.FormValue("accompanied") != "",
	}
	if err := d.Book(in); err != nil {
		return ui.Again(c, err, func(p app.Problems) error { return bookings(c, d, in, p) })
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/machines/bookings")
}

func cancel(c fiber.Ctx, d app.Desk, id int64) error {
	if err := d.CancelBooking(id); err != nil {
		return err
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/machines/bookings")
}
