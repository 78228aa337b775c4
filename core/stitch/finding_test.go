package stitch_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/say"
	"chalkstep/core/stitch"
)

func TestFindingsArePlainSentences(t *testing.T) {
	stop := func(role stitch.Role) stitch.Stop { return stitch.Stop{Role: role, Stitches: 200} }
	for name, c := range map[string]struct {
		facts stitch.Facts
		says  []string
	}{
		"nothing to say of one open run": {stitch.Facts{Stops: []stitch.Stop{stop(stitch.Run)}, Threads: []string{"a"}}, nil},
		"neighbours share a thread": {stitch.Facts{Stops: []stitch.Stop{stop(stitch.Run), stop(stitch.Run), stop(stitch.Run)},
			Threads: []string{"a", "a", "b"}},
			[]string{"The machine halts 2 times, but needs another thread only 1 time."}},
		"an appliqué piece and an anchor": {
			stitch.Facts{Stops: []stitch.Stop{stop(stitch.Placement), stop(stitch.TackDown), stop(stitch.Cover),
				stop(stitch.Anchor)}, Threads: []string{"a", "b", "c", "d"}},
			[]string{"1 piece of appliqué to lay and trim; placement, tack-down and cover keep their order.",
				"Stop 4 only marks the corners: it stays last, or is skipped."}},
		"the densest stop": {
			stitch.Facts{Stops: []stitch.Stop{stop(stitch.Fill), stop(stitch.Fill)}, Threads: []string{"a", "b"},
				Coverage: []float64{1.2, 2.6}},
			[]string{"Stop 2 is the densest: too dense."}},
		"lengths that are hard to sew": {
			stitch.Facts{Lengths: stitch.Lengths{Short: 3, Long: 1, NarrowestSatinMM: 1.4}, LetteringMM: 5},
			[]string{"The narrowest satin is only 1.4 mm wide: the design is not to be resized.",
				"The shortest lettering is only 5 mm high: sew a test, and do not resize it.",
				"3 stitches under 0.4 mm may break the thread.", "1 stitch over 7 mm may snag in use."}},
	} {
		t.Run(name, func(t *testing.T) {
			var says []string
			for _, f := range stitch.Findings(c.facts) {
				says = append(says, say.Plain.Sentence(f.Text))
				assert.False(t, f.Working.Silent(), f.Text)
			}
			assert.Equal(t, c.says, says)
		})
	}
	orders := map[string][]stitch.Role{
		"outlines that lie within 1.5 mm of each other: stops 1 to 3 and stops 4 to 6": {stitch.Placement,
			stitch.TackDown, stitch.Cover, stitch.Placement, stitch.TackDown, stitch.Cover},
		"outlines that lie within 1.5 mm of each other: stops 1, 3 and 5 and stops 2, 4 and 6": {stitch.Placement,
			stitch.Placement, stitch.TackDown, stitch.TackDown, stitch.Cover, stitch.Cover},
		"outlines that lie within 1.5 mm of each other: stops 1, 2 and 4": {stitch.Placement,
			stitch.TackDown, stitch.Fill, stitch.Cover},
	}
	for want, roles := range orders {
		var facts stitch.Facts
		for _, r := range roles {
			facts.Stops = append(facts.Stops, stop(r))
		}
		found := stitch.Findings(facts)
		require.NotEmpty(t, found)
		assert.Equal(t, want, say.Plain.Say(found[0].Working))
	}
	traits := stitch.Facts{Stops: []stitch.Stop{stop(stitch.Placement)}, LetteringMM: 8}.TraitsOf(true)
	assert.Equal(t, stitch.Traits{LetteringMM: 8, Applique: true, Film: true}, traits)
}
