// Package today is the first page: what the day asks for.
package today

import (
	"github.com/gofiber/fiber/v3"

	"chalkstep/app/planning"
	"chalkstep/web/ui"
)

// Routes of the area.
func Routes(f *fiber.App) {
	f.Get("/", ui.With(func(c fiber.Ctx, d planning.UseCases) error {
		page, err := d.Today()
		if err != nil {
			return err
		}
		data := fiber.Map{"Page": page}
		if page.Next != nil {
			data["Late"] = -page.Next.SpareMinutes
		}
		return ui.Render(c, "today/today", "Today", "Today", data)
	}))
}
