package designs

import (
	"fmt"
	"html/template"
	"net/url"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/designs"
	"chalkstep/core/hoop"
	"chalkstep/core/stitch"
	"chalkstep/web/ui"
)

// copiesInput reads what is asked of a sheet of copies; what is left out has
// its usual value.
func copiesInput(c fiber.Ctx, d designs.UseCases) designs.CopiesInput {
	in := designs.CopiesInput{HoopID: ui.Number(c.Query("hoop")), Quantity: c.Query("quantity", "12"),
		Gap: c.Query("gap", d.Printer().Units.Field(hoop.DefaultGapMM))}
	in.ShapeWidth, in.ShapeHeight, in.Round = c.Query("shape-width"), c.Query("shape-height"), c.Query("round") != ""
	in.Best = c.Query("laid") == "best"
	return in
}

func copies(c fiber.Ctx, d designs.UseCases, id int64) error {
	page, err := d.Copies(id, copiesInput(c, d))
	problems, err := ui.Mendable(c, err)
	if err != nil {
		return err
	}
	return renderCopies(c, d, page, problems)
}

func renderCopies(c fiber.Ctx, d designs.UseCases, page designs.CopiesPage, problems *ui.Refused) error {
	return ui.Render(c, "designs/copies", area, "Several "+page.Design.Name,
		fiber.Map{"Page": page, "Sheet": newSheet(ui.P{Printer: d.Printer()}, page), "Formats": stitch.Names(),
			"Problems": problems})
}

func downloadCopies(c fiber.Ctx, d designs.UseCases, id int64) error {
	name, data, err := d.CopiesFile(id, copiesInput(c, d), c.Query("as"))
	if err != nil {
		return err
	}
	return ui.Send(c, name, data)
}

// keepCopies makes the sheet a design and a project of its own, and opens the
// project.
func keepCopies(c fiber.Ctx, d designs.UseCases, id int64) error {
	project, err := d.KeepCopies(id, copiesInput(c, d))
	if err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error {
			page, err := d.Copies(id, copiesInput(c, d))
			if err != nil {
				return err
			}
			return renderCopies(c, d, page, p)
		})
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/projects/%d", project))
}

// A sheet is a hoop with copies in it.
type sheet struct {
	frame
	Copies []copied
	// Shape is what each copy lies on, in tenths of a millimetre; nil for none.
	Shape *shape
	// Query asks for this sheet, Other for the one that is offered.
	Query, Other template.URL
}

// A shape is half a pre-cut shape's size each way.
type shape struct {
	HalfX, HalfY, Width, Height float64
	Round                       bool
}

// A copied design of a sheet: its number, where its middle is from the hoop's,
// and the SVG transform that draws it there.
type copied struct {
	N          int
	Across, Up string
	Turned     bool
	Transform  string
}

func newSheet(p ui.P, page designs.CopiesPage) sheet {
	const margin = 40
	s := sheet{frame: newFrame(page.Hoop.Field, margin)}
	if b := page.Shape; b != nil {
		s.Shape = &shape{b.WidthMM * 5, b.HeightMM * 5, b.WidthMM * 10, b.HeightMM * 10, b.Round}
	}
	q := url.Values{"hoop": {fmt.Sprint(page.In.HoopID)}, "quantity": {page.In.Quantity}, "gap": {page.In.Gap},
		"shape-width": {page.In.ShapeWidth}, "shape-height": {page.In.ShapeHeight}}
	if page.In.Round {
		q.Set("round", "yes")
	}
	if page.In.Best {
		q.Set("laid", "best")
	}
	s.Query = template.URL(q.Encode())
	q.Set("laid", "best")
	if page.In.Best {
		q.Del("laid")
	}
	s.Other = template.URL(q.Encode())
	for i, c := range page.Layout.Spots {
		copied := copied{N: i + 1, Across: p.Fine(c.X), Up: p.Fine(c.Y), Turned: c.Turned,
			Transform: fmt.Sprintf("translate(%.1f %.1f)", c.X*10, -c.Y*10)}
		if c.Turned {
			copied.Transform += " rotate(-90)"
		}
		s.Copies = append(s.Copies, copied)
	}
	return s
}
