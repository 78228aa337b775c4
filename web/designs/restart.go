package designs

import (
	"github.com/gofiber/fiber/v3"

	"chalkstep/app/designs"
	"chalkstep/core/stitch"
	"chalkstep/web/ui"
)

// restart says where to restart: for a point on the drawing (x and y), or for
// a stop and a stitch as the machine counts them. Asked by htmx it answers
// with that part alone, otherwise with the whole design.
func restart(c fiber.Ctx, d designs.UseCases, id int64) error {
	var place stitch.Place
	var err error
	if c.Query("x") != "" {
		place, err = d.PointAt(id, ui.Decimal(c.Query("x")), ui.Decimal(c.Query("y")))
	} else {
		place, err = d.RestartAt(id, c.Query("stop"), c.Query("stitch"))
	}
	problems, err := ui.Mendable(c, err)
	if err != nil {
		return err
	}
	page, err := d.Design(id)
	if err != nil {
		return err
	}
	data := fiber.Map{"Page": page, "Place": place, "Problems": problems, "TypedStop": c.Query("stop"),
		"P": ui.P{Printer: d.Printer()}}
	if c.Get("HX-Request") != "" {
		return c.Render("designs/place", data)
	}
	return render(c, page, place, problems, fiber.Map{"TypedStop": c.Query("stop")})
}
