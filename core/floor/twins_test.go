package floor_test

import (
	"fmt"
	"maps"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/floor"
	"chalkstep/core/floor/floortest"
)

// Stations are twins where nothing tells them apart.
func TestWhichStationsAreTwins(t *testing.T) {
	both := map[string][]string{"left": {"left", "right"}}
	none := map[string][]string{}
	for name, c := range map[string]struct {
		change func(*floor.Problem)
		want   map[string][]string
	}{
		"as fast, with the same hoops": {func(*floor.Problem) {}, both},
		"three of them": {func(p *floor.Problem) {
			p.Stations = append(p.Stations, floor.Station{ID: "middle"})
			for _, person := range p.People {
				person.Steps[0].TakeFor["middle"] = person.Steps[0].TakeFor["left"]
				person.Steps[1].On["middle"] = 10
			}
		}, map[string][]string{"left": {"left", "right", "middle"}}},
		"one is slower for somebody": {func(p *floor.Problem) { p.People[1].Steps[1].On["right"] = 11 }, none},
		"somebody may not sit at one": {func(p *floor.Problem) {
			delete(p.People[0].Steps[0].TakeFor, "right")
			delete(p.People[0].Steps[1].On, "right")
		}, none},
		"one takes the large hoop only": {func(p *floor.Problem) { p.People[0].Steps[0].TakeFor["right"] = floor.Choice{"large"} }, none},
		"one takes no hoop":             {func(p *floor.Problem) { delete(p.People[0].Steps[0].TakeFor, "left") }, none},
		"one is out until ten":          {func(p *floor.Problem) { p.Stations[1].Out = []floor.Span{{From: 0, To: 10}} }, none},
		"it counts who changes machines": {func(p *floor.Problem) {
			weights := floor.UsualWeights()
			p.Weights = &weights
		}, none},
	} {
		t.Run(name, func(t *testing.T) {
			p := twoHoops()
			c.change(&p)
			require.NoError(t, p.Check())
			assert.Equal(t, c.want, floor.TwinStations(p))
		})
	}
}

// Of twins, everybody sits at the one at which they sat before; whoever asks keeps their problem.
func TestWhoSitsAtWhichTwin(t *testing.T) {
	day := func() floor.Problem {
		p := floor.Problem{Stations: []floor.Station{{ID: "left"}, {ID: "right"}}}
		for i, id := range []string{"Ada", "Bea"} {
			p.People = append(p.People, floor.Person{ID: id, Ready: float64(i), Steps: []floor.Step{
				{ID: "sew", On: map[string]float64{"left": 10, "right": 10}},
				{ID: "trim", Minutes: floor.Minutes(4 - 3*float64(i))}, // Bea is back first
				{ID: "sew again", On: map[string]float64{"left": 10, "right": 10}},
			}})
		}
		return p
	}
	p := day()
	r, err := floor.Plan(p, floor.Options{Iterations: 50, Seed: 1})
	require.NoError(t, err)
	require.NoError(t, floortest.Check(p, r))
	assert.Equal(t, day(), p)
	assert.EqualValues(t, 24, r.MakespanMinutes, "nobody waits")
	at := map[string]string{}
	for _, s := range r.Steps {
		if s.Station != "" {
			at[s.Person+" "+s.Step] = s.Station
		}
	}
	assert.Equal(t, map[string]string{"Ada sew": "left", "Bea sew": "right", "Ada sew again": "left", "Bea sew again": "right"}, at)
}

// Five who sit at one of three twins take two rounds at one of them, though two and two thirds of
// a sitting each would be less.
func TestSittingsAtTwinsAreWhole(t *testing.T) {
	stations := map[string]float64{"a": 30, "b": 30, "c": 30}
	p := floor.Problem{Stations: []floor.Station{{ID: "a"}, {ID: "b"}, {ID: "c"}}}
	for i := range 5 {
		p.People = append(p.People, floor.Person{ID: fmt.Sprint(i), Steps: []floor.Step{{ID: "sew", On: stations}}})
	}
	require.Len(t, floor.TwinStations(p), 1)
	r, err := floor.Plan(p, floor.Options{Iterations: 50, Seed: 1})
	require.NoError(t, err)
	require.NoError(t, floortest.Check(p, r))
	assert.EqualValues(t, 60, r.MakespanMinutes)
	assert.EqualValues(t, 60, r.LowerBoundMinutes)
}

// Days in which every other machine is like the one before it keep the rules, are not above their
// bound, and the hoops of each are those that it takes.
func TestDaysOfTwins(t *testing.T) {
	for seed := range uint64(40) {
		p := floortest.Generated(seed)
		for i := range p.People {
			var taken []string
			for k := range p.People[i].Steps {
				step := &p.People[i].Steps[k]
				step.On, step.TakeFor = maps.Clone(step.On), maps.Clone(step.TakeFor)
				for m := 1; m < len(p.Stations); m += 2 {
					of, like := p.Stations[m-1].ID, p.Stations[m].ID
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
				step.Release = slices.DeleteFunc(slices.Clone(step.Release), func(pool string) bool { return !slices.Contains(taken, pool) })
			}
		}
		require.NotEmpty(t, floor.TwinStations(p), "seed %d", seed)
		r, err := floor.Plan(p, floor.Options{Iterations: 300, Seed: seed})
		require.NoError(t, err)
		require.NoError(t, floortest.Check(p, r), "seed %d", seed)
		apart, err := floor.LowerBound(p)
		require.NoError(t, err)
		assert.LessOrEqual(t, max(apart, r.LowerBoundMinutes), r.MakespanMinutes+1e-6, "seed %d", seed)
	}
}
