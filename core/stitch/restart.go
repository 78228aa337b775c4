package stitch

import "fmt"

// StepBack is how many stitches before the last good one sewing starts again
// (handbook, Restarting: 5 to 10).
const StepBack = 8

// A Place is one stitch of a design, as a machine's screen counts them.
type Place struct {
	// Stop and Stitch count from 1; the stop has Of stitches.
	Stop, Stitch, Of int
	// Through is its number through the whole design of Total stitches, as some
	// machines count.
	Through, Total int
	// XMM and YMM are from the design's centre, y up.
	XMM, YMM float64
	// Restart is the stitch to step back to: StepBack before this one, but
	// never across a trim, as the thread ends there.
	Restart int
	// AtTrim tells that a trim or the start of the stop cut the way short.
	AtTrim bool
}

// Nearest is the stitch nearest to a point in millimetres from the centre.
func (a Analysis) Nearest(xMM, yMM float64) (Place, bool) {
	x, y := a.CentreX+xMM*10, a.CentreY+yMM*10
	best, stop, stitch := 0.0, -1, 0
	for i, s := range a.Stops {
		n := 0
		for _, m := range s.Moves {
			if m.Kind != Stitch {
				continue
			}
			n++
			dx, dy := float64(m.X)-x, float64(m.Y)-y
			if d := dx*dx + dy*dy; stop < 0 || d < best {
				best, stop, stitch = d, i, n
			}
		}
	}
	if stop < 0 {
		return Place{}, false
	}
	return a.place(stop, stitch), true
}

// PlaceOf is a stitch by its numbers.
func (a Analysis) PlaceOf(stop, stitch int) (Place, error) {
	if stop < 1 || stop > len(a.Stops) {
		return Place{}, fmt.Errorf("stop %d: the design has stops 1 to %d", stop, len(a.Stops))
	}
	if of := a.Stops[stop-1].Stitches; stitch < 1 || stitch > of {
		return Place{}, fmt.Errorf("stitch %d: stop %d has stitches 1 to %d", stitch, stop, of)
	}
	return a.place(stop-1, stitch), nil
}

// PlaceThrough is a stitch by its number through the whole design.
func (a Analysis) PlaceThrough(stitch int) (Place, error) {
	if stitch < 1 || stitch > a.Stitches {
		return Place{}, fmt.Errorf("stitch %d: the design has stitches 1 to %d", stitch, a.Stitches)
	}
	stop := 0
	for stitch > a.Stops[stop].Stitches {
		stitch -= a.Stops[stop].Stitches
		stop++
	}
	return a.place(stop, stitch), nil
}

// place counts a stop's stitches up to one of them, and the last trim before it.
func (a Analysis) place(stop, stitch int) Place {
	s := a.Stops[stop]
	p := Place{Stop: stop + 1, Stitch: stitch, Of: s.Stitches, Through: stitch, Total: a.Stitches}
	for _, earlier := range a.Stops[:stop] {
		p.Through += earlier.Stitches
	}
	n, afterTrim := 0, 1
	for _, m := range s.Moves {
		if m.Kind == Trim {
			afterTrim = n + 1
		}
		if m.Kind != Stitch {
			continue
		}
		if n++; n == stitch {
			p.XMM, p.YMM = (float64(m.X)-a.CentreX)/10, (float64(m.Y)-a.CentreY)/10
			break
		}
	}
	p.Restart = max(stitch-StepBack, afterTrim)
	p.AtTrim = p.Restart > stitch-StepBack
	return p
}
