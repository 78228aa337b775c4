package designs

import (
	"fmt"

	"chalkstep/app/designs"
)

// A drawing is the design in its hoop, as SVG: a view in tenths of a
// millimetre with the centre in the middle.
type drawing struct {
	ViewBox string
	// The field of the hoop it is shown in, half its size each way; 0 when
	// no machine takes it.
	FieldX, FieldY, Round float64
	Turn                  int
	HoopName              string
	// Cross marks stand a little outside the field.
	Outer, OuterY float64
}

func newDrawing(page designs.DesignPage) drawing {
	d := drawing{}
	halfX, halfY := page.Design.WidthMM*5, page.Design.HeightMM*5
	for _, m := range page.Seats {
		if m.Fits() {
			d.FieldX, d.FieldY = m.Hoop.WidthMM*5, m.Hoop.HeightMM*5
			d.Turn, d.HoopName = m.Fit.Turn, m.Hoop.Name+" on "+m.Machine.Name
			halfX, halfY = d.FieldX, d.FieldY
			break
		}
	}
	const margin = 40
	d.Round = min(halfX, halfY) / 8
	d.Outer, d.OuterY = halfX+margin/2, halfY+margin/2
	d.ViewBox = fmt.Sprintf("%.0f %.0f %.0f %.0f", -halfX-margin, -halfY-margin, 2*(halfX+margin), 2*(halfY+margin))
	return d
}

// mostBars are told apart on a strip.
const mostBars = 120

// A strip draws the stops as lengths of thread in proportion to their minutes.
type strip struct {
	Width float64
	Bars  []bar
}

type bar struct {
	X, Width  float64
	Color     string
	N         int
	Sews      string
	Stitches  int
	Minutes   float64
	ShowWords bool
}

func newStrip(page designs.DesignPage) strip {
	const width, gap, least = 788.0, 5.0, 14.0
	s := strip{Width: width}
	total := 0.0
	stops := page.Stops
	if len(stops) > mostBars {
		return s // more than a strip can tell apart
	}
	for _, stop := range stops {
		total += stop.Minutes
	}
	room := width - gap*float64(len(page.Stops)-1) - least*float64(len(page.Stops))
	x := 0.0
	for _, stop := range page.Stops {
		w := least
		if total > 0 && room > 0 {
			w += room * stop.Minutes / total
		}
		sews := stop.Sews
		if sews == "" {
			sews = string(stop.Role)
		}
		s.Bars = append(s.Bars, bar{X: x, Width: w, Color: stop.Color.String(), N: stop.N, Sews: sews, Stitches: stop.Stitches, Minutes: stop.Minutes, ShowWords: w >= 84})
		x += w + gap
	}
	return s
}
