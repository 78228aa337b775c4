// Package station is the face of a phone beside a machine: it is opened by the code on the
// machine, without an account, and keeps what is pressed while it has no connection.
package station

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	app "chalkstep/app/live"
	"chalkstep/core/live"
	"chalkstep/core/live/phone"
	"chalkstep/core/measure"
	"chalkstep/web/ui"
)

// Routes of the phones.
func Routes(f *fiber.App, a *actor.App) {
	f.Get("/station/worker.js", worker)
	f.Get("/station/:token", with(a, func(c fiber.Ctx, d app.UseCases) error { return show(c, d, nil) }))
	f.Get("/station/:token/news", with(a, func(c fiber.Ctx, d app.UseCases) error { return news(c, a, d) }))
	f.Get("/station/:token/state", with(a, state))
	f.Post("/station/:token/press", with(a, press))
	f.Get("/station/:token/restart", with(a, restart))
	f.Get("/station/:token/picture/:design/:n", with(a, picture))
}

// with gives a handler the use cases of the phone that its link opens.
func with(a *actor.App, h func(fiber.Ctx, app.UseCases) error) fiber.Handler {
	return func(c fiber.Ctx) error {
		who, err := a.Station(c.Context(), c.Params("token"))
		if err != nil {
			return err
		}
		return h(c, actor.As[app.UseCases](a.For(c.Context(), who)))
	}
}

// printerOf writes in the student's units.
func printerOf(d app.UseCases, page app.StationPage) ui.P {
	p := ui.P{Printer: d.Printer()}
	if units, ok := measure.UnitsNamed(page.Units); ok {
		p.Units = units
	}
	return p
}

func show(c fiber.Ctx, d app.UseCases, problems *ui.Refused) error {
	page, err := d.Station()
	if err != nil {
		return err
	}
	p := printerOf(d, page)
	c.Set(fiber.HeaderCacheControl, "no-store")
	return ui.Render(c, "station/show", "", page.Machine.Name,
		fiber.Map{"View": newView(p, c.Params("token"), page), "P": p, "Problems": problems})
}

func news(c fiber.Ctx, a *actor.App, d app.UseCases) error {
	if _, err := d.Station(); err != nil {
		return err
	}
	views, token := c.App().Config().Views, strings.Clone(c.Params("token"))
	return ui.Stream(c, a, d.Who.Place.ClassID, ui.ByLink(token), func(ctx context.Context) ([]byte, int64, error) {
		who, err := a.Station(ctx, token)
		if err != nil {
			return nil, 0, err
		}
		d := actor.As[app.UseCases](a.For(ctx, who))
		page, err := d.Station()
		if err != nil {
			return nil, 0, err
		}
		p := printerOf(d, page)
		html, err := ui.RenderPart(views, "station/part", p, fiber.Map{"View": newView(p, token, page)})
		return html, page.Seq, err
	})
}

// press takes what was pressed: from a script as JSON, any number at once, or one of a
// form.
func press(c fiber.Ctx, d app.UseCases) error {
	if c.Is("json") {
		return pressAll(c, d)
	}
	in := app.Press{ID: c.FormValue("id"), HappenInput: app.HappenInput{
		Kind: c.FormValue("kind"), StudentID: ui.Number(c.FormValue("student")), Step: c.FormValue("step"),
		Stop: ui.Small(c.FormValue("stop")), Reason: c.FormValue("reason"),
	}}
	done, err := d.Press([]app.Press{in})
	if err == nil && done[0].Refused != "" {
		err = form.Problems{"": done[0].Refused}
	}
	if err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error { return show(c, d, p) })
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/station/" + c.Params("token"))
}

