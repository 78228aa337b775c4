package settings

import (
	"fmt"
	"slices"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/people"
	"chalkstep/core/booking"
	"chalkstep/core/fleet/care"
	"chalkstep/core/policy/rule"
	"chalkstep/web/ui"
)

// bookingRoutes are the rules by which machines are booked.
func bookingRoutes(f *fiber.App) {
	f.Get("/settings/bookings", ui.With(func(c fiber.Ctx, d people.UseCases) error {
		in, err := d.BookingRules()
		if err != nil {
			return err
		}
		return bookingRules(c, in, nil)
	}))
	f.Post("/settings/bookings", ui.With(saveBookingRules))
}

// An hoursRow is when the house is open on a day of the week.
type hoursRow struct{ Day, Field, From, To string }

// A figureRow is a figure of the rules.
type figureRow struct {
	Key, Title, Because, Field, Value string
	Usual                             int
}

// figureRows are the figures of some rules as a form has them.
func figureRows[R any](figures []rule.Figure[R], usual R, typed map[string]string) []figureRow {
	var rows []figureRow
	for _, f := range figures {
		rows = append(rows, figureRow{f.Key, string(f.Title), string(f.Because), people.FigureField(f.Key), typed[f.Key],
			f.Of(usual)})
	}
	return rows
}

func bookingRules(c fiber.Ctx, in people.BookingRulesInput, problems *ui.Refused) error {
	var hours []hoursRow
	open := 0
	for _, day := range people.Weekdays {
		hours = append(hours, hoursRow{day.String(), people.HoursField(day), in.From[day], in.To[day]})
		if in.From[day] != "" {
			open++
		}
	}
	answer := fmt.Sprintf("Machines are booked on %d days of the week.", open)
	return ui.Render(c, "settings/bookings", area, "Bookings",
		fiber.Map{"In": in, "Answer": answer, "Hours": hours,
			"Figures": figureRows(booking.Figures, booking.Defaults(), in.Figures),
			"Care":    figureRows(care.Figures, care.Defaults(), in.Figures), "Part": "bookings", "Problems": problems})
}

func saveBookingRules(c fiber.Ctx, d people.UseCases) error {
	in := people.BookingRulesInput{Version: ui.Small(c.FormValue("version")), From: make([]string, 7),
		To: make([]string, 7), Closed: c.FormValue("closed"), Figures: map[string]string{}}
	for _, day := range people.Weekdays {
		in.From[day], in.To[day] = c.FormValue(people.HoursField(day)+"-from"), c.FormValue(people.HoursField(day)+"-to")
	}
	for _, row := range slices.Concat(figureRows(booking.Figures, booking.Defaults(), nil),
		figureRows(care.Figures, care.Defaults(), nil)) {
		in.Figures[row.Key] = c.FormValue(row.Field)
	}
	if err := d.SaveBookingRules(in); err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error { return bookingRules(c, in, p) })
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/settings/bookings")
}
