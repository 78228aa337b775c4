package students

import (
	"fmt"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/people"
	"chalkstep/web/guard"
	"chalkstep/web/ui"
)

// linkRoutes are how a student opens their own page.
func linkRoutes(f *fiber.App) {
	f.Get("/students/:id/link", ui.WithID(func(c fiber.Ctx, d people.UseCases, id int64) error {
		link, err := d.OwnLink(id)
		if err != nil {
			return err
		}
		ui.Fresh(c)
		c.Set(fiber.HeaderCacheControl, "no-store")
		return ui.Render(c, "students/link", area, link.Name,
			fiber.Map{"Link": link, "Address": guard.Base(c) + people.OwnPath + link.Token,
				"Code": link.Token[len(link.Token)-6:]})
	}))
	f.Get("/students/:id/code.png", ui.WithID(func(c fiber.Ctx, d people.UseCases, id int64) error {
		code, err := d.OwnCode(id, guard.Base(c))
		if err != nil {
			return err
		}
		c.Set(fiber.HeaderContentType, "image/png")
		c.Set(fiber.HeaderCacheControl, "no-store")
		return c.Send(code)
	}))
	f.Post("/students/:id/phones/:phone/end", ui.WithID(func(c fiber.Ctx, d people.UseCases, id int64) error {
		phone, err := ui.ID(c, "phone")
		if err != nil {
			return err
		}
		if err := d.EndOwn(id, phone); err != nil {
			return err
		}
		return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/students/%d/link", id))
	}))
	f.Post("/students/:id/link", ui.WithID(func(c fiber.Ctx, d people.UseCases, id int64) error {
		if err := d.RenewOwn(id); err != nil {
			return err
		}
		return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/students/%d/link", id))
	}))
}
