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

func TestHowMuchADifferenceIsSeen(t *testing.T) {
	for difference, want := range map[float64]string{0: "the same to the eye", 3: "hardly different",
		8: "a little different", 40: "another colour"} {
		assert.Equal(t, want, thread.Match{Difference: difference}.Say().String())
	}
	red := color(t, "#c23b2a")
	assert.Less(t, thread.Difference(red, color(t, "#c9452f")), thread.Difference(red, color(t, "#2b4a66")),
		"a red is nearer to a red than a blue")
}
