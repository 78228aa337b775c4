package hoop

import "math"

// DefaultGapMM is left between copies in one hoop (handbook, Many at once).
const DefaultGapMM = 8

// A Point is in millimetres from the centre of the hoop, y up.
type Point struct{ X, Y float64 }

// A Grid is how copies of a design lie in a field.
type Grid struct {
	// Centres of the copies that are placed, row by row from the top, every
	// other row backwards so that the way between them is short.
	Centres []Point
	// Rotated tells that every copy is turned by 90°.
	Rotated bool
	// PerHooping is how many the field takes at the most.
	PerHooping int
	// LeftOver is how many of those asked for were not placed.
	LeftOver int
}

// Hoopings is how often the hoop has to be filled for a quantity.
func (g Grid) Hoopings(quantity int) int {
	if g.PerHooping == 0 {
		return 0
	}
	return (quantity + g.PerHooping - 1) / g.PerHooping
}

// Copies lays copies of a design in a field, gapMM apart, upright or turned,
// whichever takes more. When not even one fits, the error says by how much.
func Copies(field Field, widthMM, heightMM, gapMM float64, copies int) (Grid, error) {
	if _, err := Into(field, widthMM, heightMM, 0); err != nil {
		return Grid{}, err
	}
	w, h, rotated := widthMM, heightMM, false
	columns, rows := grid(field, w, h, gapMM)
	if c, r := grid(field, h, w, gapMM); c*r > columns*rows {
		w, h, rotated, columns, rows = h, w, true, c, r
	}
	placed := min(copies, columns*rows)
	g := Grid{Rotated: rotated, PerHooping: columns * rows, LeftOver: copies - placed}
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
			g.Centres = append(g.Centres, Point{
				X: (float64(column) - float64(inRow-1)/2) * (w + gapMM),
				Y: (float64(rows-1)/2 - float64(row)) * (h + gapMM),
			})
		}
	}
	return g, nil
}

// grid is how many columns and rows a field takes. A hair's breadth is
// forgiven, so that what was measured to fit does.
func grid(field Field, w, h, gap float64) (columns, rows int) {
	const hair = 1e-9
	return int(math.Floor((field.WidthMM+gap)/(w+gap) + hair)), int(math.Floor((field.HeightMM+gap)/(h+gap) + hair))
}
