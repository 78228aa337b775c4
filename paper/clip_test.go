package paper

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
)

// The clipped part of a line is all of it that lies in the window, and
// nothing else.
func TestClippingKeepsWhatIsInTheWindow(t *testing.T) {
	rng := rand.New(rand.NewPCG(2, 2))
	point := func() [2]float64 { return [2]float64{300*rng.Float64() - 100, 300*rng.Float64() - 100} }
	const x0, y0, x1, y1 = 0, 0, 100, 80
	inside := func(p [2]float64, slack float64) bool {
		return p[0] >= x0-slack && p[0] <= x1+slack && p[1] >= y0-slack && p[1] <= y1+slack
	}
	for range 3000 {
		a, b := point(), point()
		from, to, ok := clipped(a, b, x0, y0, x1, y1)
		if ok {
			assert.True(t, inside(from, 1e-6) && inside(to, 1e-6))
		}
		for i := range 41 {
			share := float64(i) / 40
			p := [2]float64{a[0] + share*(b[0]-a[0]), a[1] + share*(b[1]-a[1])}
			if !inside(p, -1e-6) {
				continue
			}
			assert.True(t, ok, "%v to %v passes the window", a, b)
			low, high := min(from[0], to[0]), max(from[0], to[0])
			assert.True(t, p[0] >= low-1e-6 && p[0] <= high+1e-6)
		}
	}
	from, to, ok := clipped([2]float64{10, 20}, [2]float64{10, 20}, x0, y0, x1, y1)
	assert.True(t, ok)
	assert.Equal(t, from, to, "a point is kept")
	_, _, ok = clipped([2]float64{10, 200}, [2]float64{90, 200}, x0, y0, x1, y1)
	assert.False(t, ok)
}

// A length takes the fewest overlapping sheets that cover it.
func TestTilesCoverALength(t *testing.T) {
	for length := 1.0; length < 2000; length += 7 {
		n := tiles(length, 190)
		covered := func(n int) float64 { return float64(n)*(190-tileOverlap) + tileOverlap }
		assert.GreaterOrEqual(t, covered(n)+1e-6, length)
		if n > 1 {
			assert.Less(t, covered(n-1), length)
		}
	}
}

// Words break between words where they can, and nothing is lost.
func TestLinesBreak(t *testing.T) {
	doc, err := newDocument("words")
	assert.NoError(t, err)
	p := doc.measure()
	words := "Hoop off the machine, flat on the table: trim to 1–2 mm outside the line."
	for _, width := range []float64{200, 60, 30, 12} {
		joined := ""
		for _, line := range p.lines(words, width, 3.5, 0) {
			joined += line
			assert.LessOrEqual(t, p.face.width(line, 0)*3.5, width+0.01)
		}
		assert.Equal(t, stripped(words), stripped(joined))
	}
	assert.InDelta(t, 5, p.fitted("Ana", 100, 5, 0), 1e-9, "what fits keeps its size")
	assert.Less(t, p.fitted(words, 40, 5, 0), 5.0)
}

func stripped(text string) string {
	out := ""
	for _, r := range text {
		if r != ' ' {
			out += string(r)
		}
	}
	return out
}
