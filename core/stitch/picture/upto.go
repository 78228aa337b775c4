package picture

import (
	"fmt"
	"slices"

	"chalkstep/core/stitch"
)

// Ground is the cloth that pictures of stops lie on, Ink the edge of thread that
// would not show on it.
var (
	Ground = stitch.RGB{R: 0xf6, G: 0xf8, B: 0xf1}
	Ink    = stitch.RGB{R: 0x16, G: 0x23, B: 0x1c}
)

// faint tells that a colour is as light as the ground.
func faint(c stitch.RGB) bool { return 2*int(c.R)+5*int(c.G)+int(c.B) > 8*190 }

// pale is how much of its colour thread keeps that was sewn before.
const pale = 0.28

// UpTo draws a pattern as it lies there when a stop, counted from 1, has been
// sewn: that stop strong, what was sewn before it pale, what is to come not at
// all. The picture covers the whole design, its longer side so many pixels.
func UpTo(p *stitch.Pattern, colors []stitch.RGB, stop, pixels int) (Picture, error) {
	d, err := newDrawing(p, colors)
	if err != nil {
		return Picture{}, err
	}
	stops := stopsOf(p.Moves)
	if stop < 1 || stop > len(stops) {
		return Picture{}, fmt.Errorf("drawing stop %d: the design has %d", stop, len(stops))
	}
	shades := make([]stitch.RGB, stop)
	for i := range shades {
		if shades[i] = colorOf(colors, i); i < stop-1 {
			shades[i] = paled(shades[i])
		}
	}
	d.lay(stops[:stop], shades)
	if last := len(d.layers) - 1; faint(shades[stop-1]) {
		edge := layer{color: Ink, moves: d.layers[last].moves, wider: true}
		d.layers = slices.Insert(d.layers, last, edge)
	}
	data, err := d.png(pixels)
	if err != nil {
		return Picture{}, fmt.Errorf("drawing stop %d of %d: %w", stop, len(stops), err)
	}
	return Picture{"image/png", data}, nil
}

func paled(c stitch.RGB) stitch.RGB {
	mix := func(thread, ground uint8) uint8 { return uint8(pale*float64(thread) + (1-pale)*float64(ground)) }
	return stitch.RGB{R: mix(c.R, Ground.R), G: mix(c.G, Ground.G), B: mix(c.B, Ground.B)}
}
