// Package stitchtest makes patterns for tests of stitch formats.
package stitchtest

import (
	"math/rand/v2"

	"chalkstep/core/stitch"
)

// Random makes a pattern of about n moves as files hold them: no move longer
// than maxMove tenths of a millimetre, trims followed by at least three
// jumps, at least one stitch, changes and jumps now and then.
func Random(rng *rand.Rand, n int, maxMove int32) *stitch.Pattern {
	p := &stitch.Pattern{Name: "random"}
	var x, y int32
	add := func(kind stitch.Kind) {
		if kind != stitch.Trim {
			x += rng.Int32N(2*maxMove+1) - maxMove
			y += rng.Int32N(2*maxMove+1) - maxMove
			x, y = clamp(x), clamp(y)
		}
		p.Moves = append(p.Moves, stitch.Move{X: x, Y: y, Kind: kind})
	}
	for len(p.Moves) < n {
		switch rng.IntN(40) {
		case 0:
			add(stitch.Change)
		case 1:
			add(stitch.Jump)
			add(stitch.Stitch)
		case 2:
			add(stitch.Trim)
			for range 3 + rng.IntN(3) {
				add(stitch.Jump)
			}
			add(stitch.Stitch)
		default:
			add(stitch.Stitch)
		}
	}
	add(stitch.Stitch)
	return p
}

// clamp keeps a design on the table; the walk bounces rather than leaving.
func clamp(v int32) int32 { return max(-5000, min(5000, v)) }

// Penetrations lists where the needle goes in, in order.
func Penetrations(p *stitch.Pattern) [][2]int32 {
	var at [][2]int32
	for _, m := range p.Moves {
		if m.Kind == stitch.Stitch {
			at = append(at, [2]int32{m.X, m.Y})
		}
	}
	return at
}

// Count counts the moves of one kind.
func Count(p *stitch.Pattern, kind stitch.Kind) int {
	n := 0
	for _, m := range p.Moves {
		if m.Kind == kind {
			n++
		}
	}
	return n
}

// Line sews straight from the pattern's last move to (x, y) in stitches of
// about step tenths of a millimetre.
func Line(p *stitch.Pattern, x, y, step int32) {
	var fromX, fromY int32
	if n := len(p.Moves); n > 0 {
		fromX, fromY = p.Moves[n-1].X, p.Moves[n-1].Y
	}
	steps := max(1, max(abs(x-fromX), abs(y-fromY))/step)
	for i := int32(1); i <= steps; i++ {
		p.Moves = append(p.Moves, stitch.Move{X: fromX + (x-fromX)*i/steps, Y: fromY + (y-fromY)*i/steps})
	}
}

func abs(n int32) int32 { return max(n, -n) }

// Large makes a design of about n stitches as large designs are: a dozen
// fills of parallel rows with a satin edge each.
func Large(n int) *stitch.Pattern {
	p := &stitch.Pattern{Name: "large"}
	const stops = 12
	for stop := range int32(stops) {
		until := len(p.Moves) + n/stops*3/4
		left, y := stop*300, stop%3*200
		for row := int32(0); len(p.Moves) < until; row++ {
			Line(p, left+2500*(row%2), y+row*4, 35)
		}
		for at := int32(0); len(p.Moves) < until+n/stops/4; at++ {
			p.Moves = append(p.Moves, stitch.Move{X: left + at%2*30, Y: y + at*2%2000})
		}
		last := p.Moves[len(p.Moves)-1]
		p.Moves = append(p.Moves, stitch.Move{X: last.X, Y: last.Y, Kind: stitch.Change})
	}
	return p
}

// Mixed makes a design of about so many stitches that sews everything: large
// fills and columns, and among them letters, runs and appliqué of many kinds.
func Mixed(rng *rand.Rand, n int) *stitch.Pattern {
	p := Large(n * 9 / 10)
	for len(p.Moves) < n {
		last := p.Moves[len(p.Moves)-1]
		p.Moves = append(p.Moves, stitch.Move{X: last.X, Y: last.Y, Kind: stitch.Change})
		next := NewKnown(rng).Pattern
		if rng.IntN(2) == 0 {
			next = NewPieces(rng).Pattern
		}
		p.Moves = append(p.Moves, next.Moves...)
	}
	return p
}
