package hoop

import "math"

// TurnInto looks for a turn other than 0° and 90° at which a design fits a
// field, since a blank can be hooped turned: the smallest, in whole degrees to
// the left, below 0 to the right. hull are the design's outermost points, in
// millimetres.
func TurnInto(field Field, hull []Point, marginMM float64) (degrees int, ok bool) {
	for turn := 1; turn < 90; turn++ {
		for _, degrees := range []int{turn, -turn} {
			w, h := extentAt(hull, float64(degrees))
			if w+2*marginMM <= field.WidthMM && h+2*marginMM <= field.HeightMM {
				return degrees, true
			}
		}
	}
	return 0, false
}

// extentAt is how wide and high points are once turned.
func extentAt(points []Point, degrees float64) (width, height float64) {
	sin, cos := math.Sincos(degrees * math.Pi / 180)
	left, bottom, right, top := math.Inf(1), math.Inf(1), math.Inf(-1), math.Inf(-1)
	for _, p := range points {
		x, y := p.X*cos-p.Y*sin, p.X*sin+p.Y*cos
		left, right, bottom, top = min(left, x), max(right, x), min(bottom, y), max(top, y)
	}
	return right - left, top - bottom
}

// RoundHull tells whether a design lies within the circle that its larger side
// spans about its middle.
func RoundHull(hull []Point, widthMM, heightMM float64) bool {
	farthest := 0.0
	for _, p := range hull {
		farthest = max(farthest, math.Hypot(p.X, p.Y))
	}
	const roughness = 0.3 // mm
	return len(hull) > 0 && farthest <= max(widthMM, heightMM)/2+roughness
}

// Points of a hull that is given as pairs.
func Points(hull [][2]float64) []Point {
	points := make([]Point, len(hull))
	for i, p := range hull {
		points[i] = Point{p[0], p[1]}
	}
	return points
}
