package policy_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/policy"
	"chalkstep/core/recipe"
)

// Figures are read over the handbook's, so that one that came later has its
// default in a workshop of before.
func TestFiguresAreReadOverTheDefaults(t *testing.T) {
	own := policy.Defaults()
	own.Pace.HoopWoven, own.Kit.Tests = 7, 2
	data, err := own.FiguresJSON()
	require.NoError(t, err)
	assert.Contains(t, string(data), `"version":5`)
	assert.Contains(t, string(data), `"hoop_woven":7`)
	var back policy.Rules
	require.NoError(t, back.ReadFigures(data))
	assert.Equal(t, own, back)

	var short policy.Rules
	require.NoError(t, short.ReadFigures([]byte(`{"version":1,"pace":{"mark":9}}`)))
	assert.InDelta(t, 9, short.Pace.Mark, 1e-9)
	assert.InDelta(t, 4, short.Pace.Stabilise, 1e-9)
	assert.InDelta(t, 1.35, short.Kit.DrawFactor, 1e-9)
	require.NoError(t, short.ReadFigures(nil))
	assert.Equal(t, policy.Defaults(), short)
	assert.ErrorContains(t, short.ReadFigures([]byte(`{"version":99}`)), "update it")
	assert.Error(t, short.ReadFigures([]byte(`{`)))
}

func TestAProjectMayHoldToItsOwn(t *testing.T) {
	r := policy.Defaults()
	r.House.Jumps = "at-end"
	in := r.In(recipe.Rules{Topper: "every-knit"})
	assert.Equal(t, "at-end", in.House.Jumps)
	assert.Equal(t, "every-knit", in.House.Topper)
	assert.Empty(t, r.House.Topper, "the house stays as it was")
}
