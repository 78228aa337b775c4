package settings

import (
	"fmt"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/desk"
	"chalkstep/app/people"
	"chalkstep/core/booking"
	"chalkstep/web/ui"
)

// bookingRoutes are the rules by which machines are booked.
func bookingRoutes(f *fiber.App) {
	f.Get("/settings/bookings", ui.With(func(c fiber.Ctx, d people.Desk) error {
		in, err := d.BookingRules()
		if err != nil {
			return err
		}
		return bookingRules(c, in, desk.Problems{})
	}))
	f.Post("/settings/bookings", ui.With(saveBookingRules))
}

// An hoursRow is when the house is open on a day of the week.
type hoursRow struct{ Day, Field, From, To string }

// A figureRow is a figure of the rules.
type figureRow struct {
	booking.Figure
	Field, Value string
	Usual        int
}

func bookingRules(c fiber.Ctx, in people.BookingRulesInput, problems desk.Problems) error {
	var hours []hoursRow
	open := 0
	for _, day := range people.Weekdays {
		hours = append(hours, hoursRow{day.String(), people.HoursField(day), in.From[day], in.To[day]})
		if in.From[day] != "" {
			open++
		}
	}
	var figures []figureRow
	for _, f := range booking.Figures {
		figures = append(figures, figureRow{f, people.FigureField(f.Key), in.Figures[f.Key], f.Of(booking.Defaults())})
	}
	answer := fmt.Sprintf("Machines are booked on %d days of the week.", open)
	return ui.Render(c, "settings/bookings", area, "Bookings", fiber.Map{"In": in, "Answer": answer, "Hours": hours, "Figures": figures, "Part": "bookings", "Problems": problems})
}

func saveBookingRules(c fiber.Ctx, d people.Desk) error {
	in := people.BookingRulesInput{Version: ui.Small(c.FormValue("version")), From: make([]string, 7), To: make([]string, 7), Closed: c.FormValue("closed"), Figures: map[string]string{}}
	for _, day := range people.Weekdays {
		in.From[day], in.To[day] = c.FormValue(people.HoursField(day)+"-from"), c.FormValue(people.HoursField(day)+"-to")
	}
	for _, f := range booking.Figures {
		in.Figures[f.Key] = c.FormValue(people.FigureField(f.Key))
	}
	if err := d.SaveBookingRules(in); err != nil {
		return ui.Again(c, err, func(p desk.Problems) error { return bookingRules(c, in, p) })
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/settings/bookings")
}
