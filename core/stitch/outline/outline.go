// Package outline turns the run of a stop into cut paths: the placement line
// of an appliqué piece is also the line its fabric is cut along, a little
// outside it (handbook, Pre-cutting).
package outline

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"chalkstep/core/stitch"
)

// Figures by which a run is seen to be closed, in millimetres.
const (
	closesWithin  = 1.0 // the run comes back to its start this near
	shortestLoop  = 5.0 // shorter loops are ties
	smallestArea  = 1.0 // mm²
	sameWithin    = 1.0 // a doubled outline lies this near to the first
	arcTolerance  = 0.02
	LargestOffset = 2.5
	UsualOffset   = 1.0
	// A line that is cut along has fewer loops, edges and crossings than these.
	mostLoops     = 200
	mostEdges     = 6000
	mostCrossings = 1000
)

// A Cut is the cut paths of one stop.
type Cut struct {
	// Paths are closed, in millimetres from the design's centre, y up.
	// Outlines run counter-clockwise, holes clockwise.
	Paths [][][2]float64
	Holes int
	// HolesLost is how many inner holes the offset has closed.
	HolesLost                  int
	WidthMM, HeightMM, AreaMM2 float64
	left, top                  float64
}

// Of finds the closed outlines of a stop, offset outward by offsetMM, and
// mirrored for cutting from the paper side when asked.
func Of(a stitch.Analysis, n int, offsetMM float64, mirror bool) (Cut, error) {
	if n < 1 || n > len(a.Stops) {
		return Cut{}, fmt.Errorf("stop %d: the design has stops 1 to %d", n, len(a.Stops))
	}
	if !(offsetMM >= 0 && offsetMM <= LargestOffset) {
		return Cut{}, fmt.Errorf("offset %v mm: expected 0 to %v", offsetMM, LargestOffset)
	}
	sewn := loops(a, a.Stops[n-1].Moves)
	if len(sewn) == 0 {
		return Cut{}, fmt.Errorf("stop %d sews no closed outline: choose the placement line of a piece", n)
	}
	if tangled(sewn) {
		return Cut{}, fmt.Errorf("stop %d sews more lines, or a longer or more tangled one, than can be cut along: choose the placement line of a piece", n)
	}
	if mirror {
		for _, loop := range sewn {
			for i := range loop {
				loop[i][0] = -loop[i][0]
			}
		}
	}
	shape, err := regionOf(sewn)
	if err != nil {
		return Cut{}, fmt.Errorf("stop %d: %w", n, err)
	}
	cut := cutOf(rings(shape))
	if offsetMM == 0 {
		return cut, nil
	}
	holes := cut.Holes
	if shape, err = grown(shape, offsetMM); err != nil {
		return Cut{}, fmt.Errorf("stop %d: %w", n, err)
	}
	cut = cutOf(rings(shape))
	cut.HolesLost = max(0, holes-cut.Holes)
	return cut, nil
}

// Closes tells whether a stop sews a closed outline.
func Closes(a stitch.Analysis, s stitch.Stop) bool { return len(loops(a, s.Moves)) > 0 }

// tangled tells whether loops have more of anything than a line that is cut
// along.
func tangled(loops [][][2]float64) bool {
	type edge struct{ a, b [2]float64 }
	var edges []edge
	for _, loop := range loops {
		for i, p := range loop {
			edges = append(edges, edge{p, loop[(i+1)%len(loop)]})
		}
	}
	if len(loops) > mostLoops || len(edges) > mostEdges {
		return true
	}
	crossings := 0
	for i, e := range edges {
		for _, f := range edges[:i] {
			if left(e.a, e.b, f.a) != left(e.a, e.b, f.b) && left(f.a, f.b, e.a) != left(f.a, f.b, e.b) {
				crossings++
			}
		}
		// Neighbours meet, which may count as one.
		if crossings > mostCrossings+len(edges) {
			return true
		}
	}
	return false
}

// left tells whether a point lies to the left of the line from a to b.
func left(a, b, p [2]float64) bool {
	return (b[0]-a[0])*(p[1]-a[1]) > (b[1]-a[1])*(p[0]-a[0])
}

