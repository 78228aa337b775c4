package designs

import (
	"fmt"
	"html/template"
	"net/url"
	"strings"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/designs"
	"chalkstep/core/say"
	"chalkstep/core/stitch/outline"
	"chalkstep/web/ui"
)

func piecesInput(c fiber.Ctx) designs.PiecesInput {
	in := designs.PiecesInput{Offset: c.Query("offset"), Mirror: c.Query("mirror") != ""}
	for _, n := range c.RequestCtx().QueryArgs().PeekMulti("stop") {
		in.Stops = append(in.Stops, ui.Small(string(n)))
	}
	return in
}

func pieces(c fiber.Ctx, d designs.UseCases, id int64) error {
	page, err := d.Pieces(id, piecesInput(c))
	problems, err := ui.Mendable(c, err)
	if err != nil {
		return err
	}
	return ui.Render(c, "designs/pieces", area, "Pieces of "+page.Design.Name,
		fiber.Map{"Page": page, "Path": cutPathData(page),
			"ViewBox": fmt.Sprintf("-5 -5 %.1f %.1f", page.Cut.WidthMM+10, page.Cut.HeightMM+10), "Query": piecesQuery(page.In),
			"Offsets": d.Say(say.T("%s to %s", say.Fine(0), say.Fine(outline.LargestOffset))), "Problems": problems})
}

func piecesQuery(in designs.PiecesInput) template.URL {
	q := url.Values{"offset": {in.Offset}}
	for _, n := range in.Stops {
		q.Add("stop", fmt.Sprint(n))
	}
	if in.Mirror {
		q.Set("mirror", "yes")
	}
	return template.URL(q.Encode())
}

// cutPathData draws the cut paths as SVG path data in millimetres, y down.
func cutPathData(page designs.PiecesPage) string {
	var s strings.Builder
	for _, loop := range page.Cut.Paths {
		for i, p := range loop {
			command := "L"
			if i == 0 {
				command = "M"
			}
			fmt.Fprintf(&s, "%s%.2f %.2f", command, p[0], -p[1])
		}
		s.WriteString("Z")
	}
	return s.String()
}

func downloadPieces(c fiber.Ctx, d designs.UseCases, id int64) error {
	name, svg, err := d.PiecesFile(id, piecesInput(c))
	if err != nil {
		return err
	}
	return ui.Send(c, name, svg)
}
