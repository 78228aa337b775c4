package stitch_test

import (
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"

	"chalkstep/core/stitch"
)

// Strokes of some capitals, in a box one unit high.
var capitals = map[rune][][][2]float64{
	'A': {{{0, 0}, {0.35, 1}, {0.7, 0}}, {{0.15, 0.35}, {0.55, 0.35}}},
	'H': {{{0, 0}, {0, 1}}, {{0.6, 0}, {0.6, 1}}, {{0, 0.5}, {0.6, 0.5}}},
	'I': {{{0, 0}, {0, 1}}},
	'L': {{{0, 1}, {0, 0}, {0.5, 0}}},
	'N': {{{0, 0}, {0, 1}, {0.6, 0}, {0.6, 1}}},
	'O': {{{0.7, 0.5}, {0.6, 0.85}, {0.35, 1}, {0.1, 0.85}, {0, 0.5}, {0.1, 0.15}, {0.35, 0}, {0.6, 0.15}, {0.7, 0.5}}},
	'S': {{{0.5, 0.85}, {0.25, 1}, {0, 0.8}, {0.1, 0.55}, {0.45, 0.45}, {0.5, 0.2}, {0.25, 0}, {0, 0.15}}},
	'T': {{{0, 1}, {0.6, 1}}, {{0.3, 1}, {0.3, 0}}},
}

// A writer sews letters for these tests, 0.4 mm a side.
type writer struct{ stitch.Pattern }

func (w *writer) column(line [][2]float64, width func(along float64) float64) {
	length := 0.0
	for i := 1; i < len(line); i++ {
		length += math.Hypot(line[i][0]-line[i-1][0], line[i][1]-line[i-1][1])
	}
	done, side := 0.0, 1.0
	for i := 1; i < len(line); i++ {
		a, b := line[i-1], line[i]
		part := math.Hypot(b[0]-a[0], b[1]-a[1])
		for at := 0.0; at < part; at += 2 {
			half := width((done+at)/length) / 2 * side
			w.Moves = append(w.Moves, stitch.Move{
				X: int32(math.Round(a[0] + (b[0]-a[0])*at/part - (b[1]-a[1])/part*half)),
				Y: int32(math.Round(a[1] + (b[1]-a[1])*at/part + (b[0]-a[0])/part*half)),
			})
			side = -side
		}
		done += part
	}
}

func even(width float64) func(float64) float64 { return func(float64) float64 { return width } }

// cut parts the thread by some moves.
func (w *writer) cut(kinds ...stitch.Kind) {
	if len(w.Moves) == 0 {
		return
	}
	last := w.Moves[len(w.Moves)-1]
	for _, kind := range kinds {
		w.Moves = append(w.Moves, stitch.Move{X: last.X, Y: last.Y, Kind: kind})
	}
}

// capital sews a letter with its left edge at x, in tenths of a millimetre.
func (w *writer) capital(letter rune, x, y, height float64, between ...stitch.Kind) {
	for _, stroke := range capitals[letter] {
		w.cut(between...)
		var line [][2]float64
		for _, p := range stroke {
			line = append(line, [2]float64{x + p[0]*height, y + p[1]*height})
		}
		w.column(line, even(height/6))
	}
}

func (w *writer) word(text string, height float64, between ...stitch.Kind) {
	for i, letter := range text {
		w.capital(letter, float64(i)*height, 0, height, between...)
	}
}

func letteringOf(sew func(w *writer)) float64 {
	var w writer
	sew(&w)
	return stitch.LetteringMM(stitch.Analyse(&w.Pattern))
}

// leaf tapers to both ends.
func leaf(widest float64) func(float64) float64 {
	return func(along float64) float64 { return max(8, widest*math.Sin(along*math.Pi)) }
}

func TestLetteringIsFoundHoweverItIsSewn(t *testing.T) {
	cut := []stitch.Kind{stitch.Trim, stitch.Jump}
	for name, c := range map[string]struct {
		sew  func(w *writer)
		want float64
	}{
		"letters with trims between": {func(w *writer) { w.word("SALT", 120, cut...) }, 12},
		"letters with jumps only":    {func(w *writer) { w.word("SALT", 120, stitch.Jump) }, 12},
		"joined by travel stitches":  {func(w *writer) { w.word("SALTON", 80) }, 8},
		"small ones": {func(w *writer) {
			w.word("HAL", 50, cut...)
		}, 5},
		"from the middle outwards": {func(w *writer) {
			for _, i := range []int{2, 3, 4, 1, 0} {
				w.capital(rune("SALTO"[i]), float64(i)*100, 0, 100, cut...)
			}
		}, 10},
		"two lines, the shorter counts": {func(w *writer) {
			w.word("NOTES", 120, cut...)
			for i, letter := range "SALT" {
				w.capital(letter, float64(i)*80, -150, 70, cut...)
			}
		}, 7},
		"a word in one stroke": {func(w *writer) {
			var line [][2]float64
			for turn := 0.0; turn < 5*2*math.Pi; turn += 0.1 {
				line = append(line, [2]float64{turn*22 - 40*math.Sin(turn), 50 * (1 - math.Cos(turn))})
			}
			w.column(line, even(14))
		}, 10.5},
	} {
		t.Run(name, func(t *testing.T) { assert.InDelta(t, c.want, letteringOf(c.sew), 0.25*c.want) })
	}
}

