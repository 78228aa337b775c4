package cutplan_test

import (
	"fmt"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/cutplan"
	"chalkstep/core/cutplan/cutplantest"
)

// On a hundred jobs whose best length is known, as they were cut from a full
// rectangle, plans are hardly longer, and every one comes apart as it says.
func TestPlansAreNearTheBest(t *testing.T) {
	const meanBar, worstBar = 1.06, 1.15
	sum, worst := 0.0, 0.0
	for seed := range uint64(100) {
		rng := rand.New(rand.NewPCG(seed, 11))
		m, pieces, best := cutplantest.Known(rng, 8+rng.IntN(53))
		l, err := cutplan.Plan(m, pieces)
		require.NoError(t, err)
		require.Len(t, l.Placed, len(pieces))
		require.NoError(t, cutplantest.Check(m, pieces, l), "seed %d", seed)
		ratio := l.LengthMM / best
		sum, worst = sum+ratio, max(worst, ratio)
		assert.GreaterOrEqual(t, l.LengthMM, l.AreaBoundMM-0.2)
	}
	t.Logf("mean %.4f × the best length, worst %.4f", sum/100, worst)
	assert.LessOrEqual(t, sum/100, meanBar)
	assert.LessOrEqual(t, worst, worstBar)
}

// A kit's everyday pieces: many alike, with and without grain.
func TestAKitsPieces(t *testing.T) {
	for name, c := range map[string]struct {
		material cutplan.Material
		pieces   []cutplan.Piece
		length   float64
	}{
		"eight sheets, two to a row": {cutplan.Material{WidthMM: 500, MaxLengthMM: 20_000},
			[]cutplan.Piece{{ID: "stabilizer", WMM: 200, HMM: 250, Count: 8, Turn: true}}, 800},
		"the same, against the grain": {cutplan.Material{WidthMM: 500},
			[]cutplan.Piece{{ID: "fabric", WMM: 200, HMM: 250, Count: 8}}, 1000},
		"strips and squares": {cutplan.Material{WidthMM: 1100},
			[]cutplan.Piece{{ID: "strip", WMM: 63, HMM: 1100, Count: 4, Turn: true},
				{ID: "square", WMM: 250, HMM: 250, Count: 4, Turn: true}}, 502},
		"one that only fits on its side": {cutplan.Material{WidthMM: 300},
			[]cutplan.Piece{{ID: "long", WMM: 400, HMM: 120, Count: 2, Turn: true}}, 400},
		"nothing to cut takes no length": {cutplan.Material{WidthMM: 300}, nil, 0},
		"a count of none is nothing, too": {cutplan.Material{WidthMM: 300}, []cutplan.Piece{{ID: "none", WMM: 40, HMM: 40}},
			0},
	} {
		t.Run(name, func(t *testing.T) {
			l, err := cutplan.Plan(c.material, c.pieces)
			require.NoError(t, err)
			require.NoError(t, cutplantest.Check(c.material, c.pieces, l))
			assert.InDelta(t, c.length, l.LengthMM, 1e-6)
		})
	}
}

func TestWhatCannotBeCutIsNamed(t *testing.T) {
	square := cutplan.Piece{ID: "square", WMM: 250, HMM: 250, Count: 9, Turn: true}
	for says, c := range map[string]struct {
		material cutplan.Material
		piece    cutplan.Piece
	}{
		`piece "square" is 250 mm wide, and the material 200 mm`: {cutplan.Material{WidthMM: 200}, square},
		"the pieces need 1250 mm of it, and there are 1000 mm":   {cutplan.Material{WidthMM: 500, MaxLengthMM: 1000}, square},
		"expected numbers above 0":                               {cutplan.Material{}, square},
		"expected sizes above 0": {cutplan.Material{WidthMM: 500},
			cutplan.Piece{ID: "flat", WMM: 10, Count: 1}},
		"more than 2000 pieces": {cutplan.Material{WidthMM: 500},
			cutplan.Piece{ID: "crumb", WMM: 1, HMM: 1, Count: 1e9}},
	} {
		_, err := cutplan.Plan(c.material, []cutplan.Piece{c.piece})
		assert.ErrorContains(t, err, says)
	}
}

// A remnant takes what it can; the rest is handed back, and nothing is lost.
func TestFillingARemnant(t *testing.T) {
	m := cutplan.Material{WidthMM: 450, MaxLengthMM: 300}
	pieces := []cutplan.Piece{{ID: "sheet", WMM: 200, HMM: 140, Count: 6, Turn: true},
		{ID: "large", WMM: 600, HMM: 600, Count: 1}}
	l, rest, err := cutplan.Fill(m, pieces)
	require.NoError(t, err)
	require.NoError(t, cutplantest.Check(m, pieces, l))
	assert.Len(t, l.Placed, 4)
	assert.Equal(t, []cutplan.Piece{{ID: "sheet", WMM: 200, HMM: 140, Count: 2, Turn: true},
		{ID: "large", WMM: 600, HMM: 600, Count: 1}}, rest)
	assert.Equal(t, 6, pieces[0].Count, "what was asked for is left as it was")

	plan, err := cutplan.Plan(cutplan.Material{WidthMM: 500}, []cutplan.Piece{{ID: "a", WMM: 300, HMM: 200, Count: 1}})
	require.NoError(t, err)
	assert.Equal(t, []cutplan.Offcut{{XMM: 300, YMM: 0, WMM: 200, HMM: 200}}, plan.Offcuts, "a rest worth keeping")
}

// The same pieces give the same layout every time.
func TestAPlanIsRepeatable(t *testing.T) {
	m, pieces, _ := cutplantest.Known(rand.New(rand.NewPCG(5, 5)), 30)
	a, err := cutplan.Plan(m, pieces)
	require.NoError(t, err)
	b, err := cutplan.Plan(m, pieces)
	require.NoError(t, err)
	assert.Equal(t, a, b)
}

// No layout is shorter than its bound, whatever sizes are measured: not by the last digit either.
func TestTheBoundIsNeverAboveTheLength(t *testing.T) {
	rng := rand.New(rand.NewPCG(17, 34))
	for n := range 400 {
		m := cutplan.Material{WidthMM: 300 + 900*rng.Float64()}
		var pieces []cutplan.Piece
		for k := range 1 + rng.IntN(4) {
			pieces = append(pieces, cutplan.Piece{ID: fmt.Sprint(k), WMM: 20 + 270*rng.Float64(), HMM: 20 + 400*rng.Float64(),
				Count: 1 + rng.IntN(3), Turn: rng.IntN(2) == 0})
		}
		layout, err := cutplan.Plan(m, pieces)
		require.NoError(t, err)
		require.LessOrEqual(t, layout.AreaBoundMM, layout.LengthMM, "layout %d", n)
		require.Less(t, layout.LengthMM/layout.AreaBoundMM, 3.0, "layout %d", n)
	}
}
