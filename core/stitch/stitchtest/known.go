package stitchtest

import (
	"math"
	"math/rand/v2"

	"chalkstep/core/stitch"
)

// A Known design is one of which it is known what each stop sews.
type Known struct {
	Pattern *stitch.Pattern
	Roles   []stitch.Role
	// Pieces are how many each placement is for, by its stop from 0.
	Pieces map[int]int
}

// A spot is a point in tenths of a millimetre.
type spot struct{ x, y float64 }

// NewKnown makes a design of three to nine stops as digitisers leave them:
// fills at any angle, satin columns, open and closed runs, appliqué pieces
// and now and then a closing anchor. Every penetration is off by up to
// 0.3 mm, lines are sewn from either end, and outlines once or twice.
func NewKnown(rng *rand.Rand) Known {
	k := maker{rng: rng}
	for n := 2 + rng.IntN(4); n > 0; n-- {
		switch rng.IntN(7) {
		case 0, 1:
			k.stop(stitch.Fill, k.fill())
		case 2:
			k.stop(stitch.Satin, k.satin())
		case 3:
			k.stop(stitch.Satin, k.letters()...)
		case 4:
			k.stop(stitch.Run, k.run())
		case 5:
			k.twice()
		default:
			k.applique()
		}
	}
	if rng.IntN(3) == 0 && len(k.Roles) > 1 {
		k.anchor()
	}
	return k.Known
}

type maker struct {
	Known
	rng *rand.Rand
}

func (k *maker) between(low, high float64) float64 { return low + (high-low)*k.rng.Float64() }

// stop adds a stop that sews through points, each a little off.
func (k *maker) stop(role stitch.Role, points ...[]spot) {
	if k.Pattern == nil {
		k.Pattern = &stitch.Pattern{Name: "known"}
	}
	add := func(x, y float64, kind stitch.Kind) {
		k.Pattern.Moves = append(k.Pattern.Moves, stitch.Move{X: int32(math.Round(x)), Y: int32(math.Round(y)), Kind: kind})
	}
	if n := len(k.Pattern.Moves); n > 0 {
		last := k.Pattern.Moves[n-1]
		add(float64(last.X), float64(last.Y), stitch.Change)
	}
	const noise = 3
	for i, piece := range points {
		if i > 0 {
			last := k.Pattern.Moves[len(k.Pattern.Moves)-1]
			add(float64(last.X), float64(last.Y), stitch.Trim)
		}
		add(piece[0].x, piece[0].y, stitch.Jump)
		for _, p := range piece {
			add(p.x+k.between(-noise, noise), p.y+k.between(-noise, noise), stitch.Stitch)
		}
	}
	k.Roles = append(k.Roles, role)
}

// sewn puts points a stitch apart along a line.
func sewn(line []spot, step float64) []spot {
	out := []spot{line[0]}
	for i := 1; i < len(line); i++ {
		a, b := line[i-1], line[i]
		n := max(1, math.Round(math.Hypot(b.x-a.x, b.y-a.y)/step))
		for j := 1.0; j <= n; j++ {
			out = append(out, spot{a.x + (b.x-a.x)*j/n, a.y + (b.y-a.y)*j/n})
		}
	}
	return out
}

func backwards(line []spot) []spot {
	out := make([]spot, len(line))
	for i, p := range line {
		out[len(line)-1-i] = p
	}
	return out
}

// eitherWay turns a line round half of the time.
func (k *maker) eitherWay(line []spot) []spot {
	if k.rng.IntN(2) == 0 {
		return backwards(line)
	}
	return line
}

// fill lays brick-wise rows over a rounded shape, at any angle, half of the
// time over a sparse underlay across them.
func (k *maker) fill() []spot {
	cx, cy := k.between(-400, 400), k.between(-400, 400)
	a, b := k.between(60, 350), k.between(60, 250)
	angle := k.between(0, math.Pi)
	top := rows(cx, cy, a, b, angle, 4)
	if k.rng.IntN(2) == 0 {
		return append(rows(cx, cy, b, a, angle+math.Pi/2, k.between(20, 30)), top...)
	}
	return top
}

func rows(cx, cy, a, b, angle, spacing float64) []spot {
	sin, cos := math.Sincos(angle)
	var out []spot
	row := 0
	for v := -b; v <= b; v += spacing {
		half := a * math.Sqrt(max(0, 1-v*v/(b*b)))
		from, to := -half, half
		if row%2 == 1 {
			from, to = to, from
		}
		row++
		n := max(1, math.Round(2*half/35))
		for i := 0.0; i <= n; i++ {
			u := from + (to-from)*i/n
			out = append(out, spot{cx + u*cos - v*sin, cy + u*sin + v*cos})
		}
	}
	return out
}

