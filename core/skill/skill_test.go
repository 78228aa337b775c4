package skill_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/skill"
)

func TestNoStepComesBeforeWhatItNeeds(t *testing.T) {
	seen := skill.Signed{}
	for _, step := range skill.Ladder {
		assert.Empty(t, skill.Missing(seen, step.After), step.Title)
		assert.False(t, seen[step.Key], "key %s stands twice", step.Key)
		assert.NotEmpty(t, step.LookFor)
		seen[step.Key] = true
	}
}

func TestClimbingByNextReachesTheTop(t *testing.T) {
	signed := skill.Signed{}
	for range skill.Ladder {
		step, ok := skill.Next(signed)
		require.True(t, ok)
		signed[step.Key] = true
	}
	_, ok := skill.Next(signed)
	assert.False(t, ok)
}

func TestBookingAloneNeedsFiveSteps(t *testing.T) {
	signed := skill.Signed{skill.SafeStart: true, skill.Threading: true, skill.HoopWoven: true, skill.BreakRecovery: true}
	ok, missing := skill.MayBookAlone(signed)
	assert.False(t, ok)
	require.Len(t, missing, 1)
	assert.EqualValues(t, "Change a needle", missing[0].Title)

	signed[skill.NeedleChange] = true
	ok, _ = skill.MayBookAlone(signed)
	assert.True(t, ok)
}

func TestMissingKeepsTheOrderOfTheLadder(t *testing.T) {
	missing := skill.Missing(skill.Signed{skill.Threading: true}, []skill.Key{skill.HoopKnit, skill.Threading, skill.SafeStart})
	require.Len(t, missing, 2)
	assert.Equal(t, skill.SafeStart, missing[0].Key)
	assert.Equal(t, skill.HoopKnit, missing[1].Key)
	_, ok := skill.ByKey("no such step")
	assert.False(t, ok)
}
