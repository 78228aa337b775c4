package stitch

import (
	"fmt"
	"strings"
)

// A Palette is a machine's own table of thread colours, which some formats
// index. Its first colour has index 1.
type Palette []RGB

// PaletteOf reads colours as #rrggbb with space between. It is for tables
// written into a program, and panics when one of them is mistyped.
func PaletteOf(colors string) Palette {
	var p Palette
	for _, text := range strings.Fields(colors) {
		c, err := ParseRGB(text)
		if err != nil {
			panic(err)
		}
		p = append(p, c)
	}
	return p
}

// Unknown stands for an index outside a palette.
var Unknown = RGB{R: 0x88, G: 0x88, B: 0x88}

// Color of an index; ok is false when the palette does not have it.
func (p Palette) Color(index int) (c RGB, ok bool) {
	if index < 1 || index > len(p) {
		return Unknown, false
	}
	return p[index-1], true
}

// Nearest is the index of the colour nearest to c, by the squared distance of
// their channels weighted as the eye weighs them.
func (p Palette) Nearest(c RGB) int {
	best, distance := 1, 1<<30
	for i, q := range p {
		dr, dg, db := int(c.R)-int(q.R), int(c.G)-int(q.G), int(c.B)-int(q.B)
		if d := 3*dr*dr + 6*dg*dg + db*db; d < distance {
			best, distance = i+1, d
		}
	}
	return best
}

// IndexColors turns one palette index for each run between changes into one
// colour for each stop: runs without a stitch have none. It warns of indices
// that the palette lacks.
func (b *Builder) IndexColors(p Palette, indices []int) {
	run := 0
	b.eachRun(func(sewn bool) {
		index := 0
		if run < len(indices) {
			index = indices[run]
		}
		run++
		if !sewn {
			return
		}
		color, ok := p.Color(index)
		if !ok {
			b.Warn("Stop %d has thread %d, which the format's table does not have: shown as grey.", len(b.Pattern.Colors)+1,
				index)
		}
		b.Pattern.Colors = append(b.Pattern.Colors, color)
	})
}

// RunColors gives each run between changes a palette index: its stop's
// colour, or for a run without stitches, or a pattern without colours, a
// different one from its neighbour's, so that machines halt there.
func (p *Pattern) RunColors(palette Palette) []int {
	var indices []int
	stop, sewn := 0, false
	add := func() {
		index := len(indices)%2 + 1
		if sewn && stop < len(p.Colors) {
			index = palette.Nearest(p.Colors[stop])
		}
		if sewn {
			stop++
		}
		indices = append(indices, index)
	}
	for _, m := range p.Moves {
		switch m.Kind {
		case Change:
			add()
			sewn = false
		case Stitch:
			sewn = true
		}
	}
	add()
	return indices
}

// ErrTooManyColors is returned by writers whose format counts colours in less.
func ErrTooManyColors(format string, n, most int) error {
	return fmt.Errorf(".%s holds %d colours at most, and the design has %d runs of thread", format, most, n)
}
