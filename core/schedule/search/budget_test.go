package search_test

import (
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/schedule"
	"chalkstep/core/schedule/scheduletest"
	"chalkstep/core/schedule/search"
)

// A clock is time that goes by each time it is looked at: so many looks are all there is.
func clock(looks int64) func() float64 {
	var looked atomic.Int64
	return func() float64 { return float64(looked.Add(1)) / float64(looks) }
}

// Whether it is changes or time that ends the search, there is some of it left, beside that for
// the shortest plan, for the one that is good for people: Ana might change to a quicker machine,
// which is not worth the threading anew while a job shop next to her takes all day. Which of the
// searchers gets how much of the time is up to the processors, and must not matter.
func TestASearchOfSoMuchTime(t *testing.T) {
	w := schedule.Weights{Change: 1000}             // whatever the shop does meanwhile
	p := scheduletest.ShopOf(scheduletest.TenByTen) // its shortest plan is not found in this time
	p.WindowMinutes, p.Weights = 2000, &w
	p.Machines = append(p.Machines, schedule.Machine{ID: "a"}, schedule.Machine{ID: "b"})
	p.Jobs = append(p.Jobs, schedule.Job{ID: "ana", Operations: []schedule.Operation{
		{ID: "first", On: map[string]float64{"a": 20}},
		{ID: "second", On: map[string]float64{"a": 20, "b": 12}},
	}})
	for name, o := range map[string]search.Options{"changes": {Seed: 1, Iterations: 8000},
		"time": {Seed: 1, Used: clock(8000)}} {
		t.Run(name, func(t *testing.T) {
			r, err := search.Solve(p, o)
			require.NoError(t, err)
			require.NoError(t, scheduletest.Check(p, r))
			assert.Equal(t, "a", assignmentOf(t, r, "ana", "second").Machine)
			assert.Greater(t, r.ShortestMinutes, r.LowerBoundMinutes, "or there would be time left by chance")
		})
	}
}

// However little there is of it, there is a plan, and more of it never makes it longer than
// the first one.
func TestHoweverLittleTimeThereIs(t *testing.T) {
	for name, p := range map[string]schedule.Problem{"a class": scheduletest.Generated(5),
		"a job shop": scheduletest.ShopOf(scheduletest.SixBySix)} {
		first, err := search.Solve(p, search.Options{Seed: 1, Used: func() float64 { return 1 }})
		require.NoError(t, err, name)
		require.NoError(t, scheduletest.Check(p, first), name)
		for _, looks := range []int64{1, 2, 3, 100, 5000} {
			r, err := search.Solve(p, search.Options{Seed: 1, Used: clock(looks)})
			require.NoError(t, err, name)
			require.NoError(t, scheduletest.Check(p, r), name)
			assert.LessOrEqual(t, r.MakespanMinutes, first.MakespanMinutes, "%s, %d looks", name, looks)
		}
		for _, changes := range []int{1, 2, 3} {
			r, err := search.Solve(p, search.Options{Seed: 1, Iterations: changes})
			require.NoError(t, err, name)
			assert.LessOrEqual(t, r.MakespanMinutes, first.MakespanMinutes, "%s, %d changes", name, changes)
		}
	}
}
