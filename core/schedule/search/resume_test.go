package search_test

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/schedule/scheduletest"
	"chalkstep/core/schedule/search"
)

// A changed plan is decoded from where it begins to differ, and comes out as from the
// start.
func TestWhatIsResumedIsWhatIsDecoded(t *testing.T) {
	planned := 0
	for seed := range uint64(60) {
		p := scheduletest.Random(rand.New(rand.NewPCG(seed, 31)))
		if seed%6 == 0 {
			p = scheduletest.Generated(seed)
		}
		if _, err := search.Solve(p, search.Options{Iterations: 1}); err != nil {
			continue
		}
		planned++
		different, err := search.Resumed(p, seed, 200)
		require.NoError(t, err)
		require.Zero(t, different, "seed %d", seed)
	}
	assert.Greater(t, planned, 40)
}
