// Package motif makes the demo workshop's stitch files: harbour motifs out
// of running stitch, satin and fill that would really sew, with underlay
// beneath and ties at every start and end.
package motif

import (
	"cmp"
	"math"
	"slices"

	"chalkstep/core/stitch"
)

// A point is in millimetres from the design's middle, y up.
type point struct{ x, y float64 }

// Stitch lengths in millimetres.
const (
	runLength     = 2.5
	fillLength    = 3.5
	rowSpacing    = 0.4
	satinSpacing  = 0.2 // along the column, from side to side: 0.4 a side
	tieLength     = 0.7
	shortest      = 0.5
	jumpLength    = 11
	underlayInset = 0.8
)

// A sewer lays stitches one after another.
type sewer struct {
	p      stitch.Pattern
	at     point
	sewing bool
}

func (s *sewer) add(kind stitch.Kind, to point) {
	s.at = to
	s.p.Moves = append(s.p.Moves,
		stitch.Move{X: int32(math.Round(to.x * 10)), Y: int32(math.Round(to.y * 10)), Kind: kind})
}

// stitchTo sews straight to a point in even stitches no longer than length;
// a way too short for a stitch is left out.
func (s *sewer) stitchTo(to point, length float64) {
	distance := math.Hypot(to.x-s.at.x, to.y-s.at.y)
	if distance < shortest {
		return
	}
	from := s.at
	n := math.Ceil(distance / length)
	for i := 1.0; i <= n; i++ {
		s.add(stitch.Stitch, point{from.x + (to.x-from.x)*i/n, from.y + (to.y-from.y)*i/n})
	}
}

// begin goes to where a new piece starts, cutting the thread if there is one
// and the way is long, and ties in there.
func (s *sewer) begin(to point) {
	distance := math.Hypot(to.x-s.at.x, to.y-s.at.y)
	switch {
	case s.sewing && distance > 4:
		s.tie()
		s.add(stitch.Trim, s.at)
		s.jumpTo(to, 3)
	case distance > 1:
		s.jumpTo(to, 1)
	}
	s.sewing = true
	s.add(stitch.Stitch, to)
	s.tie()
}

func (s *sewer) jumpTo(to point, atLeast float64) {
	from := s.at
	n := max(atLeast, math.Ceil(math.Hypot(to.x-from.x, to.y-from.y)/jumpLength))
	for i := 1.0; i <= n; i++ {
		s.add(stitch.Jump, point{from.x + (to.x-from.x)*i/n, from.y + (to.y-from.y)*i/n})
	}
}

// tie sews on the spot so that the thread does not pull out.
func (s *sewer) tie() {
	here := s.at
	for range 2 {
		s.add(stitch.Stitch, point{here.x + tieLength, here.y})
		s.add(stitch.Stitch, here)
	}
}

// change ends a stop.
func (s *sewer) change() {
	s.tie()
	s.add(stitch.Change, s.at)
	s.sewing = false
}

// run sews along points.
func (s *sewer) run(points []point, length float64) {
	s.begin(points[0])
	for _, p := range points[1:] {
		s.stitchTo(p, length)
	}
}

// satin sews a zigzag of the given width along points, over a run down the
// middle that holds the fabric.
func (s *sewer) satin(points []point, width float64) {
	along := resample(points, satinSpacing)
	if len(along) < 2 {
		return
	}
	s.begin(along[len(along)-1])
	for i := len(along) - 1; i >= 0; i -= 10 {
		s.stitchTo(along[i], runLength)
	}
	side := width / 2
	for i := range along {
		before, after := along[max(0, i-1)], along[min(len(along)-1, i+1)]
		dx, dy := after.x-before.x, after.y-before.y
		length := math.Hypot(dx, dy)
		if length == 0 {
			continue
		}
		s.add(stitch.Stitch, point{along[i].x - dy/length*side, along[i].y + dx/length*side})
		side = -side
	}
}

// fill covers a polygon with rows, over a run along its inside edge and a
// few rows across.
func (s *sewer) fill(polygon []point, spacing float64) {
	edge := inset(polygon, underlayInset)
	s.run(append(slices.Clone(edge), edge[0]), runLength)
	const apart = 3
	for _, part := range sections(rows(transpose(edge), apart), 2*apart) {
		s.begin(point{part[0][0].y, part[0][0].x})
		for i, row := range part {
			from, to := point{row[0].y, row[0].x}, point{row[1].y, row[1].x}
			if i%2 == 1 {
				from, to = to, from
			}
			s.stitchTo(from, runLength)
			s.stitchTo(to, runLength)
		}
	}
	for _, part := range sections(rows(polygon, spacing), 4*spacing) {
		s.begin(part[0][0])
		for i, row := range part {
			// Every other row is brick-laid by starting half a stitch in.
			from, to := row[0], row[1]
			if i%2 == 1 {
				from, to = to, from
			}
			s.stitchTo(from, fillLength)
			offset := fillLength * float64(i%4) / 4
			if width := math.Abs(to.x - from.x); offset > shortest && width-offset > shortest {
				s.stitchTo(point{from.x + math.Copysign(offset, to.x-from.x), from.y}, fillLength)
			}
			s.stitchTo(to, fillLength)
		}
	}
}

