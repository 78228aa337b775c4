package cutplan

// A region is a rectangle of material that is still whole.
type region struct{ x, y, w, h float64 }

// A laying fills regions in one order of the pieces.
type laying struct {
	all  []rect
	left []int // what is not placed yet, in the order it is tried
	// vertical says, for each placing, which of the two cuts comes first, and
	// which way round a rect lies that could lie both; it is used round and round.
	vertical  []bool
	used      int
	area, end float64
	// keep records what comes out; a search does without.
	keep    bool
	placed  []Placed
	cuts    []Cut
	offcuts []Offcut
}

func (l *laying) start(order []int) {
	l.left = append(l.left[:0], order...)
	l.placed, l.cuts, l.offcuts = l.placed[:0], l.cuts[:0], l.offcuts[:0]
	l.used, l.area, l.end = 0, 0, 0
}

// take places the rect at position i of what is left at the region's corner.
func (l *laying) take(i int, r region, turned bool) (p *rect, w, h float64) {
	p = &l.all[l.left[i]]
	w, h = p.sides(turned)
	l.area += w * h
	l.end = max(l.end, r.y+h)
	copy(l.left[i:], l.left[i+1:])
	l.left = l.left[:len(l.left)-1]
	return p, w, h
}

// unfold records a rect's pieces; it comes after the cuts that part the rect
// from what lies around it.
func (l *laying) unfold(p *rect, r region, turned bool) {
	if l.keep {
		p.unfold(r.x, r.y, turned, func(q Placed) { l.placed = append(l.placed, q) }, l.cut)
	}
}

// lookAhead is among how many that fit the one is taken that leaves the
// narrowest rest.
const lookAhead = 4

// best finds the rect that suits a region: one that fills it, else one that
// fills its width or height, else of the first few in order that fit the one
// that leaves the narrowest rest. Of rects of one kind one is looked at.
func (l *laying) best(r region) (at int, turned, ok bool) {
	const none, fits, whole = 0, 1, 3
	grade := none
	lastKind := -1
	gapOfBest, seen := 0.0, 0
	for i, k := range l.left {
		p := &l.all[k]
		if p.kind == lastKind {
			continue
		}
		lastKind = p.kind
		for pass := 0; pass < 2; pass++ {
			w, h := p.w, p.h
			if pass == 1 {
				if !p.turn {
					break
				}
				w, h = h, w
			}
			if w > r.w+hair || h > r.h+hair {
				continue
			}
			g := fits
			if w > r.w-hair {
				g++
			}
			if h > r.h-hair {
				g++
			}
			gap := min(r.w-w, r.h-h)
			if g > grade || g == grade && seen < lookAhead && gap < gapOfBest {
				grade, at, turned, gapOfBest = g, i, pass == 1, gap
				if g == whole {
					return at, turned, true
				}
			}
			seen++
		}
	}
	if grade == fits {
		turned = l.otherWay(at, turned, r)
	}
	return at, turned, grade > none
}

// otherWay turns a rect that fits a region both ways, where the search says so.
func (l *laying) otherWay(at int, turned bool, r region) bool {
	p := &l.all[l.left[at]]
	w, h := p.sides(!turned)
	if !p.turn || w > r.w+hair || h > r.h+hair {
		return turned
	}
	l.used++
	return turned != l.vertical[(l.used-1)%len(l.vertical)]
}

// fill places a piece in a region, cuts the rest in two and fills those.
func (l *laying) fill(r region) {
	if r.w <= hair || r.h <= hair {
		return
	}
	at, turned, ok := l.best(r)
	if !ok {
		l.rest(r)
		return
	}
	p, w, h := l.take(at, r, turned)
	l.split(r, w, h, p, turned)
}

// split cuts the rest of a region whose corner a rect takes, and fills it.
func (l *laying) split(r region, w, h float64, p *rect, turned bool) {
	right, above := r.w-w, r.h-h
	if right <= hair && above <= hair {
		l.unfold(p, r, turned)
		return
	}
	// The usual choice keeps the larger rest whole; the search turns it round
	// here and there.
	vertical := (right*r.h > above*r.w) != l.vertical[l.used%len(l.vertical)]
	l.used++
	switch {
	case right <= hair:
		vertical = false
	case above <= hair:
		vertical = true
	}
	if vertical {
		l.cut(Cut{r.x + w, r.y, r.x + w, r.y + r.h})
		if above > hair {
			l.cut(Cut{r.x, r.y + h, r.x + w, r.y + h})
		}
		l.unfold(p, r, turned)
		l.both(region{r.x + w, r.y, right, r.h}, region{r.x, r.y + h, w, above})
		return
	}
	l.cut(Cut{r.x, r.y + h, r.x + r.w, r.y + h})
	if right > hair {
		l.cut(Cut{r.x + w, r.y, r.x + w, r.y + h})
	}
	l.unfold(p, r, turned)
	l.both(region{r.x + w, r.y, right, h}, region{r.x, r.y + h, r.w, above})
}

// both fills two regions, the larger one first while there is most to choose from.
func (l *laying) both(a, b region) {
	if a.w*a.h < b.w*b.h {
		a, b = b, a
	}
	l.fill(a)
	l.fill(b)
}

func (l *laying) cut(c Cut) {
	if l.keep {
		l.cuts = append(l.cuts, c)
	}
}

func (l *laying) rest(r region) {
	if l.keep && r.w >= LeastOffcutMM-hair && r.h >= LeastOffcutMM-hair {
		l.offcuts = append(l.offcuts, Offcut{r.x, r.y, r.w, r.h})
	}
}

// rows lays everything in rows across the width, each as high as its first
// piece, and returns the length that takes.
func (l *laying) rows(width float64) float64 {
	y := 0.0
	for len(l.left) > 0 {
		p := &l.all[l.left[0]]
		turned := p.w > width+hair || p.turn && l.vertical[l.used%len(l.vertical)] && p.h <= width+hair
		l.used++
		h := p.h
		if turned {
			h = p.w
		}
		row := region{0, y, width, h}
		_, w, _ := l.take(0, row, turned)
		before := len(l.cuts)
		l.cut(Cut{0, y + h, width, y + h})
		l.split(row, w, h, p, turned)
		if l.keep && len(l.left) == 0 {
			// The last row ends where the layout does.
			l.cuts = append(l.cuts[:before], l.cuts[before+1:]...)
		}
		y += h
	}
	return y
}
