package skill_test

import (
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/skill"
)

func TestAStepOfOnesOwn(t *testing.T) {
	var ladder skill.Ladder
	scarf := skill.Step{Title: "Hem a scarf", Short: "Scarf", LookFor: "Even.", After: []skill.Key{skill.CleanUp}}
	ladder, err := ladder.With(scarf)
	require.NoError(t, err)
	require.Len(t, ladder, len(skill.Usual)+1)
	step, known := ladder.ByKey("own-1")
	require.True(t, known)
	assert.True(t, step.Key.Own())
	assert.False(t, skill.SafeStart.Own())
	assert.Equal(t, skill.Usual[0], ladder[0], "the rest is as it was")

	knit, _ := ladder.ByKey(skill.HoopKnit)
	knit.After = append(slices.Clone(knit.After), "own-1")
	ladder, err = ladder.With(knit)
	require.NoError(t, err)
	assert.Equal(t, []skill.Step{step},
		ladder.Missing(skill.Signed{skill.HoopWoven: true, skill.CleanUp: true}, knit.After))

	clean, _ := ladder.ByKey(skill.CleanUp)
	clean.After = []skill.Key{skill.HoopKnit}
	_, err = ladder.With(clean)
	assert.ErrorContains(t, err, "wait for each other")
	assert.ErrorContains(t, err, "Hem a scarf")

	without, err := ladder.Without(skill.CleanUp)
	require.NoError(t, err)
	topper, _ := without.ByKey(skill.Topper)
	assert.Equal(t, []skill.Key{skill.ChangeColour}, topper.After, "it comes after what the step that went needed")
	_, err = without.With(clean)
	assert.ErrorContains(t, err, "not on the ladder any more")
	_, err = without.Without(skill.CleanUp)
	assert.ErrorContains(t, err, "not on the ladder any more")
	for _, key := range []skill.Key{skill.SafeStart, skill.Threading, skill.HoopWoven, skill.NeedleChange,
		skill.BreakRecovery} {
		_, err = ladder.Without(key)
		assert.ErrorContains(t, err, "stays on the ladder", key)
	}
}

// However a ladder is changed, nothing comes before what it needs, no key stands twice, and
// whoever climbs by the next step reaches the top.
func TestAChangedLadderCanBeClimbed(t *testing.T) {
	rng := rand.New(rand.NewPCG(5, 21))
	var ladder skill.Ladder
	for range 400 {
		steps := ladder.Steps()
		var after []skill.Key
		for range rng.IntN(4) {
			after = append(after, steps[rng.IntN(len(steps))].Key)
		}
		var changed skill.Ladder
		var err error
		switch rng.IntN(3) {
		case 0:
			changed, err = ladder.With(skill.Step{Title: "One", After: after})
		case 1:
			step := steps[rng.IntN(len(steps))]
			step.After = after
			changed, err = ladder.With(step)
		default:
			changed, err = ladder.Without(steps[rng.IntN(len(steps))].Key)
		}
		if err != nil {
			continue
		}
		ladder = changed
		require.LessOrEqual(t, len(ladder), skill.MostSteps)
		signed := skill.Signed{}
		for range ladder {
			step, ok := ladder.Next(signed)
			require.True(t, ok)
			signed[step.Key] = true
		}
		require.Len(t, signed, len(ladder))
	}
	assert.Greater(t, len(ladder), 5)
}
