package cutplan

import (
	"math"
	"math/rand/v2"
)

// A rect is laid as one: a single piece, or two rects joined along a side.
// Pieces that share the length of a side are joined before the laying, as a
// cook joins what fits: what was once cut from one part goes together again.
type rect struct {
	kind int // rects of one kind are alike
	id   string
	w, h float64
	turn bool
	pair *pair
}

// A pair is two rects, b to the right of a, or above it when stacked. Each
// may be turned.
type pair struct {
	a, b             rect
	aTurned, bTurned bool
	stacked          bool
}

// sides are a rect's width and height as it lies.
func (r *rect) sides(turned bool) (w, h float64) {
	if turned {
		return r.h, r.w
	}
	return r.w, r.h
}

// A match is two rects that may be joined.
type match struct {
	i, j             int
	iTurned, jTurned bool
	stacked          bool
	waste            float64
}

// A joiner joins rects that share a side, over and over in other ways. The
// matches among the single pieces are found once.
type joiner struct {
	all         []rect
	width       float64
	rng         *rand.Rand
	byTolerance map[float64][]match

	blocks  []rect
	alive   []bool
	matches []match
	degree  []int
}

func newJoiner(all []rect, width float64, rng *rand.Rand) *joiner {
	return &joiner{all: all, width: width, rng: rng, byTolerance: map[float64][]match{}}
}

// join joins rects whose sides differ by no more than tolerance, a share of
// their length, as long as there are some and the result fits the width and
// is no larger than most square millimetres. Those that match the fewest
// others go first, as they have no other choice; chance decides among equals.
func (j *joiner) join(tolerance, most float64) []rect {
	first, known := j.byTolerance[tolerance]
	if !known {
		for i := range j.all {
			for k := range i {
				first = appendMatches(first, j.all, i, k, j.width, tolerance)
			}
		}
		j.byTolerance[tolerance] = first
	}
	j.blocks = append(j.blocks[:0], j.all...)
	j.alive = j.alive[:0]
	for range j.all {
		j.alive = append(j.alive, true)
	}
	j.matches = append(j.matches[:0], first...)
	for {
		m, ok := j.choose(most)
		if !ok {
			break
		}
		j.alive[m.i], j.alive[m.j] = false, false
		kept := j.matches[:0]
		for _, other := range j.matches {
			if j.alive[other.i] && j.alive[other.j] {
				kept = append(kept, other)
			}
		}
		j.matches = kept
		at := len(j.blocks)
		j.blocks = append(j.blocks, joined(j.blocks[m.i], j.blocks[m.j], m, at))
		j.alive = append(j.alive, true)
		for k := range at {
			if j.alive[k] {
				j.matches = appendMatches(j.matches, j.blocks, at, k, j.width, tolerance)
			}
		}
	}
	var left []rect
	for i, alive := range j.alive {
		if alive {
			left = append(left, j.blocks[i])
		}
	}
	return left
}

// choose picks the next match.
func (j *joiner) choose(most float64) (match, bool) {
	j.degree = append(j.degree[:0], make([]int, len(j.blocks))...)
	for _, m := range j.matches {
		j.degree[m.i]++
		j.degree[m.j]++
	}
	best, lowest := -1, math.Inf(1)
	for n, m := range j.matches {
		a, b := &j.blocks[m.i], &j.blocks[m.j]
		if a.w*a.h+b.w*b.h > most {
			continue
		}
		score := float64(j.degree[m.i]+j.degree[m.j]) + 3*j.rng.Float64() + m.waste*1000
		if score < lowest {
			best, lowest = n, score
		}
	}
	if best < 0 {
		return match{}, false
	}
	return j.matches[best], true
}

// appendMatches adds the ways in which two rects share a side.
func appendMatches(matches []match, blocks []rect, i, j int, width, tolerance float64) []match {
	a, b := &blocks[i], &blocks[j]
	for _, iTurned := range [2]bool{false, true} {
		if iTurned && !a.turn {
			continue
		}
		wa, ha := a.sides(iTurned)
		for _, jTurned := range [2]bool{false, true} {
			if jTurned && !b.turn {
				continue
			}
			wb, hb := b.sides(jTurned)
			if off := math.Abs(ha - hb); off <= hair+tolerance*ha && fitsWidth(wa+wb, max(ha, hb), a.turn && b.turn, width) {
				matches = append(matches, match{i, j, iTurned, jTurned, false, off / max(ha, hb)})
			}
			if off := math.Abs(wa - wb); off <= hair+tolerance*wa && fitsWidth(max(wa, wb), ha+hb, a.turn && b.turn, width) {
				matches = append(matches, match{i, j, iTurned, jTurned, true, off / max(wa, wb)})
			}
		}
	}
	return matches
}

func fitsWidth(w, h float64, turn bool, width float64) bool {
	return w <= width+hair || turn && h <= width+hair
}

func joined(a, b rect, m match, kind int) rect {
	wa, ha := a.sides(m.iTurned)
	wb, hb := b.sides(m.jTurned)
	r := rect{kind: kind, turn: a.turn && b.turn, pair: &pair{a, b, m.iTurned, m.jTurned, m.stacked}}
	if m.stacked {
		r.w, r.h = max(wa, wb), ha+hb
	} else {
		r.w, r.h = wa+wb, max(ha, hb)
	}
	return r
}

// unfold lists the pieces of a rect that lies at (x, y), turned or not, and
// the cuts that part them.
func (r *rect) unfold(x, y float64, turned bool, place func(Placed), cut func(Cut)) {
	if r.pair == nil {
		w, h := r.sides(turned)
		place(Placed{r.id, x, y, w, h, turned})
		return
	}
	p := r.pair
	// Turning the whole turns both parts, and a row becomes a stack.
	stacked := p.stacked != turned
	aTurned, bTurned := p.aTurned != turned, p.bTurned != turned
	w, h := r.sides(turned)
	wa, ha := p.a.sides(aTurned)
	wb, hb := p.b.sides(bTurned)
	if stacked {
		cut(Cut{x, y + ha, x + w, y + ha})
		trim(x, y, w, ha, wa, ha, cut)
		trim(x, y+ha, w, h-ha, wb, hb, cut)
		p.a.unfold(x, y, aTurned, place, cut)
		p.b.unfold(x, y+ha, bTurned, place, cut)
		return
	}
	cut(Cut{x + wa, y, x + wa, y + h})
	trim(x, y, wa, h, wa, ha, cut)
	trim(x+wa, y, w-wa, h, wb, hb, cut)
	p.a.unfold(x, y, aTurned, place, cut)
	p.b.unfold(x+wa, y, bTurned, place, cut)
}

// trim cuts a part down to what lies in its corner, where it is larger.
func trim(x, y, partW, partH, w, h float64, cut func(Cut)) {
	if partH > h+hair {
		cut(Cut{x, y + h, x + partW, y + h})
	}
	if partW > w+hair {
		cut(Cut{x + w, y, x + w, y + min(partH, h)})
	}
}
