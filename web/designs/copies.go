package designs

import (
	"fmt"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/designs"
	"chalkstep/core/hoop"
	"chalkstep/core/stitch"
	"chalkstep/web/ui"
)

// copiesInput reads what is asked of a sheet of copies; what is left out has
// its usual value.
func copiesInput(c fiber.Ctx, d designs.Desk) designs.CopiesInput {
	in := designs.CopiesInput{HoopID: ui.Number(c.Query("hoop")), Quantity: c.Query("quantity", "12"), Gap: c.Query("gap", d.Printer().Units.Field(hoop.DefaultGapMM))}
	in.ShapeWidth, in.ShapeHeight, in.Round = c.Query("shape-width"), c.Query("shape-height"), c.Query("round") != ""
	return in
}

func copies(c fiber.Ctx, d designs.Desk, id int64) error {
	page, err := d.Copies(id, copiesInput(c, d))
	problems, err := ui.Mendable(c, err)
	if err != nil {
		return err
	}
	return ui.Render(c, "designs/copies", area, "Several "+page.Design.Name, fiber.Map{"Page": page, "Sheet": newSheet(ui.P{Printer: d.Printer()}, page), "Formats": stitch.Names(), "Problems": problems})
}

func downloadCopies(c fiber.Ctx, d designs.Desk, id int64) error {
	name, data, err := d.CopiesFile(id, copiesInput(c, d), c.Query("as"))
	if err != nil {
		return err
	}
	return ui.Send(c, name, data)
}

// A sheet is a hoop with copies in it.
type sheet struct {
	frame
	Copies []copied
}

// A copied design of a sheet: its number, where its middle is from the hoop's,
// and the SVG transform that draws it there.
type copied struct {
	N          int
	Across, Up string
	Transform  string
}

func newSheet(p ui.P, page designs.CopiesPage) sheet {
	const margin = 40
	s := sheet{frame: newFrame(page.Hoop.Field, margin)}
	for i, c := range page.Grid.Centres {
		copied := copied{N: i + 1, Across: p.Fine(c.X), Up: p.Fine(c.Y), Transform: fmt.Sprintf("translate(%.1f %.1f)", c.X*10, -c.Y*10)}
		if page.Grid.Rotated {
			copied.Transform += " rotate(-90)"
		}
		s.Copies = append(s.Copies, copied)
	}
	return s
}
