package cutplan

import (
	"cmp"
	"math"
	"math/rand/v2"
	"slices"
)

// How much is tried. It is counted and not timed, so that a plan is the same
// on every machine.
const (
	plainTries  = 500 // orders of the single pieces
	joinRounds  = 360 // ways of joining them
	quickTries  = 24  // orders of what was joined, at first
	blockTries  = 400 // and when it comes near the best
	near        = 1.015
	mostLayings = 60_000 // pieces laid for the single pieces, at most
)

// tolerances of joining, as shares of a side: exact first, as exact is what
// costs nothing.
var tolerances = []float64{0, 0, 0, 0.01, 0.04}

// largest are the sizes up to which rects are joined, as shares of all: the
// larger, the less is left to lay, and the worse a wrong join is.
var largest = []float64{1, 1, 0.5, 0.15}

// A found layout: which rects, in which order and with which cuts first.
type found struct {
	all      []rect
	order    []int
	vertical []bool
	// inRows lays row by row, else all in one region of regionMM.
	inRows             bool
	regionMM, lengthMM float64
}

// shortest finds a short layout of single pieces: as they are, and joined in
// many ways.
func shortest(width float64, all []rect) found {
	rng := rand.New(rand.NewPCG(1, uint64(len(all))))
	bound := areaOf(all) / width
	best := found{lengthMM: math.Inf(1)}
	try := func(rects []rect, quick, tries int) {
		s := newSearch(width, rects, rng)
		s.best.lengthMM = math.Inf(1)
		s.searchRows(quick)
		if s.best.lengthMM < best.lengthMM*near {
			s.searchRows(tries / 2)
			s.searchRegion(tries / 2)
		}
		if s.best.lengthMM < best.lengthMM-hair {
			best = s.best
		}
	}
	tries := min(plainTries, max(60, mostLayings/len(all)))
	try(all, tries, tries)
	joiner := newJoiner(all, width, rng)
	total := areaOf(all)
	kinds := map[int]bool{}
	for _, r := range all {
		kinds[r.kind] = true
	}
	improved := 0
	for round := range joinRounds {
		// Few kinds of pieces join in few ways: once nothing has come of it
		// for a while, nothing will.
		if best.lengthMM <= bound+hair || round-improved > 8*len(kinds) {
			break
		}
		was := best.lengthMM
		try(joiner.join(tolerances[round%len(tolerances)], largest[round%len(largest)]*total), quickTries, blockTries)
		if best.lengthMM < was {
			improved = round
		}
	}
	return best
}

func areaOf(all []rect) float64 {
	area := 0.0
	for _, r := range all {
		area += r.w * r.h
	}
	return area
}

// lay makes the layout that was found.
func (f found) lay(width float64) Layout {
	l := laying{all: f.all, vertical: f.vertical, keep: true}
	l.start(f.order)
	// The first cut takes the length off the roll.
	l.cut(Cut{0, f.lengthMM, width, f.lengthMM})
	if f.inRows {
		l.rows(width)
	} else {
		l.fill(region{0, 0, width, f.regionMM})
	}
	return Layout{LengthMM: f.lengthMM, Placed: l.placed, Cuts: cutShort(l.cuts, f.lengthMM),
		Offcuts: keptShort(l.offcuts, f.lengthMM)}
}

// cutShort ends cuts where the length does: they were found in a region that
// may be longer.
func cutShort(cuts []Cut, lengthMM float64) []Cut {
	short := cuts[:1]
	for _, c := range cuts[1:] {
		c.Y2MM = min(c.Y2MM, lengthMM)
		if c.Y1MM < lengthMM-hair {
			short = append(short, c)
		}
	}
	return short
}

func keptShort(offcuts []Offcut, lengthMM float64) []Offcut {
	var kept []Offcut
	for _, o := range offcuts {
		if o.HMM = min(o.HMM, lengthMM-o.YMM); o.HMM >= LeastOffcutMM-hair {
			kept = append(kept, o)
		}
	}
	return kept
}

// A search climbs from the usual orders for packing by small changes.
type search struct {
	laying
	width float64
	rng   *rand.Rand
	best  found
}

func newSearch(width float64, all []rect, rng *rand.Rand) *search {
	return &search{laying: laying{all: all}, width: width, rng: rng}
}

// starts are the orders a search sets out from.
func (s *search) starts() [][]int {
	by := func(key func(*rect) float64) []int {
		order := make([]int, len(s.all))
		for i := range order {
			order[i] = i
		}
		slices.SortStableFunc(order, func(a, b int) int {
			return cmp.Or(cmp.Compare(key(&s.all[b]), key(&s.all[a])), cmp.Compare(s.all[a].kind, s.all[b].kind))
		})
		return order
	}
	return [][]int{
		by(func(r *rect) float64 { return r.w * r.h }),
		by(func(r *rect) float64 { return max(r.w, r.h) }),
		by(func(r *rect) float64 { return r.h }),
		by(func(r *rect) float64 { return r.w }),
	}
}

