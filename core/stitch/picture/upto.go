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

// A Seen stop is one that has been sewn, counted from 1 in the file, and the
// thread that it was sewn with.
type Seen struct {
	Stop  int
	Color stitch.RGB
}

// InOrder are the stops of a file up to one, counted from 1, as the file has them;
// stops beyond the colours take the last.
func InOrder(colors []stitch.RGB, stop int) []Seen {
	var seen []Seen
	for i := range max(0, stop) {
		seen = append(seen, Seen{i + 1, colorOf(colors, i)})
	}
	return seen
}

// UpTo draws a pattern as it lies there when some stops have been sewn, in their
// order: the last strong, what was sewn before it pale, what is to come not at
// all. The picture covers the whole design, its longer side so many pixels.
func UpTo(p *stitch.Pattern, seen []Seen, pixels int) (Picture, error) {
	d, err := newDrawing(p, nil)
	if err != nil {
		return Picture{}, err
	}
	all := stopsOf(p.Moves)
	if len(seen) == 0 {
		return Picture{}, fmt.Errorf("drawing no stop: the design has %d", len(all))
	}
	stops, shades := make([][]stitch.Move, len(seen)), make([]stitch.RGB, len(seen))
	for i, s := range seen {
		if s.Stop < 1 || s.Stop > len(all) {
			return Picture{}, fmt.Errorf("drawing stop %d: the design has %d", s.Stop, len(all))
		}
		stops[i], shades[i] = all[s.Stop-1], s.Color
		if i < len(seen)-1 {
			shades[i] = paled(s.Color)
		}
	}
	d.lay(stops, shades)
	if last := len(d.layers) - 1; faint(shades[len(shades)-1]) {
		edge := layer{color: Ink, moves: d.layers[last].moves, wider: true}
		d.layers = slices.Insert(d.layers, last, edge)
	}
	data, err := d.png(pixels)
	if err != nil {
		return Picture{}, fmt.Errorf("drawing stop %d of %d: %w", seen[len(seen)-1].Stop, len(all), err)
	}
	return Picture{"image/png", data}, nil
}

func paled(c stitch.RGB) stitch.RGB {
	mix := func(thread, ground uint8) uint8 { return uint8(pale*float64(thread) + (1-pale)*float64(ground)) }
	return stitch.RGB{R: mix(c.R, Ground.R), G: mix(c.G, Ground.G), B: mix(c.B, Ground.B)}
}
