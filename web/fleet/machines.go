// Package fleet is the area of machines, their hoops and their care.
package fleet

import (
	"fmt"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/actor"
	app "chalkstep/app/fleet"
	"chalkstep/core/stitch"
	"chalkstep/web/ui"
)

const area = "Machines"

// Routes of the area.
func Routes(f *fiber.App) {
	f.Get("/machines", ui.With(list))
	f.Get("/machines/room",
		ui.With(ui.Needs(actor.ChangeRoom, func(c fiber.Ctx, d app.UseCases) error {
			return arrange(c, d, nil)
		})))
	f.Post("/machines/room", ui.With(saveRoom))
	f.Get("/machines/new",
		ui.With(ui.Needs(actor.ChangeRoom, func(c fiber.Ctx, d app.UseCases) error { return edit(c, d, 0) })))
	f.Post("/machines/new", ui.With(func(c fiber.Ctx, d app.UseCases) error { return save(c, d, 0) }))
	f.Get("/machines/:id", ui.WithID(edit))
	f.Post("/machines/:id", ui.WithID(save))
	careRoutes(f)
	f.Post("/machines/:id/outages", ui.WithID(addOutage))
	f.Post("/machines/:id/outages/:outage/end", ui.WithID(endOutage))
	f.Get("/hoops/new", ui.With(ui.Needs(actor.ChangeRoom, func(c fiber.Ctx, d app.UseCases) error {
		return editHoop(c, d, 0)
	})))
	f.Post("/hoops/new", ui.With(func(c fiber.Ctx, d app.UseCases) error { return saveHoop(c, d, 0) }))
	f.Get("/hoops/:id", ui.WithID(editHoop))
	f.Post("/hoops/:id", ui.WithID(saveHoop))
}

func list(c fiber.Ctx, d app.UseCases) error {
	page, err := d.MachinesCaredFor()
	if err != nil {
		return err
	}
	return ui.Render(c, "fleet/list", area, area,
		fiber.Map{"Page": page, "View": newListView(ui.P{Printer: d.Printer()}, page)})
}

func edit(c fiber.Ctx, d app.UseCases, id int64) error {
	in, err := d.MachineInput(id)
	if err != nil {
		return err
	}
	return showForm(c, d, in, nil)
}

func showForm(c fiber.Ctx, d app.UseCases, in app.MachineInput, problems *ui.Refused) error {
	page, err := d.Machines()
	if err != nil {
		return err
	}
	offsets := map[int64]app.MachineHoopInput{}
	for _, h := range in.Hoops {
		offsets[h.HoopID] = h
	}
	title := in.Name
	if in.ID == 0 {
		title = "New machine"
	}
	view := machineView{Title: "What is the new machine like?"}
	measured := map[int64]string{}
	for _, m := range page.Machines {
		if m.ID != in.ID {
			continue
		}
		care, err := d.Care(m)
		if err != nil {
			return err
		}
		view = newMachineView(ui.P{Printer: d.Printer()}, m, care)
		measured = view.Measured
	}
	return ui.Render(c, "fleet/machine", area, title, fiber.Map{
		"In": in, "Hoops": page.Hoops, "Offsets": offsets, "Measured": measured, "Formats": stitch.Names(),
		"Features": features(), "View": view, "Outage": outageOf(c), "Problems": problems,
	})
}

// outageOf is what was typed of an outage.
func outageOf(c fiber.Ctx) app.OutageInput {
	return app.OutageInput{From: c.FormValue("outage-from"), To: c.FormValue("outage-to"),
		Reason: c.FormValue("outage-reason")}
}

func addOutage(c fiber.Ctx, d app.UseCases, id int64) error {
	return backToMachine(c, d, id, d.AddOutage(id, outageOf(c)))
}

func endOutage(c fiber.Ctx, d app.UseCases, id int64) error {
	outage, err := ui.ID(c, "outage")
	if err != nil {
		return err
	}
	return backToMachine(c, d, id, d.EndOutage(id, outage))
}

func backToMachine(c fiber.Ctx, d app.UseCases, id int64, err error) error {
	if err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error {
			in, err := d.MachineInput(id)
			if err != nil {
				return err
			}
			return showForm(c, d, in, p)
		})
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/machines/%d", id))
}

func save(c fiber.Ctx, d app.UseCases, id int64) error {
	in := app.MachineInput{ID: id}
	if err := ui.Bind(c, &in); err != nil {
		return err
	}
	for _, id := range ui.Numbers(c, "hoops") {
		in.Hoops = append(in.Hoops,
			app.MachineHoopInput{HoopID: id, DX: c.FormValue(fmt.Sprintf("dx-%d", id)),
				DY: c.FormValue(fmt.Sprintf("dy-%d", id))})
	}
	if _, err := d.SaveMachine(in); err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error { return showForm(c, d, in, p) })
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/machines")
}

func editHoop(c fiber.Ctx, d app.UseCases, id int64) error {
	in, err := d.HoopInput(id)
	if err != nil {
		return err
	}
	return hoopForm(c, in, nil)
}

func hoopForm(c fiber.Ctx, in app.HoopInput, problems *ui.Refused) error {
	title := in.Name
	if in.ID == 0 {
		title = "New hoop"
	}
	return ui.Render(c, "fleet/hoop", area, title, fiber.Map{"In": in, "Kinds": kindWords, "Problems": problems})
}

// kindWords are the kinds of hoop as a form asks for them.
var kindWords = [][2]string{{"screw", "two rings and a screw"}, {"magnetic", "two frames and magnets"},
	{"clamp", "a clamp, for bands"}}

func saveHoop(c fiber.Ctx, d app.UseCases, id int64) error {
	in := app.HoopInput{ID: id}
	if err := ui.Bind(c, &in); err != nil {
		return err
	}
	if _, err := d.SaveHoop(in); err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error { return hoopForm(c, in, p) })
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/machines")
}
