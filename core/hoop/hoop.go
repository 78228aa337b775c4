// Package hoop decides whether a design fits a hoop's field, which way round,
// and how much room is left to move it.
package hoop

import "chalkstep/core/say"

// BasteMarginMM is the room a basting line takes on each side of a design
// (handbook, Designs).
const BasteMarginMM = 5

// GarmentNudgeMM is the nudge room under which a garment is better served by
// the next hoop up (handbook, two schools on hoop size).
const GarmentNudgeMM = 10

// A Field is the area the needle may reach, in millimetres.
type Field struct{ WidthMM, HeightMM float64 }

// A Fit is how a design lies in a field.
type Fit struct {
	// Turn is 0 or 90 degrees.
	Turn int
	// NudgeXMM and NudgeYMM are how far the design can move each way from the
	// centre of the field.
	NudgeXMM, NudgeYMM float64
}

// Into fits a design of the given extents, plus marginMM a side, into a
// field: upright when it can be, else turned by 90°. When it does not fit,
// the error says by how much.
func Into(field Field, widthMM, heightMM, marginMM float64) (Fit, error) {
	w, h := widthMM+2*marginMM, heightMM+2*marginMM
	if w <= field.WidthMM && h <= field.HeightMM {
		return Fit{0, (field.WidthMM - w) / 2, (field.HeightMM - h) / 2}, nil
	}
	if h <= field.WidthMM && w <= field.HeightMM {
		return Fit{90, (field.WidthMM - h) / 2, (field.HeightMM - w) / 2}, nil
	}
	return Fit{}, tooBig(field, w, h)
}

// tooBig says what is missing at the turn that comes nearer to fitting.
func tooBig(field Field, w, h float64) error {
	overX, overY := max(0, w-field.WidthMM), max(0, h-field.HeightMM)
	if turnedX, turnedY := max(0, h-field.WidthMM), max(0, w-field.HeightMM); turnedX+turnedY < overX+overY {
		overX, overY = turnedX, turnedY
	}
	return missing(overX, overY)
}

// missing says what a field lacks.
func missing(overX, overY float64) error {
	switch {
	case overX > 0 && overY > 0:
		return say.Errorf("too wide by %s and too tall by %s", up(overX), up(overY))
	case overX > 0:
		return say.Errorf("too wide by %s", up(overX))
	}
	return say.Errorf("too tall by %s", up(overY))
}

// up keeps a miss of a fraction of a millimetre from reading as none.
func up(mm float64) say.MM { return say.MM(max(1, mm)) }

// A School is how a workshop chooses among hoops that all fit.
type School string

// The two schools on hoop size, and the handbook's way between them.
const (
	Snug    School = "snug"     // the smallest that fits: the fabric is held tightest
	Roomy   School = "roomy"    // the next size up: slack for placement
	ByBlank School = "by-blank" // snug for flat goods, roomy for garments short of nudge room
)

// Choose picks from fields the one to use, and returns its index and the
// fit. ok is false when none fits. Fields of equal area keep their order.
func Choose(fields []Field, widthMM, heightMM, marginMM float64, school School, garment bool) (index int, fit Fit,
	ok bool) {
	first, second := -1, -1
	for i, f := range fields {
		if _, err := Into(f, widthMM, heightMM, marginMM); err != nil {
			continue
		}
		switch {
		case first < 0 || area(f) < area(fields[first]):
			first, second = i, first
		case area(f) > area(fields[first]) && (second < 0 || area(f) < area(fields[second])):
			second = i
		}
	}
	if first < 0 {
		return 0, Fit{}, false
	}
	fit, _ = Into(fields[first], widthMM, heightMM, marginMM)
	tight := min(fit.NudgeXMM, fit.NudgeYMM) < GarmentNudgeMM
	if second >= 0 && (school == Roomy || school == ByBlank && garment && tight) {
		fit, _ = Into(fields[second], widthMM, heightMM, marginMM)
		return second, fit, true
	}
	return first, fit, true
}

func area(f Field) float64 { return f.WidthMM * f.HeightMM }
