// Package calendar is the face that programs read calendars at, by secret links, without
// an account.
package calendar

import (
	"strings"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/actor"
	"chalkstep/app/bookings"
	"chalkstep/web/guard"
)

// Routes of the calendars.
func Routes(f *fiber.App, a *actor.App) {
	f.Get("/calendar/:file", func(c fiber.Ctx) error {
		token, is := strings.CutSuffix(c.Params("file"), ".ics")
		if !is {
			return actor.NotFound("the calendar")
		}
		who, err := a.Reader(c.Context(), token)
		if err != nil {
			return err
		}
		data, err := actor.As[bookings.UseCases](a.For(c.Context(), who)).ReadFeed(guard.Base(c))
		if err != nil {
			return err
		}
		c.Set(fiber.HeaderContentType, "text/calendar; charset=utf-8")
		c.Set(fiber.HeaderContentDisposition, `attachment; filename="chalk-step.ics"`)
		c.Set(fiber.HeaderCacheControl, "private, no-cache")
		return c.Send(data)
	})
}
