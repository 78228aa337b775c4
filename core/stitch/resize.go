package stitch

import (
	"math"

	"chalkstep/core/say"
)

// Steps and limits of resizing on a machine, in per cent (handbook, Designs).
const (
	ResizeStep   = 5
	ResizeLowest = 80
	ResizeMost   = 120
)

// CheckPercent tells whether a machine offers a size.
func CheckPercent(percent int) error {
	if percent < ResizeLowest || percent > ResizeMost || percent%ResizeStep != 0 {
		return say.Errorf("%s: a machine resizes from %s to %s in steps of %s", say.Percent(percent),
			say.Percent(ResizeLowest), say.Percent(ResizeMost), say.Count(ResizeStep))
	}
	return nil
}

// Resized moves the stitches of a pattern apart or together about its start,
// as a machine does: nothing is recomputed, so there are as many of them.
func Resized(p *Pattern, percent int) *Pattern {
	out := *p
	out.Moves = make([]Move, len(p.Moves))
	scale := float64(percent) / 100
	for i, m := range p.Moves {
		out.Moves[i] = Move{int32(math.Round(float64(m.X) * scale)), int32(math.Round(float64(m.Y) * scale)), m.Kind}
	}
	return &out
}

// ResizedCoverage is the density after resizing: the same stitches share an
// area that changes with the square of the scale (handbook, Designs).
func ResizedCoverage(coverage float64, percent int) float64 {
	scale := float64(percent) / 100
	return coverage / (scale * scale)
}

// A Lock says why a design is not to be resized.
type Lock struct{ What, Because say.Text }

// What is about to be too small: satin and lettering, in millimetres.
const (
	leastSatinMM     = 1.5
	nearLeastSatinMM = 1.6
	leastLetteringMM = 6
)

// A Traits value is what of a design decides whether it may be resized.
type Traits struct {
	// NarrowestSatinMM and LetteringMM are 0 where there is none.
	NarrowestSatinMM, LetteringMM float64
	// Applique tells that fabric pieces are cut to the design's lines, Film
	// that film is laid under an open fill.
	Applique, Film bool
}

// Locks lists why a design of these traits should not be sewn at a size; at
// 100 % nothing is locked.
func (t Traits) Locks(percent int) []Lock {
	if percent == 100 {
		return nil
	}
	var locks []Lock
	scale := float64(percent) / 100
	if t.Film {
		locks = append(locks,
			Lock{say.T("film overlay"),
				say.T("the open fill is made for one size, and shows the film through gaps of that size")})
	}
	if t.Applique {
		locks = append(locks,
			Lock{say.T("appliqué pieces"),
				say.T("pieces are cut to the placement line as it is: resized, the cover misses their edges")})
	}
	if w := t.NarrowestSatinMM; w > 0 && (w <= nearLeastSatinMM || w*scale < leastSatinMM) {
		locks = append(locks,
			Lock{say.T("narrow satin"),
				say.T("its narrowest satin is %s and would be %s; under %s thread piles up in the needle's hole", say.Fine(w),
					say.Fine(w*scale), say.Fine(leastSatinMM))})
	}
	if h := t.LetteringMM; h > 0 && (h < leastLetteringMM || h*scale < leastLetteringMM) {
		locks = append(locks,
			Lock{say.T("small lettering"),
				say.T("its shortest lettering is %s and would be %s; under %s letters close up", say.Fine(h), say.Fine(h*scale),
					say.MM(leastLetteringMM))})
	}
	return locks
}

// QuarterTurned is a pattern turned by 90° counter-clockwise about its start,
// as a design lies that was turned to fit its hoop.
func QuarterTurned(p *Pattern) *Pattern {
	out := *p
	out.Moves = make([]Move, len(p.Moves))
	for i, m := range p.Moves {
		out.Moves[i] = Move{-m.Y, m.X, m.Kind}
	}
	return &out
}
