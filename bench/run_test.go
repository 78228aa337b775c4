//go:build bench

package bench

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"chalkstep/core/classday/classdaytest"
	"chalkstep/core/live"
)

// TestARunningClass times the state of a room that much has happened in, and the plan
// of what is left.
func TestARunningClass(t *testing.T) {
	class := classdaytest.Class()
	class.EndsAt = class.StartsAt.Add(10 * time.Hour)
	class.Places = nil
	for i := range int64(24) {
		class.Places = append(class.Places,
			classdaytest.Places(classdaytest.Practised(i+1, fmt.Sprintf("Student %02d", i+1)))...)
	}
	plan := classdaytest.Plan(t, class)
	events := []live.Event{{Seq: 1, Kind: live.Started, At: class.StartsAt}}
	for _, p := range class.Places {
		events = append(events, live.Event{Kind: live.Here, StudentID: p.ID})
	}
	for n := 0; len(events) < 2000; n++ {
		e := live.Event{Kind: live.HandUp, StudentID: int64(n/2%24 + 1), Reason: live.Question}
		if n%2 == 1 {
			e.Kind = live.Settled
		}
		events = append(events, e)
	}
	for i := range events {
		events[i].Seq, events[i].At = int64(i+1), class.StartsAt.Add(time.Duration(i)*time.Second)
	}
	const rounds = 20
	begin := time.Now()
	var s live.State
	for range rounds {
		s = live.Of(plan, events)
	}
	state := time.Since(begin) / rounds
	require.Len(t, s.Standings, 24)
	require.EqualValues(t, 2000, s.Seq)
	begin = time.Now()
	f := s.Forecast(events[len(events)-1].At)
	forecast := time.Since(begin)
	require.Len(t, f.Ends, 24)
	row("the state of a room from 2,000 events", fmt.Sprint(state.Round(100*time.Microsecond)), "20ms")
	row("what is left of 24 people, planned anew", fmt.Sprint(forecast.Round(time.Millisecond)), "100ms")
}
