// Package thread compares thread colours as the eye does, so that what is on
// the shelf can stand in for what a design asks for.
package thread

import (
	"github.com/lucasb-eyer/go-colorful"

	"chalkstep/core/say"
	"chalkstep/core/stitch"
)

// Difference is the CIEDE2000 colour difference: under 1 is not seen, under 3
// hardly, over 10 is another colour.
func Difference(a, b stitch.RGB) float64 {
	// The library counts lightness from 0 to 1, the formula from 0 to 100.
	return 100 * inLab(a).DistanceCIEDE2000(inLab(b))
}

func inLab(c stitch.RGB) colorful.Color {
	return colorful.Color{R: float64(c.R) / 255, G: float64(c.G) / 255, B: float64(c.B) / 255}
}

// Alike is a difference that few would notice on cloth.
const Alike = 5.0

// A Match is a thread of the shelf with its difference from the one wanted.
type Match struct {
	// Index of the thread among those given.
	Index      int
	Difference float64
}

// Say tells how much a difference is seen.
func (m Match) Say() say.Text {
	switch {
	case m.Difference < 1:
		return say.T("the same to the eye")
	case m.Difference < Alike:
		return say.T("hardly different")
	case m.Difference < 12:
		return say.T("a little different")
	}
	return say.T("another colour")
}
