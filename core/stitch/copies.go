package stitch

import (
	"fmt"
	"math"

	"chalkstep/core/measure"
)

// A Spot is where a copy goes: its centre in tenths of a millimetre, and
// whether it is turned by 90°.
type Spot struct {
	X, Y   float64
	Turned bool
}

// Precedence is the order that the stops of an analysis have to keep: each
// comes after those before it that it overlaps, and a closing anchor after all.
// What is sewn where the cloth of a piece lies overlaps the piece, also in the
// middle of it, and the machine halts in between for the cloth to be laid, or
// to be cut away.
func Precedence(stops []Stop) Order {
	order := Order{After: make([][]int, len(stops)), Halted: make([][]int, len(stops))}
	grounds := make([]trace, len(stops))
	for i := range stops {
		for j := range i {
			if stops[i].Role != Anchor || i != len(stops)-1 {
				if !overlap(stops, grounds, j, i) {
					continue
				}
			}
			order.After[i] = append(order.After[i], j)
			if stops[j].laysCloth() {
				order.Halted[i] = append(order.Halted[i], j)
			}
		}
	}
	return order
}

// laysCloth tells whether cloth is laid or cut away once the stop is sewn.
func (s Stop) laysCloth() bool { return s.Role == Placement || s.Role == TackDown }

// overlapMM is how near two stops may lie before their order counts.
const overlapMM = 1

func overlap(stops []Stop, grounds []trace, i, j int) bool {
	a, b := stops[i].Bounds, stops[j].Bounds
	if a.Left > b.Right+overlapMM || b.Left > a.Right+overlapMM || a.Bottom > b.Top+overlapMM ||
		b.Bottom > a.Top+overlapMM {
		return false
	}
	for _, k := range []int{i, j} {
		if grounds[k] == nil {
			if grounds[k] = newTrace(&stops[k]); stops[k].laysCloth() {
				grounds[k].fill()
			}
		}
	}
	smaller, larger := grounds[i], grounds[j]
	if len(smaller) > len(larger) {
		smaller, larger = larger, smaller
	}
	for square := range smaller {
		if larger.nearSquare(square, overlapMM) {
			return true
		}
	}
	return false
}

// A Sheet is a design sewn several times.
type Sheet struct {
	Pattern *Pattern
	// Runs are the stops of the design, from 0, that each stop of the sheet sews.
	Runs [][]int
	// Before and After are the halts without and with sorting.
	Before, After int
}

// Copies sews a pattern once at each spot: copy by copy, or when sorted is
// set colour by colour, with the fewest changes its overlaps allow. roles are
// what a person says the stops are, nil for what is found.
func Copies(p *Pattern, spots []Spot, sorted bool, roles []Role) (Sheet, error) {
	a := Analyse(p)
	for i := range a.Stops {
		if len(roles) == len(a.Stops) {
			a.Stops[i].Role = roles[i]
		}
	}
	if len(a.Stops) == 0 || len(spots) == 0 {
		return Sheet{}, fmt.Errorf("laying out copies: expected a design with stitches and at least one place for it")
	}
	if moves := len(p.Moves) * len(spots); moves > MaxMoves {
		return Sheet{}, fmt.Errorf("laying out copies: %s moves in all, and a file may hold %s", measure.Count(moves),
			measure.Count(MaxMoves))
	}
	sheet := Sheet{Before: len(a.Stops)*len(spots) - 1}
	c := copier{analysis: a, out: &Pattern{Name: p.Name}}
	if !sorted {
		for _, spot := range spots {
			for i := range a.Stops {
				c.change(i)
				c.sew(i, spot)
				sheet.Runs = append(sheet.Runs, []int{i})
			}
		}
		sheet.Pattern, sheet.After = c.out, sheet.Before
		return sheet, nil
	}
	sheet.Runs = ColorOrder(Threads(a.Stops), Precedence(a.Stops))
	for _, run := range sheet.Runs {
		c.change(run[0])
		for _, spot := range spots {
			for _, i := range run {
				c.sew(i, spot)
			}
		}
	}
	sheet.Pattern, sheet.After = c.out, len(sheet.Runs)-1
	return sheet, nil
}

// Threads names the thread of each stop: its colour, or where the file has
// none, its number, as each stop may then be another thread.
func Threads(stops []Stop) []string {
	threads := make([]string, len(stops))
	for i, s := range stops {
		threads[i] = fmt.Sprint(s.N)
		if s.Color != nil {
			threads[i] = s.Color.String()
		}
	}
	return threads
}

// A copier appends stops of one design at many places.
type copier struct {
	analysis Analysis
	out      *Pattern
}

// change halts for the thread of stop i, unless it is the first.
func (c *copier) change(i int) {
	if n := len(c.out.Moves); n > 0 {
		last := c.out.Moves[n-1]
		c.out.Moves = append(c.out.Moves, Move{last.X, last.Y, Change})
	}
	if color := c.analysis.Stops[i].Color; color != nil {
		c.out.Colors = append(c.out.Colors, *color)
	}
}

// sew appends stop i at a spot, with a trim and a jump on the way there when
// the thread is already sewing.
func (c *copier) sew(i int, spot Spot) {
	moves := sewn(c.analysis.Stops[i].Moves)
	first := c.place(moves[0], spot)
	if n := len(c.out.Moves); n > 0 {
		last := c.out.Moves[n-1]
		if last.Kind != Change {
			c.out.Moves = append(c.out.Moves, Move{last.X, last.Y, Trim})
		}
		if last.X != first.X || last.Y != first.Y {
			c.out.Moves = append(c.out.Moves, Move{first.X, first.Y, Jump})
		}
	}
	for _, m := range moves {
		c.out.Moves = append(c.out.Moves, c.place(m, spot))
	}
}

// sewn is a stop's moves from its first stitch to its last.
func sewn(moves []Move) []Move {
	for moves[0].Kind != Stitch {
		moves = moves[1:]
	}
	for moves[len(moves)-1].Kind != Stitch {
		moves = moves[:len(moves)-1]
	}
	return moves
}

// place moves a point from the design to its copy.
func (c *copier) place(m Move, spot Spot) Move {
	x, y := float64(m.X)-c.analysis.CentreX, float64(m.Y)-c.analysis.CentreY
	if spot.Turned {
		x, y = -y, x
	}
	return Move{int32(math.Round(spot.X + x)), int32(math.Round(spot.Y + y)), m.Kind}
}
