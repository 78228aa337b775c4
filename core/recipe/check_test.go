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
	assert.NotContains(t, keysOf(towel), recipe.CheckEdges)
	assert.Contains(t, keysOf(towel), recipe.CheckTopper)
	assert.NotContains(t, keysOf(towel), recipe.CheckTrimmed, "it is torn away")

	piece := request(recipe.WovenCotton)
	piece.Roles = []stitch.Role{stitch.Placement, stitch.TackDown, stitch.Cover}
	piece.House.StartLine = "marks"
	mat, err := recipe.For(piece)
	require.NoError(t, err)
	assert.NotContains(t, say.Plain.Lines(mat.BeforeStart()), "Topper over the whole design")
	assert.Contains(t, say.Plain.Lines(mat.BeforeStart()), "Needle over the hoop's marks, corrected for this hoop")
	assert.Contains(t, keysOf(mat), recipe.CheckEdges)
	assert.Equal(t, []string{
		"Front: it lies on its mark, the right way up, outline meets fill, no gap over 1 mm, no loops, no puckers and raw " +
			"edges hidden", "Back: bobbin thread is the middle third of satin", "Finish: jumps snipped and marks gone"},
		say.Plain.Lines(mat.Inspection()))
	shirt, err := recipe.For(request(recipe.Jersey))
	require.NoError(t, err)
	assert.Contains(t, keysOf(shirt), recipe.CheckTrimmed)
	for _, c := range mat.Checks() {
		assert.NotEmpty(t, c.Try, "%s can be put right", c.Key)
		assert.Contains(t, recipe.CheckKeys, c.Key)
	}
}

// keysOf are what is looked at of a piece.
func keysOf(r recipe.Recipe) (keys []recipe.CheckKey) {
	for _, c := range r.Checks() {
		keys = append(keys, c.Key)
	}
	return keys
}
