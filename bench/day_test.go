//go:build bench

package bench

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/actor"
	"chalkstep/app/planning"
	"chalkstep/core/schedule"
	"chalkstep/core/schedule/odds"
	"chalkstep/core/schedule/scheduletest"
	"chalkstep/core/schedule/search"
	"chalkstep/demo/demotest"
)

// totes is the demo's class that does not fit.
const totes = 4

// TestTheClassDay measures what somebody waits for on the pages of a class.
func TestTheClassDay(t *testing.T) {
	s := demotest.Open(t)
	// Each is another application, which remembers nothing.
	open := func() planning.UseCases {
		a := actor.New(s, func() time.Time { return demotest.Now })
		who, err := a.Who(t.Context(), 1, 1)
		require.NoError(t, err)
		return planning.UseCases{Actor: a.For(t.Context(), who)}
	}
	d := open()
	plan, err := d.Class(totes)
	require.NoError(t, err)

	offered := 0
	took := median(5, func() {
		page, err := open().Levers(totes, nil)
		require.NoError(t, err)
		offered = len(page.Each)
	})
	row(fmt.Sprintf("the %d levers of a class that does not fit", offered), took.Round(time.Millisecond).String(), "2s")
	assert.Less(t, took, 2*time.Second)

	took = median(5, func() {
		_, err := odds.Of(plan.Problem, plan.Result, 1000, 1)
		require.NoError(t, err)
	})
	row("1,000 days of 10 people", took.Round(time.Millisecond).String(), "1s")
	assert.Less(t, took, time.Second)

	in, err := d.ClassInput(totes)
	require.NoError(t, err)
	in.Irons = "2" // as it stands it is planned already
	took = median(5, func() {
		_, err := d.Preview(in)
		require.NoError(t, err)
	})
	row("a tick on the form of a class", took.Round(time.Millisecond).String(), "300ms")
	assert.Less(t, took, 300*time.Millisecond)

	// After an event there is as much time as it takes to look up.
	large := scheduletest.Generated(0)
	for seed := uint64(1); len(large.Jobs) < 24; seed++ {
		large = scheduletest.Generated(seed)
	}
	weights := schedule.UsualWeights()
	large.Weights = &weights
	took = median(5, func() {
		_, err := search.Solve(large, search.Options{Iterations: 500, Seed: 1})
		require.NoError(t, err)
	})
	row(fmt.Sprintf("plan %d people anew", len(large.Jobs)), took.Round(time.Millisecond).String(), "100ms")
	assert.Less(t, took, 100*time.Millisecond)
}
