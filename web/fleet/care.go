package fleet

import (
	"fmt"
	"strings"

	"github.com/gofiber/fiber/v3"

	app "chalkstep/app/fleet"
	"chalkstep/core/fleet"
	"chalkstep/core/fleet/care"
	"chalkstep/core/say"
	"chalkstep/web/guard"
	"chalkstep/web/ui"
)

// careRoutes are what keeps a machine well: its care, its sheet, how its hoops are measured.
func careRoutes(f *fiber.App) {
	f.Post("/machines/:id/care", ui.WithID(func(c fiber.Ctx, d app.UseCases, id int64) error {
		return backToMachine(c, d, id, d.CareFor(id, care.Kind(c.FormValue("care")), c.FormValue("care-note")))
	}))
	f.Get("/machines/:id/sheet", ui.WithID(showSheet))
	f.Get("/machines/:id/code.png", ui.WithID(func(c fiber.Ctx, d app.UseCases, id int64) error {
		code, err := d.MachineCode(id, guard.Base(c))
		if err != nil {
			return err
		}
		c.Set(fiber.HeaderContentType, "image/png")
		return c.Send(code)
	}))
	f.Get("/machines/:id/hoops/:hoop",
		ui.WithID(func(c fiber.Ctx, d app.UseCases, id int64) error { return showMeasure(c, d, id, nil, nil) }))
	f.Post("/machines/:id/hoops/:hoop", ui.WithID(measure))
	f.Get("/machines/:id/cross/:format", ui.WithID(func(c fiber.Ctx, d app.UseCases, id int64) error {
		name, data, err := d.Cross(id, c.Params("format"))
		if err != nil {
			return err
		}
		return ui.Send(c, name, data)
	}))
}

// A careRow is a kind of care on a machine's page.
type careRow struct {
	Kind            care.Kind
	Title, Caution  string
	Due, Last, Sewn string
}

// A machineView is what is asked of a machine that is there: what is due comes first.
type machineView struct {
	Title, Trouble string
	StandsOut      bool
	Care           []careRow
	Done           []doneRow
	Outages        []fleet.Outage
	// Measured says when each hoop was, by its number.
	Measured map[int64]string
}

type doneRow struct{ Title, When, By, Note string }

func newMachineView(p ui.P, m fleet.Machine, page app.CarePage) machineView {
	v := machineView{Title: m.Name + " is well, as far as is known.", StandsOut: page.Trouble.StandsOut(),
		Outages: page.Outages, Measured: map[int64]string{}}
	if page.Trouble.Own.Stitches > 0 {
		v.Trouble = p.Say(page.Trouble.Say())
	}
	for _, l := range page.Care {
		v.Care = append(v.Care, newCareRow(p, l))
	}
	switch due := page.Due(); {
	case len(v.Outages) > 0:
		v.Title = m.Name + " is out of order."
	case v.StandsOut:
		v.Title = m.Name + " needs a look: its thread breaks more often than elsewhere."
	case len(due) > 0:
		v.Title = fmt.Sprintf("%s: %s is due.", m.Name, ui.Lowered(due[0].Kind.Title()))
	}
	for _, done := range page.Done {
		v.Done = append(v.Done, doneRow{string(done.Kind.Title()), p.Date(done.At), done.By, done.Note})
	}
	for _, h := range m.Hoops {
		v.Measured[h.ID] = "measure it"
		if h.MeasuredOn != nil {
			v.Measured[h.ID] = "measured " + p.Date(*h.MeasuredOn)
		}
	}
	return v
}

func newCareRow(p ui.P, l app.CareLine) careRow {
	row := careRow{Kind: l.Kind, Title: string(l.Kind.Title()), Caution: string(l.Kind.Caution()), Due: p.Say(l.Due),
		Last: "never written down, it counts from the first"}
	if l.Last != nil {
		row.Last = fmt.Sprintf("%s, %s", p.Date(l.Last.At), l.Last.By)
	}
	row.Sewn = fmt.Sprintf("%s h, %s stitches", p.Tenth(l.Hours()), p.Count(l.Stitches))
	return row
}

// A listView is what of the machines wants somebody.
type listView struct {
	// Answer says how many there are, and which want care.
	Answer string
	// Look are machines that need one, with why; Due what is due, by the machine's number.
	Look []lookRow
	Due  map[int64][]string
}

type lookRow struct {
	ID        int64
	Name, Why string
}

func newListView(p ui.P, page app.MachinesPage) listView {
	v := listView{Due: map[int64][]string{}}
	var due []string
	for _, m := range page.Machines {
		u := page.Upkeep[m.ID]
		if u.Trouble.StandsOut() {
			v.Look = append(v.Look, lookRow{m.ID, m.Name, p.Say(u.Trouble.Say())})
		}
		for _, l := range u.Due() {
			v.Due[m.ID] = append(v.Due[m.ID], string(l.Kind.Title()))
		}
		if len(v.Due[m.ID]) > 0 {
			due = append(due, m.Name)
		}
	}
	v.Answer = "No machine in the room yet."
	if len(page.Machines) > 0 {
		v.Answer = fmt.Sprintf("%s and %s in the room.", p.N(len(page.Machines), "machine"), p.N(page.HoopCount(), "hoop"))
	}
	if len(due) > 0 {
		const few = 3
		v.Answer = fmt.Sprintf("%s; care is due on %s.", strings.TrimSuffix(v.Answer, "."), p.Say(say.Few(due, few)))
	}
	return v
}

// A featureRow is something that a form asks whether the machine can.
type featureRow struct{ Value, Text string }

func features() []featureRow {
	var rows []featureRow
	for _, f := range fleet.Features {
		rows = append(rows, featureRow{string(f), string(f.Asks())})
	}
	return rows
}

func showSheet(c fiber.Ctx, d app.UseCases, id int64) error {
	page, err := d.MachineSheet(id)
	if err != nil {
		return err
	}
	p := ui.P{Printer: d.Printer()}
	var differs, alike []string
	for _, m := range page.Manners {
		if m.Differs {
			differs = append(differs, p.Say(m.Text))
		} else {
			alike = append(alike, p.Say(m.Text))
		}
	}
	return ui.Render(c, "fleet/sheet", area, page.Machine.Name,
		fiber.Map{"Machine": page.Machine, "Differs": differs, "Alike": alike, "Said": page.Machine.Described()})
}

// showMeasure shows how a hoop is measured; typed is what could not be kept.
func showMeasure(c fiber.Ctx, d app.UseCases, id int64, typed *app.MeasureInput, problems *ui.Refused) error {
	hoop, err := ui.ID(c, "hoop")
	if err != nil {
		return err
	}
	page, err := d.HoopOf(id, hoop)
	if err != nil {
		return err
	}
	if typed != nil {
		page.In = *typed
	}
	return ui.Render(c, "fleet/measure", area, page.Machine.Name, fiber.Map{"Page": page, "Problems": problems})
}

func measure(c fiber.Ctx, d app.UseCases, id int64) error {
	hoop, err := ui.ID(c, "hoop")
	if err != nil {
		return err
	}
	var in app.MeasureInput
	if err := ui.Bind(c, &in); err != nil {
		return err
	}
	if err := d.MeasureHoop(id, hoop, in); err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error { return showMeasure(c, d, id, &in, p) })
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(app.MachinePath(id))
}
