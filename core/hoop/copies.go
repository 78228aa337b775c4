package hoop

import (
	"cmp"
	"math"
	"slices"
)

// DefaultGapMM is left between copies in one hoop (handbook, Many at once).
const DefaultGapMM = 8

// A Point is in millimetres from the centre of the hoop, y up.
type Point struct{ X, Y float64 }

// An Item is what is laid in a field several times.
type Item struct {
	WidthMM, HeightMM float64
	// Round tells that it lies within the circle that its larger side spans, so
	// that rows of it may be staggered.
	Round bool
}

// A Spot is where a copy lies: its middle, and whether it is turned by 90°.
type Spot struct {
	Point
	Turned bool
}

// Degrees by which the copy is turned, counter-clockwise.
func (s Spot) Degrees() int {
	if s.Turned {
		return 90
	}
	return 0
}

// An Arrangement is a way of laying copies.
type Arrangement string

// The arrangements.
const (
	Rows      Arrangement = "rows"      // rows and columns, all turned alike
	Mixed     Arrangement = "mixed"     // some upright, some turned
	Staggered Arrangement = "staggered" // every other row by half a copy on
)

// A Layout is how copies of a design lie in a field.
type Layout struct {
	Arrangement Arrangement
	// Spots of the copies that are placed, in an order with short ways between.
	Spots []Spot
	// PerHooping is how many the field takes at the most.
	PerHooping int
	// LeftOver is how many of those asked for were not placed.
	LeftOver int
}

// AllTurned tells that every copy is turned by 90°.
func (l Layout) AllTurned() bool {
	return len(l.Spots) > 0 && !slices.ContainsFunc(l.Spots, func(s Spot) bool { return !s.Turned })
}

// Hoopings is how often the hoop has to be filled for a quantity.
func (l Layout) Hoopings(quantity int) int {
	if l.PerHooping == 0 {
		return 0
	}
	return (quantity + l.PerHooping - 1) / l.PerHooping
}

// Copies lays copies of an item in rows and columns in a field, gapMM apart,
// all upright or all turned, whichever takes more. When not even one fits, the
// error says by how much.
func Copies(field Field, item Item, gapMM float64, copies int) (Layout, error) {
	if _, err := Into(field, item.WidthMM, item.HeightMM, 0); err != nil {
		return Layout{}, err
	}
	w, h, turned := item.WidthMM, item.HeightMM, false
	columns, rows := grid(field, w, h, gapMM)
	if c, r := grid(field, h, w, gapMM); c*r > columns*rows {
		w, h, turned, columns, rows = h, w, true, c, r
	}
	placed := min(copies, columns*rows)
	l := Layout{Arrangement: Rows, PerHooping: columns * rows, LeftOver: copies - placed}
	// A hoop that is not full is filled from the middle outward.
	columns = min(columns, placed)
	if columns > 0 {
		rows = (placed + columns - 1) / columns
	}
	for row := range rows {
		inRow := min(columns, placed-row*columns)
		for i := range inRow {
			column := i
			if row%2 == 1 {
				column = inRow - 1 - i
			}
			l.Spots = append(l.Spots, Spot{Point{
				X: (float64(column) - float64(inRow-1)/2) * (w + gapMM),
				Y: (float64(rows-1)/2 - float64(row)) * (h + gapMM),
			}, turned})
		}
	}
	return l, nil
}

// BestCopies lays copies in rows, in mixed turns, or where the item is round in
// staggered rows, whichever takes more; of ways that take the same, or all that
// are asked for, the plainest.
func BestCopies(field Field, item Item, gapMM float64, copies int) (Layout, error) {
	best, err := Copies(field, item, gapMM, copies)
	if err != nil || best.LeftOver == 0 {
		return best, err
	}
	ways := map[Arrangement][]Spot{Mixed: mixed(field, item, gapMM)}
	if item.Round {
		ways[Staggered] = staggered(field, max(item.WidthMM, item.HeightMM), gapMM)
	}
	for _, way := range []Arrangement{Mixed, Staggered} {
		if spots := ways[way]; len(spots) > best.PerHooping {
			best = Layout{Arrangement: way, PerHooping: len(spots), Spots: spots}
		}
	}
	if best.Arrangement == Rows {
		return best, nil
	}
	centred(best.Spots, item)
	slices.SortStableFunc(best.Spots, func(a, b Spot) int {
		return cmp.Compare(math.Hypot(a.X, a.Y), math.Hypot(b.X, b.Y))
	})
	best.Spots = shortWays(best.Spots[:min(copies, best.PerHooping)])
	best.LeftOver = copies - len(best.Spots)
	return best, nil
}

