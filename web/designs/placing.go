package designs

import (
	"fmt"
	"html/template"
	"math"
	"net/url"
	"strings"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/designs"
	"chalkstep/app/desk"
	"chalkstep/core/hoop"
	"chalkstep/core/stitch"
	"chalkstep/web/ui"
)

// placingInput reads where a design is wanted, from the address or the form.
func placingInput(read func(string) string) designs.PlacingInput {
	in := designs.PlacingInput{
		MachineID: ui.Number(read("machine")), HoopID: ui.Number(read("hoop")), Turn: ui.Small(read("turn")),
		X: read("x"), Y: read("y"), Percent: ui.Small(read("percent")), Basted: read("basted") != "",
		Snap: read("snap"), Asked: read("percent") != "", Version: ui.Small(read("version")), Reason: read("reason"),
	}
	return in
}

func fromQuery(c fiber.Ctx) func(string) string {
	return func(name string) string { return c.Query(name) }
}

func placing(c fiber.Ctx, d designs.Desk, id int64) error {
	page, err := d.Placing(id, placingInput(fromQuery(c)))
	problems, err := ui.Mendable(c, err)
	if err != nil {
		return err
	}
	return renderPlacing(c, page, problems)
}

func renderPlacing(c fiber.Ctx, page designs.PlacingPage, problems desk.Problems) error {
	var percents []int
	for p := stitch.ResizeLowest; p <= stitch.ResizeMost; p += stitch.ResizeStep {
		percents = append(percents, p)
	}
	return ui.Render(c, "designs/placing", area, "Place "+page.Design.Name, fiber.Map{
		"Page": page, "Picture": newPlacingPicture(page), "Percents": percents, "Snaps": hoop.Snaps, "Query": placingQuery(page), "Sheets": desk.PaperSizes(), "Problems": problems,
	})
}

// placingQuery is what is shown, as an address has it.
func placingQuery(page designs.PlacingPage) template.URL {
	q := url.Values{}
	for name, value := range map[string]any{"machine": page.In.MachineID, "hoop": page.In.HoopID, "turn": page.In.Turn, "x": page.In.XMM, "y": page.In.YMM, "percent": page.In.Percent} {
		q.Set(name, fmt.Sprint(value))
	}
	if page.In.Basted {
		q.Set("basted", "yes")
	}
	return template.URL(q.Encode())
}

func savePlacing(c fiber.Ctx, d designs.Desk, id int64) error {
	page, err := d.SavePlacing(id, placingInput(func(name string) string { return c.FormValue(name) }))
	if err != nil {
		return ui.Again(c, err, func(p desk.Problems) error { return renderPlacing(c, page, p) })
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/designs/%d/placing?machine=%d", id, page.Machine.ID))
}

func printTemplate(c fiber.Ctx, d designs.Desk, id int64) error {
	name, data, err := d.TemplateFile(c.Context(), id, placingInput(fromQuery(c)), c.Query("sheet"))
	if err != nil {
		return err
	}
	return ui.Send(c, name, data)
}

// A placingPicture draws a field with the design in it, in tenths of a
// millimetre, y down.
type placingPicture struct {
	ViewBox                string
	FieldX, FieldY, Round  float64
	NudgeX, NudgeY         float64
	Transform              string
	BoxX, BoxY, BoxW, BoxH float64
	Marks                  string // the frame's own cross
	Corners                []cornerMark
}

type cornerMark struct {
	X, Y float64
	N    int
}

func newPlacingPicture(page designs.PlacingPage) placingPicture {
	const margin = 90
	p := placingPicture{FieldX: page.Hoop.WidthMM * 5, FieldY: page.Hoop.HeightMM * 5}
	p.ViewBox = fmt.Sprintf("%.0f %.0f %.0f %.0f", -p.FieldX-margin, -p.FieldY-margin, 2*(p.FieldX+margin), 2*(p.FieldY+margin))
	p.Round = min(p.FieldX, p.FieldY) / 8
	p.NudgeX, p.NudgeY = page.Placed.NudgeXMM*10, page.Placed.NudgeYMM*10
	var t strings.Builder
	if page.In.Turn == 90 {
		t.WriteString("rotate(-90) ")
	}
	fmt.Fprintf(&t, "scale(%.2f)", float64(page.In.Percent)/100)
	p.Transform = t.String()
	c := page.Placed.Corners
	p.BoxX, p.BoxY = c[0].X*10, -c[0].Y*10
	p.BoxW, p.BoxH = (c[1].X-c[0].X)*10, (c[0].Y-c[3].Y)*10
	for i, q := range c {
		p.Corners = append(p.Corners, cornerMark{q.X*10 + math.Copysign(26, q.X-page.Placed.X), -q.Y*10 - math.Copysign(22, q.Y-page.Placed.Y), i + 1})
	}
	p.Marks = fmt.Sprintf("translate(%.1f %.1f)", page.Hoop.OffXMM*10, -page.Hoop.OffYMM*10)
	return p
}
