package hoop

import (
	"slices"
	"strconv"

	"chalkstep/core/say"
)

// A Placing is where a design is wanted in a field: its turn and its middle
// from the field's middle, in millimetres, y up.
type Placing struct {
	Turn int
	X, Y float64
}

// A Placed design lies wholly inside its field.
type Placed struct {
	Placing
	// Nudge is how far the middle may go each way from the field's middle.
	NudgeXMM, NudgeYMM float64
	// Corners of the design, basting included, from the field's middle: what
	// the needle passes when it traces the outline, clockwise from top left.
	Corners [4]Point
	// HeldBack tells that the wish lay outside the nudge room, and was moved
	// to its edge.
	HeldBack bool
}

// Left, right, up and down: the room still left to move, in millimetres.
func (p Placed) RoomMM() (left, right, up, down float64) {
	return p.NudgeXMM + p.X, p.NudgeXMM - p.X, p.NudgeYMM - p.Y, p.NudgeYMM + p.Y
}

// Place puts a design of the given extents, plus marginMM a side, into a
// field at the turn that is wanted, as near to the wished place as it fits.
// When it does not fit at that turn, the error says by how much.
func Place(field Field, widthMM, heightMM, marginMM float64, want Placing) (Placed, error) {
	w, h := widthMM+2*marginMM, heightMM+2*marginMM
	switch want.Turn {
	case 0:
	case 90:
		w, h = h, w
	default:
		return Placed{}, say.Errorf("turned by %s°: expected 0 or 90", strconv.Itoa(want.Turn))
	}
	if overX, overY := w-field.WidthMM, h-field.HeightMM; overX > 0 || overY > 0 {
		return Placed{}, missing(max(0, overX), max(0, overY))
	}
	p := Placed{NudgeXMM: (field.WidthMM - w) / 2, NudgeYMM: (field.HeightMM - h) / 2}
	p.Placing = Placing{want.Turn, clamp(want.X, p.NudgeXMM), clamp(want.Y, p.NudgeYMM)}
	p.HeldBack = p.Placing != want
	left, right, top, bottom := p.X-w/2, p.X+w/2, p.Y+h/2, p.Y-h/2
	p.Corners = [4]Point{{left, top}, {right, top}, {right, bottom}, {left, bottom}}
	return p, nil
}

func clamp(v, most float64) float64 { return max(-most, min(most, v)) }

// Snaps are the places a design can be sent to at once.
var Snaps = []string{"top left", "top", "top right", "left", "centre", "right", "bottom left", "bottom", "bottom right"}

// Snap is the place of a name for a design that is placed already.
func (p Placed) Snap(name string) (Placing, error) {
	i := slices.Index(Snaps, name)
	if i < 0 {
		return Placing{}, say.Errorf("“%s” is no place to snap to", name)
	}
	return Placing{p.Turn, float64(i%3-1) * p.NudgeXMM, float64(1-i/3) * p.NudgeYMM}, nil
}
