package recipe_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/recipe"
	"chalkstep/core/say"
	"chalkstep/core/stitch"
)

// What dense stitching does to a fabric is said at the fabric it does it to, in
// words of what was measured, and of totals only where nobody measured.
func TestWhatDenseStitchingDoes(t *testing.T) {
	for name, c := range map[string]struct {
		fabric  recipe.Fabric
		density stitch.DensityClass
		says    string
	}{
		"medium on jersey":      {recipe.Jersey, stitch.Medium, "heavy for a t-shirt knit"},
		"dense on jersey":       {recipe.Jersey, stitch.Dense, "puckers and stands off the body"},
		"dense on cotton":       {recipe.WovenCotton, stitch.Dense, "draws a light woven in"},
		"dense on linen":        {recipe.Linen, stitch.Dense, "draws a light woven in"},
		"dense on terry":        {recipe.Terry, stitch.Dense, "mats the pile"},
		"dense on velvet":       {recipe.Velvet, stitch.Dense, "mats the pile"},
		"dense on vinyl":        {recipe.Vinyl, stitch.Dense, "perforates it"},
		"dense on sheer":        {recipe.Sheer, stitch.Dense, "leaves holes at its edge"},
		"too dense on sweats":   {recipe.Sweatshirt, stitch.TooDense, "measured, the stitching is too dense"},
		"open on jersey":        {recipe.Jersey, stitch.Open, ""},
		"dense on canvas":       {recipe.Canvas, stitch.Dense, ""},
		"medium on woven cloth": {recipe.WovenCotton, stitch.Medium, ""},
	} {
		t.Run(name, func(t *testing.T) {
			r, err := recipe.For(recipe.Request{Fabric: c.fabric, Density: c.density, WidthMM: 80, HeightMM: 80,
				Stitches: 20_000, Colors: 3, HoopMM: [2]float64{130, 130}})
			require.NoError(t, err)
			all := strings.ToLower(strings.Join(say.Plain.Lines(r.Cautions), " "))
			for _, reason := range r.Reasons {
				assert.NotContains(t, say.Plain.Say(reason.Rule), "per cm²", "it was measured")
			}
			if c.says == "" {
				assert.NotContains(t, all, "dense")
				assert.NotContains(t, all, "density")
				return
			}
			assert.Contains(t, all, c.says)
		})
	}
	unmeasured, err := recipe.For(recipe.Request{Fabric: recipe.Linen, WidthMM: 80, HeightMM: 80, Stitches: 7000,
		Colors: 3, HoopMM: [2]float64{130, 130}})
	require.NoError(t, err)
	var rules []string
	for _, reason := range unmeasured.Reasons {
		rules = append(rules, say.Plain.Say(reason.Rule))
	}
	assert.Contains(t, strings.Join(rules, "; "), "109 stitches per cm²: two sheets")
}
