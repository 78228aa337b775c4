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
	closesWithin  = 1.0  // the run comes back to its start this near
	shortestLoop  = 5.0  // shorter loops are ties
	smallestArea  = 1.0  // mm²
	sameWithin    = 1.0  // a doubled outline lies this near to the first
	straightest   = 0.02 // a fifth of the step of the file formats
	straight      = 0.35 // a blade in cloth follows no finer zigzag
	fineEdges     = 400
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
	// HolesLost is how many inner holes the offset has closed, MouthsClosed how
	// many bays of the outline it has made holes of.
	HolesLost, MouthsClosed    int
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
	sewn := loops(a, a.Stops[n-1])
	if len(sewn) == 0 {
		return Cut{}, fmt.Errorf("stop %d sews no closed outline: choose the placement line of a piece", n)
	}
	if tangled(sewn) {
		return Cut{}, fmt.Errorf(
			"stop %d sews more lines, or a longer or more tangled one, than can be cut along: choose the placement line of a "+
				"piece", n)
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
	line := rings(shape)
	if offsetMM == 0 {
		return cutOf(line), nil
	}
	if shape, err = grown(shape, offsetMM); err != nil {
		return Cut{}, fmt.Errorf("stop %d: %w", n, err)
	}
	cut := cutOf(rings(shape))
	cut.HolesLost, cut.MouthsClosed = closedBy(line, cut.Paths)
	return cut, nil
}

// closedBy counts what an offset closes: holes of the line that are gone, and
// mouths, behind which a hole has come to be that was open before.
func closedBy(line, paths [][][2]float64) (holes, mouths int) {
	kept := map[int]bool{}
	for _, after := range paths {
		if area(after) > 0 {
			continue
		}
		was := -1
		for i, before := range line {
			if area(before) < 0 && encloses(before, after[0]) {
				was = i
			}
		}
		if was < 0 {
			mouths++
		}
		kept[was] = true
	}
	for i, before := range line {
		if area(before) < 0 && !kept[i] {
			holes++
		}
	}
	return holes, mouths
}

// encloses tells whether a point lies inside a loop.
func encloses(loop [][2]float64, p [2]float64) bool {
	inside := false
	for i, a := range loop {
		b := loop[(i+1)%len(loop)]
		if (a[1] > p[1]) != (b[1] > p[1]) && p[0] < a[0]+(p[1]-a[1])/(b[1]-a[1])*(b[0]-a[0]) {
			inside = !inside
		}
	}
	return inside
}

