package stitch

import (
	"math"
	"slices"
)

// Figures by which stitches are judged (handbook, Designs): how wide thread
// lies, and from what lengths on a stitch piles up or snags.
const (
	threadMM   = 0.4
	ShortMM    = 0.4
	LongMM     = 7.0
	mostCells  = 1 << 20
	sampleStep = 0.25 // mm between the points at which thread is counted
)

// A DensityMap is how much thread lies in each cell of a grid over the
// design: thread area over cell area, 1 where it just covers.
type DensityMap struct {
	// CellMM is the side of a cell: 1 mm, more for designs too large for that.
	CellMM        float64
	Columns, Rows int
	// Coverage by row from the bottom, then column.
	Coverage []float64
}

// newDensityMap is an empty map over the stitches of moves, with the corner
// its cells are counted from, in tenths of a millimetre.
func newDensityMap(moves []Move) (m DensityMap, left, bottom int32, ok bool) {
	left, bottom, right, top, ok := Extent(moves)
	if !ok {
		return DensityMap{}, 0, 0, false
	}
	width, height := float64(right-left)/10, float64(top-bottom)/10
	m.CellMM = 1
	for (width/m.CellMM+1)*(height/m.CellMM+1) > mostCells {
		m.CellMM *= 2
	}
	m.Columns, m.Rows = int(width/m.CellMM)+1, int(height/m.CellMM)+1
	m.Coverage = make([]float64, m.Columns*m.Rows)
	return m, left, bottom, true
}

// A sampler counts thread at points along each stitch.
type sampler struct {
	DensityMap
	left, bottom int32
	stepMM       float64
}

// newSampler counts at points so far apart that the work is bounded by the
// stitches and not by what they cross: a design with more thread than the
// samples reach is sampled more coarsely.
func newSampler(moves []Move) (s sampler, ok bool) {
	const most = 8_000_000
	if s.DensityMap, s.left, s.bottom, ok = newDensityMap(moves); !ok {
		return s, false
	}
	total := 0.0
	eachStitch(moves, func(from, to *Move) { total += math.Hypot(float64(to.X-from.X), float64(to.Y-from.Y)) / 10 })
	s.stepMM = max(sampleStep, total/most)
	return s, true
}

// along calls count for each sample of a stitch, with its cell and the share
// of the cell that it covers.
func (s *sampler) along(from, to *Move, count func(cell int, share float64)) {
	x, y := float64(from.X-s.left)/10, float64(from.Y-s.bottom)/10
	dx, dy := float64(to.X-from.X)/10, float64(to.Y-from.Y)/10
	length := math.Hypot(dx, dy)
	steps := max(1, int(length/s.stepMM))
	share := length * threadMM / (s.CellMM * s.CellMM) / float64(steps)
	for i := range steps {
		t := (float64(i) + 0.5) / float64(steps)
		count(int((y+t*dy)/s.CellMM)*s.Columns+int((x+t*dx)/s.CellMM), share)
	}
}

// laid calls f for every stretch of thread on the face, with how much of it
// counts. A zigzag lays two threads where a fill lays one row: at the ordinary
// 0.4 mm a side it covers as a fill with rows of 0.4 mm does, so each of its
// stitches counts half. A stitch is of a zigzag when the needle turns back
// before it and after it.
func laid(moves []Move, f func(from, to *Move, counts float64)) {
	turned := false // before this stitch
	for i := 1; i < len(moves); i++ {
		if moves[i].Kind != Stitch || moves[i-1].Kind != Stitch {
			turned = false
			continue
		}
		turns := i+1 < len(moves) && moves[i+1].Kind == Stitch && turnsBack(&moves[i-1], &moves[i], &moves[i+1])
		counts := 1.0
		if turned && turns {
			counts = 0.5
		}
		f(&moves[i-1], &moves[i], counts)
		turned = turns
	}
}

// turnsBack tells whether the way from b to c lies sharper than 120° to that
// from a to b.
func turnsBack(a, b, c *Move) bool {
	x, y := float64(b.X-a.X), float64(b.Y-a.Y)
	nextX, nextY := float64(c.X-b.X), float64(c.Y-b.Y)
	dot := x*nextX + y*nextY
	return dot < 0 && 4*dot*dot > (x*x+y*y)*(nextX*nextX+nextY*nextY)
}

// Density measures the thread on the face of moves in cells. moves without a
// stretch of thread give an empty map.
func Density(moves []Move) DensityMap {
	s, ok := newSampler(moves)
	if !ok {
		return DensityMap{}
	}
	laid(moves, func(from, to *Move, counts float64) {
		s.along(from, to, func(cell int, share float64) { s.Coverage[cell] += counts * share })
	})
	return s.DensityMap
}

