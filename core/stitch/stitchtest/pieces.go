package stitchtest

import (
	"math"
	"math/rand/v2"

	"chalkstep/core/stitch"
)

// NewPieces makes a design of appliqué pieces as they are really ordered and
// covered, among other stops: piece by piece, all placements first, or all of a
// kind together; covered by satin, zigzag, blanket, bean or a second run; with
// holes, several in a stop, a fill or a detail between tack-down and cover,
// lettering in the cover's stop, or film under an open fill. Lines have leads,
// ties and noise, and are sewn from anywhere and either way.
func NewPieces(rng *rand.Rand) Known {
	k := maker{rng: rng}
	for rng.IntN(2) == 0 {
		k.other()
	}
	if rng.IntN(6) == 0 {
		k.film()
	} else {
		k.pieces(1 + rng.IntN(3))
	}
	for rng.IntN(2) == 0 {
		k.other()
	}
	return k.Known
}

// other is a stop that belongs to no piece.
func (k *maker) other() {
	switch k.rng.IntN(16) {
	case 0:
		k.stop(stitch.Fill, k.fill())
	case 1:
		k.stop(stitch.Satin, k.satin())
	case 2:
		k.stop(stitch.Run, k.run())
	case 3:
		k.stop(stitch.Run, bean(k.wave(), k.between(20, 35)))
	case 4:
		k.stop(stitch.Run, backStitch(k.wave(), k.between(18, 30)))
	case 5:
		k.stop(stitch.Satin, k.letters()...)
	case 6:
		k.stop(stitch.Satin, split(zigzag(k.wave(), k.between(70, 110), 4), 2))
	case 7: // rows that lie farther and farther apart
		k.stop(stitch.Fill, gradient(k.between(-300, 300), k.between(-300, 300), k.between(120, 300), k.between(100, 250),
			k.between(0, math.Pi)))
	case 8: // with a small satin detail on it
		x, y := k.between(-300, 300), k.between(-300, 300)
		k.stop(stitch.Fill, rows(x, y, 200, 160, k.between(0, math.Pi), 4),
			zigzag([]spot{{x - 40, y}, {x + 40, y + 30}}, 18, 4))
	case 9:
		k.stop(stitch.Run, k.knots()...)
	case 10:
		k.stop(stitch.Run, k.basting())
	case 11:
		k.stop(stitch.Satin, zigzag(k.script(), k.between(14, 22), 4))
	case 12:
		k.stop(stitch.Run, k.crosses(6+k.rng.IntN(20), 1))
	case 13:
		k.stop(stitch.Fill, k.crosses(8+k.rng.IntN(10), 6+k.rng.IntN(8)))
	case 14:
		k.stop(stitch.Run, k.tiedCrosses()...)
	default:
		k.stop(stitch.Run, stem(k.wave(), k.between(25, 40)))
	}
}

// split puts more penetrations into each stitch of a wide satin.
func split(points []spot, parts int) []spot {
	out := []spot{points[0]}
	for i := 1; i < len(points); i++ {
		a, b := points[i-1], points[i]
		for n := 1; n <= parts; n++ {
			t := float64(n) / float64(parts)
			out = append(out, spot{a.x + (b.x-a.x)*t, a.y + (b.y-a.y)*t})
		}
	}
	return out
}

// gradient is a fill whose rows lie 0.4 mm apart at one side and 1.6 at the
// other.
func gradient(cx, cy, a, b, angle float64) []spot {
	sin, cos := math.Sincos(angle)
	var out []spot
	row := 0
	for v := -b; v <= b; v += 4 + 12*(v+b)/(2*b) {
		from, to := -a, a
		if row%2 == 1 {
			from, to = to, from
		}
		row++
		n := math.Round(2 * a / 35)
		for i := 0.0; i <= n; i++ {
			u := from + (to-from)*i/n
			out = append(out, spot{cx + u*cos - v*sin, cy + u*sin + v*cos})
		}
	}
	return out
}

// crosses are cross stitch, so many in a row and so many rows: each row goes out
// with one half of its crosses and comes back with the other.
func (k *maker) crosses(columns, rows int) []spot {
	side := k.between(18, 28)
	x, y := k.between(-400, 0), k.between(-300, 100)
	var out []spot
	for row := range rows {
		low, high := y+float64(row)*side, y+float64(row+1)*side
		for c := range columns {
			out = append(out, spot{x + float64(c)*side, low}, spot{x + float64(c+1)*side, high})
		}
		for c := columns - 1; c >= 0; c-- {
			out = append(out, spot{x + float64(c+1)*side, low}, spot{x + float64(c)*side, high})
		}
	}
	return out
}

