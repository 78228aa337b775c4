package outline

import (
	"fmt"
	"math"

	"github.com/peterstace/simplefeatures/geom"
)

// A region is what loops enclose, of any number of parts with holes, in
// millimetres.
type region = geom.Geometry

// regionOf is what loops enclose by the even-odd rule: a loop inside another is
// a hole, whichever way either was sewn.
func regionOf(loops [][][2]float64) (region, error) {
	parts := make([]region, len(loops))
	for i, loop := range loops {
		var err error
		if parts[i], err = enclosed(loop); err != nil {
			return region{}, err
		}
	}
	return joined(parts, geom.SymmetricDifference)
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
	both, err := join(left, right)
	if err != nil {
		return region{}, fmt.Errorf("joining outlines: %w", err)
	}
	return both, nil
}

func polygon(loop [][2]float64) geom.Polygon {
	flat := make([]float64, 0, 2*len(loop)+2)
	for _, p := range loop {
		flat = append(flat, p[0], p[1])
	}
	flat = append(flat, loop[0][0], loop[0][1])
	return geom.NewPolygon([]geom.LineString{geom.NewLineString(geom.NewSequence(flat, geom.DimXY))})
}

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
			all = append(all, loop)
		}
	}
	return all
}
