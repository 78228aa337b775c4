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
func copiesInput(c fiber.Ctx) designs.CopiesInput {
	in := designs.CopiesInput{HoopID: ui.Number(c.Query("hoop")), Quantity: c.Query("quantity", "12"), Gap: c.Query("gap", fmt.Sprintf("%v mm", hoop.DefaultGapMM))}
	in.ShapeWidth, in.ShapeHeight, in.Round = c.Query("shape-width"), c.Query("shape-height"), c.Query("round") != ""
	return in
}

func copies(c fiber.Ctx, d designs.Desk, id int64) error {
	page, err := d.Copies(id, copiesInput(c))
	problems, err := ui.Mendable(c, err)
	if err != nil {
		return err
	}
	return ui.Render(c, "designs/copies", area, "Several "+page.Design.Name, fiber.Map{"Page": page, "Sheet": newSheet(page), "Formats": stitch.Names(), "Problems": problems})
}

func downloadCopies(c fiber.Ctx, d designs.Desk, id int64) error {
	name, data, err := d.CopiesFile(id, copiesInput(c), c.Query("as"))
	if err != nil {
		return err
	}
	return ui.Send(c, name, data)
}

// A sheet is a hoop with copies in it, drawn in tenths of a millimetre.
type sheet struct {
	ViewBox        string
	FieldX, FieldY float64
	Places         []string // SVG transforms
}

func newSheet(page designs.CopiesPage) sheet {
	const margin = 40
	s := sheet{FieldX: page.Hoop.WidthMM * 5, FieldY: page.Hoop.HeightMM * 5}
	s.ViewBox = fmt.Sprintf("%.0f %.0f %.0f %.0f", -s.FieldX-margin, -s.FieldY-margin, 2*(s.FieldX+margin), 2*(s.FieldY+margin))
	for _, c := range page.Grid.Centres {
		place := fmt.Sprintf("translate(%.1f %.1f)", c.X*10, -c.Y*10)
		if page.Grid.Rotated {
			place += " rotate(-90)"
		}
		s.Places = append(s.Places, place)
	}
	return s
}