// loops walks a stop's runs and cuts out every stretch that comes back to
// where it began. A loop sewn twice counts once; it stops looking when there
// are too many.
func loops(a stitch.Analysis, moves []stitch.Move) [][][2]float64 {
	var all [][][2]float64
	var run [][2]float64
	length := 0.0
	for _, m := range moves {
		if m.Kind != stitch.Stitch {
			run, length = nil, 0
			continue
		}
		p := [2]float64{(float64(m.X) - a.CentreX) / 10, (float64(m.Y) - a.CentreY) / 10}
		if len(run) > 0 {
			length += distance(run[len(run)-1], p)
		}
		run = append(run, p)
		if length < shortestLoop || distance(run[0], p) > closesWithin {
			continue
		}
		if math.Abs(area(run)) >= smallestArea && !known(all, run) {
			if all = append(all, joinedUp(run)); len(all) > mostLoops {
				return all
			}
		}
		run, length = [][2]float64{p}, 0
	}
	return all
}

// joinedUp is a loop without the points that repeat the one before.
func joinedUp(loop [][2]float64) [][2]float64 {
	points := slices.Compact(loop)
	if last := len(points) - 1; points[0] == points[last] {
		points = points[:last]
	}
	return points
}

func known(loops [][][2]float64, loop [][2]float64) bool {
	l, b, r, t := bounds(loop)
	for _, other := range loops {
		ol, ob, or, ot := bounds(other)
		if math.Abs(l-ol) <= sameWithin && math.Abs(b-ob) <= sameWithin && math.Abs(r-or) <= sameWithin && math.Abs(t-ot) <= sameWithin {
			return true
		}
	}
	return false
}

func distance(a, b [2]float64) float64 { return math.Hypot(a[0]-b[0], a[1]-b[1]) }

// area is above 0 for a loop that runs counter-clockwise.
func area(loop [][2]float64) float64 {
	sum := 0.0
	for i, p := range loop {
		q := loop[(i+1)%len(loop)]
		sum += p[0]*q[1] - q[0]*p[1]
	}
	return sum / 2
}

func bounds(loop [][2]float64) (left, bottom, right, top float64) {
	left, bottom, right, top = math.Inf(1), math.Inf(1), math.Inf(-1), math.Inf(-1)
	for _, p := range loop {
		left, right = min(left, p[0]), max(right, p[0])
		bottom, top = min(bottom, p[1]), max(top, p[1])
	}
	return left, bottom, right, top
}

func cutOf(loops [][][2]float64) Cut {
	c := Cut{Paths: loops}
	left, bottom, right, top := math.Inf(1), math.Inf(1), math.Inf(-1), math.Inf(-1)
	for _, loop := range loops {
		size := area(loop)
		c.AreaMM2 += size
		if size < 0 {
			c.Holes++
		}
		l, b, r, t := bounds(loop)
		left, bottom, right, top = min(left, l), min(bottom, b), max(right, r), max(top, t)
	}
	if len(loops) > 0 {
		c.WidthMM, c.HeightMM, c.left, c.top = right-left, top-bottom, left, top
	}
	return c
}

// SVG draws the paths at actual size: a user unit is a millimetre.
func (c Cut) SVG() string {
	var s strings.Builder
	fmt.Fprintf(&s, `<svg xmlns="http://www.w3.org/2000/svg" width="%.3fmm" height="%.3fmm" viewBox="0 0 %.3f %.3f">`, c.WidthMM, c.HeightMM, c.WidthMM, c.HeightMM)
	s.WriteString("\n<path fill=\"none\" stroke=\"#000000\" stroke-width=\"0.1\" d=\"")
	for _, loop := range c.Paths {
		for i, p := range loop {
			command := "L"
			if i == 0 {
				command = "M"
			}
			fmt.Fprintf(&s, "%s%.3f %.3f", command, p[0]-c.left, c.top-p[1])
		}
		s.WriteString("Z")
	}
	s.WriteString("\"/>\n</svg>\n")
	return s.String()
}
