package stitch

import (
	"cmp"
	"math"
	"slices"
)

// Figures by which lettering is seen, in millimetres and shares of a
// letter's height. They are readings of what lettering is: columns of one
// width, bent and joined into shapes that stand side by side on a line.
const (
	lowestLetterMM   = 2.5
	highestLetterMM  = 60.0
	widestLetter     = 1.6 // widths in heights
	leastColumnMM    = 0.6
	widestColumn     = 0.34
	letterGap        = 1.0
	lettersSideShare = 0.6 // of the lower of two neighbours' heights that they share
	likeHeights      = 2.0 // the taller of two neighbours at most
	fewestLetters    = 3
	evenShare        = 0.6  // of a letter's column that is about as wide as its middle
	bentLength       = 1.25 // way of the needle over the diagonal: a bar's is 1
	strokeBreakMM    = 1.0
	mostStrokes      = 4_000 // more in one stop are no words
	mostEnds         = 16    // of its strokes at which a letter is joined
	scriptTurns      = 6     // ups and downs of a word in joined script
	scriptBackward   = 0.05  // share of a word's way on which the pen loops back
)

// A letter is one or several satin columns that belong together.
type letter struct {
	// Its box in tenths of a millimetre.
	left, bottom, right, top float64
	// The way along the middle of its columns, and the way of that which goes
	// back to the left, in tenths.
	way, backward float64
	// turns counts ups and downs of at least a third of its height.
	turns int
	// widths of the column at each stitch.
	widths []float64
	// middle of each stitch, and where strokes begin and end.
	middle, ends []midpoint
	// reach is how near to the middle a stroke is joined, in tenths.
	reach float64
}

type midpoint struct{ x, y float64 }

// LetteringMM is the height of the shortest letter found in an analysis, 0
// where there is no lettering. Lettering is a row of at least three letters of
// like height, in whatever order and however joined, or a word in one stroke
// that goes up and down and loops. Rows of leaves, bars and motifs repeated are
// none: leaves taper, bars are straight and repeats are alike.
func LetteringMM(a Analysis) float64 {
	shortest := math.Inf(1)
	for _, s := range a.Stops {
		if s.Role != Satin && s.Role != Cover {
			continue
		}
		strokes := strokesOf(s.Moves)
		if len(strokes) > mostStrokes {
			continue
		}
		for _, l := range strokes {
			if l.isScript() {
				shortest = min(shortest, l.height())
			}
		}
		shortest = min(shortest, rowsOf(lettersOf(strokes)))
	}
	if math.IsInf(shortest, 1) {
		return 0
	}
	return shortest
}

// strokesOf are the satin columns of a stop: stitches that turn back on the
// one before, as long as their middles lie beside each other.
func strokesOf(moves []Move) []letter {
	var all []letter
	var last *Move
	var lastDX, lastDY, lastLength float64
	open := false
	eachStitch(moves, func(from, to *Move) {
		dx, dy := float64(to.X-from.X), float64(to.Y-from.Y)
		length := math.Hypot(dx, dy)
		turnsBack := from == last && dx*lastDX+dy*lastDY < -0.5*length*lastLength && length > 10*leastColumnMM
		open = open && from == last
		last, lastDX, lastDY, lastLength = to, dx, dy, length
		if !turnsBack {
			return
		}
		m := midpoint{float64(from.X+to.X) / 2, float64(from.Y+to.Y) / 2}
		if open {
			before := all[len(all)-1].middle
			end := before[len(before)-1]
			open = math.Hypot(m.x-end.x, m.y-end.y) <= 10*strokeBreakMM
		}
		if !open {
			all = append(all, letter{left: math.Inf(1), bottom: math.Inf(1), right: math.Inf(-1), top: math.Inf(-1)})
			open = true
		}
		l := &all[len(all)-1]
		l.left, l.right = min(l.left, float64(min(from.X, to.X))), max(l.right, float64(max(from.X, to.X)))
		l.bottom, l.top = min(l.bottom, float64(min(from.Y, to.Y))), max(l.top, float64(max(from.Y, to.Y)))
		l.middle, l.widths = append(l.middle, m), append(l.widths, length)
	})
	for i := range all {
		all[i].walk()
	}
	return all
}

// walk measures the way along the middle of a stroke.
func (l *letter) walk() {
	if len(l.middle) == 0 {
		return
	}
	l.ends = []midpoint{l.middle[0], l.middle[len(l.middle)-1]}
	width, _ := l.column()
	l.reach = 10 * width
	third := (l.top - l.bottom) / 3
	low, high, rising := l.middle[0].y, l.middle[0].y, 0
	for i := 1; i < len(l.middle); i++ {
		a, b := l.middle[i-1], l.middle[i]
		step := math.Hypot(b.x-a.x, b.y-a.y)
		l.way += step
		if b.x < a.x {
			l.backward += a.x - b.x
		}
		low, high = min(low, b.y), max(high, b.y)
		switch {
		case rising <= 0 && b.y-low > third:
			l.turns, rising, high = l.turns+1, 1, b.y
		case rising >= 0 && high-b.y > third:
			l.turns, rising, low = l.turns+1, -1, b.y
		}
	}
}

func (l letter) height() float64 { return (l.top - l.bottom) / 10 }
func (l letter) width() float64  { return (l.right - l.left) / 10 }

