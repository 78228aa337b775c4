package hoop_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/hoop"
)

func TestPlacingKeepsTheDesignInTheField(t *testing.T) {
	field := hoop.Field{WidthMM: 130, HeightMM: 180}
	placed, err := hoop.Place(field, 80, 90, 5, hoop.Placing{X: 4, Y: -10})
	require.NoError(t, err)
	assert.Equal(t, [4]hoop.Point{{X: -41, Y: 40}, {X: 49, Y: 40}, {X: 49, Y: -60}, {X: -41, Y: -60}}, placed.Corners,
		"basting included")
	assert.False(t, placed.HeldBack)
	left, right, up, down := placed.RoomMM()
	assert.Equal(t, []float64{24, 16, 50, 30}, []float64{left, right, up, down})

	far, err := hoop.Place(field, 80, 90, 5, hoop.Placing{X: 999, Y: 0})
	require.NoError(t, err)
	assert.True(t, far.HeldBack)
	assert.Equal(t, 20.0, far.X)

	_, err = hoop.Place(field, 150, 90, 0, hoop.Placing{})
	assert.EqualError(t, err, "too wide by 20 mm", "upright it does not fit")
	turned, err := hoop.Place(field, 150, 90, 0, hoop.Placing{Turn: 90})
	require.NoError(t, err)
	assert.Equal(t, 20.0, turned.NudgeXMM)
	_, err = hoop.Place(field, 10, 10, 0, hoop.Placing{Turn: 45})
	assert.ErrorContains(t, err, "expected 0 or 90")
}

func TestSnappingTouchesTheFieldsEdges(t *testing.T) {
	rng := rand.New(rand.NewPCG(3, 3))
	for range 200 {
		field := hoop.Field{WidthMM: 100 + 200*rng.Float64(), HeightMM: 100 + 200*rng.Float64()}
		start, err := hoop.Place(field, 20+70*rng.Float64(), 20+70*rng.Float64(), 0, hoop.Placing{})
		require.NoError(t, err)
		for _, name := range hoop.Snaps {
			want, err := start.Snap(name)
			require.NoError(t, err)
			assert.LessOrEqual(t, math.Abs(want.X), start.NudgeXMM)
			switch name {
			case "top left":
				assert.InDelta(t, -field.WidthMM/2, want.X+start.Corners[0].X, 1e-9)
				assert.InDelta(t, field.HeightMM/2, want.Y+start.Corners[0].Y, 1e-9)
			case "bottom":
				assert.Zero(t, want.X)
				assert.InDelta(t, -field.HeightMM/2, want.Y+start.Corners[2].Y, 1e-9)
			case "centre":
				assert.Equal(t, hoop.Placing{}, want)
			}
		}
	}
	_, err := hoop.Placed{}.Snap("upstairs")
	assert.ErrorContains(t, err, "no place to snap to")
}

func TestEvenMargins(t *testing.T) {
	square := []hoop.Point{{X: -20, Y: -20}, {X: 20, Y: -20}, {X: 20, Y: 20}, {X: -20, Y: 20}}
	for name, c := range map[string]struct {
		shape hoop.Blank
		least float64
		even  bool
	}{
		"a square with 6 mm all round":       {hoop.Blank{WidthMM: 52, HeightMM: 52}, 6, true},
		"wider than it is tall":              {hoop.Blank{WidthMM: 60, HeightMM: 52}, 6, false},
		"the corners poke out of a circle":   {hoop.Blank{WidthMM: 50, HeightMM: 50, Round: true}, 25 - 20*math.Sqrt2, false},
		"a circle large enough for the same": {hoop.Blank{WidthMM: 70, HeightMM: 70, Round: true}, 35 - 20*math.Sqrt2, true},
	} {
		t.Run(name, func(t *testing.T) {
			m, err := hoop.MarginsIn(c.shape, square)
			require.NoError(t, err)
			assert.InDelta(t, c.least, m.Least, 0.05)
			assert.Equal(t, c.even, m.Even())
		})
	}
	_, err := hoop.MarginsIn(hoop.Blank{}, square)
	assert.ErrorContains(t, err, "expected a shape with a size")
}
