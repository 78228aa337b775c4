package picture

import (
	"bytes"
	"cmp"
	"image"
	"image/color"
	"image/png"
	"math"
	"slices"

	"chalkstep/core/stitch"
)

// A pixel is looked at in sub × sub places: how many of them thread covers is
// how solid it is.
const sub = 2

// mostColors are told apart in pixels; a palette holds each at every solidity.
const mostColors = 255 / (sub * sub)

// mostSteps of thread are drawn, counted in places. Where more lie on a canvas
// they lie on each other many times over, and leaving some out does not show.
const mostSteps = 30_000_000

// png draws with pixels, the longer side so many long.
func (d drawing) png(pixels int) ([]byte, error) {
	scale := float64(pixels) / (2 * max(d.halfX, d.halfY)) // pixels to a tenth
	w, h := max(1, int(math.Ceil(2*d.halfX*scale))), max(1, int(math.Ceil(2*d.halfY*scale)))
	threads, index := d.threads()
	c := canvas{width: w * sub, height: h * sub, thick: max(1, int(math.Round(threadTenths*scale*sub))),
		places: make([]uint8, w*sub*h*sub)}
	every := 1 + int(d.length()*scale*sub*float64(c.thick)/mostSteps)
	for i, l := range d.layers {
		thick := c.thick
		if l.wider {
			c.thick += 2 * sub
		}
		for _, moves := range l.moves {
			d.thread(&c, moves, scale*sub, every, uint8(index[i]+1))
		}
		c.thick = thick
	}
	picture := image.NewPaletted(image.Rect(0, 0, w, h), palette(threads))
	for y := range h {
		for x := range w {
			picture.Pix[y*picture.Stride+x] = c.pixel(x, y)
		}
	}
	var out bytes.Buffer
	encoder := png.Encoder{}
	err := encoder.Encode(&out, picture)
	return out.Bytes(), err
}

// length of all thread, in tenths, as steps are counted: of the longer way.
func (d drawing) length() float64 {
	total := 0
	for _, l := range d.layers {
		for _, moves := range l.moves {
			for i := 1; i < len(moves); i++ {
				total += int(max(abs(int(moves[i].X-moves[i-1].X)), abs(int(moves[i].Y-moves[i-1].Y))))
			}
		}
	}
	return float64(total)
}

// threads lists the colours to draw in, and which of them each layer takes:
// the nearest, where there are more than can be told apart.
func (d drawing) threads() (threads []stitch.RGB, index []int) {
	sewn := map[stitch.RGB]int{}
	for _, l := range d.layers {
		for _, moves := range l.moves {
			sewn[l.color] += len(moves)
		}
	}
	for c := range sewn {
		threads = append(threads, c)
	}
	slices.SortFunc(threads, func(a, b stitch.RGB) int {
		return cmp.Or(cmp.Compare(sewn[b], sewn[a]), cmp.Compare(a.String(), b.String()))
	})
	threads = threads[:min(mostColors, len(threads))]
	for _, l := range d.layers {
		index = append(index, nearest(threads, l.color))
	}
	return threads, index
}

func nearest(threads []stitch.RGB, c stitch.RGB) int {
	apart := func(t stitch.RGB) int {
		r, g, b := int(t.R)-int(c.R), int(t.G)-int(c.G), int(t.B)-int(c.B)
		return r*r + g*g + b*b
	}
	best := 0
	for i, t := range threads {
		if apart(t) < apart(threads[best]) {
			best = i
		}
	}
	return best
}

// palette has nothing first, then each thread at every solidity.
func palette(threads []stitch.RGB) color.Palette {
	p := color.Palette{color.NRGBA{}}
	for _, t := range threads {
		for solid := 1; solid <= sub*sub; solid++ {
			p = append(p, color.NRGBA{t.R, t.G, t.B, uint8(255 * solid / (sub * sub))})
		}
	}
	return p
}

// A canvas holds, for every place, the thread that lies on top, 0 for none.
type canvas struct {
	width, height, thick int
	places               []uint8
}

// pixel is the palette's index for what lies in a pixel: the thread that takes
// most of it, as solid as all of them together.
func (c *canvas) pixel(x, y int) uint8 {
	var top [sub * sub]uint8
	covered := 0
	for dy := range sub {
		for dx := range sub {
			if t := c.places[(y*sub+dy)*c.width+x*sub+dx]; t != 0 {
				top[covered] = t
				covered++
			}
		}
	}
	if covered == 0 {
		return 0
	}
	best, most := uint8(0), 0
	for _, t := range top[:covered] {
		n := 0
		for _, other := range top[:covered] {
			if other == t {
				n++
			}
		}
		if n > most {
			best, most = t, n
		}
	}
	return (best-1)*sub*sub + uint8(covered)
}

// thread lays the stitches of moves, of every so many one; it is lifted where
// there is none.
func (d drawing) thread(c *canvas, moves []stitch.Move, scale float64, every int, t uint8) {
	down := false
	var fromX, fromY int
	for i, m := range moves {
		if m.Kind != stitch.Stitch {
			down = false
			continue
		}
		x := int((float64(m.X) - d.cx + d.halfX) * scale)
		y := int((d.cy - float64(m.Y) + d.halfY) * scale)
		switch {
		case !down:
			c.column(x, y, t)
		case i%every == 0:
			c.line(fromX, fromY, x, y, t)
		}
		fromX, fromY, down = x, y, true
	}
}

// line covers the places between two, both included, as thick as thread.
func (c *canvas) line(x0, y0, x1, y1 int, t uint8) {
	cover, steps := c.column, abs(x1-x0)
	if abs(y1-y0) > steps {
		cover, steps = c.row, abs(y1-y0)
	}
	if steps == 0 {
		c.column(x1, y1, t)
		return
	}
	const bits, half = 20, 1 << 19 // of a place
	x, y := x0<<bits+half, y0<<bits+half
	dx, dy := (x1-x0)<<bits/steps, (y1-y0)<<bits/steps
	for range steps + 1 {
		cover(x>>bits, y>>bits, t)
		x, y = x+dx, y+dy
	}
}

// column covers a place and those above and below it that thread is thick.
func (c *canvas) column(x, y int, t uint8) {
	if x < 0 || x >= c.width {
		return
	}
	y -= c.thick / 2
	for row := max(0, y); row < min(c.height, y+c.thick); row++ {
		c.places[row*c.width+x] = t
	}
}

// row covers a place and those to the left and right of it.
func (c *canvas) row(x, y int, t uint8) {
	if y < 0 || y >= c.height {
		return
	}
	x -= c.thick / 2
	for column := max(0, x); column < min(c.width, x+c.thick); column++ {
		c.places[y*c.width+column] = t
	}
}

func abs(n int) int {
	if n < 0 {
		return -n
	}
	return n
}
