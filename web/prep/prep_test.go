package prep

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/cutplan"
	"chalkstep/core/kit"
	"chalkstep/core/stock"
	"chalkstep/core/supply"
	"chalkstep/web/ui"
)

// A cut plan is drawn on its side, every piece inside the material, and every
// cut with its number.
func TestACutPlanIsDrawn(t *testing.T) {
	pieces := []kit.Piece{{Key: supply.Sheet(supply.TearAway, supply.Medium), SizeMM: [2]float64{200, 250}},
		{As: kit.Binding, Key: supply.Cloth("linen"), SizeMM: [2]float64{63, 480}}}
	layout, err := cutplan.Plan(cutplan.Material{WidthMM: 500},
		[]cutplan.Piece{{ID: "0", WMM: 200, HMM: 250, Count: 5, Turn: true},
			{ID: "1", WMM: 63, HMM: 480, Count: 2, Turn: true}})
	require.NoError(t, err)
	d := newCutView(ui.P{}, stock.Cut{Pieces: pieces}, stock.Bed{WidthMM: 500, Layout: layout})
	require.Len(t, d.Pieces, 7)
	names := map[string]int{}
	for _, p := range d.Pieces {
		names[p.Name]++
		assert.LessOrEqual(t, p.X+p.W, d.Length+1e-6)
		assert.LessOrEqual(t, p.Y+p.H, d.Width+1e-6)
	}
	assert.Equal(t, map[string]int{"medium tear-away": 5, "binding of linen": 2}, names)
	for i, c := range d.Cuts {
		assert.Equal(t, i+1, c.N)
		assert.True(t, c.X1 == c.X2 || c.Y1 == c.Y2, "cuts are straight")
		assert.InDelta(t, (c.X1+c.X2)/2, c.MX, 1e-9)
	}
	assert.Equal(t, d.Length, d.Cuts[0].X1, "the first takes the length off the roll")
}

// Every state of a kit but the first has a verb that leads to it.
func TestEveryKitStateHasItsVerb(t *testing.T) {
	seen := []kit.State{kit.ToCut}
	for state, more := kit.ToCut.Next(); more; state, more = state.Next() {
		assert.NotEmpty(t, kitVerb[state], state)
		seen = append(seen, state)
	}
	assert.Equal(t, kit.States, seen)
}
