// Package bookings is the pages of who has which machine when.
package bookings

import (
	"cmp"
	"net/url"
	"strconv"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/actor"
	app "chalkstep/app/bookings"
	"chalkstep/core/booking"
	"chalkstep/web/guard"
	"chalkstep/web/ui"
)

const area = "Machines"

// Routes are who has which machine when.
func Routes(f *fiber.App) {
	f.Get("/machines/bookings", ui.With(func(c fiber.Ctx, d app.UseCases) error {
		in := app.BookingInput{
			MachineID: ui.Number(c.Query("at")), Student: c.Query("student"), Date: cmp.Or(c.Query("date"), d.Date()),
			From: cmp.Or(c.Query("from"), "10:00"), To: cmp.Or(c.Query("to"), "11:00"),
			Accompanied: c.Query("accompanied") != "", Note: c.Query("note"),
		}
		return bookings(c, d, in, nil)
	}))
	f.Post("/machines/bookings", ui.With(book))
	f.Post("/machines/bookings/:id/cancel", ui.WithID(cancel))
	f.Post("/machines/bookings/:id/sat",
		ui.WithID(func(c fiber.Ctx, d app.UseCases, id int64) error { return backToWeek(c, d.SatDown(id)) }))
	f.Post("/machines/waits/:id/end",
		ui.WithID(func(c fiber.Ctx, d app.UseCases, id int64) error { return backToWeek(c, d.EndWait(id)) }))
	f.Get("/machines/messages", ui.With(messages))
	f.Get("/machines/calendars", ui.With(ui.Needs(actor.Book, calendars)))
	f.Post("/machines/calendars", ui.With(renew))
}

// bookings shows a week, with what is asked of it and the form to book.
func bookings(c fiber.Ctx, d app.UseCases, in app.BookingInput, problems *ui.Refused) error {
	asked := func(name string) string { // a form that came back brings where it was sent from
		if c.Method() == fiber.MethodPost {
			return c.FormValue(name)
		}
		return c.Query(name)
	}
	week := asked("week")
	if week == "" && c.Method() == fiber.MethodPost {
		week = in.Date
	}
	page, err := d.Week(week, ui.Number(asked("only")))
	if err != nil {
		return err
	}
	look := app.SlotsInput{Design: c.Query("design"), Student: c.Query("for"), Days: c.Query("days")}
	slots, err := d.Slots(look)
	if err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error {
			return renderWeek(c, d, page, app.SlotsPage{}, look, in, p)
		})
	}
	return renderWeek(c, d, page, slots, look, in, problems)
}

func renderWeek(c fiber.Ctx, d app.UseCases, page app.WeekPage, slots app.SlotsPage, look app.SlotsInput,
	in app.BookingInput, problems *ui.Refused) error {
	v := newWeekView(ui.P{Printer: d.Printer()}, d, page, slots, look)
	return ui.Render(c, "bookings/bookings", area, "Bookings",
		fiber.Map{"View": v, "Look": look, "In": in, "Problems": problems})
}

func book(c fiber.Ctx, d app.UseCases) error {
	var in app.BookingInput
	if err := ui.Bind(c, &in); err != nil {
		return err
	}
	if err := d.Book(in); err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error { return bookings(c, d, in, p) })
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(weekAddress(in.Date, ui.Number(c.FormValue("only"))))
}

func cancel(c fiber.Ctx, d app.UseCases, id int64) error { return backToWeek(c, d.CancelBooking(id)) }

// backToWeek goes on in the week that a press came from.
func backToWeek(c fiber.Ctx, err error) error {
	if err != nil {
		return err
	}
	if c.FormValue("today") != "" {
		return c.Redirect().Status(fiber.StatusSeeOther).To("/")
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(weekAddress(c.FormValue("week"), ui.Number(c.FormValue("only"))))
}

// weekAddress is that of the week of a day, of one machine or of all.
func weekAddress(day string, machineID int64) string {
	q := url.Values{}
	if day != "" {
		q.Set("week", day)
	}
	if machineID != 0 {
		q.Set("only", strconv.FormatInt(machineID, 10))
	}
	if len(q) == 0 {
		return "/machines/bookings"
	}
	return "/machines/bookings?" + q.Encode()
}

// calendars lists the links that programs read; one of a student where the address says so.
func calendars(c fiber.Ctx, d app.UseCases) error {
	title, feeds, err := "Calendars", []app.Feed(nil), error(nil)
	if id := ui.Number(c.Query("student")); id != 0 {
		var one app.Feed
		one, err = d.StudentFeed(id)
		feeds = []app.Feed{one}
	} else {
		feeds, err = d.Feeds()
	}
	if err != nil {
		return err
	}
	return ui.Render(c, "bookings/calendars", area, title, fiber.Map{"Feeds": feeds, "Site": guard.Base(c)})
}

// renew gives a calendar another link.
func renew(c fiber.Ctx, d app.UseCases) error {
	of := booking.Calendar{Kind: booking.CalendarKind(c.FormValue("kind")), ID: ui.Number(c.FormValue("id"))}
	if err := d.RenewFeed(of); err != nil {
		return err
	}
	to := "/machines/calendars"
	if of.Kind == booking.OfStudent {
		to += "?student=" + strconv.FormatInt(of.ID, 10)
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(to)
}

// A messageLine is something that a student was told.
type messageLine struct {
	StudentID        int64
	Name, When, Text string
	Read             bool
}

// messages lists what students were told of their bookings.
func messages(c fiber.Ctx, d app.UseCases) error {
	page, err := d.Messages(ui.Page(c))
	if err != nil {
		return err
	}
	p := ui.P{Printer: d.Printer()}
	unread := 0
	var lines []messageLine
	for _, m := range page.Messages {
		if m.ReadAt == nil {
			unread++
		}
		lines = append(lines,
			messageLine{m.Student.ID, m.Student.Name, p.Day(m.ToldAt) + ", " + p.Clock(m.ToldAt), p.Say(m.Say()),
				m.ReadAt != nil})
	}
	answer := "All that students were told has been read."
	switch {
	case len(lines) == 0:
		answer = "No student was told anything yet."
	case unread > 0:
		answer = p.N(unread, "message") + have(unread) + " not been read: tell them yourself."
	}
	return ui.Render(c, "bookings/messages", area, "Messages",
		fiber.Map{"Lines": lines, "Answer": answer, "Pages": page.Pages})
}

// have is the verb of so many.
func have(n int) string {
	if n == 1 {
		return " has"
	}
	return " have"
}
