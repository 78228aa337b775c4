package search_test

import (
	"fmt"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/schedule"
	"chalkstep/core/schedule/scheduletest"
	"chalkstep/core/schedule/search"
)

// hooped is somebody who takes a hoop that the machine accepts, hoops, sews and
// unhoops.
func hooped(id string, hoops map[string]schedule.Choice, sewing float64, release ...string) schedule.Job {
	on := map[string]float64{}
	for machine := range hoops {
		on[machine] = sewing
	}
	return schedule.Job{ID: id, Operations: []schedule.Operation{
		{ID: "mark", Minutes: schedule.Minutes(3)},
		{ID: "hoop", Minutes: schedule.Minutes(5), TakeFor: hoops},
		{ID: "sew", On: on},
		{ID: "unhoop", Minutes: schedule.Minutes(2), Release: release},
		{ID: "finish", Minutes: schedule.Minutes(6)},
	}}
}

// One hoop for three machines: everybody waits for the hoop, and no machine is
// the tight spot. The hoop's rounds are what no plan can beat.
func TestHoopsTakenForAMachineAreCounted(t *testing.T) {
	machines := []schedule.Machine{{ID: "a"}, {ID: "b"}, {ID: "c"}}
	p := schedule.Problem{WindowMinutes: 300, Machines: machines, Resources: []schedule.Resource{{ID: "hoop", Count: 1}}}
	for i := range 6 {
		p.Jobs = append(p.Jobs,
			hooped(fmt.Sprint("p", i), map[string]schedule.Choice{"a": {"hoop"}, "b": {"hoop"}, "c": {"hoop"}}, 18, "hoop"))
	}
	r, err := search.Solve(p, search.Options{Seed: 1})
	require.NoError(t, err)
	assert.InDelta(t, 3+6*(5+18+2)+6, r.LowerBoundMinutes, 1e-6)
	assert.InDelta(t, r.LowerBoundMinutes, r.MakespanMinutes, 1e-6, "and a plan reaches it")
}

// Two machines take the small hoop alone and one takes the large one too: those
// who can use only the small one bound the small one, and all bound both.
func TestHoopsThatStandInForEachOther(t *testing.T) {
	p := schedule.Problem{WindowMinutes: 300, Machines: []schedule.Machine{{ID: "a"}, {ID: "b"}},
		Resources: []schedule.Resource{{ID: "small", Count: 1}, {ID: "large", Count: 1}}}
	for i := range 5 {
		hoops, release := map[string]schedule.Choice{"a": {"small"}}, []string{"small"}
		if i == 0 {
			hoops["b"], release = schedule.Choice{"large"}, []string{"small", "large"}
		}
		p.Jobs = append(p.Jobs, hooped(fmt.Sprint("p", i), hoops, 20, release...))
	}
	r, err := search.Solve(p, search.Options{Seed: 1})
	require.NoError(t, err)
	assert.GreaterOrEqual(t, r.LowerBoundMinutes, 3+4*27+6.0)
	assert.LessOrEqual(t, r.LowerBoundMinutes, r.MakespanMinutes)
}

// Whatever the day, no plan that is found beats what no plan can.
func TestNoPlanBeatsTheBound(t *testing.T) {
	tight := 0
	for seed := range uint64(150) {
		p := scheduletest.Random(rand.New(rand.NewPCG(seed, 23)))
		r, err := search.Solve(p, search.Options{Seed: seed, Iterations: 300})
		if err != nil {
			continue
		}
		require.LessOrEqual(t, r.LowerBoundMinutes, r.MakespanMinutes+1e-6, "seed %d", seed)
		if r.LowerBoundMinutes > 0.8*r.MakespanMinutes {
			tight++
		}
	}
	t.Logf("the bound lies within a fifth of the plan in %d of 150 days", tight)
	assert.Greater(t, tight, 60)
}

// Sittings are whole: five alike at three machines take two rounds at one of them, though two
// thirds of a round more would be enough if they could be shared out; on machines of
// different speed every share is tried.
func TestSittingsAreWhole(t *testing.T) {
	day := func(speeds map[string]float64, jobs int) schedule.Problem {
		p := schedule.Problem{WindowMinutes: 300}
		on := map[string]float64{}
		for _, machine := range []string{"a", "b", "c"} {
			p.Machines = append(p.Machines, schedule.Machine{ID: machine})
			on[machine] = 20 * speeds[machine]
		}
		for i := range jobs {
			p.Jobs = append(p.Jobs,
				schedule.Job{ID: fmt.Sprint("p", i),
					Operations: []schedule.Operation{{ID: "mark", Minutes: schedule.Minutes(5)}, {ID: "sew", On: on},
						{ID: "finish", Minutes: schedule.Minutes(7)}}})
		}
		return p
	}
	for name, c := range map[string]struct {
		speeds map[string]float64
		people int
		bound  float64
	}{
		"three at three":           {map[string]float64{"a": 1, "b": 1, "c": 1}, 3, 5 + 20 + 7},
		"five at three":            {map[string]float64{"a": 1, "b": 1, "c": 1}, 5, 5 + 40 + 7},
		"five, one machine slower": {map[string]float64{"a": 1, "b": 1, "c": 1.5}, 5, 5 + 40 + 7},
		"five, one much slower":    {map[string]float64{"a": 1, "b": 1, "c": 3}, 5, 5 + 60 + 7},
	} {
		t.Run(name, func(t *testing.T) {
			r, err := search.Solve(day(c.speeds, c.people), search.Options{Seed: 1})
			require.NoError(t, err)
			assert.InDelta(t, c.bound, r.MakespanMinutes, 1e-6, "a plan reaches it")
			assert.InDelta(t, c.bound, r.LowerBoundMinutes, 0.2, "and none beats it")
		})
	}
}
