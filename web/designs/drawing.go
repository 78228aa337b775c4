package designs

import (
	"fmt"

	"chalkstep/app/designs"
	"chalkstep/core/hoop"
)

// A frame is the field of a hoop in a drawing, in tenths of a millimetre with
// the middle at 0, y down. Half its size each way is HalfX and HalfY.
type frame struct {
	ViewBox                    string
	X, Y, Width, Height, Round float64
	HalfX, HalfY               float64
}

// newFrame leaves a margin around a field.
func newFrame(field hoop.Field, margin float64) frame {
	x, y := field.WidthMM*5, field.HeightMM*5
	return frame{
		ViewBox: fmt.Sprintf("%.0f %.0f %.0f %.0f", -x-margin, -y-margin, 2*(x+margin), 2*(y+margin)),
		X:       -x, Y: -y, Width: 2 * x, Height: 2 * y, Round: min(x, y) / 8, HalfX: x, HalfY: y,
	}
}

// A drawing is the design in the first hoop that takes it; with no HoopName, by
// itself.
type drawing struct {
	frame
	Turn     int
	HoopName string
}

func newDrawing(page designs.DesignPage) drawing {
	const margin = 40
	for _, m := range page.Seats {
		if m.Fits() {
			return drawing{newFrame(m.Hoop.Field, margin), m.Fit.Turn, m.Hoop.Name + " on " + m.Machine.Name}
		}
	}
	return drawing{frame: newFrame(hoop.Field{WidthMM: page.Design.WidthMM, HeightMM: page.Design.HeightMM}, margin)}
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
		s.Bars = append(s.Bars,
			bar{X: x, Width: w, Color: stop.Color.String(), N: stop.N, Sews: sews, Stitches: stop.Stitches,
				Minutes: stop.Minutes, ShowWords: w >= 84})
		x += w + gap
	}
	return s
}
