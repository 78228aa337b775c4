package stitch

import (
	"math"
	"strconv"
)

// SVGPath draws the stitches of moves as SVG path data in tenths of a
// millimetre from (centreX, centreY), y down as SVG has it. Penetrations that
// lie within tolerance tenths of a line between others are left out; the
// thread is lifted at jumps, trims and changes.
func SVGPath(moves []Move, centreX, centreY, tolerance float64) string {
	var w pathWriter
	for _, line := range clusters(moves) {
		kept := simplify(line, tolerance)
		for i, m := range kept {
			w.to(int(math.Round(float64(m.X)-centreX)), int(math.Round(centreY-float64(m.Y))), i == 0)
		}
	}
	return string(w.text)
}

// A pathWriter prints relative moves, which are short.
type pathWriter struct {
	text []byte
	x, y int
}

func (w *pathWriter) to(x, y int, lifted bool) {
	dx, dy := x-w.x, y-w.y
	if lifted {
		w.text = append(w.text, 'm')
	} else if dx >= 0 {
		w.text = append(w.text, ' ')
	}
	w.text = strconv.AppendInt(w.text, int64(dx), 10)
	if dy >= 0 {
		w.text = append(w.text, ' ')
	}
	w.text = strconv.AppendInt(w.text, int64(dy), 10)
	w.x, w.y = x, y
}

// simplify drops the penetrations a drawing does not need. It looks ahead
// from each kept one for the farthest that still speaks for all in between.
func simplify(line []Move, tolerance float64) []Move {
	if len(line) < 3 {
		return line
	}
	const farthest = 64
	kept := []Move{line[0]}
	for at := 0; at < len(line)-1; {
		next := at + 1
		for next+1 < len(line) && next-at < farthest && straight(line[at:next+2], tolerance) {
			next++
		}
		kept = append(kept, line[next])
		at = next
	}
	return kept
}

// straight tells whether all moves between the ends lie close to the line
// that joins the ends, and in order along it.
func straight(line []Move, tolerance float64) bool {
	a, b := line[0], line[len(line)-1]
	dx, dy := float64(b.X-a.X), float64(b.Y-a.Y)
	length := math.Hypot(dx, dy)
	if length == 0 {
		return false
	}
	along := 0.0
	for _, m := range line[1 : len(line)-1] {
		mx, my := float64(m.X-a.X), float64(m.Y-a.Y)
		t := (mx*dx + my*dy) / length
		if math.Abs(mx*dy-my*dx)/length > tolerance || t < along || t > length {
			return false
		}
		along = t
	}
	return true
}