// rows cuts a polygon into horizontal stretches, bottom row first.
func rows(polygon []point, spacing float64) [][][2]point {
	bottom, top := math.Inf(1), math.Inf(-1)
	for _, p := range polygon {
		bottom, top = min(bottom, p.y), max(top, p.y)
	}
	var all [][][2]point
	for y := bottom + spacing/2; y < top; y += spacing {
		var crossings []float64
		for i, a := range polygon {
			b := polygon[(i+1)%len(polygon)]
			if (a.y <= y) != (b.y <= y) {
				crossings = append(crossings, a.x+(b.x-a.x)*(y-a.y)/(b.y-a.y))
			}
		}
		slices.Sort(crossings)
		var row [][2]point
		for i := 0; i+1 < len(crossings); i += 2 {
			if crossings[i+1]-crossings[i] >= shortest {
				row = append(row, [2]point{{crossings[i], y}, {crossings[i+1], y}})
			}
		}
		if len(row) > 0 {
			all = append(all, row)
		}
	}
	return all
}

// sections joins rows that lie above each other, less than gap apart, into
// areas that can be sewn without crossing anything else.
func sections(all [][][2]point, gap float64) [][][2]point {
	type area struct {
		rows [][2]point
		open bool
	}
	var areas []*area
	for _, row := range all {
		taken := map[*area]bool{}
		for _, stretch := range row {
			var home *area
			for _, a := range areas {
				last := a.rows[len(a.rows)-1]
				if a.open && !taken[a] && last[0].x <= stretch[1].x && stretch[0].x <= last[1].x && stretch[0].y-last[0].y < gap {
					home = a
					break
				}
			}
			if home == nil {
				home = &area{open: true}
				areas = append(areas, home)
			}
			home.rows = append(home.rows, stretch)
			taken[home] = true
		}
		for _, a := range areas {
			a.open = taken[a]
		}
	}
	var parts [][][2]point
	for _, a := range areas {
		parts = append(parts, a.rows)
	}
	return parts
}

func transpose(points []point) []point {
	out := make([]point, len(points))
	for i, p := range points {
		out[i] = point{p.y, p.x}
	}
	return out
}

// inset draws a polygon in towards its middle. It is meant for underlay,
// which may lie a little off.
func inset(polygon []point, by float64) []point {
	var middle point
	for _, p := range polygon {
		middle.x += p.x / float64(len(polygon))
		middle.y += p.y / float64(len(polygon))
	}
	out := make([]point, len(polygon))
	for i, p := range polygon {
		dx, dy := middle.x-p.x, middle.y-p.y
		length := max(by, math.Hypot(dx, dy))
		out[i] = point{p.x + dx/length*by, p.y + dy/length*by}
	}
	return out
}

// resample puts points a fixed way apart along a line.
func resample(points []point, apart float64) []point {
	out := []point{points[0]}
	left := apart
	for i := 1; i < len(points); i++ {
		a, b := points[i-1], points[i]
		length := math.Hypot(b.x-a.x, b.y-a.y)
		at := left
		for ; at <= length; at += apart {
			out = append(out, point{a.x + (b.x-a.x)*at/length, a.y + (b.y-a.y)*at/length})
		}
		left = at - length
	}
	return out
}

// arc is part of an ellipse, from one angle to another in degrees.
func arc(centre point, rx, ry, from, to float64) []point {
	steps := max(8, int(math.Abs(to-from)/6))
	var out []point
	for i := range steps + 1 {
		angle := (from + (to-from)*float64(i)/float64(steps)) * math.Pi / 180
		out = append(out, point{centre.x + rx*math.Cos(angle), centre.y + ry*math.Sin(angle)})
	}
	return out
}

// box is a rectangle.
func box(left, bottom, right, top float64) []point {
	return []point{{left, bottom}, {right, bottom}, {right, top}, {left, top}}
}

func closed(points []point) []point { return append(slices.Clone(points), points[0]) }

// shift moves points.
func shift(points []point, dx, dy float64) []point {
	out := slices.Clone(points)
	for i := range out {
		out[i].x, out[i].y = out[i].x+dx, out[i].y+dy
	}
	return out
}

// nearestFirst orders centres left to right, bottom row first, so that a
// sheet of copies is sewn with short ways between them.
func nearestFirst(centres []point) []point {
	slices.SortFunc(centres, func(a, b point) int { return cmp.Or(cmp.Compare(a.y, b.y), cmp.Compare(a.x, b.x)) })
	return centres
}

// turnedBy turns a point about the middle, counter-clockwise.
func turnedBy(p point, degrees float64) point {
	sin, cos := math.Sincos(degrees * math.Pi / 180)
	return point{p.x*cos - p.y*sin, p.x*sin + p.y*cos}
}
