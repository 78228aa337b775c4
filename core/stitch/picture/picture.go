// Package picture draws a design as the eye sees it at a size: as a vector
// drawing where that is light enough, and as pixels where the stitches are
// more than the size can show. A picture covers the design and a margin round
// it; see [Extent].
package picture

import (
	"bytes"
	"fmt"
	"math"

	"chalkstep/core/stitch"
)

// A View is a size at which designs are seen, and how heavy a picture for it
// may be.
type View struct {
	// Pixels of the longer side, on a screen of two pixels to the point.
	Pixels int
	// MostBytes of the picture.
	MostBytes int
}

// The views there are: in a list, and on a page of the design's own.
var (
	Thumb   = View{Pixels: 264, MostBytes: 6_000}
	Drawing = View{Pixels: 900, MostBytes: 150_000}
)

// A Picture is an image file.
type Picture struct {
	// MediaType is image/svg+xml or image/png.
	MediaType string
	Data      []byte
}

// Measures in tenths of a millimetre.
const (
	marginTenths = 20
	threadTenths = 3.4
)

// Extent is half the width and half the height that a picture of a design of
// this size covers, in tenths of a millimetre from the design's centre.
func Extent(widthMM, heightMM float64) (halfX, halfY float64) {
	return widthMM*5 + marginTenths, heightMM*5 + marginTenths
}

// Of draws a pattern, its stops in these colours; stops beyond the colours
// take the last. The picture is never heavier than the view allows.
func Of(p *stitch.Pattern, colors []stitch.RGB, v View) (Picture, error) {
	d, err := newDrawing(p, colors)
	if err != nil {
		return Picture{}, err
	}
	// A stitch may lie half a pixel off before the eye sees it.
	pixel := 2 * max(d.halfX, d.halfY) / float64(v.Pixels)
	for tolerance := min(1, pixel/2); ; tolerance *= 2 {
		if svg, fits := d.svg(tolerance, v.MostBytes); fits {
			return Picture{"image/svg+xml", svg}, nil
		}
		if tolerance > pixel/2 {
			break
		}
	}
	for pixels := v.Pixels; ; pixels = pixels * 4 / 5 {
		png, err := d.png(pixels)
		if err != nil {
			return Picture{}, fmt.Errorf("drawing a design of %d stops: %w", len(d.layers), err)
		}
		if len(png) <= v.MostBytes || pixels < 16 {
			return Picture{"image/png", png}, nil
		}
	}
}

// A drawing is a design taken apart into what lies on what.
type drawing struct {
	layers       []layer
	cx, cy       float64
	halfX, halfY float64
}

// A layer is the moves of stops one after the other in one colour.
type layer struct {
	color stitch.RGB
	moves [][]stitch.Move
	// wider draws it as an edge beneath what lies on it.
	wider bool
}

func newDrawing(p *stitch.Pattern, colors []stitch.RGB) (drawing, error) {
	left, bottom, right, top, ok := stitch.Extent(p.Moves)
	if !ok {
		return drawing{}, fmt.Errorf("drawing a design: it has no stitch")
	}
	d := drawing{cx: float64(left+right) / 2, cy: float64(bottom+top) / 2}
	d.halfX, d.halfY = Extent(float64(right-left)/10, float64(top-bottom)/10)
	d.lay(stopsOf(p.Moves), colors)
	return d, nil
}

// lay puts stops into layers, one for neighbours of a colour.
func (d *drawing) lay(stops [][]stitch.Move, colors []stitch.RGB) {
	d.layers = nil
	for stop, moves := range stops {
		color := colorOf(colors, stop)
		if n := len(d.layers); n == 0 || d.layers[n-1].color != color {
			d.layers = append(d.layers, layer{color: color})
		}
		last := &d.layers[len(d.layers)-1]
		last.moves = append(last.moves, moves)
	}
}

// stopsOf are the moves of each stop: from one change to the next, where anything
// is sewn.
func stopsOf(moves []stitch.Move) [][]stitch.Move {
	var stops [][]stitch.Move
	for from := 0; from < len(moves); {
		end, sewn := from, false
		for end < len(moves) && (end == from || moves[end].Kind != stitch.Change) {
			sewn = sewn || moves[end].Kind == stitch.Stitch
			end++
		}
		if sewn {
			stops = append(stops, moves[from:end])
		}
		from = end
	}
	return stops
}

// colorOf is the colour of a stop, from 0: beyond the colours, the last of them.
func colorOf(colors []stitch.RGB, stop int) stitch.RGB {
	if len(colors) == 0 {
		return stitch.RGB{}
	}
	return colors[min(stop, len(colors)-1)]
}

// svg draws with lines, and gives up when that takes more than most bytes.
func (d drawing) svg(tolerance float64, most int) (svg []byte, fits bool) {
	var out bytes.Buffer
	fmt.Fprintf(&out, `<svg xmlns="http://www.w3.org/2000/svg" viewBox="%.0f %.0f %.0f %.0f">`+
		`<g fill="none" stroke-width="%g" stroke-linecap="round" stroke-linejoin="round">`,
		-d.halfX, -d.halfY, 2*d.halfX, 2*d.halfY, max(threadTenths, math.Round(tolerance)))
	for _, l := range d.layers {
		fmt.Fprintf(&out, `<path stroke="%s" d="`, l.color)
		for _, moves := range l.moves {
			// A path of a stop begins where the last one ended: moves are
			// relative, so each is drawn from the centre.
			out.WriteString("M0 0")
			out.WriteString(stitch.SVGPath(moves, d.cx, d.cy, tolerance))
			if out.Len() > most {
				return nil, false
			}
		}
		out.WriteString(`"/>`)
	}
	out.WriteString("</g></svg>")
	return out.Bytes(), out.Len() <= most
}
