package outline

import (
	"math"

	"chalkstep/core/stitch"
)

// silhouetteCell is the grid a silhouette is traced on, in millimetres; gaps
// between stitches up to twice closesGap cells are closed.
const (
	silhouetteCell = 0.5
	closesGap      = 2
)

// Silhouette traces the outer edges of everything a design sews, and of the
// openings in it: closed lines in millimetres from its centre, y up. It is
// for printing, and true to about a quarter of a millimetre.
func Silhouette(a stitch.Analysis) [][][2]float64 {
	g := newGrid(a.WidthMM, a.HeightMM)
	for _, s := range a.Stops {
		for i, m := range s.Moves {
			if m.Kind != stitch.Stitch {
				continue
			}
			x, y := (float64(m.X)-a.CentreX)/10, (float64(m.Y)-a.CentreY)/10
			fromX, fromY := x, y
			if i > 0 && s.Moves[i-1].Kind == stitch.Stitch {
				fromX, fromY = (float64(s.Moves[i-1].X)-a.CentreX)/10, (float64(s.Moves[i-1].Y)-a.CentreY)/10
			}
			g.line(fromX, fromY, x, y)
		}
	}
	return g.grown(closesGap).shrunk(closesGap).edges()
}

// A grid marks cells; a border of empty ones is kept around what is drawn.
type grid struct {
	columns, rows int
	left, bottom  float64
	marked        []bool
}

func newGrid(widthMM, heightMM float64) grid {
	const border = closesGap + 2
	g := grid{columns: int(widthMM/silhouetteCell) + 2*border + 1, rows: int(heightMM/silhouetteCell) + 2*border + 1}
	g.left, g.bottom = -widthMM/2-border*silhouetteCell, -heightMM/2-border*silhouetteCell
	g.marked = make([]bool, g.columns*g.rows)
	return g
}

func (g grid) line(fromX, fromY, toX, toY float64) {
	steps := int(math.Hypot(toX-fromX, toY-fromY)/(silhouetteCell/2)) + 1
	for i := range steps + 1 {
		t := float64(i) / float64(steps)
		column, row := int((fromX+t*(toX-fromX)-g.left)/silhouetteCell), int((fromY+t*(toY-fromY)-g.bottom)/silhouetteCell)
		g.marked[row*g.columns+column] = true
	}
}

// grown marks also what lies beside a marked cell, times over.
func (g grid) grown(times int) grid { return g.spread(times, true) }

// shrunk unmarks also what lies beside an unmarked cell, times over.
func (g grid) shrunk(times int) grid { return g.spread(times, false) }

func (g grid) spread(times int, value bool) grid {
	for range times {
		next := append([]bool(nil), g.marked...)
		for row := 1; row < g.rows-1; row++ {
			for column := 1; column < g.columns-1; column++ {
				at := row*g.columns + column
				if g.marked[at-1] == value || g.marked[at+1] == value || g.marked[at-g.columns] == value ||
					g.marked[at+g.columns] == value {
					next[at] = value
				}
			}
		}
		g.marked = next
	}
	return g
}

// edges walks between marked and unmarked cells, with the marked ones to the
// left, and joins the steps into loops.
func (g grid) edges() [][][2]float64 {
	type corner struct{ column, row int }
	next := map[corner][]corner{}
	at := func(column, row int) bool {
		return column >= 0 && row >= 0 && column < g.columns && row < g.rows && g.marked[row*g.columns+column]
	}
	var order []corner
	step := func(from, to corner) {
		next[from] = append(next[from], to)
		order = append(order, from)
	}
	for row := range g.rows {
		for column := range g.columns {
			if !at(column, row) {
				continue
			}
			if !at(column, row-1) {
				step(corner{column, row}, corner{column + 1, row})
			}
			if !at(column+1, row) {
				step(corner{column + 1, row}, corner{column + 1, row + 1})
			}
			if !at(column, row+1) {
				step(corner{column + 1, row + 1}, corner{column, row + 1})
			}
			if !at(column-1, row) {
				step(corner{column, row + 1}, corner{column, row})
			}
		}
	}
	var loops [][][2]float64
	for _, start := range order {
		var loop [][2]float64
		for from := start; len(next[from]) > 0; {
			to := next[from][0]
			next[from] = next[from][1:]
			loop = append(loop, [2]float64{g.left + float64(from.column)*silhouetteCell,
				g.bottom + float64(from.row)*silhouetteCell})
			from = to
		}
		if math.Abs(area(loop)) >= smallestArea {
			loops = append(loops, smoothed(loop))
		}
	}
	return loops
}

// smoothed takes the stairs out of a traced loop: each corner becomes the
// middle of its neighbourhood, and what then lies on a line is left out.
func smoothed(loop [][2]float64) [][2]float64 {
	const reach = 2
	n := len(loop)
	out := make([][2]float64, 0, n/3)
	middle := func(i int) [2]float64 {
		var p [2]float64
		for d := -reach; d <= reach; d++ {
			q := loop[((i+d)%n+n)%n]
			p[0], p[1] = p[0]+q[0]/(2*reach+1), p[1]+q[1]/(2*reach+1)
		}
		return p
	}
	for i := 0; i < n; i++ {
		p := middle(i)
		if len(out) >= 2 {
			a, b := out[len(out)-2], out[len(out)-1]
			if math.Abs((b[0]-a[0])*(p[1]-a[1])-(b[1]-a[1])*(p[0]-a[0])) < 0.02*distance(a, p) {
				out[len(out)-1] = p
				continue
			}
		}
		out = append(out, p)
	}
	return out
}
