package hoop_test

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/hoop"
)

func TestBordersDivideTheirLine(t *testing.T) {
	for name, c := range map[string]struct {
		length, pitch, field float64
		repeats              int
		part                 float64
		hoopings             int
	}{
		"whole repeats":               {800, 100, 260, 8, 0, 4},
		"a little is spread":          {790, 100, 260, 8, 0, 4},
		"stretched rather than cut":   {1010, 100, 300, 10, 0, 5},
		"too much to spread: a part":  {850, 200, 300, 4, 50, 5},
		"one hooping takes the whole": {190, 96, 200, 2, 0, 1},
		"a single repeat drawn out":   {101, 100, 150, 1, 0, 1},
	} {
		t.Run(name, func(t *testing.T) {
			b, err := hoop.NewBorder(c.length, c.pitch, c.field)
			require.NoError(t, err)
			assert.Equal(t, c.repeats, b.Repeats)
			assert.InDelta(t, c.part, b.PartMM, 1e-9)
			assert.Len(t, b.Hoopings, c.hoopings)
		})
	}
	for _, c := range []struct {
		length, pitch, field float64
		says                 string
	}{{500, 300, 200, "choose a longer hoop"}, {50, 100, 200, "nothing to repeat"}, {500, 1, 200, "at least 5 mm"},
		{0, 100, 200, "up to 100,000 mm"}} {
		_, err := hoop.NewBorder(c.length, c.pitch, c.field)
		assert.ErrorContains(t, err, c.says)
	}
}

// Every border covers its line without gap or overlap, no hooping is longer
// than the field, no repeat is off by more than 2 mm, and from the middle
// outward each hooping joins one that is sewn already.
func TestBordersHoldTogether(t *testing.T) {
	rng := rand.New(rand.NewPCG(8, 8))
	for range 2000 {
		pitch := 20 + 150*rng.Float64()
		field := pitch + 2 + 300*rng.Float64()
		length := pitch + 3000*rng.Float64()
		b, err := hoop.NewBorder(length, pitch, field)
		require.NoError(t, err)
		assert.LessOrEqual(t, max(b.SpreadMM, -b.SpreadMM), hoop.MostSpreadMM+1e-9)
		assert.InDelta(t, length, float64(b.Repeats)*b.PitchMM+b.PartMM, 1e-6)
		end := 0.0
		inOrder := make([]int, len(b.Hoopings))
		for i, h := range b.Hoopings {
			assert.InDelta(t, end, h.FromMM, 1e-6)
			assert.LessOrEqual(t, h.ToMM-h.FromMM, field+1e-6)
			end = h.ToMM
			inOrder[h.Order-1] = i
		}
		assert.InDelta(t, length, end, 1e-6)
		low, high := inOrder[0], inOrder[0]
		assert.InDelta(t, float64(len(b.Hoopings)-1)/2, float64(low), 0.5, "the middle comes first")
		for _, i := range inOrder[1:] {
			side := b.Hoopings[i].NeighbourSewnOn
			require.True(t, i == low-1 && side == "right" || i == high+1 && side == "left", "hooping %d joins nothing", i)
			low, high = min(low, i), max(high, i)
		}
	}
}

func TestTwoPointsAlign(t *testing.T) {
	rng := rand.New(rand.NewPCG(9, 9))
	point := func() hoop.Point { return hoop.Point{X: 200*rng.Float64() - 100, Y: 200*rng.Float64() - 100} }
	for range 1000 {
		a, b, p, q := point(), point(), point(), point()
		got, err := hoop.Align(a, b, p, q)
		if err != nil {
			continue
		}
		for _, pair := range [][2]hoop.Point{{a, got.Apply(p)}, {b, got.Apply(q)}} {
			dx, dy := pair[0].X-pair[1].X, pair[0].Y-pair[1].Y
			assert.InDelta(t, got.ResidualMM*got.ResidualMM, dx*dx+dy*dy, 1e-6, "each point misses by the residual")
		}
		assert.LessOrEqual(t, got.TurnDegrees, 180.0)
		assert.GreaterOrEqual(t, got.TurnDegrees, -180.0)
	}
	got, err := hoop.Align(hoop.Point{X: 10, Y: 0}, hoop.Point{X: 10, Y: 100}, hoop.Point{X: -50, Y: 0},
		hoop.Point{X: 50, Y: 0})
	require.NoError(t, err)
	assert.InDelta(t, 90, got.TurnDegrees, 1e-9, "a line that runs right has to run up")
	assert.InDelta(t, 0, got.ResidualMM, 1e-9)
	_, err = hoop.Align(hoop.Point{}, hoop.Point{X: 1}, hoop.Point{}, hoop.Point{X: 50})
	assert.ErrorContains(t, err, "the marks are 1 mm apart")
	_, err = hoop.Align(hoop.Point{}, hoop.Point{X: 50}, hoop.Point{}, hoop.Point{})
	assert.ErrorContains(t, err, "choose two at least 5 mm apart")
}
