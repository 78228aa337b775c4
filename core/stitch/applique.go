package stitch

import "math"

// Figures of appliqué, in millimetres and shares (handbook, Appliqué): the lines
// of one piece are the same line, sewn again.
const (
	coincideMM    = 1.5 // the lines of a piece lie this close to each other
	coincideShare = 0.85
	coverReachMM  = 2.5 // a cover lies to both sides of the line
	longestLineMM = 20_000.0
	closesMM      = 3.0 // a line comes back to where it set out
	leadMM        = 10  // leads stick out of a box by so much
	farthestStops = 64  // the stops of a piece are not farther from each other
)

// guessApplique finds the three stops of each piece: a placement, a tack-down
// that follows the same closed lines, and a cover that follows them again, by
// whatever stitch. Other pieces' stops, fills and details may come between.
func guessApplique(stops []Stop) {
	traces := make([]trace, len(stops))
	of := func(i int) trace {
		if traces[i] == nil {
			traces[i] = newTrace(&stops[i])
		}
		return traces[i]
	}
	// follows tells whether stop j sews all along stop i, and with the share of
	// its own penetrations nowhere else.
	follows := func(i, j int, reachMM, own float64) bool {
		return of(j).share(&stops[i], reachMM) >= coincideShare && (own == 0 || of(i).share(&stops[j], reachMM) >= own)
	}
	taken := make([]bool, len(stops))
	for place := range stops {
		p := &stops[place]
		if taken[place] || p.Role != Run || !p.closes() {
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
func gap(a, b Move) float64 { return math.Hypot(float64(b.X-a.X), float64(b.Y-a.Y)) / 10 }

// contains tells whether other lies inside, or out by no more than some
// millimetres.
func (b Bounds) contains(other Bounds, byMM float64) bool {
	return other.Left >= b.Left-byMM && other.Right <= b.Right+byMM && other.Bottom >= b.Bottom-byMM && other.Top <= b.Top+byMM
}
