package recipe_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/recipe"
	"chalkstep/core/say"
	"chalkstep/core/stitch"
)

// What is checked before the start and afterwards follows the recipe.
func TestChecksFollowTheRecipe(t *testing.T) {
	towel, err := recipe.For(request(recipe.Terry))
	require.NoError(t, err)
	assert.Contains(t, say.Plain.Lines(towel.BeforeStart()), "Topper over the whole design")
	assert.Contains(t, say.Plain.Lines(towel.BeforeStart()), "Needle over the template's cross")
	assert.NotContains(t, say.Plain.Lines(towel.Inspection()), "Raw edges hidden")

	piece := request(recipe.WovenCotton)
	piece.Roles = []stitch.Role{stitch.Placement, stitch.TackDown, stitch.Cover}
	piece.House.StartLine = "marks"
	mat, err := recipe.For(piece)
	require.NoError(t, err)
	assert.NotContains(t, say.Plain.Lines(mat.BeforeStart()), "Topper over the whole design")
	assert.Contains(t, say.Plain.Lines(mat.BeforeStart()), "Needle over the hoop's marks, corrected for this hoop")
	assert.Contains(t, say.Plain.Lines(mat.Inspection()), "Raw edges hidden")
	for _, list := range [][]say.Text{towel.BeforeStart(), towel.Inspection(), mat.BeforeStart(), mat.Inspection()} {
		assert.GreaterOrEqual(t, len(list), 4)
	}
}
