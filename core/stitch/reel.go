package stitch

import (
	"encoding/binary"
	"math"
)

// Reel is an analysis in the shape that a player wants: compact, each kind of
// value beside its like, so that a script can read it without a loop. It is
// little-endian:
//
//	uint32  moves
//	int16   x of each move, tenths of a millimetre from the design's centre
//	int16   y of each move, up
//	uint8   of each move: bit 0 is set when thread joins it to the move before
//	        on the face, bit 1 when it is a stitch, bit 2 when it opens a stop
//
// Moves of runs that are not stops are left out.
func (a Analysis) Reel() []byte {
	n := 0
	for _, s := range a.Stops {
		n += len(s.Moves)
	}
	out := make([]byte, 4+5*n)
	binary.LittleEndian.PutUint32(out, uint32(n))
	xs, ys, flags := out[4:4+2*n], out[4+2*n:4+4*n], out[4+4*n:]
	at := 0
	for _, s := range a.Stops {
		sewing := false
		for i, m := range s.Moves {
			binary.LittleEndian.PutUint16(xs[2*at:], uint16(int16(math.Round(float64(m.X)-a.CentreX))))
			binary.LittleEndian.PutUint16(ys[2*at:], uint16(int16(math.Round(float64(m.Y)-a.CentreY))))
			if i == 0 {
				flags[at] |= 4
			}
			if m.Kind == Stitch {
				flags[at] |= 2
				if sewing {
					flags[at] |= 1
				}
			}
			sewing = m.Kind == Stitch
			at++
		}
	}
	return out
}

// Lines are the stretches of thread on the face, in millimetres from the
// design's centre, y up.
func (a Analysis) Lines() [][][2]float64 {
	var lines [][][2]float64
	for _, s := range a.Stops {
		for _, run := range clusters(s.Moves) {
			line := make([][2]float64, len(run))
			for i, m := range run {
				line[i] = [2]float64{(float64(m.X) - a.CentreX) / 10, (float64(m.Y) - a.CentreY) / 10}
			}
			lines = append(lines, line)
		}
	}
	return lines
}