func pressAll(c fiber.Ctx, d app.UseCases) error {
	var body phone.Presses
	if err := json.Unmarshal(c.Body(), &body); err != nil {
		return c.Status(fiber.StatusBadRequest).JSON(phone.Answer{Error: "That is not what a phone sends: " + err.Error()})
	}
	presses := make([]app.Press, len(body.Presses))
	for i, s := range body.Presses {
		presses[i] = app.Press{ID: s.ID, Ago: time.Duration(s.AgoMS) * time.Millisecond,
			HappenInput: app.HappenInput{Kind: s.Kind, StudentID: s.Student, Step: s.Step, Stop: s.Stop, Reason: s.Reason}}
	}
	done, err := d.Press(presses)
	var problems form.Problems
	switch {
	case errors.As(err, &problems):
		return c.Status(fiber.StatusUnprocessableEntity).JSON(phone.Answer{Error: problems.Error()})
	case err != nil:
		return err
	}
	all := phone.Answer{Pressed: make([]phone.Pressed, len(done))}
	for i, one := range done {
		all.Pressed[i] = phone.Pressed(one)
	}
	return c.JSON(all)
}

// state says who is at the machine of the phone, or at the benches, and who comes next.
func state(c fiber.Ctx, d app.UseCases) error {
	page, err := d.Station()
	if err != nil {
		return err
	}
	doc := phone.State{
		Class: page.Plan.Class.ID, Machine: d.Who.Place.MachineID, Clock: page.Now, Speed: max(1, page.Clock.Speed),
		Running: page.Running(), Finished: page.Running(), Seq: page.Seq,
		People: []phone.Person{}, Sittings: []phone.Sitting{},
	}
	for _, at := range page.Standings {
		if at.Presence != live.Left && !at.Finished() {
			doc.Finished = false
		}
		if page.Taken && at.StudentID == page.At.StudentID || d.Who.Place.MachineID == 0 &&
			page.StationOf(at.StudentID) == "" {
			doc.People = append(doc.People, newPerson(page, at))
		}
	}
	for _, s := range page.Sittings {
		doc.Sittings = append(doc.Sittings, phone.Sitting{Student: s.StudentID, At: s.At})
	}
	c.Set(fiber.HeaderCacheControl, "no-store")
	return c.JSON(doc)
}

func newPerson(page app.StationPage, at live.Standing) phone.Person {
	doc := phone.Person{Student: at.StudentID, Name: at.Name, Presence: string(at.Presence), Begun: at.Begun,
		Minutes: at.LeftMinutes(page.Now)}
	if step, more := at.Step(); more {
		doc.Step = step.Operation
	}
	for i, s := range at.Stops {
		if i >= at.Stop {
			doc.Stops = append(doc.Stops, phone.Stop{N: s.N, Minutes: s.Minutes})
		}
	}
	if at.Stop < len(at.Stops) {
		doc.Stop = at.Stops[at.Stop].N
	}
	for _, h := range page.Hands {
		if h.StudentID == at.StudentID {
			doc.Hand = string(h.Reason)
		}
	}
	return doc
}

func restart(c fiber.Ctx, d app.UseCases) error {
	place, err := d.RestartAt(ui.Decimal(c.Query("x")), ui.Decimal(c.Query("y")))
	if err != nil {
		return err
	}
	c.Set(fiber.HeaderCacheControl, "no-store")
	return c.Render("station/place", fiber.Map{"Place": place, "P": ui.P{Printer: d.Printer()}})
}

func picture(c fiber.Ctx, d app.UseCases) error {
	mediaType, data, err := d.StationPicture(ui.Number(c.Params("design")), ui.Small(c.Params("n")))
	if err != nil {
		return err
	}
	return ui.Picture(c, mediaType, data)
}

// worker keeps a phone's page for when it has no connection; it may see what is below the
// stations, and no more.
func worker(c fiber.Ctx) error {
	data, err := ui.Script("worker.js")
	if err != nil {
		return err
	}
	c.Set(fiber.HeaderContentType, fiber.MIMETextJavaScriptCharsetUTF8)
	c.Set(fiber.HeaderCacheControl, "no-cache")
	return c.Send(data)
}

// pictureURL is where a stop of a design is drawn for a phone.
func pictureURL(token string, designID int64, version, n int) string {
	return fmt.Sprintf("/station/%s/picture/%d/%d?v=%d", token, designID, n, version)
}
