package designs

import (
	"fmt"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/designs"
	"chalkstep/core/stitch"
	"chalkstep/web/ui"
)

func logStitchOut(c fiber.Ctx, d designs.UseCases, id int64) error {
	_, picture, err := ui.Upload(c, "photo")
	if err != nil {
		return err
	}
	in := designs.StitchOutInput{Photo: picture}
	if err := ui.Bind(c, &in); err != nil {
		return err
	}
	if err := d.LogStitchOut(id, in); err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error {
			page, err := d.Design(id)
			if err != nil {
				return err
			}
			return render(c, page, stitch.Place{}, p, fiber.Map{"Run": in})
		})
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/designs/%d#stitch-outs", id))
}

func removeStitchOut(c fiber.Ctx, d designs.UseCases, id int64) error {
	run, err := ui.ID(c, "run")
	if err != nil {
		return err
	}
	if err := d.RemoveStitchOut(id, run); err != nil {
		return err
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/designs/%d#stitch-outs", id))
}

func photo(c fiber.Ctx, d designs.UseCases, id int64) error {
	run, err := ui.ID(c, "run")
	if err != nil {
		return err
	}
	kind, data, err := d.StitchOutPhoto(id, run)
	if err != nil {
		return err
	}
	c.Set(fiber.HeaderContentType, kind)
	c.Set(fiber.HeaderCacheControl, "private, max-age=86400")
	return c.Send(data)
}
