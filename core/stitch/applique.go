package stitch

import "math"

// Figures of appliqué, in millimetres and shares (handbook, Appliqué): the lines
// of one piece are the same line, sewn again.
const (
	coincideMM    = 1.5 // the lines of a piece lie this close to each other
	coincideShare = 0.85
	leastShare    = 0.02 // of a cover that lies along the line, whatever else it sews
	coverReachMM  = 2.5  // a cover lies to both sides of the line
	longestLineMM = 20_000.0
	closesMM      = 3.0 // a line comes back to where it set out
	leadMM        = 10  // leads stick out of a box by so much
	farthestStops = 64  // the stops of a piece are not farther from each other
)

// guessApplique finds the three stops of each piece: a placement, a tack-down
// that follows the same closed lines, and a cover that follows them again, by
// whatever stitch. Other pieces' stops, fills and details may come between.
func guessApplique(stops []Stop, surveys []survey) {
	bands := make([]*band, len(stops))
	of := func(i int) *band {
		if bands[i] == nil {
			bands[i] = newBand(&stops[i])
		}
		return bands[i]
	}
	// follows tells whether stop j sews all along stop i, and with the share of
	// its own penetrations nowhere else.
	follows := func(i, j int, reachMM, own float64) bool {
		return of(i).share(&stops[j], reachMM) >= max(own, leastShare) && of(j).share(&stops[i], reachMM) >= coincideShare
	}
	taken := make([]bool, len(stops))
	for place := range stops {
		if place > 0 {
			bands[place-1] = nil // nobody asks for it any more
		}
		p := &stops[place]
		if taken[place] || !surveys[place].closed {
			continue
		}
		last := min(len(stops), place+1+farthestStops)
		tack, cover := -1, -1
		for j := place + 1; j < last && cover < 0; j++ {
			s := &stops[j]
			if taken[j] || s.Role == Fill && tack < 0 || s.ThreadMM > longestLineMM || !s.Bounds.contains(p.Bounds, leadMM) {
				continue
			}
			switch {
			case tack < 0:
				if boundsAgree(p.Bounds, s.Bounds, leadMM) && follows(place, j, coincideMM, coincideShare) {
					tack = j
				}
			case s.Role != Fill:
				if follows(place, j, coverReachMM, 0) {
					cover = j
				}
			}
		}
		if tack >= 0 && cover >= 0 {
			stops[place].Role, stops[tack].Role, stops[cover].Role = Placement, TackDown, Cover
			taken[place], taken[tack], taken[cover] = true, true, true
			p.Pieces = pieces(p.Moves)
			stops[tack].Pieces = p.Pieces
		}
	}
}

// A band answers how much of another stop's penetrations lies near a stop's
// path: it keeps the squares the path passes, in its box, a bit for each. They
// are half a millimetre, and larger where the box is larger than a hoop.
type band struct {
	left, bottom, square int32
	columns, rows        int32
	// whole is a tenth of a millimetre in squares, with part bits for the parts
	// of one.
	whole int64
	// words of a row, with one to spare.
	words int
	bits  []uint64
}

const (
	bandSquare  = 5  // tenths of a millimetre
	bandMargin  = 40 // in which nothing lies, farther than any reach
	mostSquares = 640_000
	part        = 16
)

func newBand(s *Stop) *band {
	left, bottom, right, top, _ := Extent(s.Moves)
	b := &band{left: left - bandMargin, bottom: bottom - bandMargin, square: bandSquare}
	width, height := right-left+2*bandMargin, top-bottom+2*bandMargin
	for int(width/b.square)*int(height/b.square) > mostSquares {
		b.square++
	}
	b.columns, b.rows = width/b.square+1, height/b.square+1
	b.whole = int64(1) << part / int64(b.square)
	b.words = int(b.columns)/64 + 2
	b.bits = make([]uint64, b.words*int(b.rows))
	whole := b.whole
	for i := 1; i < len(s.Moves); i++ {
		from, to := &s.Moves[i-1], &s.Moves[i]
		if from.Kind != Stitch || to.Kind != Stitch {
			continue
		}
		x, y := int64(from.X-b.left)*whole, int64(from.Y-b.bottom)*whole
		dx, dy := int64(to.X-from.X)*whole, int64(to.Y-from.Y)*whole
		// Every third square: a reach is three and more.
		steps := int(max(dx, -dx, dy, -dy)>>part)/3 + 1
		if steps < len(parts) {
			dx, dy = dx*parts[steps]>>part, dy*parts[steps]>>part
		} else {
			dx, dy = dx/int64(steps), dy/int64(steps)
		}
		for range steps + 1 {
			b.bits[int(y>>part)*b.words+int(x>>(part+6))] |= 1 << (x >> part & 63)
			x, y = x+dx, y+dy
		}
	}
	return b
}

