package hoop_test

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/hoop"
)

func TestADesignFitsUprightOrTurned(t *testing.T) {
	for name, c := range map[string]struct {
		field         hoop.Field
		width, height float64
		margin        float64
		want          hoop.Fit
		problem       string
	}{
		"upright with room": {hoop.Field{WidthMM: 130, HeightMM: 180}, 84, 79, 0,
			hoop.Fit{Turn: 0, NudgeXMM: 23, NudgeYMM: 50.5}, ""},
		"only turned": {hoop.Field{WidthMM: 100, HeightMM: 200}, 150, 90, 0,
			hoop.Fit{Turn: 90, NudgeXMM: 5, NudgeYMM: 25}, ""},
		"to the millimetre":      {hoop.Field{WidthMM: 100, HeightMM: 100}, 100, 100, 0, hoop.Fit{}, ""},
		"basting takes the room": {hoop.Field{WidthMM: 100, HeightMM: 100}, 95, 80, 5, hoop.Fit{}, "too wide by 5 mm"},
		"too tall":               {hoop.Field{WidthMM: 90, HeightMM: 90}, 84, 93, 0, hoop.Fit{}, "too tall by 3 mm"},
		"too big both ways": {hoop.Field{WidthMM: 90, HeightMM: 90}, 120, 93, 0, hoop.Fit{},
			"too wide by 30 mm and too tall by 3 mm"},
		"a tenth too tall still counts": {hoop.Field{WidthMM: 90, HeightMM: 90}, 80, 90.1, 0, hoop.Fit{}, "too tall by 1 mm"},
	} {
		t.Run(name, func(t *testing.T) {
			fit, err := hoop.Into(c.field, c.width, c.height, c.margin)
			if c.problem != "" {
				assert.EqualError(t, err, c.problem)
				return
			}
			require.NoError(t, err)
			assert.Equal(t, c.want, fit)
		})
	}
}

func TestNudgingToTheLimitStaysInTheField(t *testing.T) {
	rng := rand.New(rand.NewPCG(5, 5))
	for range 2000 {
		field := hoop.Field{WidthMM: 50 + 300*rng.Float64(), HeightMM: 50 + 300*rng.Float64()}
		w, h := 200*rng.Float64(), 200*rng.Float64()
		fit, err := hoop.Into(field, w, h, 0)
		if err != nil {
			continue
		}
		if fit.Turn == 90 {
			w, h = h, w
		}
		assert.LessOrEqual(t, w/2+fit.NudgeXMM, field.WidthMM/2+1e-9)
		assert.LessOrEqual(t, h/2+fit.NudgeYMM, field.HeightMM/2+1e-9)
		assert.GreaterOrEqual(t, min(fit.NudgeXMM, fit.NudgeYMM), 0.0)
	}
}

func TestChoosingAmongHoops(t *testing.T) {
	fields := []hoop.Field{{WidthMM: 200, HeightMM: 300}, {WidthMM: 100, HeightMM: 100}, {WidthMM: 130, HeightMM: 180}}
	for name, c := range map[string]struct {
		width, height float64
		school        hoop.School
		garment       bool
		want          int
	}{
		"snug takes the smallest":                 {60, 60, hoop.Snug, true, 1},
		"roomy takes the next size up":            {60, 60, hoop.Roomy, false, 2},
		"flat goods are held tightest":            {90, 90, hoop.ByBlank, false, 1},
		"a garment with room stays small":         {60, 60, hoop.ByBlank, true, 1},
		"a garment without room goes one up":      {90, 90, hoop.ByBlank, true, 2},
		"the largest is taken if nothing else is": {190, 250, hoop.ByBlank, true, 0},
	} {
		t.Run(name, func(t *testing.T) {
			index, _, ok := hoop.Choose(fields, c.width, c.height, 0, c.school, c.garment)
			require.True(t, ok)
			assert.Equal(t, c.want, index)
		})
	}
	_, _, ok := hoop.Choose(fields, 400, 400, 0, hoop.Snug, false)
	assert.False(t, ok)
}

// A long narrow design that fits neither upright nor by a quarter may lie from
// corner to corner.
func TestADesignThatFitsTurned(t *testing.T) {
	bar := []hoop.Point{{X: -60, Y: -5}, {X: 60, Y: -5}, {X: 60, Y: 5}, {X: -60, Y: 5}}
	degrees, ok := hoop.TurnInto(hoop.Field{WidthMM: 100, HeightMM: 100}, bar, 0)
	require.True(t, ok)
	assert.Equal(t, 39, degrees, "120·cos 39° + 10·sin 39° is 99.6")
	_, ok = hoop.TurnInto(hoop.Field{WidthMM: 100, HeightMM: 100}, bar, 5)
	assert.False(t, ok, "with a margin all round it is too long")
	leaning := []hoop.Point{{X: -40, Y: -45}, {X: 40, Y: 45}}
	degrees, ok = hoop.TurnInto(hoop.Field{WidthMM: 60, HeightMM: 125}, leaning, 0)
	require.True(t, ok)
	assert.Equal(t, 12, degrees, "80·cos 12° − 90·sin 12° is 59.5")
	_, ok = hoop.TurnInto(hoop.Field{WidthMM: 20, HeightMM: 20}, bar, 0)
	assert.False(t, ok)
}
