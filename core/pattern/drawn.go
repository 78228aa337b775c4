package pattern

import (
	"math"

	"chalkstep/core/say"
)

// A Kind of piece can be drawn from a few measures.
type Kind string

// The kinds of piece.
const (
	Yoke     Kind = "yoke"
	Pocket   Kind = "pocket"
	Flap     Kind = "flap"
	Cuff     Kind = "cuff"
	Stocking Kind = "stocking"
)

// Kinds in the order in which a page offers them.
var Kinds = []Kind{Yoke, Pocket, Flap, Cuff, Stocking}

// Measures of a piece, in millimetres, cut line to cut line. Third is what the
// kind has beside width and height: how deep the neck of a yoke is, the point of
// a pocket or a flap, the rounding of a cuff, the height of a stocking's foot.
type Measures struct{ WidthMM, HeightMM, ThirdMM float64 }

// Third says what the third measure of a kind is.
func (k Kind) Third() say.Word {
	switch k {
	case Yoke:
		return "depth of the neck"
	case Pocket, Flap:
		return "depth of the point"
	case Cuff:
		return "rounding of the corners"
	case Stocking:
		return "height of the foot"
	}
	return ""
}

// Usual measures of a kind: starting points of ours.
func (k Kind) Usual() Measures {
	switch k {
	case Yoke:
		return Measures{420, 160, 45}
	case Pocket:
		return Measures{140, 160, 20}
	case Flap:
		return Measures{140, 70, 25}
	case Cuff:
		return Measures{260, 90, 15}
	}
	return Measures{280, 420, 130}
}

// Drawn draws a piece from its measures; an error says which is wrong.
func Drawn(k Kind, m Measures) (Piece, error) {
	w, h, t := m.WidthMM/2, m.HeightMM, m.ThirdMM
	if !(w > 0 && h > 0 && t >= 0 && m.WidthMM <= mostMM && h <= mostMM) {
		return Piece{}, say.Errorf("write width, height and the %s in millimetres", k.Third())
	}
	if t >= h || k == Cuff && t > min(w, h/2) {
		return Piece{}, say.Errorf("the %s, %s, is too much for a %s of %s", k.Third(), say.MM(t), say.Word(k),
			say.Size{m.WidthMM, h})
	}
	switch k {
	case Yoke:
		neck := w * 0.42
		loop := [][2]float64{{-neck, 0}}
		for i := 1; i < curveSteps; i++ {
			angle := math.Pi * float64(i) / curveSteps
			loop = append(loop, [2]float64{-neck * math.Cos(angle), t * math.Sin(angle)})
		}
		return newPiece(append(loop, [2]float64{neck, 0}, [2]float64{w, h * 0.22}, [2]float64{w * 0.94, h},
			[2]float64{-w * 0.94, h}, [2]float64{-w, h * 0.22}))
	case Pocket, Flap:
		return newPiece([][2]float64{{-w, 0}, {w, 0}, {w, h - t}, {0, h}, {-w, h - t}})
	case Cuff:
		var loop [][2]float64
		for corner, at := range [][2]float64{{w - t, t}, {w - t, h - t}, {-w + t, h - t}, {-w + t, t}} {
			for i := range 9 {
				sin, cos := math.Sincos(math.Pi/2*(float64(corner)-1) + math.Pi/2*float64(i)/8)
				loop = append(loop, [2]float64{at[0] + t*cos, at[1] + t*sin})
			}
		}
		return newPiece(loop)
	case Stocking:
		leg := w * 0.62
		loop := [][2]float64{{-w, 0}, {-w + 2*leg, 0}, {-w + 2*leg, h - t}}
		toe := t / 2
		for i := range curveSteps + 1 { // round the toe
			sin, cos := math.Sincos(-math.Pi/2 + math.Pi*float64(i)/curveSteps)
			loop = append(loop, [2]float64{w - toe + toe*cos, h - toe + toe*sin})
		}
		for i := range curveSteps + 1 { // and the heel
			sin, cos := math.Sincos(math.Pi/2 + math.Pi/2*float64(i)/curveSteps)
			loop = append(loop, [2]float64{-w + toe + toe*cos, h - toe + toe*sin})
		}
		return newPiece(loop)
	}
	return Piece{}, say.Errorf("no piece is called “%s”", string(k))
}
