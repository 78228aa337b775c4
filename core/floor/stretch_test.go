package floor_test

import (
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/floor"
	"chalkstep/core/floor/floortest"
)

// A clock is time that goes by each time it is looked at: so many looks are all there is.
func clock(looks int64) func() float64 {
	var looked atomic.Int64
	return func() float64 { return float64(looked.Add(1)) / float64(looks) }
}

// Whether it is changes or time that ends the search, it ends, with a plan as good for people
// as it had room for: time is shared between the shortest plan and the one that is good, too.
func TestASearchOfSoMuchTime(t *testing.T) {
	p := floortest.Generated(3)
	w := floor.UsualWeights()
	p.WindowMinutes, p.Weights = 900, &w
	byChanges, err := floor.Plan(p, floor.Options{Seed: 1, Iterations: 4000})
	require.NoError(t, err)
	byTime, err := floor.Plan(p, floor.Options{Seed: 1, Used: clock(4000)})
	require.NoError(t, err)
	for name, r := range map[string]floor.Result{"changes": byChanges, "time": byTime} {
		require.NoError(t, floortest.Check(p, r), name)
		assert.Less(t, r.LongestWaitMinutes, r.ShortestWaitMinutes, "%s: the shortest plan is not the one that is good for people", name)
	}
}

// However little there is of it, there is a plan, and more of it never makes it longer than
// the first one.
func TestHoweverLittleTimeThereIs(t *testing.T) {
	for name, p := range map[string]floor.Problem{"a class": floortest.Generated(5), "a job shop": floortest.ShopOf(floortest.SixBySix)} {
		first, err := floor.Plan(p, floor.Options{Seed: 1, Used: func() float64 { return 1 }})
		require.NoError(t, err, name)
		require.NoError(t, floortest.Check(p, first), name)
		for _, looks := range []int64{1, 2, 3, 100, 5000} {
			r, err := floor.Plan(p, floor.Options{Seed: 1, Used: clock(looks)})
			require.NoError(t, err, name)
			require.NoError(t, floortest.Check(p, r), name)
			assert.LessOrEqual(t, r.MakespanMinutes, first.MakespanMinutes, "%s, %d looks", name, looks)
		}
		for _, changes := range []int{1, 2, 3} {
			r, err := floor.Plan(p, floor.Options{Seed: 1, Iterations: changes})
			require.NoError(t, err, name)
			assert.LessOrEqual(t, r.MakespanMinutes, first.MakespanMinutes, "%s, %d changes", name, changes)
		}
	}
}
