package floor_test

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/floor"
	"chalkstep/core/floor/floortest"
)

// A changed plan is decoded from where it begins to differ, and comes out as from the
// start.
func TestWhatIsResumedIsWhatIsDecoded(t *testing.T) {
	planned := 0
	for seed := range uint64(60) {
		p := floortest.Random(rand.New(rand.NewPCG(seed, 31)))
		if seed%6 == 0 {
			p = floortest.Generated(seed)
		}
		if _, err := floor.Plan(p, floor.Options{Iterations: 1}); err != nil {
			continue
		}
		planned++
		different, err := floor.Resumed(p, seed, 200)
		require.NoError(t, err)
		require.Zero(t, different, "seed %d", seed)
	}
	assert.Greater(t, planned, 40)
}