// column is the width of a letter's column in its middle, in millimetres, and
// the share of it that is about as wide.
func (l letter) column() (widthMM, even float64) {
	sorted := slices.Sorted(slices.Values(l.widths))
	middle := sorted[len(sorted)/2]
	near := 0
	for _, w := range sorted {
		if w >= 0.75*middle && w <= middle/0.75 {
			near++
		}
	}
	return middle / 10, float64(near) / float64(len(sorted))
}

// penned tells whether a shape is drawn with a column, and not filled by one.
func (l letter) penned() bool {
	column, even := l.column()
	return even >= evenShare && column <= widestColumn*l.height()
}

func (l letter) plausible() bool {
	h := l.height()
	return h >= lowestLetterMM && h <= highestLetterMM && l.width() <= widestLetter*h && l.penned()
}

// isScript tells whether a stroke is a word of joined letters.
func (l letter) isScript() bool {
	h := l.height()
	return h >= lowestLetterMM && h <= highestLetterMM && l.width() > widestLetter*h &&
		l.turns >= scriptTurns && l.backward >= scriptBackward*l.way && l.penned()
}

// lettersOf joins strokes that stand over each other, as the bar of a T over
// its stem, or the dot of an i.
func lettersOf(strokes []letter) []letter {
	slices.SortStableFunc(strokes, func(a, b letter) int { return cmp.Compare(a.left, b.left) })
	const lookBack = 24 // strokes, so that a stop of thousands is looked through quickly
	var all []letter
	for _, s := range strokes {
		joined := false
		for i := len(all) - 1; i >= max(0, len(all)-lookBack) && !joined; i-- {
			if joined = all[i].shares(s); joined {
				all[i].join(s)
			}
		}
		if !joined {
			all = append(all, s)
		}
	}
	return all
}

// shares tells whether a stroke stands over or in a letter.
func (l letter) shares(s letter) bool {
	overlap := min(l.right, s.right) - max(l.left, s.left)
	narrower := min(l.right-l.left, s.right-s.left)
	between := max(l.bottom, s.bottom) - min(l.top, s.top)
	if between >= 0.3*max(l.top-l.bottom, s.top-s.bottom) {
		return false
	}
	return overlap > narrower/2 || overlap > 0 && (l.meets(s) || s.meets(l))
}

// meets tells whether an end of another stroke lies on a letter's columns.
func (l letter) meets(s letter) bool {
	const most = 200 // points of a column that are looked at
	every := len(l.middle)/most + 1
	for _, end := range s.ends {
		for i := 0; i < len(l.middle); i += every {
			if math.Hypot(l.middle[i].x-end.x, l.middle[i].y-end.y) <= l.reach {
				return true
			}
		}
	}
	return false
}

func (l *letter) join(s letter) {
	l.left, l.right = min(l.left, s.left), max(l.right, s.right)
	l.bottom, l.top = min(l.bottom, s.bottom), max(l.top, s.top)
	l.way, l.backward, l.turns = l.way+s.way, l.backward+s.backward, l.turns+s.turns
	l.widths, l.middle = append(l.widths, s.widths...), append(l.middle, s.middle...)
	if len(l.ends) < mostEnds {
		l.ends = append(l.ends, s.ends...)
	}
}

// rowsOf finds rows of letters and is the height of their shortest letter in
// millimetres, infinite where there is no row.
func rowsOf(letters []letter) float64 {
	letters = slices.DeleteFunc(letters, func(l letter) bool { return !l.plausible() })
	slices.SortStableFunc(letters, func(a, b letter) int { return cmp.Compare(a.left, b.left) })
	shortest := math.Inf(1)
	taken := make([]bool, len(letters))
	for first := range letters {
		if taken[first] {
			continue
		}
		row := []letter{letters[first]}
		for next := first + 1; next < len(letters); next++ {
			end := row[len(row)-1]
			if !taken[next] && end.before(letters[next]) {
				row, taken[next] = append(row, letters[next]), true
			} else if letters[next].left > end.right+20*letterGap*(end.top-end.bottom) {
				break
			}
		}
		if isWord(row) {
			for _, l := range row {
				shortest = min(shortest, l.height())
			}
		}
	}
	return shortest
}

// before tells whether next stands on one line with the letter, to its right.
func (l letter) before(next letter) bool {
	low, high := l.height(), next.height()
	if low > high {
		low, high = high, low
	}
	shared := (min(l.top, next.top) - max(l.bottom, next.bottom)) / 10
	gap := (next.left - l.right) / 10
	return high <= likeHeights*low && shared >= lettersSideShare*low && gap > -0.3*low && gap <= letterGap*high
}

// isWord tells letters from a row of bars or of one motif.
func isWord(row []letter) bool {
	bent, alike := 0, 0
	for _, l := range row {
		if l.way > bentLength*math.Hypot(l.right-l.left, l.top-l.bottom) {
			bent++
		}
		if math.Abs(l.width()-row[0].width()) < 0.05*l.height() && math.Abs(l.way-row[0].way) < 0.05*row[0].way {
			alike++
		}
	}
	return len(row) >= fewestLetters && bent > 0 && 3*bent >= len(row) && alike < len(row)
}
