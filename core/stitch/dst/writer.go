package dst

import (
	"bytes"
	"fmt"

	"chalkstep/core/stitch"
)

// Encode writes a .dst file. Moves longer than 12.1 mm are split into jumps
// (before a stitch, so that no penetration is added); a trim becomes at least
// three jumps in a row.
func Encode(p *stitch.Pattern) ([]byte, error) {
	w := writer{}
	w.body.Grow(len(p.Moves)*recordBytes + recordBytes)
	for _, m := range p.Moves {
		if m.Kind == stitch.Trim {
			w.owedJumps = trimJumps
			continue
		}
		if m.Kind != stitch.Jump {
			w.padTrim()
		}
		w.moveTo(m)
	}
	w.padTrim()
	w.body.Write([]byte{0, 0, endByte})
	w.records++
	return append(w.header(p), w.body.Bytes()...), nil
}

type writer struct {
	body                     bytes.Buffer
	x, y                     int32
	left, right, bottom, top int32
	records, changes         int
	// owedJumps is how many jumps a trim still asks for.
	owedJumps int
}

func (w *writer) padTrim() {
	for w.owedJumps > 0 {
		w.record(markJump, 0, 0)
	}
	w.owedJumps = 0
}

// moveTo writes a move in as many records as it needs; all but the last are
// jumps, so the last alone penetrates or changes.
func (w *writer) moveTo(m stitch.Move) {
	dx, dy := m.X-w.x, m.Y-w.y
	steps := stitch.Hops(dx, dy, maxMove)
	for step := steps; step > 1; step-- {
		w.record(markJump, dx/step, dy/step)
		dx, dy = m.X-w.x, m.Y-w.y
	}
	switch m.Kind {
	case stitch.Stitch:
		w.record(markStitch, dx, dy)
	case stitch.Jump:
		w.record(markJump, dx, dy)
	case stitch.Change:
		w.changes++
		w.record(markChange, dx, dy)
	}
}

func (w *writer) record(mark byte, dx, dy int32) {
	w.x, w.y = w.x+dx, w.y+dy
	w.left, w.right = min(w.left, w.x), max(w.right, w.x)
	w.bottom, w.top = min(w.bottom, w.y), max(w.top, w.y)
	if mark == markJump && w.owedJumps > 0 {
		w.owedJumps--
	}
	record := [recordBytes]byte{2: mark}
	for _, part := range axisBits {
		if takes(dx, part.x) {
			record[part.index] |= part.bit
			dx -= part.x
		}
		if takes(dy, part.y) {
			record[part.index] |= part.bit
			dy -= part.y
		}
	}
	w.body.Write(record[:])
	w.records++
}

// takes tells whether a remaining distance needs a part of balanced ternary:
// it does when more than half of the part is left in its direction.
func takes(rest, part int32) bool {
	return part > 0 && rest > part/2 || part < 0 && rest < part/2
}

// header writes the 512 bytes before the records. The design ends where its
// last record left the needle.
func (w *writer) header(p *stitch.Pattern) []byte {
	var h bytes.Buffer
	fmt.Fprintf(&h, "LA:%-16.16s\r", stitch.Printable([]byte(p.Name)))
	fmt.Fprintf(&h, "ST:%7d\rCO:%3d\r", w.records, w.changes)
	fmt.Fprintf(&h, "+X:%5d\r-X:%5d\r+Y:%5d\r-Y:%5d\r", w.right, -w.left, w.top, -w.bottom)
	fmt.Fprintf(&h, "AX:%s\rAY:%s\rMX:+    0\rMY:+    0\rPD:******\r\x1a", signed(w.x), signed(w.y))
	return append(h.Bytes(), bytes.Repeat([]byte{' '}, headerBytes-h.Len())...)
}

func signed(n int32) string {
	if n < 0 {
		return fmt.Sprintf("-%5d", -n)
	}
	return fmt.Sprintf("+%5d", n)
}
