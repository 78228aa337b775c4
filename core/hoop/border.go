package hoop

import (
	"math"

	"chalkstep/core/say"
)

// MostSpreadMM is how much one repeat of a border may be drawn out or pushed
// together before it shows (handbook, Many at once).
const MostSpreadMM = 2

// Limits of a border that makes sense.
const (
	longestBorderMM = 100_000
	leastPitchMM    = 5
)

// A Border is a line longer than the hoop, sewn repeat by repeat.
type Border struct {
	LengthMM float64
	// Repeats are the whole ones; PartMM is the length of a part repeat that
	// ends the line, 0 where the error could be spread.
	Repeats int
	PartMM  float64
	// PitchMM is from one repeat to the next, after spreading; SpreadMM is
	// what each differs from the design's own pitch by.
	PitchMM, SpreadMM float64
	// Hoopings from left to right.
	Hoopings []BorderHooping
	// JoinsMM are the points, from the left end, where the end of one hooping
	// has to meet the start of the next.
	JoinsMM []float64
}

// A BorderHooping sews some of the repeats.
type BorderHooping struct {
	// Order counts from 1: the middle first, then outward.
	Order           int
	First, Last     int // repeats, counted from 1 at the left; a part repeat counts
	FromMM, ToMM    float64
	WholeRepeats    int
	EndsOnPart      bool
	CentreFromLeft  float64
	NeighbourSewnOn string // the side that is sewn already: "left", "right" or "" for the first
}

// NewBorder divides a line of lengthMM into repeats of a design whose own
// pitch is pitchMM, and the repeats into hoopings of a field that is fieldMM
// long. The number of repeats is rounded up and the error spread, when that
// is at most MostSpreadMM each; else rounded down likewise; else the line
// ends on a part repeat.
func NewBorder(lengthMM, pitchMM, fieldMM float64) (Border, error) {
	switch {
	case !(lengthMM > 0 && lengthMM <= longestBorderMM):
		return Border{}, say.Errorf("a line of %s: expected up to %s", say.MM(lengthMM), say.MM(longestBorderMM))
	case !(pitchMM >= leastPitchMM):
		return Border{}, say.Errorf("a pitch of %s: expected at least %s", say.MM(pitchMM), say.MM(leastPitchMM))
	case lengthMM < pitchMM-MostSpreadMM:
		return Border{}, say.Errorf("the line is %s long and one repeat %s: there is nothing to repeat", say.MM(lengthMM),
			say.MM(pitchMM))
	}
	b := Border{LengthMM: lengthMM}
	const hair = 1e-9
	ratio := lengthMM / pitchMM
	up, down := int(math.Ceil(ratio-hair)), int(math.Floor(ratio+hair))
	switch {
	case math.Abs(lengthMM/float64(up)-pitchMM) <= MostSpreadMM:
		b.Repeats, b.PitchMM = up, lengthMM/float64(up)
	case down > 0 && math.Abs(lengthMM/float64(down)-pitchMM) <= MostSpreadMM:
		b.Repeats, b.PitchMM = down, lengthMM/float64(down)
	default:
		b.Repeats, b.PitchMM = down, pitchMM
		b.PartMM = lengthMM - float64(down)*pitchMM
	}
	b.SpreadMM = b.PitchMM - pitchMM
	perHooping := int(math.Floor(fieldMM/b.PitchMM + hair))
	if perHooping == 0 {
		return Border{}, say.Errorf("one repeat is %s long and the field %s: choose a longer hoop", say.MM(b.PitchMM),
			say.MM(fieldMM))
	}
	b.divide(perHooping)
	return b, nil
}

// divide shares the repeats out evenly over as few hoopings as they need.
func (b *Border) divide(perHooping int) {
	pieces := b.Repeats
	if b.PartMM > 0 {
		pieces++
	}
	n := (pieces + perHooping - 1) / perHooping
	first := 1
	for i := range n {
		count := pieces/n + min(1, max(0, pieces%n-i))
		h := BorderHooping{First: first, Last: first + count - 1, WholeRepeats: count}
		h.FromMM, h.ToMM = float64(first-1)*b.PitchMM, min(b.LengthMM, float64(h.Last)*b.PitchMM)
		if h.Last > b.Repeats {
			h.EndsOnPart, h.WholeRepeats, h.ToMM = true, count-1, b.LengthMM
		}
		h.CentreFromLeft = (h.FromMM + h.ToMM) / 2
		if i > 0 {
			b.JoinsMM = append(b.JoinsMM, h.FromMM)
		}
		b.Hoopings = append(b.Hoopings, h)
		first += count
	}
	b.order()
}

// order starts in the middle and works outward, right and left in turn, so
// that at most half of the bulk is ever under the arm.
func (b *Border) order() {
	left := (len(b.Hoopings) - 1) / 2
	right := left + 1
	b.Hoopings[left].Order = 1
	left--
	for next := 2; next <= len(b.Hoopings); next++ {
		if right < len(b.Hoopings) && (next%2 == 0 || left < 0) {
			b.Hoopings[right].Order, b.Hoopings[right].NeighbourSewnOn = next, "left"
			right++
			continue
		}
		b.Hoopings[left].Order, b.Hoopings[left].NeighbourSewnOn = next, "right"
		left--
	}
}
