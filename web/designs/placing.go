package designs

import (
	"fmt"
	"html/template"
	"math"
	"net/url"
	"strings"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/actor"
	"chalkstep/app/designs"
	"chalkstep/core/hoop"
	"chalkstep/core/stitch"
	"chalkstep/web/ui"
)

// placingInput reads where a design is wanted, from the address or the form.
func placingInput(c fiber.Ctx) (in designs.PlacingInput, err error) {
	in.Asked = c.FormValue("percent", c.Query("percent")) != ""
	err = ui.Bind(c, &in)
	return in, err
}

func placing(c fiber.Ctx, d designs.UseCases, id int64) error {
	in, err := placingInput(c)
	if err != nil {
		return err
	}
	page, err := d.Placing(id, in)
	problems, err := ui.Mendable(c, err)
	if err != nil {
		return err
	}
	return renderPlacing(c, d, page, problems)
}

func renderPlacing(c fiber.Ctx, d designs.UseCases, page designs.PlacingPage, problems *ui.Refused) error {
	var percents []int
	for p := stitch.ResizeLowest; p <= stitch.ResizeMost; p += stitch.ResizeStep {
		percents = append(percents, p)
	}
	return ui.Render(c, "designs/placing", area, "Place "+page.Design.Name, fiber.Map{
		"Page": page, "Picture": newPlacingPicture(ui.P{Printer: d.Printer()}, page), "Percents": percents,
		"Snaps": hoop.Snaps, "BasteMM": float64(hoop.BasteMarginMM), "Query": placingQuery(page),
		"Sheets": actor.PaperSizes(), "Problems": problems,
	})
}

// placingQuery is what is shown, as an address has it.
func placingQuery(page designs.PlacingPage) template.URL {
	q := url.Values{}
	for name, value := range map[string]any{"machine": page.In.MachineID, "hoop": page.In.HoopID, "turn": page.In.Turn,
		"x": fmt.Sprint(page.In.XMM, " mm"), "y": fmt.Sprint(page.In.YMM, " mm"), "percent": page.In.Percent} {
		q.Set(name, fmt.Sprint(value))
	}
	if page.In.Basted {
		q.Set("basted", "yes")
	}
	return template.URL(q.Encode())
}

func savePlacing(c fiber.Ctx, d designs.UseCases, id int64) error {
	in, err := placingInput(c)
	if err != nil {
		return err
	}
	page, err := d.SavePlacing(id, in)
	if err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error { return renderPlacing(c, d, page, p) })
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/designs/%d/placing?machine=%d", id, page.Machine.ID))
}

func printTemplate(c fiber.Ctx, d designs.UseCases, id int64) error {
	in, err := placingInput(c)
	if err != nil {
		return err
	}
	name, data, err := d.TemplateFile(c.Context(), id, in, c.Query("sheet"))
	if err != nil {
		return err
	}
	return ui.Send(c, name, data)
}

// A placingPicture draws a field with the design in it, in tenths of a
// millimetre, y down. What moves with the design is drawn from its middle.
type placingPicture struct {
	frame
	// AtX and AtY of the design's middle, and how far it may go each way.
	AtX, AtY, NudgeX, NudgeY float64
	Transform                string
	Box                      struct{ X, Y, Width, Height float64 }
	Marks                    string // the frame's own cross
	Corners                  []cornerMark
}

// A cornerMark is the number of a corner that the needle traces, and where the
// corner is from the field's middle and from where the frame's marks meet.
type cornerMark struct {
	N                   int
	X, Y                float64
	OnScreen, FromMarks [2]string
}

func newPlacingPicture(p ui.P, page designs.PlacingPage) placingPicture {
	const margin, beside, over = 90, 26, 22
	pic := placingPicture{frame: newFrame(page.Hoop.Field, margin), AtX: page.Placed.X * 10, AtY: -page.Placed.Y * 10,
		NudgeX: page.Placed.NudgeXMM * 10, NudgeY: page.Placed.NudgeYMM * 10}
	var t strings.Builder
	if page.In.Turn == 90 {
		t.WriteString("rotate(-90) ")
	}
	fmt.Fprintf(&t, "scale(%.2f)", float64(page.In.Percent)/100)
	pic.Transform = t.String()
	c := page.Placed.Corners
	pic.Box.X, pic.Box.Y = c[0].X*10-pic.AtX, -c[0].Y*10-pic.AtY
	pic.Box.Width, pic.Box.Height = (c[1].X-c[0].X)*10, (c[0].Y-c[3].Y)*10
	both := func(q hoop.Point) [2]string { return [2]string{p.Fine(q.X), p.Fine(q.Y)} }
	for i, q := range c {
		x, y := q.X-page.Placed.X, q.Y-page.Placed.Y
		pic.Corners = append(pic.Corners,
			cornerMark{i + 1, x*10 + math.Copysign(beside, x), -y*10 - math.Copysign(over, y), both(q), both(page.FromMarks(q))})
	}
	pic.Marks = fmt.Sprintf("translate(%.1f %.1f)", page.Hoop.OffXMM*10, -page.Hoop.OffYMM*10)
	return pic
}
