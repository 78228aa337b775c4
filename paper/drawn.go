package paper

import (
	"image/color"

	"github.com/tdewolff/canvas"
)

// A Drawing is a small picture of strokes in a field, y down.
type Drawing struct {
	Width, Height float64
	Strokes       []Stroke
}

// A Stroke is a line through points, or a word at the first of them.
type Stroke struct {
	Points                         [][2]float64
	Closed, Filled, Dashed, Dotted bool
	// Strong is drawn in ink, all else softer.
	Strong bool
	Word   string
}

var shade = color.RGBA{0xe9, 0xec, 0xe4, 0xff}

// drawings stand in rows of a height, at most so wide, with their top at y; it
// gives the y below.
func (p *pen) drawings(all []Drawing, x, y, wide, high float64) float64 {
	if len(all) == 0 {
		return y
	}
	const gap = 2.0
	at, top := x, y+high*0.15
	for _, d := range all {
		w := high * d.Width / d.Height
		if at > x && at+w > x+wide {
			at, top = x, top-high-gap
		}
		p.drawing(d, at, top, high)
		at += w + gap
	}
	return top - high - gap - high*0.15
}

// drawing draws one with its top left at a point.
func (p *pen) drawing(d Drawing, x, top, high float64) {
	scale := high / d.Height
	to := func(at [2]float64) (float64, float64) { return x + at[0]*scale, top - at[1]*scale }
	if p.dry {
		return
	}
	p.box(x, top-high, d.Width*scale, high, 0.1, pale)
	for _, s := range d.Strokes {
		if s.Word != "" {
			px, py := to(s.Points[0])
			p.text(px, py, 11*scale, s.Word, soft, canvas.FontRegular)
			continue
		}
		path := &canvas.Path{}
		for i, at := range s.Points {
			px, py := to(at)
			if i == 0 {
				path.MoveTo(px, py)
			} else {
				path.LineTo(px, py)
			}
		}
		if s.Closed {
			path.Close()
		}
		if s.Filled {
			p.paint(path, shade)
		}
		switch {
		case s.Dashed:
			path = path.Dash(0, 5*scale, 3.5*scale)
		case s.Dotted:
			path = path.Dash(0, 1.2*scale, 4*scale)
		}
		c, width := color.RGBA(soft), 0.15
		if s.Strong {
			c, width = ink, 0.25
		}
		p.stroke(path, width, c)
	}
}
