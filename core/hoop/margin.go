package hoop

import (
	"math"

	"chalkstep/core/say"
)

// A Blank is a pre-cut shape that a design is placed in the middle of.
type Blank struct {
	WidthMM, HeightMM float64
	// Round is an ellipse; else it is a rectangle.
	Round bool
}

// Margins is what is left between a design and the edge of a pre-cut shape,
// in millimetres; below 0 the design pokes out.
type Margins struct {
	Left, Right, Top, Bottom float64
	// Least is the nearest the design comes to the edge anywhere.
	Least float64
}

// EvenWithinMM is by how much the margins of a shape may differ before the
// eye sees it.
const EvenWithinMM = 2

// Even tells whether the margin is the same all round, as near as the eye
// sees, and nothing pokes out.
func (m Margins) Even() bool {
	least, most := min(m.Left, m.Right, m.Top, m.Bottom), max(m.Left, m.Right, m.Top, m.Bottom)
	return m.Least >= 0 && most-least <= EvenWithinMM
}

// PokesOutMM is by how much the design pokes out of the shape at most.
func (m Margins) PokesOutMM() float64 { return max(0, -m.Least) }

// MarginsIn measures a design in the middle of a pre-cut shape. hull are the
// design's outermost points from its middle.
func MarginsIn(shape Blank, hull []Point) (Margins, error) {
	if len(hull) == 0 || !(shape.WidthMM > 0 && shape.HeightMM > 0) {
		return Margins{}, say.Errorf("a shape of %s around %s: expected a shape with a size and a design",
			say.Size{shape.WidthMM, shape.HeightMM}, say.N{N: len(hull), Noun: "point"})
	}
	left, bottom, right, top := math.Inf(1), math.Inf(1), math.Inf(-1), math.Inf(-1)
	least := math.Inf(1)
	for _, p := range hull {
		left, right, bottom, top = min(left, p.X), max(right, p.X), min(bottom, p.Y), max(top, p.Y)
		least = min(least, shape.inside(p))
	}
	return Margins{left + shape.WidthMM/2, shape.WidthMM/2 - right, shape.HeightMM/2 - top, bottom + shape.HeightMM/2,
		least}, nil
}

// inside is how far a point lies inside the shape's edge, below 0 outside.
func (b Blank) inside(p Point) float64 {
	if !b.Round {
		return min(b.WidthMM/2-math.Abs(p.X), b.HeightMM/2-math.Abs(p.Y))
	}
	rx, ry := b.WidthMM/2, b.HeightMM/2
	nearest := math.Inf(1)
	for degree := range 720 {
		sin, cos := math.Sincos(float64(degree) * math.Pi / 360)
		nearest = min(nearest, math.Hypot(p.X-rx*cos, p.Y-ry*sin))
	}
	if p.X*p.X/(rx*rx)+p.Y*p.Y/(ry*ry) > 1 {
		return -nearest
	}
	return nearest
}
