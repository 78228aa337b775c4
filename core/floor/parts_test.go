package floor_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/floor"
	"chalkstep/core/floor/floortest"
)

// Four sew three pieces of twenty minutes each at one of two machines, and trim for five in
// between. With a hoop for each, two share a machine: one sews while the other trims and waits for
// it, two hours in all. With two hoops they sew one after the other, each 70 minutes, and with one
// all four do.
func TestOthersSewWhileAPieceIsTrimmed(t *testing.T) {
	for hoops, want := range map[int]float64{4: 120, 2: 140, 1: 280} {
		t.Run(fmt.Sprintf("%d hoops", hoops), func(t *testing.T) {
			p := floor.Problem{WindowMinutes: 240, Stations: []floor.Station{{ID: "left"}, {ID: "right"}}, Pools: []floor.Pool{{ID: "hoop", Count: hoops}}}
			for _, who := range []string{"Ana", "Bo", "Cy", "Dee"} {
				sew := map[string]float64{"left": 20, "right": 20}
				p.People = append(p.People, floor.Person{ID: who, Steps: []floor.Step{
					{ID: "sew", On: sew, Take: []string{"hoop"}},
					{ID: "trim", Minutes: floor.Minutes(5)},
					{ID: "sew again", On: sew, Same: true},
					{ID: "trim again", Minutes: floor.Minutes(5)},
					{ID: "sew the last", On: sew, Same: true, Release: []string{"hoop"}},
				}})
			}
			r, err := floor.Plan(p, floor.Options{Seed: 1})
			require.NoError(t, err)
			require.NoError(t, floortest.Check(p, r))
			assert.InDelta(t, want, r.MakespanMinutes, 1e-6)
			odds, err := floor.Odds(p, r, 100, 1)
			require.NoError(t, err)
			assert.InDelta(t, want, odds.P50, 0.15*want)
		})
	}
}