// Coverages are the mean coverage of a design, and of each of its stops alone,
// measured in one pass.
func Coverages(p *Pattern, stops []Stop) (whole float64, byStop []float64) {
	byStop = make([]float64, len(stops))
	s, ok := newSampler(p.Moves)
	if !ok {
		return 0, byStop
	}
	alone := make([]float64, len(s.Coverage))
	var touched []int
	for i, stop := range stops {
		touched = touched[:0]
		laid(stop.Moves, func(from, to *Move, counts float64) {
			s.along(from, to, func(cell int, share float64) {
				if alone[cell] == 0 {
					touched = append(touched, cell)
				}
				alone[cell] += counts * share
			})
		})
		sum, sewn := 0.0, 0
		for _, cell := range touched {
			if alone[cell] > grazed {
				sum, sewn = sum+alone[cell], sewn+1
			}
			s.Coverage[cell] += alone[cell]
			alone[cell] = 0
		}
		if sewn > 0 {
			byStop[i] = sum / float64(sewn)
		}
	}
	return s.Mean(), byStop
}

// Smoothed averages each cell with its neighbours, so that a picture of the
// map shows areas and not single rows of stitches.
func (m DensityMap) Smoothed() DensityMap {
	out := m
	out.Coverage = make([]float64, len(m.Coverage))
	for row := range m.Rows {
		for column := range m.Columns {
			sum, n := 0.0, 0
			for r := max(0, row-1); r <= min(m.Rows-1, row+1); r++ {
				for c := max(0, column-1); c <= min(m.Columns-1, column+1); c++ {
					sum, n = sum+m.Coverage[r*m.Columns+c], n+1
				}
			}
			out.Coverage[row*m.Columns+column] = sum / float64(n)
		}
	}
	return out
}

// grazed is the coverage under which a cell at the edge is not sewn, only
// touched.
const grazed = 0.05

// Mean is the coverage averaged over the cells that are sewn.
func (m DensityMap) Mean() float64 {
	sum, sewn := 0.0, 0
	for _, c := range m.Coverage {
		if c > grazed {
			sum += c
			sewn++
		}
	}
	if sewn == 0 {
		return 0
	}
	return sum / float64(sewn)
}

// Class of a coverage: under 0.6 open, to 1.4 medium, to 2.2 dense (handbook,
// Designs).
func Class(coverage float64) DensityClass {
	switch {
	case coverage < 0.6:
		return Open
	case coverage <= 1.4:
		return Medium
	case coverage <= 2.2:
		return Dense
	}
	return TooDense
}

// Lengths tells of stitches that are hard to sew.
type Lengths struct {
	// Short counts stitches under ShortMM, Long those over LongMM.
	Short, Long int
	// NarrowestSatinMM is the width that all but the narrowest twentieth of
	// the satin reaches; 0 where there is no satin.
	NarrowestSatinMM float64
}

// LengthsOf looks at every stitch of an analysis. Satin is measured where it is
// sewn, also as a detail in a stop that is mostly something else.
func LengthsOf(a Analysis) Lengths {
	var l Lengths
	var widths []float64
	for _, s := range a.Stops {
		eachStitch(s.Moves, func(from, to *Move) {
			switch length := gap(*from, *to); {
			case length < ShortMM:
				l.Short++
			case length > LongMM:
				l.Long++
			}
		})
		if s.Role == Satin || s.Role == Cover {
			widths = append(widths, satinWidths(s.Moves)...)
			continue
		}
		for _, line := range clusters(s.Moves) {
			widths = append(widths, detailWidths(line)...)
		}
	}
	if len(widths) > 0 {
		slices.Sort(widths)
		l.NarrowestSatinMM = widths[len(widths)/20]
	}
	return l
}

// satinWidths are the lengths of stitches that turn back on the one before.
func satinWidths(moves []Move) []float64 {
	var widths []float64
	var before *Move
	var lastDX, lastDY, lastLength float64
	eachStitch(moves, func(from, to *Move) {
		dx, dy := float64(to.X-from.X)/10, float64(to.Y-from.Y)/10
		length := math.Hypot(dx, dy)
		if from == before && dx*lastDX+dy*lastDY < -0.5*length*lastLength && length > 2*ShortMM {
			widths = append(widths, length)
		}
		before, lastDX, lastDY, lastLength = to, dx, dy, length
	})
	return widths
}

// detailWidths are the satin widths in a line that is not all satin: of those
// stretches of it in which nearly every stitch turns back, and lies across the
// way.
func detailWidths(line []Move) []float64 {
	const stretch, turning, lying = 24, 0.8, 0.7
	var widths []float64
	for from := 0; from+stretch <= len(line); from += stretch {
		part := line[from : from+stretch]
		back := satinWidths(part)
		if over, stride := across(part); float64(len(back)) >= turning*(stretch-2) && over >= lying && stride < satinStride {
			widths = append(widths, back...)
		}
	}
	return widths
}
