package thread_test

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/stitch"
	"chalkstep/core/thread"
)

func color(t *testing.T, text string) stitch.RGB {
	t.Helper()
	c, err := stitch.ParseRGB(text)
	require.NoError(t, err)
	return c
}

func TestDifferencesAreAsTheEyeSeesThem(t *testing.T) {
	assert.InDelta(t, 100, thread.Difference(color(t, "#000000"), color(t, "#ffffff")), 0.01,
		"black and white are all lightness apart")
	navy, slate := color(t, "#1d3a4d"), color(t, "#2b4a66")
	assert.Less(t, thread.Difference(navy, slate), 12.0)
	assert.Greater(t, thread.Difference(navy, color(t, "#c23b2a")), 30.0)
	rng := rand.New(rand.NewPCG(1, 1))
	random := func() stitch.RGB {
		return stitch.RGB{R: uint8(rng.Uint32()), G: uint8(rng.Uint32()), B: uint8(rng.Uint32())}
	}
	for range 500 {
		a, b := random(), random()
		assert.InDelta(t, thread.Difference(a, b), thread.Difference(b, a), 1e-9)
		assert.Zero(t, thread.Difference(a, a))
	}
}

func TestTheNearestThreadComesFirst(t *testing.T) {
	shelf := []stitch.RGB{color(t, "#ffffff"), color(t, "#c9452f"), color(t, "#b8402f"), color(t, "#2b4a66")}
	matches := thread.Nearest(color(t, "#c23b2a"), shelf)
	require.Len(t, matches, 4)
	assert.Contains(t, []int{1, 2}, matches[0].Index, "a red for a red")
	for i := 1; i < len(matches); i++ {
		assert.GreaterOrEqual(t, matches[i].Difference, matches[i-1].Difference)
	}
	assert.Equal(t, "the same to the eye", thread.Nearest(shelf[0], shelf)[0].Say().String())
	assert.Equal(t, "another colour", matches[3].Say().String())
	assert.Equal(t, "hardly different", thread.Match{Difference: 3}.Say().String())
	assert.Equal(t, "a little different", thread.Match{Difference: 8}.Say().String())
}
