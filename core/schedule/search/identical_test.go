package search_test

import (
	"fmt"
	"maps"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/schedule"
	"chalkstep/core/schedule/scheduletest"
	"chalkstep/core/schedule/search"
)

// Stations are twins where nothing tells them apart.
func TestWhichStationsAreTwins(t *testing.T) {
	both := map[string][]string{"left": {"left", "right"}}
	none := map[string][]string{}
	for name, c := range map[string]struct {
		change func(*schedule.Problem)
		want   map[string][]string
	}{
		"as fast, with the same hoops": {func(*schedule.Problem) {}, both},
		"three of them": {func(p *schedule.Problem) {
			p.Machines = append(p.Machines, schedule.Machine{ID: "middle"})
			for _, job := range p.Jobs {
				job.Operations[0].TakeFor["middle"] = job.Operations[0].TakeFor["left"]
				job.Operations[1].On["middle"] = 10
			}
		}, map[string][]string{"left": {"left", "right", "middle"}}},
		"one is slower for somebody": {func(p *schedule.Problem) { p.Jobs[1].Operations[1].On["right"] = 11 }, none},
		"somebody may not sit at one": {func(p *schedule.Problem) {
			delete(p.Jobs[0].Operations[0].TakeFor, "right")
			delete(p.Jobs[0].Operations[1].On, "right")
		}, none},
		"one takes the large hoop only": {func(p *schedule.Problem) {
			p.Jobs[0].Operations[0].TakeFor["right"] = schedule.Choice{"large"}
		}, none},
		"one takes no hoop": {func(p *schedule.Problem) { delete(p.Jobs[0].Operations[0].TakeFor, "left") },
			none},
		"one is out until ten": {func(p *schedule.Problem) {
			p.Machines[1].Unavailable = []schedule.Interval{{From: 0, To: 10}}
		}, none},
		"it counts who changes machines": {func(p *schedule.Problem) {
			weights := schedule.UsualWeights()
			p.Weights = &weights
		}, none},
	} {
		t.Run(name, func(t *testing.T) {
			p := twoHoops()
			c.change(&p)
			require.NoError(t, p.Check())
			assert.Equal(t, c.want, search.TwinStations(p))
		})
	}
}

// Of twins, everybody sits at the one at which they sat before; whoever asks keeps their problem.
func TestWhoSitsAtWhichTwin(t *testing.T) {
	day := func() schedule.Problem {
		p := schedule.Problem{Machines: []schedule.Machine{{ID: "left"}, {ID: "right"}}}
		for i, id := range []string{"Ada", "Bea"} {
			p.Jobs = append(p.Jobs, schedule.Job{ID: id, Ready: float64(i), Operations: []schedule.Operation{
				{ID: "sew", On: map[string]float64{"left": 10, "right": 10}},
				{ID: "trim", Minutes: schedule.Minutes(4 - 3*float64(i))}, // Bea is back first
				{ID: "sew again", On: map[string]float64{"left": 10, "right": 10}},
			}})
		}
		return p
	}
	p := day()
	r, err := search.Solve(p, search.Options{Iterations: 50, Seed: 1})
	require.NoError(t, err)
	require.NoError(t, scheduletest.Check(p, r))
	assert.Equal(t, day(), p)
	assert.EqualValues(t, 24, r.MakespanMinutes, "nobody waits")
	at := map[string]string{}
	for _, s := range r.Assignments {
		if s.Machine != "" {
			at[s.Job+" "+s.Operation] = s.Machine
		}
	}
	assert.Equal(t, map[string]string{"Ada sew": "left", "Bea sew": "right", "Ada sew again": "left",
		"Bea sew again": "right"}, at)
}

// Five who sit at one of three twins take two rounds at one of them, though two and two thirds of
// a sitting each would be less.
func TestSittingsAtTwinsAreWhole(t *testing.T) {
	machines := map[string]float64{"a": 30, "b": 30, "c": 30}
	p := schedule.Problem{Machines: []schedule.Machine{{ID: "a"}, {ID: "b"}, {ID: "c"}}}
	for i := range 5 {
		p.Jobs = append(p.Jobs, schedule.Job{ID: fmt.Sprint(i), Operations: []schedule.Operation{{ID: "sew", On: machines}}})
	}
	require.Len(t, search.TwinStations(p), 1)
	r, err := search.Solve(p, search.Options{Iterations: 50, Seed: 1})
	require.NoError(t, err)
	require.NoError(t, scheduletest.Check(p, r))
	assert.EqualValues(t, 60, r.MakespanMinutes)
	assert.EqualValues(t, 60, r.LowerBoundMinutes)
}

// Days in which every other machine is like the one before it keep the rules, are not above their
// bound, and the hoops of each are those that it takes.
func TestDaysOfTwins(t *testing.T) {
	for seed := range uint64(40) {
		p := scheduletest.Generated(seed)
		for i := range p.Jobs {
			var taken []string
			for k := range p.Jobs[i].Operations {
				step := &p.Jobs[i].Operations[k]
				step.On, step.TakeFor = maps.Clone(step.On), maps.Clone(step.TakeFor)
				for m := 1; m < len(p.Machines); m += 2 {
					of, like := p.Machines[m-1].ID, p.Machines[m].ID
					if step.On != nil {
						step.On[like] = step.On[of]
					}
					if step.TakeFor != nil {
						step.TakeFor[like] = step.TakeFor[of]
					}
				}
				for _, choice := range step.TakeFor {
					taken = append(taken, choice...)
				}
				step.Release = slices.DeleteFunc(slices.Clone(step.Release), func(resource string) bool {
					return !slices.Contains(taken, resource)
				})
			}
		}
		require.NotEmpty(t, search.TwinStations(p), "seed %d", seed)
		r, err := search.Solve(p, search.Options{Iterations: 300, Seed: seed})
		require.NoError(t, err)
		require.NoError(t, scheduletest.Check(p, r), "seed %d", seed)
		apart, err := search.LowerBound(p)
		require.NoError(t, err)
		assert.LessOrEqual(t, max(apart, r.LowerBoundMinutes), r.MakespanMinutes+1e-6, "seed %d", seed)
	}
}