// hair is forgiven, so that what was measured to fit does.
const hair = 1e-9

// grid is how many columns and rows a field takes.
func grid(field Field, w, h, gap float64) (columns, rows int) {
	return int(math.Floor((field.WidthMM+gap)/(w+gap) + hair)), int(math.Floor((field.HeightMM+gap)/(h+gap) + hair))
}

// centred moves copies together so that they lie in the middle of the field.
func centred(spots []Spot, item Item) {
	left, bottom, right, top := math.Inf(1), math.Inf(1), math.Inf(-1), math.Inf(-1)
	for _, s := range spots {
		w, h := item.WidthMM, item.HeightMM
		if s.Turned {
			w, h = h, w
		}
		left, right, bottom, top = min(left, s.X-w/2), max(right, s.X+w/2), min(bottom, s.Y-h/2), max(top, s.Y+h/2)
	}
	for i := range spots {
		spots[i].X, spots[i].Y = spots[i].X-(left+right)/2, spots[i].Y-(bottom+top)/2
	}
}

// shortWays orders copies from the top left, each followed by the nearest.
func shortWays(spots []Spot) []Spot {
	left := slices.Clone(spots)
	at := spots[0].Point
	for _, s := range spots {
		at = Point{min(at.X, s.X), max(at.Y, s.Y)}
	}
	var way []Spot
	for len(left) > 0 {
		nearest := 0
		for i, s := range left {
			if math.Hypot(s.X-at.X, s.Y-at.Y) < math.Hypot(left[nearest].X-at.X, left[nearest].Y-at.Y)-hair {
				nearest = i
			}
		}
		at = left[nearest].Point
		way = append(way, left[nearest])
		left = slices.Delete(left, nearest, nearest+1)
	}
	return way
}

// staggered lays discs of a diameter in rows, every other one by half a disc
// on: as many columns as take most, along either side of the field.
func staggered(field Field, diameter, gap float64) []Spot {
	var best []Spot
	for _, turned := range []bool{false, true} {
		along, across := field.WidthMM, field.HeightMM
		if turned {
			along, across = across, along
		}
		pitch := diameter + gap
		most := int(math.Floor((along+gap)/pitch + hair))
		for columns := 1; columns <= most; columns++ {
			for _, shorter := range []int{0, 1} { // every other row may hold one less
				if spots := staggeredRows(along, across, diameter, pitch, columns, shorter); len(spots) > len(best) {
					if best = spots; turned {
						for i, s := range best {
							best[i].Point = Point{s.Y, s.X}
						}
					}
				}
			}
		}
	}
	return best
}

// staggeredRows lays rows of so many columns; those between hold shorter less.
func staggeredRows(along, across, diameter, pitch float64, columns, shorter int) []Spot {
	gaps := float64(columns - 1)
	if shorter == 0 {
		gaps += 0.5 // the rows between stand out by half
	}
	if columns-shorter < 1 || gaps == 0 {
		return nil
	}
	step := (along - diameter) / gaps
	if step < pitch-hair {
		return nil
	}
	// Rows come as near as the discs allow; those two apart stand over each other.
	between := max(pitch/2, math.Sqrt(max(0, pitch*pitch-step*step/4)))
	rows := 1 + int(math.Floor((across-diameter)/between+hair))
	var spots []Spot
	for row := range rows {
		n, offset := columns, 0.0
		if row%2 == 1 {
			n, offset = columns-shorter, step/2
		}
		for i := range n {
			spots = append(spots, Spot{Point: Point{offset + float64(i)*step, -float64(row) * between}})
		}
	}
	return spots
}