// tiedCrosses are marks to lay something by: each a cross with its ends tied.
func (k *maker) tiedCrosses() [][]spot {
	var all [][]spot
	for n := 2 + k.rng.IntN(4); n > 0; n-- {
		x, y, arm := k.between(-400, 400), k.between(-400, 400), k.between(25, 60)
		tie := func(from, to spot) []spot {
			return append([]spot{from, {from.x + (to.x-from.x)*0.15, from.y + (to.y-from.y)*0.15}, from},
				sewn([]spot{from, to}, 20)...)
		}
		all = append(all, tie(spot{x - arm, y}, spot{x + arm, y}), tie(spot{x, y - arm}, spot{x, y + arm}))
	}
	return all
}

// knots are some small bunches of stitches.
func (k *maker) knots() [][]spot {
	var all [][]spot
	for n := 3 + k.rng.IntN(5); n > 0; n-- {
		x, y := k.between(-400, 400), k.between(-400, 400)
		var knot []spot
		for range 8 {
			knot = append(knot, spot{x + k.between(-7, 7), y + k.between(-7, 7)})
		}
		all = append(all, knot)
	}
	return all
}

// basting is a box of long stitches.
func (k *maker) basting() []spot {
	w, h := k.between(400, 700), k.between(400, 700)
	return sewn([]spot{{-w, -h}, {w, -h}, {w, h}, {-w, h}, {-w, -h}}, k.between(50, 80))
}

// script is a line of loops, as joined letters are.
func (k *maker) script() []spot {
	x, y, height := k.between(-400, -100), k.between(-300, 300), k.between(60, 120)
	var out []spot
	for t := 0.0; t < 4*2*math.Pi; t += 0.12 {
		out = append(out, spot{x + t*height*0.22 - height*0.3*math.Sin(t), y + height/2*(1-math.Cos(t))})
	}
	return out
}

// stem goes forward by a stitch and back by half, a little to the side.
func stem(line []spot, step float64) []spot {
	along := sewn(line, step/2)
	var out []spot
	for i := 0; i+2 < len(along); i++ {
		out = append(out, spot{along[i].x, along[i].y - 2}, spot{along[i+2].x, along[i+2].y + 2})
	}
	return out
}

// A piece is a closed line, with holes in it.
type piece struct {
	lines []func(inset, start float64) []spot
}

// newPiece draws a piece about a middle: a lobed disc or a polygon, now and
// then with a hole.
func (k *maker) newPiece(cx, cy, radius float64) piece {
	lobes, depth := float64(2+k.rng.IntN(5)), k.between(0, 0.25)
	outer := func(inset, start float64) []spot { return ring(cx, cy, radius, lobes, depth, inset, start) }
	if k.rng.IntN(3) == 0 {
		corners, turn := 3+k.rng.IntN(4), k.between(0, 6)
		outer = func(inset, start float64) []spot {
			return polygon(cx, cy, radius-inset, corners, turn, int(start*3))
		}
	}
	p := piece{lines: []func(inset, start float64) []spot{outer}}
	if radius > 150 && k.rng.IntN(4) == 0 {
		hole := radius * k.between(0.25, 0.4)
		p.lines = append(p.lines, func(inset, start float64) []spot { return ring(cx, cy, hole, 3, 0, -inset, start) })
	}
	return p
}

func polygon(cx, cy, radius float64, corners int, turn float64, first int) []spot {
	var out []spot
	for i := range corners + 1 {
		angle := turn + float64(i+first)/float64(corners)*2*math.Pi
		out = append(out, spot{cx + radius*math.Cos(angle), cy + radius*math.Sin(angle)})
	}
	return out
}

// sew sews each line of some pieces in a way.
func (k *maker) sew(pieces []piece, inset float64, way func([]spot) []spot) [][]spot {
	var runs [][]spot
	for _, p := range pieces {
		for _, line := range p.lines {
			runs = append(runs, way(k.eitherWay(line(inset, k.between(0, 6)))))
		}
	}
	return runs
}

// tidy adds what is sewn beside a line: a lead-in, ties, an overshoot.
func (k *maker) tidy(run []spot) []spot {
	if k.rng.IntN(3) == 0 {
		run = append([]spot{{run[0].x + k.between(-40, 40), run[0].y + k.between(-40, 40)}}, run...)
	}
	if k.rng.IntN(3) == 0 {
		run = append([]spot{run[0], {run[0].x + 8, run[0].y}, run[0]}, run...)
	}
	if k.rng.IntN(3) == 0 {
		run = append(run, run[1:min(len(run), 4)]...)
	}
	return run
}

func (k *maker) placement(pieces []piece) [][]spot {
	step := k.between(18, 30)
	return k.sew(pieces, 0, func(line []spot) []spot { return k.tidy(sewn(k.doubled(line), step)) })
}

func (k *maker) tackDown(pieces []piece) [][]spot {
	if k.rng.IntN(3) == 0 {
		return k.sew(pieces, k.between(2, 7), func(line []spot) []spot { return zigzag(line, 12, 15) })
	}
	step := k.between(15, 25)
	return k.sew(pieces, k.between(0, 8), func(line []spot) []spot { return k.tidy(sewn(k.doubled(line), step)) })
}

