package search_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/schedule"
	"chalkstep/core/schedule/odds"
	"chalkstep/core/schedule/scheduletest"
	"chalkstep/core/schedule/search"
)

// Four sew three pieces of twenty minutes each at one of two machines, and trim for five in
// between. With a hoop for each, two share a machine: one sews while the other trims and waits for
// it, two hours in all. With two hoops they sew one after the other, each 70 minutes, and with one
// all four do.
func TestOthersSewWhileAPieceIsTrimmed(t *testing.T) {
	for hoops, want := range map[int]float64{4: 120, 2: 140, 1: 280} {
		t.Run(fmt.Sprintf("%d hoops", hoops), func(t *testing.T) {
			p := schedule.Problem{WindowMinutes: 240, Machines: []schedule.Machine{{ID: "left"}, {ID: "right"}},
				Resources: []schedule.Resource{{ID: "hoop", Count: hoops}}}
			for _, who := range []string{"Ana", "Bo", "Cy", "Dee"} {
				sew := map[string]float64{"left": 20, "right": 20}
				p.Jobs = append(p.Jobs, schedule.Job{ID: who, Operations: []schedule.Operation{
					{ID: "sew", On: sew, Take: []string{"hoop"}},
					{ID: "trim", Minutes: schedule.Minutes(5)},
					{ID: "sew again", On: sew, SameMachine: true},
					{ID: "trim again", Minutes: schedule.Minutes(5)},
					{ID: "sew the last", On: sew, SameMachine: true, Release: []string{"hoop"}},
				}})
			}
			r, err := search.Solve(p, search.Options{Seed: 1})
			require.NoError(t, err)
			require.NoError(t, scheduletest.Check(p, r))
			assert.InDelta(t, want, r.MakespanMinutes, 1e-6)
			odds, err := odds.Of(p, r, 100, 1)
			require.NoError(t, err)
			assert.InDelta(t, want, odds.P50, 0.15*want)
		})
	}
}
