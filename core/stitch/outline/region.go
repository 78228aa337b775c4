package outline

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"github.com/peterstace/simplefeatures/geom"
)

// A region is what loops enclose, of any number of parts with holes, in
// millimetres.
type region = geom.Geometry

// regionOf is what loops enclose together: a loop that lies inside another is a
// hole in it, whichever way either was sewn, and loops that overlap are one.
func regionOf(loops [][][2]float64) (region, error) {
	const touch = 0.02 // of the smaller loop's area, which is no overlap
	order := slices.Clone(loops)
	slices.SortStableFunc(order, func(a, b [][2]float64) int { return cmp.Compare(math.Abs(area(b)), math.Abs(area(a))) })
	var all region
	for _, loop := range order {
		part, err := enclosed(loop)
		if err != nil {
			return region{}, err
		}
		shared, err := surely(geom.Intersection, all, part)
		if err != nil {
			return region{}, fmt.Errorf("looking where outlines overlap: %w", err)
		}
		put := geom.Union
		if shared.Area() >= (1-touch)*part.Area() {
			put = geom.Difference
		}
		if all, err = surely(put, all, part); err != nil {
			return region{}, fmt.Errorf("putting outlines together: %w", err)
		}
	}
	return all, nil
}

// enclosed is what a loop encloses by the even-odd rule, also where it crosses
// itself: then it is put together of the triangles between its first point and
// its edges, each of which turns inside to outside and back.
func enclosed(loop [][2]float64) (region, error) {
	if whole := polygon(loop); whole.Validate() == nil {
		return whole.AsGeometry(), nil
	}
	var triangles []region
	for i := 1; i < len(loop)-1; i++ {
		t := [][2]float64{loop[0], loop[i], loop[i+1]}
		if math.Abs(area(t)) > 1e-9 {
			triangles = append(triangles, polygon(t).AsGeometry())
		}
	}
	return joined(triangles, geom.SymmetricDifference)
}

// grown adds to a region all that lies within offsetMM of it: beside each edge
// a strip, and about each corner that stands out a part of a circle.
func grown(r region, offsetMM float64) (region, error) {
	parts := []region{r}
	for _, loop := range rings(r) {
		for i := range loop {
			strip := stripBeside(loop[i], loop[(i+1)%len(loop)], loop[(i+2)%len(loop)], offsetMM)
			if p := polygon(strip); p.Validate() == nil {
				parts = append(parts, p.AsGeometry())
			}
		}
	}
	return joined(parts, geom.Union)
}

// stripBeside lies to the right of the edge from a to b, and turns about b
// towards c where that is a turn to the left.
func stripBeside(a, b, c [2]float64, width float64) [][2]float64 {
	beside := func(p [2]float64, angle float64) [2]float64 {
		return [2]float64{p[0] + width*math.Cos(angle), p[1] + width*math.Sin(angle)}
	}
	across := math.Atan2(b[1]-a[1], b[0]-a[0]) - math.Pi/2
	turn := math.Remainder(math.Atan2(c[1]-b[1], c[0]-b[0])-math.Pi/2-across, 2*math.Pi)
	strip := [][2]float64{b, a, beside(a, across), beside(b, across)}
	steps := math.Ceil(turn / (2 * math.Acos(max(0, 1-arcTolerance/width))))
	for i := 1.0; i <= steps; i++ {
		strip = append(strip, beside(b, across+turn*i/steps))
	}
	return strip
}

// joined puts regions together two by two, neighbours first.
func joined(parts []region, join func(a, b region) (region, error)) (region, error) {
	switch len(parts) {
	case 0:
		return region{}, nil
	case 1:
		return parts[0], nil
	}
	left, err := joined(parts[:len(parts)/2], join)
	if err != nil {
		return region{}, err
	}
	right, err := joined(parts[len(parts)/2:], join)
	if err != nil {
		return region{}, err
	}
	both, err := surely(join, left, right)
	if err != nil {
		return region{}, fmt.Errorf("joining outlines: %w", err)
	}
	return both, nil
}

// surely puts two regions together also where lines lie so nearly on each other
// that rounding leads the joining astray: then both are put on a grid first, of a
// hundred-thousandth of a millimetre and, if need be, of more.
func surely(join func(a, b region) (region, error), a, b region) (region, error) {
	both, err := join(a, b)
	for places := 5; err != nil && places >= 2; places-- {
		both, err = join(a.SnapToGrid(places), b.SnapToGrid(places))
	}
	return both, err
}

func polygon(loop [][2]float64) geom.Polygon {
	flat := make([]float64, 0, 2*len(loop)+2)
	for _, p := range loop {
		flat = append(flat, p[0], p[1])
	}
	flat = append(flat, loop[0][0], loop[0][1])
	return geom.NewPolygon([]geom.LineString{geom.NewLineString(geom.NewSequence(flat, geom.DimXY))})
}

// straightened is a loop without the points that lie on the line between others,
// as near as a file can tell; in a long and ragged one, as near as is cut.
func straightened(loop [][2]float64) [][2]float64 {
	points := loop
	for within := straightest; within <= straight && (within == straightest || len(points) > fineEdges); within *= 1.5 {
		points = simplified(points, within)
	}
	return points
}

// simplified leaves out points that lie within a distance of the line between
// those that stay, after Douglas and Peucker.
func simplified(line [][2]float64, withinMM float64) [][2]float64 {
	stays := make([]bool, len(line))
	stays[0], stays[len(line)-1] = true, true
	for stretches := [][2]int{{0, len(line) - 1}}; len(stretches) > 0; {
		from, to := stretches[len(stretches)-1][0], stretches[len(stretches)-1][1]
		stretches = stretches[:len(stretches)-1]
		farthest, away := from, withinMM
		for i := from + 1; i < to; i++ {
			if d := toEdge(line[i], line[from], line[to]); d > away {
				farthest, away = i, d
			}
		}
		if farthest > from {
			stays[farthest] = true
			stretches = append(stretches, [2]int{from, farthest}, [2]int{farthest, to})
		}
	}
	var points [][2]float64
	for i, p := range line {
		if stays[i] {
			points = append(points, p)
		}
	}
	return points
}

// leastRingMM2 is what no cutter cuts out: such rings are where rounding leaves
// a gap between parts that meet.
const leastRingMM2 = 0.02

// rings are the edges of a region: outlines counter-clockwise, holes clockwise.
func rings(r region) [][][2]float64 {
	var all [][][2]float64
	for _, part := range r.Dump() {
		if !part.IsPolygon() {
			continue
		}
		for _, ring := range part.MustAsPolygon().ForceCCW().DumpRings() {
			points := ring.Coordinates()
			loop := make([][2]float64, points.Length()-1)
			for i := range loop {
				p := points.GetXY(i)
				loop[i] = [2]float64{p.X, p.Y}
			}
			if math.Abs(area(loop)) >= leastRingMM2 {
				all = append(all, loop)
			}
		}
	}
	return all
}
