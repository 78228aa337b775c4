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

// grown adds to a region all that lies within offsetMM of it: beside its edges
// strips, and about each corner that stands out a part of a circle.
func grown(r region, offsetMM float64) (region, error) {
	parts := []region{r}
	for _, loop := range rings(r) {
		parts = append(parts, beside(filledUp(loop, offsetMM), offsetMM)...)
	}
	return joined(parts, geom.Union)
}

// filledUp is a long and ragged loop without those of its inward corners that an
// offset so wide fills up all but this much.
func filledUp(loop [][2]float64, offsetMM float64) [][2]float64 {
	const dip = 0.12
	if len(loop) <= fineEdges/2 {
		return loop
	}
	points := slices.Clone(loop)
	for before := 0; before != len(points); {
		before = len(points)
		kept := points[:1]
		for i := 1; i < before-1; i++ {
			a, p, b := kept[len(kept)-1], points[i], points[i+1]
			chord := distance(a, b)
			inward := (p[0]-a[0])*(b[1]-a[1])-(p[1]-a[1])*(b[0]-a[0]) < 0
			depth := toEdge(p, a, b)
			if half := chord / 2; half < offsetMM {
				depth = min(depth, offsetMM-math.Sqrt(offsetMM*offsetMM-half*half))
			}
			if !inward || depth > dip {
				kept = append(kept, p)
			}
		}
		points = append(kept, points[before-1])
	}
	return points
}

// mostOfBand edges of a loop are offset in one: more of them turn back on
// themselves sooner than a few.
const mostOfBand = 32

// beside are bands along the right of a loop, so wide: each along as many edges
// as lie so that their offset does not cross itself, for fewer and larger parts
// are joined sooner.
func beside(loop [][2]float64, width float64) []region {
	var parts []region
	for from := 0; from < len(loop); {
		to := min(len(loop), from+mostOfBand)
		for to > from {
			band, until := bandBeside(loop, from, to, width)
			if until == from {
				until++ // an edge of no length has nothing beside it
			} else if p := polygon(band); p.Validate() == nil {
				parts = append(parts, p.AsGeometry())
			} else if until > from+1 {
				to = from + (until-from)/2
				continue
			}
			to = until
			break
		}
		from = to
	}
	return parts
}

// bandBeside lies to the right of the edges of a loop from one to before another,
// and turns about the last corner; it ends before an inward corner that would
// leave an edge no length.
func bandBeside(loop [][2]float64, from, to int, width float64) (band [][2]float64, until int) {
	at := func(i int) [2]float64 { return loop[i%len(loop)] }
	across := func(i int) float64 {
		a, b := at(i), at(i+1)
		return math.Atan2(b[1]-a[1], b[0]-a[0]) - math.Pi/2
	}
	side := func(p [2]float64, angle float64) [2]float64 {
		return [2]float64{p[0] + width*math.Cos(angle), p[1] + width*math.Sin(angle)}
	}
	var inner, outer [][2]float64
	lost := 0.0 // of the edge, at its inward corners
	for i := from; i < to; i++ {
		angle := across(i)
		inner = append(inner, at(i))
		if i == from {
			outer = append(outer, side(at(i), angle))
		}
		length := distance(at(i), at(i+1))
		if length == 0 {
			if i == from {
				return nil, from
			}
			to = i
			break
		}
		turn := math.Remainder(across(i+1)-angle, 2*math.Pi)
		// The two offset edges of an inward corner meet before their ends.
		if short := width * math.Tan(-turn/2); turn < 0 && i < to-1 && lost+short < length &&
			short < distance(at(i+1), at(i+2)) {
			lost = short
			reach := width / math.Cos(turn/2)
			middle := angle + turn/2
			outer = append(outer, [2]float64{at(i + 1)[0] + reach*math.Cos(middle), at(i + 1)[1] + reach*math.Sin(middle)})
			continue
		}
		if turn < 0 && i < to-1 {
			to = i + 1
		}
		lost = 0
		outer = append(outer, side(at(i+1), angle))
		steps := math.Ceil(turn / (2 * math.Acos(max(0, 1-arcTolerance/width))))
		for n := 1.0; n <= steps; n++ {
			outer = append(outer, side(at(i+1), angle+turn*n/steps))
		}
	}
	inner = append(inner, at(to))
	slices.Reverse(outer)
	return append(inner, outer...), to
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
	for within := straightest; within <= straight && (within == straightest || len(points) > fineEdges); within *= 2 {
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
