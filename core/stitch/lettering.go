package stitch

// Figures by which lettering is seen, in millimetres and shares of a
// letter's height. They are readings of what lettering is: satin pieces of
// one kind, side by side on a line.
const (
	lowestLetterMM   = 2.5
	highestLetterMM  = 60.0
	widestLetter     = 1.6 // widths in heights
	letterGap        = 1.0
	lettersSideShare = 0.6 // of the lower of two neighbours' heights that they share
	likeHeights      = 2.0 // the taller of two neighbours at most
	fewestLetters    = 3
)

// A letter is a satin piece between two cuts of the thread, in tenths of a
// millimetre.
type letter struct{ left, bottom, right, top int32 }

func (l letter) height() float64 { return float64(l.top-l.bottom) / 10 }

// LetteringMM is the height of the shortest letter found in an analysis, 0
// where there is no lettering. Lettering is a row of at least three satin
// pieces of like height beside each other; script, which is one piece, is not
// recognised.
func LetteringMM(a Analysis) float64 {
	shortest := 0.0
	for _, s := range a.Stops {
		if s.Role != Satin {
			continue
		}
		var row []letter
		for _, piece := range clusters(s.Moves) {
			left, bottom, right, top, _ := Extent(piece)
			l := letter{left, bottom, right, top}
			if !l.plausible() || len(row) > 0 && !row[len(row)-1].before(l) {
				shortest = shorter(shortest, row)
				row = row[:0]
			}
			if l.plausible() {
				row = append(row, l)
			}
		}
		shortest = shorter(shortest, row)
	}
	return shortest
}

func (l letter) plausible() bool {
	h := l.height()
	return h >= lowestLetterMM && h <= highestLetterMM && float64(l.right-l.left)/10 <= widestLetter*h
}

// before tells whether next stands on one line with the letter, to its right.
func (l letter) before(next letter) bool {
	low, high := l.height(), next.height()
	if low > high {
		low, high = high, low
	}
	shared := float64(min(l.top, next.top)-max(l.bottom, next.bottom)) / 10
	gap := float64(next.left-l.right) / 10
	return high <= likeHeights*low && shared >= lettersSideShare*low && gap > -0.2*low && gap <= letterGap*high
}

// shorter is the height of a row's shortest letter if that is less.
func shorter(shortest float64, row []letter) float64 {
	if len(row) < fewestLetters {
		return shortest
	}
	for _, l := range row {
		if h := l.height(); shortest == 0 || h < shortest {
			shortest = h
		}
	}
	return shortest
}