// Closes tells whether a stop sews a closed outline.
func Closes(a stitch.Analysis, s stitch.Stop) bool { return len(loops(a, s)) > 0 }

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
// where it began, and of what is left the stretches that close on themselves:
// leads in and out, ties and travels from one outline to the next are left out.
// A loop sewn twice counts once; it stops looking when there are too many.
func loops(a stitch.Analysis, s stitch.Stop) [][][2]float64 {
	if s.Role == stitch.Fill || s.Role == stitch.Satin || s.Role == stitch.Cover {
		return nil // their rows and turns come back all the time
	}
	var f finder
	var run [][2]float64
	length := 0.0
	for _, m := range s.Moves {
		if m.Kind != stitch.Stitch {
			f.leftOver(run)
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
		f.add(run, smallestArea)
		run, length = [][2]float64{p}, 0
	}
	f.leftOver(run)
	return f.loops
}

// A finder gathers loops.
type finder struct{ loops [][][2]float64 }

// add takes a loop in, unless it is too small or known.
func (f *finder) add(loop [][2]float64, leastMM2 float64) {
	if len(f.loops) <= mostLoops && swept(loop) >= leastMM2 && !known(f.loops, loop) {
		f.loops = append(f.loops, joinedUp(loop))
	}
}

// swept is the most that a loop has enclosed up to any of its points: in a
// figure eight the second half takes away what the first has enclosed.
func swept(loop [][2]float64) float64 {
	most, sum := 0.0, 0.0
	for i := 1; i < len(loop); i++ {
		a, b := loop[i-1], loop[i]
		sum += ((a[0]-loop[0][0])*(b[1]-loop[0][1]) - (b[0]-loop[0][0])*(a[1]-loop[0][1])) / 2
		most = max(most, math.Abs(sum))
	}
	return most
}

// leftOver looks for the largest loop in a run that did not come back to where
// it began, and for more before and after it.
func (f *finder) leftOver(run [][2]float64) {
	const (
		fewest    = 4
		longest   = 4000 // stitches; longer ones are no outlines
		roundness = 0.15 // of a circle 1, of the turns of a zigzag near 0
		leastMM2  = 4.0
	)
	if len(run) < fewest || len(run) > longest || len(f.loops) > mostLoops {
		return
	}
	// along is how far each point is along the run, under the area between the
	// run and the origin up to it.
	along, under := make([]float64, len(run)), make([]float64, len(run))
	near := map[[2]int][]int{}
	square := func(p [2]float64) [2]int {
		return [2]int{int(math.Floor(p[0] / closesWithin)), int(math.Floor(p[1] / closesWithin))}
	}
	from, to, largest := -1, -1, leastMM2
	for j, p := range run {
		if j > 0 {
			q := run[j-1]
			along[j], under[j] = along[j-1]+distance(q, p), under[j-1]+(q[0]*p[1]-p[0]*q[1])/2
		}
		at := square(p)
		for dx := -1; dx <= 1; dx++ {
			for dy := -1; dy <= 1; dy++ {
				for _, i := range near[[2]int{at[0] + dx, at[1] + dy}] {
					q, length := run[i], along[j]-along[i]
					size := math.Abs(under[j] - under[i] + (p[0]*q[1]-q[0]*p[1])/2)
					if distance(q, p) <= closesWithin && length >= shortestLoop && size > largest &&
						4*math.Pi*size >= roundness*length*length {
						from, to, largest = i, j, size
					}
				}
			}
		}
		near[at] = append(near[at], j)
	}
	if from < 0 {
		return
	}
	f.add(run[from:to+1], leastMM2)
	f.leftOver(run[:from])
	f.leftOver(run[to+1:])
}

// joinedUp is a loop without the points that repeat the one before, or that lie
// on the line between their neighbours as near as a file can tell.
func joinedUp(loop [][2]float64) [][2]float64 {
	points := slices.Compact(straightened(loop))
	if last := len(points) - 1; points[0] == points[last] {
		points = points[:last]
	}
	return points
}

// known tells whether a loop is there already: each of its points lies near one
// of the other, and the other way round.
func known(loops [][][2]float64, loop [][2]float64) bool {
	l, b, r, t := bounds(loop)
	for _, other := range loops {
		ol, ob, or, ot := bounds(other)
		if math.Abs(l-ol) <= sameWithin && math.Abs(b-ob) <= sameWithin && math.Abs(r-or) <= sameWithin &&
			math.Abs(t-ot) <= sameWithin && along(loop, other) && along(other, loop) {
			return true
		}
	}
	return false
}

// along tells whether all points of a loop lie along another.
func along(loop, other [][2]float64) bool {
	for _, p := range loop {
		nearest := math.Inf(1)
		for i, a := range other {
			nearest = min(nearest, toEdge(p, a, other[(i+1)%len(other)]))
		}
		if nearest > sameWithin {
			return false
		}
	}
	return true
}

// toEdge is how far a point is from the edge from a to b.
func toEdge(p, a, b [2]float64) float64 {
	dx, dy := b[0]-a[0], b[1]-a[1]
	at := 0.0
	if square := dx*dx + dy*dy; square > 0 {
		at = max(0, min(1, ((p[0]-a[0])*dx+(p[1]-a[1])*dy)/square))
	}
	return distance(p, [2]float64{a[0] + at*dx, a[1] + at*dy})
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
	fmt.Fprintf(&s, `<svg xmlns="http://www.w3.org/2000/svg" width="%.3fmm" height="%.3fmm" viewBox="0 0 %.3f %.3f">`,
		c.WidthMM, c.HeightMM, c.WidthMM, c.HeightMM)
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
