package stitch

import (
	"cmp"
	"slices"
)

// Hull is the convex outline of all penetrations, counter-clockwise, in
// millimetres from the design's centre, y up.
func (a Analysis) Hull() [][2]float64 {
	var points []Move
	for _, s := range a.Stops {
		for _, m := range s.Moves {
			if m.Kind == Stitch {
				points = append(points, Move{X: m.X, Y: m.Y})
			}
		}
	}
	slices.SortFunc(points, func(p, q Move) int { return cmp.Or(cmp.Compare(p.X, q.X), cmp.Compare(p.Y, q.Y)) })
	points = slices.Compact(points)
	half := halfHull(points)
	slices.Reverse(points)
	var out [][2]float64
	for _, side := range [][]Move{half, halfHull(points)} {
		for _, p := range side[:max(1, len(side)-1)] {
			out = append(out, [2]float64{(float64(p.X) - a.CentreX) / 10, (float64(p.Y) - a.CentreY) / 10})
		}
	}
	return out
}

// halfHull keeps, of points in order, those on the right-hand side of the way.
func halfHull(points []Move) []Move {
	var hull []Move
	for _, p := range points {
		for len(hull) >= 2 && cross(hull[len(hull)-2], hull[len(hull)-1], p) <= 0 {
			hull = hull[:len(hull)-1]
		}
		hull = append(hull, p)
	}
	return hull
}

func cross(o, a, b Move) int64 {
	return int64(a.X-o.X)*int64(b.Y-o.Y) - int64(a.Y-o.Y)*int64(b.X-o.X)
}