func (s *search) choices() []bool { return make([]bool, 2*len(s.all)) }

// searchRows lays row by row.
func (s *search) searchRows(tries int) {
	starts := s.starts()
	for _, order := range starts {
		vertical := s.choices()
		length := s.tryRows(order, vertical)
		trial, turned := slices.Clone(order), slices.Clone(vertical)
		for range tries / len(starts) {
			copy(trial, order)
			copy(turned, vertical)
			s.change(trial, turned)
			if got := s.tryRows(trial, turned); got <= length {
				length = got
				order, trial = trial, order
				vertical, turned = turned, vertical
			}
		}
	}
}

func (s *search) tryRows(order []int, vertical []bool) float64 {
	s.laying.vertical = vertical
	s.laying.start(order)
	length := s.laying.rows(s.width)
	if length < s.best.lengthMM-hair {
		s.best = found{s.all, slices.Clone(order), slices.Clone(vertical), true, 0, length}
	}
	return length
}

// searchRegion tries to fit everything into one region shorter than the best
// so far; the area that finds a place says how near a try is to success.
func (s *search) searchRegion(tries int) {
	total := areaOf(s.all)
	bound := total / s.width
	starts := s.starts()
	goal := func() float64 { return bound + (s.best.lengthMM-bound)*0.5 }
	order, vertical := starts[0], s.choices()
	target := goal()
	covered := s.tryRegion(order, vertical, target)
	trial, turned := slices.Clone(order), slices.Clone(vertical)
	const patience = 60
	for n, stale := 0, 0; n < tries && s.best.lengthMM > bound+hair; n++ {
		copy(trial, order)
		copy(turned, vertical)
		s.change(trial, turned)
		got := s.tryRegion(trial, turned, target)
		stale++
		if got >= covered {
			if got > covered+hair {
				stale = 0
			}
			covered = got
			order, trial = trial, order
			vertical, turned = turned, vertical
		}
		switch {
		case got >= total-hair:
			target, stale = goal(), 0
			covered = s.tryRegion(order, vertical, target)
		case stale > patience:
			// Set out anew, and ask for a little less.
			order = starts[(n/patience)%len(starts)]
			target, stale = target+(s.best.lengthMM-target)*0.3, 0
			covered = s.tryRegion(order, vertical, target)
		}
	}
}

// tryRegion fills a region of a length and returns the area that found a place.
func (s *search) tryRegion(order []int, vertical []bool, length float64) float64 {
	s.laying.vertical = vertical
	s.laying.start(order)
	s.laying.fill(region{0, 0, s.width, length})
	if len(s.left) == 0 && s.end < s.best.lengthMM-hair {
		s.best = found{s.all, slices.Clone(order), slices.Clone(vertical), false, length, s.end}
	}
	return s.area
}

// change moves a rect to another place in the order, swaps two, or turns a
// choice round.
func (s *search) change(order []int, vertical []bool) {
	i, j := s.rng.IntN(len(order)), s.rng.IntN(len(order))
	switch s.rng.IntN(4) {
	case 0:
		k := s.rng.IntN(len(vertical))
		vertical[k] = !vertical[k]
	case 1:
		moved := order[i]
		copy(order[i:], order[i+1:])
		copy(order[j+1:], order[j:len(order)-1])
		order[j] = moved
	default:
		order[i], order[j] = order[j], order[i]
	}
}

// fullest finds the layout that covers most of a sheet of a fixed length.
func fullest(width, lengthMM float64, all []rect) Layout {
	if len(all) == 0 {
		return Layout{LengthMM: lengthMM}
	}
	rng := rand.New(rand.NewPCG(1, uint64(len(all))))
	s := newSearch(width, all, rng)
	// Nothing is shorter than no length, so that only the area counts.
	bestArea := -1.0
	var best found
	for _, order := range s.starts() {
		vertical := s.choices()
		trial, turned := slices.Clone(order), slices.Clone(vertical)
		covered := -1.0
		for range max(20, mostLayings/8/len(all)) {
			got := s.tryRegion(trial, turned, lengthMM)
			if got > bestArea+hair {
				bestArea = got
				best = found{all, slices.Clone(trial), slices.Clone(turned), false, lengthMM, lengthMM}
			}
			if got >= covered {
				covered = got
				copy(order, trial)
				copy(vertical, turned)
			}
			copy(trial, order)
			copy(turned, vertical)
			s.change(trial, turned)
		}
	}
	return best.lay(width)
}
