// Package stitch holds an embroidery design as the machine sews it: one list
// of moves of a needle, cut into stops by thread changes. Designs are read
// and written by the format packages below this one, which register
// themselves here the way image formats do with package image:
//
//	import _ "chalkstep/core/stitch/dst"
//
//	pattern, format, err := stitch.Decode("buoy.dst", data)
//
// Counts are tenths of a millimetre, x to the right and y up, whatever way
// the file runs; [Analyse] speaks in millimetres.
package stitch

import (
	"fmt"
	"math"
)

// A Kind says what a Move does.
type Kind uint8

const (
	// Stitch is a penetration of the needle.
	Stitch Kind = iota
	// Jump moves without a penetration.
	Jump
	// Trim cuts the thread; its position is where the needle stands.
	Trim
	// Change halts for another thread. Some formats move while changing.
	Change
)

func (k Kind) String() string {
	return [...]string{"stitch", "jump", "trim", "change"}[k]
}

// A Move takes the needle to (X, Y), in tenths of a millimetre from the
// point where the file starts.
type Move struct {
	X, Y int32
	Kind Kind
}

// RGB is a thread colour.
type RGB struct{ R, G, B uint8 }

// String prints the colour as #rrggbb.
func (c RGB) String() string { return fmt.Sprintf("#%02x%02x%02x", c.R, c.G, c.B) }

// ParseRGB reads #rrggbb.
func ParseRGB(text string) (RGB, error) {
	var c RGB
	if n, err := fmt.Sscanf(text, "#%02x%02x%02x", &c.R, &c.G, &c.B); err != nil || n != 3 || len(text) != 7 {
		return RGB{}, fmt.Errorf("reading the colour %q: expected # and six hexadecimal digits, such as #1f6f5c", text)
	}
	return c, nil
}

// A Pattern is one design. The zero value is an empty one.
type Pattern struct {
	Name string
	// Moves in sewing order. An end mark is not a move.
	Moves []Move
	// Colors holds a colour for each stop, and is empty where the file has none.
	Colors []RGB
	// Warnings tell what was wrong with the file but did not stop it being read.
	Warnings []string
}

// Limits of a file, so that a hostile one costs little (see the file formats
// page in docs).
const (
	MaxBytes = 32 << 20
	MaxMoves = 2_000_000
	// MaxChanges is more than ten times what a header of these formats can count.
	MaxChanges = 10_000
	// MaxReach is how far from its start a design may lie: 2 m in tenths of a millimetre.
	MaxReach = 20_000
)

// Bounds is a rectangle in millimetres, y up. Its zero value holds nothing.
type Bounds struct{ Left, Bottom, Right, Top float64 }

// Width in millimetres.
func (b Bounds) Width() float64 { return b.Right - b.Left }

// Height in millimetres.
func (b Bounds) Height() float64 { return b.Top - b.Bottom }

// Extent is the box around the needle penetrations of moves, in tenths of a
// millimetre; ok is false when there are none.
func Extent(moves []Move) (left, bottom, right, top int32, ok bool) {
	left, bottom, right, top = math.MaxInt32, math.MaxInt32, math.MinInt32, math.MinInt32
	for _, m := range moves {
		if m.Kind != Stitch {
			continue
		}
		ok = true
		left, right = min(left, m.X), max(right, m.X)
		bottom, top = min(bottom, m.Y), max(top, m.Y)
	}
	return left, bottom, right, top, ok
}
