package hoop_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/hoop"
)

func TestCopiesFillTheFieldInTheBetterOrientation(t *testing.T) {
	for name, c := range map[string]struct {
		field         hoop.Field
		width, height float64
		copies        int
		per, placed   int
		rotated       bool
	}{
		"six badges":               {hoop.Field{WidthMM: 130, HeightMM: 180}, 41, 41, 6, 6, 6, false},
		"to the millimetre":        {hoop.Field{WidthMM: 108, HeightMM: 50}, 50, 50, 9, 2, 2, false},
		"turned takes more":        {hoop.Field{WidthMM: 100, HeightMM: 100}, 90, 20, 9, 3, 3, false},
		"only turned fits":         {hoop.Field{WidthMM: 60, HeightMM: 100}, 90, 20, 9, 2, 2, true},
		"fewer asked for than fit": {hoop.Field{WidthMM: 200, HeightMM: 300}, 20, 20, 3, 77, 3, false},
	} {
		t.Run(name, func(t *testing.T) {
			g, err := hoop.Copies(c.field, hoop.Item{WidthMM: c.width, HeightMM: c.height}, hoop.DefaultGapMM, c.copies)
			require.NoError(t, err)
			assert.Equal(t, c.per, g.PerHooping)
			assert.Len(t, g.Spots, c.placed)
			assert.Equal(t, c.copies-c.placed, g.LeftOver)
			assert.Equal(t, c.rotated, g.AllTurned())
			assert.Equal(t, (30+c.per-1)/c.per, g.Hoopings(30))
		})
	}
	_, err := hoop.Copies(hoop.Field{WidthMM: 90, HeightMM: 90}, hoop.Item{WidthMM: 100, HeightMM: 20}, 8, 2)
	assert.EqualError(t, err, "too wide by 10 mm")
}

// Whatever the arrangement, copies keep their gap from each other and stay in
// the field; the best is never worse than rows.
func TestCopiesNeverTouchEachOtherOrTheFrame(t *testing.T) {
	rng := rand.New(rand.NewPCG(8, 8))
	more := map[hoop.Arrangement]int{}
	for range 1500 {
		field := hoop.Field{WidthMM: 80 + 250*rng.Float64(), HeightMM: 80 + 250*rng.Float64()}
		item, gap := hoop.Item{WidthMM: 8 + 70*rng.Float64(), HeightMM: 8 + 70*rng.Float64()}, 15*rng.Float64()
		if rng.IntN(3) == 0 {
			item.HeightMM, item.Round = item.WidthMM, true
		}
		copies := 1 + rng.IntN(200)
		rows, err := hoop.Copies(field, item, gap, copies)
		require.NoError(t, err)
		best, err := hoop.BestCopies(field, item, gap, copies)
		require.NoError(t, err)
		require.GreaterOrEqual(t, len(best.Spots), len(rows.Spots))
		if len(best.Spots) > len(rows.Spots) {
			more[best.Arrangement]++
		}
		for _, l := range []hoop.Layout{rows, best} {
			require.Equal(t, copies, len(l.Spots)+l.LeftOver)
			requireApart(t, field, item, gap, l)
		}
	}
	assert.Greater(t, more[hoop.Mixed], 50)
	assert.Greater(t, more[hoop.Staggered], 50)
	assert.Zero(t, more[hoop.Rows])
}

func requireApart(t *testing.T, field hoop.Field, item hoop.Item, gap float64, l hoop.Layout) {
	t.Helper()
	size := func(s hoop.Spot) (w, h float64) {
		if s.Turned {
			return item.HeightMM, item.WidthMM
		}
		return item.WidthMM, item.HeightMM
	}
	const slack = 1e-6
	for i, a := range l.Spots {
		w, h := size(a)
		require.LessOrEqual(t, math.Abs(a.X)+w/2, field.WidthMM/2+slack)
		require.LessOrEqual(t, math.Abs(a.Y)+h/2, field.HeightMM/2+slack)
		for _, b := range l.Spots[:i] {
			otherW, otherH := size(b)
			apart := math.Abs(a.X-b.X) >= (w+otherW)/2+gap-slack || math.Abs(a.Y-b.Y) >= (h+otherH)/2+gap-slack ||
				item.Round && math.Hypot(a.X-b.X, a.Y-b.Y) >= item.WidthMM+gap-slack
			require.True(t, apart, "%s: two copies closer than the gap: %v and %v", l.Arrangement, a, b)
		}
	}
}

// Known optima: pallets that need turned boxes, and one that no straight line
// parts; discs in staggered rows.
func TestTheBestLayouts(t *testing.T) {
	for name, c := range map[string]struct {
		field hoop.Field
		item  hoop.Item
		gap   float64
		want  int
		way   hoop.Arrangement
	}{
		"rows are enough": {hoop.Field{WidthMM: 100, HeightMM: 100}, hoop.Item{WidthMM: 50, HeightMM: 50}, 0, 4,
			hoop.Rows},
		"a column turned": {hoop.Field{WidthMM: 70, HeightMM: 60}, hoop.Item{WidthMM: 20, HeightMM: 30}, 0, 7,
			hoop.Mixed},
		"four round a hole": {hoop.Field{WidthMM: 50, HeightMM: 50}, hoop.Item{WidthMM: 30, HeightMM: 20}, 0, 4,
			hoop.Mixed},
		"13 × 11 in a square of 50": {hoop.Field{WidthMM: 50, HeightMM: 50}, hoop.Item{WidthMM: 13, HeightMM: 11}, 0, 16,
			hoop.Mixed},
		"discs": {hoop.Field{WidthMM: 100, HeightMM: 100},
			hoop.Item{WidthMM: 20, HeightMM: 20, Round: true}, 0, 25, hoop.Rows},
		"discs that stagger": {hoop.Field{WidthMM: 130, HeightMM: 180},
			hoop.Item{WidthMM: 26, HeightMM: 26, Round: true}, 4, 28, hoop.Staggered},
	} {
		t.Run(name, func(t *testing.T) {
			l, err := hoop.BestCopies(c.field, c.item, c.gap, 500)
			require.NoError(t, err)
			t.Log(len(l.Spots), l.Arrangement)
			assert.Equal(t, c.way, l.Arrangement)
			assert.Len(t, l.Spots, c.want)
		})
	}
}
