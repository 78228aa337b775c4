package stitch_test

import (
	"fmt"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/stitch"
	"chalkstep/core/stitch/stitchtest"
)

// What a stop sews is told from its geometry alone, on 200 designs whose
// truth is known: with noise, reversed paths and doubled outlines.
func TestAtLeast95PercentOfRolesAreRight(t *testing.T) {
	const bar = 0.95
	right, all := 0, 0
	mistakes := map[string]int{}
	for seed := range uint64(200) {
		known := stitchtest.NewKnown(rand.New(rand.NewPCG(seed, 7)))
		stops := stitch.Analyse(known.Pattern).Stops
		require.Len(t, stops, len(known.Roles))
		for i, truth := range known.Roles {
			all++
			if stops[i].Role == truth {
				right++
			} else {
				mistakes[fmt.Sprintf("%s taken for %s", truth, stops[i].Role)]++
			}
		}
	}
	t.Logf("%d of %d stops right (%.1f %%); mistakes: %v", right, all, 100*float64(right)/float64(all), mistakes)
	assert.GreaterOrEqual(t, float64(right)/float64(all), bar)
}