// parts are the parts of a whole, in 65,536ths: to divide by them takes longer.
var parts = func() (p [32]int64) {
	for i := range p {
		p[i] = 1 << 16 / int64(max(1, i))
	}
	return p
}()

// near tells whether the path passes within a reach of a square, each way.
func (b *band) near(x, y, reach int32) bool {
	first := x - reach
	if first < 0 || y < reach || x+reach >= b.columns || y+reach >= b.rows {
		return false // in the margin, or out of the box
	}
	mask := uint64(1)<<(2*reach+1) - 1
	word, off := int(first>>6), uint(first&63)
	for row := y - reach; row <= y+reach; row++ {
		at := int(row)*b.words + word
		if (b.bits[at]>>off|b.bits[at+1]<<(64-off))&mask != 0 {
			return true
		}
	}
	return false
}

// share is the part of a stop's penetrations within reach of the band.
func (b *band) share(s *Stop, reachMM float64) float64 {
	reach := int32(reachMM * 10 / float64(b.square))
	near, all := 0, 0
	for i := range s.Moves {
		m := &s.Moves[i]
		if m.Kind != Stitch {
			continue
		}
		all++
		if m.X >= b.left && m.Y >= b.bottom &&
			b.near(int32(int64(m.X-b.left)*b.whole>>part), int32(int64(m.Y-b.bottom)*b.whole>>part), reach) {
			near++
		}
	}
	return float64(near) / float64(max(1, all))
}

// closes tells whether each of a stop's lines comes back to where it set out,
// as near as leads and ties leave that.
func (s *Stop) closes() bool {
	if s.ThreadMM > longestLineMM {
		return false
	}
	lines := 0
	for _, line := range clusters(s.Moves) {
		length := 0.0
		for i := 1; i < len(line); i++ {
			length += gap(line[i-1], line[i])
		}
		if length < 4*closesMM {
			continue // a tie
		}
		nearest, along := math.Inf(1), 0.0
		end := line[len(line)-1]
		for i := 0; i+1 < len(line) && along <= length/3; i++ {
			nearest = min(nearest, gap(line[i], end))
			along += gap(line[i], line[i+1])
		}
		if nearest > closesMM {
			return false
		}
		lines++
	}
	return lines > 0
}

// pieces counts the pieces that the lines of a placement are for: a line inside
// another is the edge of a hole.
func pieces(moves []Move) int {
	var outlines [][]Move
	for _, line := range clusters(moves) {
		length := 0.0
		for i := 1; i < len(line); i++ {
			length += gap(line[i-1], line[i])
		}
		if length >= 4*closesMM {
			outlines = append(outlines, line)
		}
	}
	n := 0
	for i, line := range outlines {
		hole := false
		for j, other := range outlines {
			hole = hole || i != j && surrounds(other, line[len(line)/2]) && !surrounds(line, other[len(other)/2])
		}
		if !hole {
			n++
		}
	}
	return max(1, n)
}

// surrounds tells whether a move ends inside a closed line, which may have been
// sewn twice, there and back or round again: then its half is the line.
func surrounds(line []Move, at Move) bool {
	return inside(line, at) || inside(line[:(len(line)+1)/2], at)
}

func inside(line []Move, at Move) bool {
	in := false
	for i, j := 0, len(line)-1; i < len(line); j, i = i, i+1 {
		a, b := line[i], line[j]
		if (a.Y > at.Y) != (b.Y > at.Y) && float64(at.X) < float64(a.X)+float64(b.X-a.X)*float64(at.Y-a.Y)/float64(b.Y-a.Y) {
			in = !in
		}
	}
	return in
}

// gap is how far apart two moves end, in millimetres.
func gap(a, b Move) float64 {
	dx, dy := float64(b.X-a.X), float64(b.Y-a.Y)
	return math.Sqrt(dx*dx+dy*dy) / 10
}

// contains tells whether other lies inside, or out by no more than some
// millimetres.
func (b Bounds) contains(other Bounds, byMM float64) bool {
	return other.Left >= b.Left-byMM && other.Right <= b.Right+byMM && other.Bottom >= b.Bottom-byMM &&
		other.Top <= b.Top+byMM
}