// wave is an open line.
func (k *maker) wave() []spot {
	x, y := k.between(-400, 200), k.between(-400, 400)
	length, height, bends := k.between(150, 500), k.between(0, 80), k.between(0.5, 3)
	var out []spot
	for t := 0.0; t <= 1; t += 0.02 {
		out = append(out, spot{x + t*length, y + height*math.Sin(t*bends*2*math.Pi)})
	}
	return out
}

// ring is a closed line: a lobed disc drawn in or out by inset.
func ring(cx, cy, radius, lobes, depth, inset, start float64) []spot {
	var out []spot
	for i := 0.0; i <= 120; i++ {
		angle := start + i/120*2*math.Pi
		r := radius*(1+depth*math.Cos(lobes*angle)) - inset
		out = append(out, spot{cx + r*math.Cos(angle), cy + r*math.Sin(angle)})
	}
	return out
}

// zigzag sews across a line, from side to side.
func zigzag(line []spot, width, spacing float64) []spot {
	along := sewn(line, spacing)
	var out []spot
	side := width / 2
	for i := range along {
		a, b := along[max(0, i-1)], along[min(len(along)-1, i+1)]
		length := math.Hypot(b.x-a.x, b.y-a.y)
		if length == 0 {
			continue
		}
		out = append(out, spot{along[i].x - (b.y-a.y)/length*side, along[i].y + (b.x-a.x)/length*side})
		side = -side
	}
	return out
}

// satin is a column over the run that holds the fabric beneath it.
func (k *maker) satin() []spot {
	line := k.wave()
	under := sewn(backwards(line), 25)
	return append(under, zigzag(line, k.between(14, 60), 4)...)
}

// letters are short upright columns side by side, the thread cut between.
func (k *maker) letters() [][]spot {
	x, y, height := k.between(-400, 0), k.between(-300, 300), k.between(60, 200)
	var pieces [][]spot
	for n := 3 + k.rng.IntN(4); n > 0; n-- {
		pieces = append(pieces, zigzag([]spot{{x, y}, {x, y + height}}, k.between(14, 25), 4))
		x += height * 0.8
	}
	return pieces
}

// twice is one outline in two threads that no satin follows: no appliqué.
func (k *maker) twice() {
	cx, cy, radius := k.between(-300, 300), k.between(-300, 300), k.between(80, 350)
	for range 2 {
		k.stop(stitch.Run, sewn(k.eitherWay(ring(cx, cy, radius, 3, 0.1, 0, k.between(0, 6))), 25))
	}
	k.stop(stitch.Fill, k.fill())
}

func (k *maker) run() []spot {
	line := k.wave()
	if k.rng.IntN(3) == 0 {
		line = k.doubled(ring(k.between(-300, 300), k.between(-300, 300), k.between(80, 300), 3, k.between(0, 0.2), 0,
			k.between(0, 6)))
	}
	return sewn(k.eitherWay(line), k.between(18, 30))
}

// doubled goes round once or twice.
func (k *maker) doubled(line []spot) []spot {
	if k.rng.IntN(2) == 0 {
		return append(append([]spot(nil), line...), line[1:]...)
	}
	return line
}

// applique is a piece: placement, tack-down and cover on one outline, each
// from its own start and in its own direction.
func (k *maker) applique() {
	cx, cy, radius := k.between(-300, 300), k.between(-300, 300), k.between(80, 350)
	lobes, depth := float64(2+k.rng.IntN(4)), k.between(0, 0.25)
	at := func(inset float64) []spot {
		return k.eitherWay(ring(cx, cy, radius, lobes, depth, inset, k.between(0, 6)))
	}
	k.stop(stitch.Placement, sewn(k.doubled(at(0)), k.between(18, 30)))
	tack := sewn(k.doubled(at(k.between(0, 8))), k.between(15, 25))
	if k.rng.IntN(3) == 0 {
		tack = zigzag(at(k.between(4, 8)), 12, 15)
	}
	k.stop(stitch.TackDown, tack)
	k.stop(stitch.Cover, zigzag(at(0), k.between(25, 40), 4))
}

// anchor marks the corners of everything, a few stitches each.
func (k *maker) anchor() {
	left, bottom, right, top, _ := stitch.Extent(k.Pattern.Moves)
	var marks [][]spot
	for _, c := range []spot{{float64(left), float64(bottom)}, {float64(right), float64(top)}} {
		marks = append(marks, []spot{{c.x, c.y}, {c.x + 8, c.y}, {c.x, c.y}, {c.x, c.y + 8}, {c.x, c.y}})
	}
	k.stop(stitch.Anchor, marks...)
}
