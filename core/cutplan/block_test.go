package cutplan

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// randomRects are pieces with sides from a short list, so that many match.
func randomRects(rng *rand.Rand, n int) []rect {
	sides := []float64{60, 80, 100, 140, 200}
	all := make([]rect, n)
	for i := range all {
		all[i] = rect{kind: i, id: fmt.Sprint(i), w: sides[rng.IntN(len(sides))], h: sides[rng.IntN(len(sides))],
			turn: rng.IntN(2) == 0}
	}
	return all
}

// Joining loses no piece and changes none: a joined rect unfolds, either way
// round, into its pieces side by side inside its own sides.
func TestJoinedRectsUnfoldIntoTheirPieces(t *testing.T) {
	rng := rand.New(rand.NewPCG(21, 21))
	for range 60 {
		all := randomRects(rng, 4+rng.IntN(20))
		j := newJoiner(all, 500, rng)
		tolerance := []float64{0, 0.04}[rng.IntN(2)]
		seen := map[string]bool{}
		for _, block := range j.join(tolerance, areaOf(all)) {
			assert.True(t, fitsWidth(block.w, block.h, block.turn, 500))
			for _, turned := range []bool{false, true} {
				if turned && !block.turn {
					continue
				}
				w, h := block.sides(turned)
				var placed []Placed
				block.unfold(0, 0, turned, func(p Placed) { placed = append(placed, p) }, func(c Cut) {
					assert.True(t, c.X1MM == c.X2MM || c.Y1MM == c.Y2MM, "cuts are straight")
				})
				for i, p := range placed {
					seen[p.ID] = true
					original := all[atoi(t, p.ID)]
					pw, ph := original.sides(p.Turned)
					assert.Equal(t, []float64{pw, ph}, []float64{p.WMM, p.HMM})
					assert.False(t, p.Turned && !original.turn, "grain is kept")
					assert.True(t, p.XMM >= -hair && p.YMM >= -hair && p.XMM+p.WMM <= w+hair && p.YMM+p.HMM <= h+hair)
					for _, q := range placed[:i] {
						apart := p.XMM >= q.XMM+q.WMM-hair || q.XMM >= p.XMM+p.WMM-hair || p.YMM >= q.YMM+q.HMM-hair ||
							q.YMM >= p.YMM+p.HMM-hair
						assert.True(t, apart)
					}
				}
			}
		}
		assert.Len(t, seen, len(all))
	}
}

func atoi(t *testing.T, text string) int {
	t.Helper()
	var n int
	_, err := fmt.Sscan(text, &n)
	require.NoError(t, err)
	return n
}

// Off-cuts are large enough to keep, and lie on no piece and off nothing.
func TestOffcutsLieBesideThePieces(t *testing.T) {
	rng := rand.New(rand.NewPCG(22, 22))
	for range 40 {
		all := randomRects(rng, 3+rng.IntN(12))
		l := shortest(450, all).lay(450)
		for _, o := range l.Offcuts {
			assert.GreaterOrEqual(t, math.Min(o.WMM, o.HMM), LeastOffcutMM-hair)
			assert.LessOrEqual(t, o.XMM+o.WMM, 450+hair)
			assert.LessOrEqual(t, o.YMM+o.HMM, l.LengthMM+hair)
			for _, p := range l.Placed {
				apart := p.XMM >= o.XMM+o.WMM-hair || o.XMM >= p.XMM+p.WMM-hair || p.YMM >= o.YMM+o.HMM-hair ||
					o.YMM >= p.YMM+p.HMM-hair
				assert.True(t, apart, "an off-cut on a piece")
			}
		}
	}
}