func (k *maker) cover(pieces []piece) [][]spot {
	switch k.rng.IntN(6) {
	case 0, 1:
		width := k.between(25, 45)
		return k.sew(pieces, 0, func(line []spot) []spot { return append(sewn(line, 25), zigzag(line, width, 4)...) })
	case 2:
		width := k.between(20, 35)
		return k.sew(pieces, 0, func(line []spot) []spot { return zigzag(line, width, k.between(8, 18)) })
	case 3:
		return k.sew(pieces, 0, func(line []spot) []spot { return blanket(line, 25, k.between(20, 35)) })
	case 4:
		return k.sew(pieces, k.between(5, 12), func(line []spot) []spot { return bean(line, 25) })
	}
	return k.sew(pieces, k.between(5, 12), func(line []spot) []spot { return k.tidy(sewn(append(line, line[1:]...), 22)) })
}

// pieces sews some pieces beside each other in one of the orders.
func (k *maker) pieces(n int) {
	var all [][]piece
	for i := range n {
		group := []piece{k.newPiece(float64(i)*750-600, k.between(-100, 100), k.between(100, 260))}
		if k.rng.IntN(4) == 0 {
			group = append(group, k.newPiece(float64(i)*750-600, 700, k.between(80, 160)))
		}
		all = append(all, group)
	}
	place := func(p []piece) {
		if k.Pieces == nil {
			k.Pieces = map[int]int{}
		}
		k.Pieces[len(k.Roles)] = len(p)
		k.stop(stitch.Placement, k.placement(p)...)
	}
	tack := func(p []piece) { k.stop(stitch.TackDown, k.tackDown(p)...) }
	cover := func(p []piece) {
		runs := k.cover(p)
		if k.rng.IntN(5) == 0 {
			runs = append(runs, k.letters()...)
		}
		k.stop(stitch.Cover, runs...)
	}
	between := func(p []piece) {
		switch k.rng.IntN(4) {
		case 0:
			middle := p[0].lines[0](0, 0)
			x, y := 0.0, 0.0
			for _, s := range middle {
				x, y = x+s.x/float64(len(middle)), y+s.y/float64(len(middle))
			}
			k.stop(stitch.Fill, rows(x, y, 60, 50, k.between(0, 3), 4))
		case 1:
			k.stop(stitch.Run, bean(k.wave(), 25))
		}
	}
	switch k.rng.IntN(3) {
	case 0:
		for _, p := range all {
			place(p)
			tack(p)
			between(p)
			cover(p)
		}
	case 1:
		for _, p := range all {
			place(p)
		}
		for _, p := range all {
			tack(p)
			between(p)
			cover(p)
		}
	default:
		for _, p := range all {
			place(p)
		}
		for _, p := range all {
			tack(p)
		}
		between(all[0])
		for _, p := range all {
			cover(p)
		}
	}
}

// film is laid on a placement, tacked down, filled openly and outlined.
func (k *maker) film() {
	cx, cy, radius := k.between(-200, 200), k.between(-200, 200), k.between(150, 300)
	p := []piece{{lines: []func(inset, start float64) []spot{func(inset, start float64) []spot {
		return ring(cx, cy, radius, 4, 0.08, inset, start)
	}}}}
	k.stop(stitch.Placement, k.placement(p)...)
	k.stop(stitch.TackDown, k.tackDown(p)...)
	k.stop(stitch.Fill, rows(cx, cy, radius*0.9, radius*0.9, k.between(0, 3), k.between(10, 18)))
	k.stop(stitch.Cover, k.cover(p)...)
}

// bean sews each stitch three times.
func bean(line []spot, step float64) []spot {
	along := sewn(line, step)
	out := []spot{along[0]}
	for i := 1; i < len(along); i++ {
		out = append(out, along[i], along[i-1], along[i])
	}
	return out
}

// backStitch goes two forward and one back.
func backStitch(line []spot, step float64) []spot {
	along := sewn(line, step)
	out := []spot{along[0]}
	for i := 1; i+1 < len(along); i++ {
		out = append(out, along[i+1], along[i])
	}
	return out
}

// blanket runs along a line and bites inward at every step.
func blanket(line []spot, step, bite float64) []spot {
	along := sewn(line, step)
	var out []spot
	for i := range along {
		a, b := along[max(0, i-1)], along[min(len(along)-1, i+1)]
		length := math.Hypot(b.x-a.x, b.y-a.y)
		if length == 0 {
			continue
		}
		in := spot{along[i].x - (b.y-a.y)/length*bite, along[i].y + (b.x-a.x)/length*bite}
		out = append(out, along[i], in, along[i])
	}
	return out
}
