package recipe_test

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/recipe"
	"chalkstep/core/say"
	"chalkstep/core/stitch"
)

// What is done before and after follows from what the thing is and how it will
// live: nothing that melts is ironed, nothing hides a side that is seen.
func TestPreparingAndFinishing(t *testing.T) {
	const never = "!" // in front of what must not be said
	for name, c := range map[string]struct {
		change func(*recipe.Request)
		fabric recipe.Fabric
		uses   []recipe.Use
		says   []string
	}{
		"a towel that is washed is washed first": {nil, recipe.Terry, []recipe.Use{recipe.Washed},
			[]string{"prepare: Wash, dry and press the blank once"}},
		"one that is not, is not": {nil, recipe.Terry, nil, []string{never + "Wash, dry"}},
		"felt that is washed is asked about": {nil, recipe.Felt, []recipe.Use{recipe.Washed},
			[]string{"caution: Will it stand washing?", never + "prepare:"}},
		"the cutter is turned off before it sews": {nil, recipe.Linen, []recipe.Use{recipe.BothSides},
			[]string{"before: Turn the machine's thread cutter off", never + "after: Turn the machine's"}},
		"a cover over the back of a child's shirt": {nil, recipe.Jersey, []recipe.Use{recipe.Child},
			[]string{"after: Fuse a soft cover over the back"}},
		"but not where both sides are seen": {nil, recipe.Jersey, []recipe.Use{recipe.Child, recipe.BothSides},
			[]string{never + "soft cover over the back, "}},
		"nor where it would melt": {nil, recipe.Vinyl, []recipe.Use{recipe.NextToSkin},
			[]string{never + "Fuse a soft", never + "after: Press", "caution: Vinyl melts"}},
		"film is pressed with care": {nil, recipe.WovenCotton, []recipe.Use{recipe.FilmOverlay},
			[]string{"after: Press from the back only, with a cool iron through a cloth"}},
		"velvet keeps its pile": {nil, recipe.Velvet, nil,
			[]string{"after: Press face down on a thick towel"}},
		"the floated sheet comes off": {func(r *recipe.Request) {
			r.Density = stitch.Dense
		}, recipe.Jersey, []recipe.Use{recipe.Child}, []string{"after: Tear the floated sheet off first"}},
		"no floated sheet, no word of it": {nil, recipe.Jersey, []recipe.Use{recipe.Child},
			[]string{never + "floated sheet"}},
		"a house that never resizes says so": {func(r *recipe.Request) {
			r.House.Resizing = "never"
			r.ResizedPercent = 110
		}, recipe.Canvas, nil, []string{"caution: This house never resizes on the machine"}},
		"one that does, does not": {func(r *recipe.Request) {
			r.ResizedPercent = 110
		}, recipe.Canvas, nil, []string{never + "never resizes"}},
		"a house that does not press first, presses": {func(r *recipe.Request) {
			r.House.Press = "after"
		}, recipe.Canvas, nil, []string{"after: Press from the back through a cloth once the stabilizer is off"}},
		"pieces are not fused to vinyl": {func(r *recipe.Request) {
			r.House.Applique, r.Roles = "pre-cut", []stitch.Role{stitch.Placement, stitch.TackDown, stitch.Cover}
		}, recipe.Vinyl, nil, []string{"caution: Fusing needs heat that melts this"}},
	} {
		t.Run(name, func(t *testing.T) {
			r := request(c.fabric)
			r.Uses = c.uses
			if c.change != nil {
				c.change(&r)
			}
			got, err := recipe.For(r)
			require.NoError(t, err)
			var said []string
			for when, texts := range map[string][]say.Text{"prepare: ": got.Prepare, "before: ": got.Before,
				"after: ": got.After, "caution: ": got.Cautions} {
				for _, text := range say.Plain.Lines(texts) {
					said = append(said, when+text)
				}
			}
			for _, want := range c.says {
				text, not := strings.CutPrefix(want, never)
				assert.Equal(t, !not, slices.ContainsFunc(said, func(s string) bool { return strings.Contains(s, text) }),
					"%s in %q", want, said)
			}
		})
	}
}