func TestWhatIsNoLettering(t *testing.T) {
	rows := func(n int, shape func(w *writer, x float64, i int)) func(w *writer) {
		return func(w *writer) {
			for i := range n {
				w.cut(stitch.Trim, stitch.Jump)
				shape(w, float64(i)*90, i)
			}
		}
	}
	for name, sew := range map[string]func(w *writer){
		"two letters": func(w *writer) { w.word("TO", 100, stitch.Trim) },
		"a row of upright leaves": rows(6, func(w *writer, x float64, i int) {
			w.column([][2]float64{{x, 0}, {x, 90 + float64(i%3)*8}}, leaf(30))
		}),
		"leaves that lean to either side": rows(8, func(w *writer, x float64, i int) {
			w.column([][2]float64{{x, 0}, {x + float64(i%2*2-1)*50, 80}}, leaf(26))
		}),
		"curved leaves": rows(6, func(w *writer, x float64, i int) {
			w.column([][2]float64{{x, 0}, {x + 20, 40}, {x + 15, 90 + float64(i%3)*8}}, leaf(30))
		}),
		"the bars of a fence": rows(7, func(w *writer, x float64, i int) {
			w.column([][2]float64{{x, 0}, {x, 80 + float64(i%2)*10}}, even(18))
		}),
		"one motif repeated": rows(6, func(w *writer, x float64, _ int) {
			w.column([][2]float64{{x, 60}, {x + 10, 0}, {x + 50, 0}, {x + 60, 60}}, even(14))
		}),
		"a wavy border": func(w *writer) {
			var line [][2]float64
			for x := 0.0; x < 900; x += 5 {
				line = append(line, [2]float64{x, 50 * math.Sin(x/25)})
			}
			w.column(line, even(18))
		},
		"columns of all heights": rows(5, func(w *writer, x float64, i int) {
			w.column([][2]float64{{x, 0}, {x, []float64{80, 20, 300, 40, 700}[i]}}, even(15))
		}),
		"letters on a stair": func(w *writer) {
			for i, letter := range "SALTO" {
				w.capital(letter, float64(i)*100, float64(i)*130, 100, stitch.Trim)
			}
		},
	} {
		t.Run(name, func(t *testing.T) { assert.Zero(t, letteringOf(sew)) })
	}
}

// A satin at 0.4 mm a side covers as a plain fill does: it is not dense, alone,
// over its underlay, or as the cover of a piece.
func TestOrdinarySatinIsNotDense(t *testing.T) {
	ring := func(turns float64) [][2]float64 {
		var line [][2]float64
		for a := 0.0; a <= turns*2*math.Pi; a += 0.05 {
			line = append(line, [2]float64{300 * math.Cos(a), 300 * math.Sin(a)})
		}
		return line
	}
	run := func(w *writer) {
		for i, p := range ring(1) {
			if i%2 == 0 {
				w.Moves = append(w.Moves, stitch.Move{X: int32(p[0]), Y: int32(p[1])})
			}
		}
	}
	for name, c := range map[string]struct {
		sew  func(w *writer)
		want stitch.DensityClass
	}{
		"satin alone":       {func(w *writer) { w.column(ring(1), even(35)) }, stitch.Medium},
		"over its underlay": {func(w *writer) { run(w); w.column(ring(1), even(35)) }, stitch.Medium},
		"as the cover of a piece": {func(w *writer) {
			run(w)
			w.cut(stitch.Change)
			run(w)
			w.cut(stitch.Change)
			w.column(ring(1), even(32))
		}, stitch.Medium},
		"twice over itself": {func(w *writer) { w.column(ring(2), even(35)) }, stitch.Dense},
		"lettering":         {func(w *writer) { w.word("SALTON", 120, stitch.Trim) }, stitch.Medium},
	} {
		t.Run(name, func(t *testing.T) {
			var w writer
			c.sew(&w)
			a := stitch.Analyse(&w.Pattern)
			whole, byStop := stitch.Coverages(&w.Pattern, a.Stops)
			assert.Equal(t, c.want, stitch.Class(whole), "%.2f", whole)
			assert.Equal(t, c.want, stitch.Class(slices.Max(byStop)), "%.2f", byStop)
			assert.Equal(t, c.want, stitch.Class(stitch.Density(w.Moves).Mean()))
		})
	}
}
