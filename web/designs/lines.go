package designs

import (
	"fmt"
	"math"
	"slices"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/designs"
	"chalkstep/core/hoop"
	"chalkstep/core/measure"
	"chalkstep/core/say"
	"chalkstep/web/ui"
)

func border(c fiber.Ctx, d designs.UseCases, id int64) error {
	in := designs.BorderInput{HoopID: ui.Number(c.Query("hoop")), Length: c.Query("length", usualLine(d.Printer().Units)),
		Pitch: c.Query("pitch"), Across: c.Query("across") != ""}
	page, err := d.Border(id, in)
	problems, err := ui.Mendable(c, err)
	if err != nil {
		return err
	}
	return ui.Render(c, "designs/border", area, "A line of "+page.Design.Name,
		fiber.Map{"Page": page, "Line": newLine(page), "Hoopings": inOrder(page.Border),
			"Spread": spread(ui.P{Printer: d.Printer()}, page.Border.SpreadMM), "Problems": problems})
}

// usualLine is a length to begin with.
func usualLine(units measure.Units) string {
	if units == measure.Inches {
		return "48 in"
	}
	return "1200 mm"
}

// inOrder lists the hoopings as they are sewn.
func inOrder(b hoop.Border) []hoop.BorderHooping {
	return slices.SortedStableFunc(slices.Values(b.Hoopings), func(a, b hoop.BorderHooping) int {
		return a.Order - b.Order
	})
}

// spread says what is done to each repeat so that they fill the line, nothing
// where it is less than anybody can sew.
func spread(p ui.P, spreadMM float64) string {
	const least = 0.005
	switch {
	case math.Abs(spreadMM) < least:
		return ""
	case spreadMM < 0:
		return "pushed together by " + p.Exact(-spreadMM)
	}
	return "drawn out by " + p.Exact(spreadMM)
}

// A line draws the hoopings of a border as stretches, in pixels at full width.
type line struct {
	Width, End float64
	Hoopings   []stretch
	Joins      []float64
	Repeats    []float64
}

type stretch struct {
	X, Width, Middle float64
	hoop.BorderHooping
}

func newLine(page designs.BorderPage) line {
	const width, margin = 788.0, 8.0
	l := line{Width: width, End: width - margin}
	b := page.Border
	if b.LengthMM == 0 {
		return l
	}
	x := func(mm float64) float64 { return margin + (width-2*margin)*mm/b.LengthMM }
	for _, h := range b.Hoopings {
		l.Hoopings = append(l.Hoopings, stretch{x(h.FromMM), x(h.ToMM) - x(h.FromMM), (x(h.FromMM) + x(h.ToMM)) / 2, h})
	}
	for _, j := range b.JoinsMM {
		l.Joins = append(l.Joins, x(j))
	}
	const most = 160
	for i := 1; i <= b.Repeats && b.Repeats <= most; i++ {
		l.Repeats = append(l.Repeats, x(float64(i)*b.PitchMM))
	}
	return l
}

func align(c fiber.Ctx, d designs.UseCases, id int64) error {
	pair := func(name string) [2]string { return [2]string{c.Query(name + "-x"), c.Query(name + "-y")} }
	page, err := d.Align(id,
		designs.AlignInput{ClothA: pair("cloth-a"), ClothB: pair("cloth-b"), DesignA: pair("design-a"),
			DesignB: pair("design-b")})
	problems, err := ui.Mendable(c, err)
	if err != nil {
		return err
	}
	typed := c.Queries()
	if len(typed) == 0 {
		// The middles of its sides are the points most often used.
		units := d.Printer().Units
		typed = map[string]string{"design-a-x": units.Field(-page.Design.WidthMM / 2), "design-a-y": units.Field(0),
			"design-b-x": units.Field(page.Design.WidthMM / 2), "design-b-y": units.Field(0)}
	}
	return ui.Render(c, "designs/align", area, "Align "+page.Design.Name,
		fiber.Map{"Page": page, "Picture": newAlignPicture(page), "Points": alignPoints,
			"Turned": turned(d.Printer(), page.Alignment.TurnDegrees), "Typed": typed, "Problems": problems})
}

// turned says by how much and which way.
func turned(p say.Printer, degrees float64) string {
	way := "counter-clockwise"
	if degrees < 0 {
		way = "clockwise"
	}
	return p.Say(say.T("%s° "+way, say.Decimal{Value: math.Abs(degrees), Places: 1}))
}

// An alignPicture shows the design as aligned, with marks and points, in
// tenths of a millimetre, y down.
type alignPicture struct {
	ViewBox, Transform string
	Marks, Points      []namedPoint
}

type namedPoint struct {
	X, Y float64
	Name string
}

func newAlignPicture(page designs.AlignPage) alignPicture {
	half := max(page.Design.WidthMM, page.Design.HeightMM) * 5
	var p alignPicture
	if page.Known {
		a := page.Alignment
		p.Transform = fmt.Sprintf("translate(%.1f %.1f) rotate(%.3f)", a.ShiftMM.X*10, -a.ShiftMM.Y*10, -a.TurnDegrees)
		named := func(q hoop.Point, name string) namedPoint {
			half = max(half, q.X*10, -q.X*10, q.Y*10, -q.Y*10)
			return namedPoint{q.X * 10, -q.Y * 10, name}
		}
		p.Marks = []namedPoint{named(page.ClothA, "A"), named(page.ClothB, "B")}
		p.Points = []namedPoint{named(a.Apply(page.DesignA), "A"), named(a.Apply(page.DesignB), "B")}
		half += max(a.ShiftMM.X*10, -a.ShiftMM.X*10, a.ShiftMM.Y*10, -a.ShiftMM.Y*10) / 2
	}
	half += 80
	p.ViewBox = fmt.Sprintf("%.0f %.0f %.0f %.0f", -half, -half, 2*half, 2*half)
	return p
}
