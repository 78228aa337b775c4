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
			g, err := hoop.Copies(c.field, c.width, c.height, hoop.DefaultGapMM, c.copies)
			require.NoError(t, err)
			assert.Equal(t, c.per, g.PerHooping)
			assert.Len(t, g.Centres, c.placed)
			assert.Equal(t, c.copies-c.placed, g.LeftOver)
			assert.Equal(t, c.rotated, g.Rotated)
			assert.Equal(t, (30+c.per-1)/c.per, g.Hoopings(30))
		})
	}
	_, err := hoop.Copies(hoop.Field{WidthMM: 90, HeightMM: 90}, 100, 20, 8, 2)
	assert.EqualError(t, err, "too wide by 10 mm")
}

func TestCopiesNeverTouchEachOtherOrTheFrame(t *testing.T) {
	rng := rand.New(rand.NewPCG(8, 8))
	for range 1000 {
		field := hoop.Field{WidthMM: 80 + 250*rng.Float64(), HeightMM: 80 + 250*rng.Float64()}
		w, h, gap := 5+70*rng.Float64(), 5+70*rng.Float64(), 15*rng.Float64()
		g, err := hoop.Copies(field, w, h, gap, 1+rng.IntN(60))
		require.NoError(t, err)
		if g.Rotated {
			w, h = h, w
		}
		for i, a := range g.Centres {
			assert.LessOrEqual(t, math.Abs(a.X)+w/2, field.WidthMM/2+1e-6)
			assert.LessOrEqual(t, math.Abs(a.Y)+h/2, field.HeightMM/2+1e-6)
			for _, b := range g.Centres[:i] {
				apart := math.Abs(a.X-b.X) >= w+gap-1e-6 || math.Abs(a.Y-b.Y) >= h+gap-1e-6
				assert.True(t, apart, "two copies closer than the gap")
			}
		}
	}
}
