package floor_test

import (
	"maps"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/floor"
	"chalkstep/core/floor/floortest"
)

// twoHoops is a day of two who hoop at the bench, for one of two machines that both take a small
// and a large hoop, of which there is one each.
func twoHoops() floor.Problem {
	p := floor.Problem{
		Stations: []floor.Station{{ID: "left"}, {ID: "right"}},
		Pools:    []floor.Pool{{ID: "small", Count: 1}, {ID: "large", Count: 1}, {ID: "iron", Count: 1}},
	}
	for _, id := range []string{"Ada", "Bea"} {
		both := floor.Choice{"small", "large"}
		p.People = append(p.People, floor.Person{ID: id, Steps: []floor.Step{
			{ID: "hoop", Minutes: floor.Minutes(5), TakeFor: map[string]floor.Choice{"left": both, "right": both}},
			{ID: "sew", On: map[string]float64{"left": 10, "right": 10}},
			{ID: "unhoop", Minutes: floor.Minutes(2), Release: []string{"small", "large"}},
			{ID: "press", Minutes: floor.Minutes(3), Needs: map[string]int{"iron": 1}},
		}})
	}
	return p
}

// Pools are alike where nobody may take of one and not of the other.
func TestWhichHoopsAreAlike(t *testing.T) {
	apart := [][]string{{"small"}, {"large"}}
	for name, c := range map[string]struct {
		change func(*floor.Problem)
		want   [][]string
	}{
		"every machine takes both":             {func(*floor.Problem) {}, [][]string{{"small", "large"}}},
		"in whichever order they are named":    {func(p *floor.Problem) { p.People[1].Steps[0].TakeFor["right"] = floor.Choice{"large", "small"} }, [][]string{{"small", "large"}}},
		"one machine takes the large one only": {func(p *floor.Problem) { p.People[1].Steps[0].TakeFor["right"] = floor.Choice{"large"} }, apart},
		"one is out until ten":                 {func(p *floor.Problem) { p.Pools[1].Out = []floor.Span{{From: 0, To: 10}} }, [][]string{{"small"}}},
		"somebody takes one by name":           {func(p *floor.Problem) { p.People[0].Steps[3].Take = []string{"large"} }, [][]string{{"small"}}},
		"somebody needs one at the bench":      {func(p *floor.Problem) { p.People[0].Steps[3].Needs["large"] = 1 }, [][]string{{"small"}}},
		"one may do instead of the iron":       {func(p *floor.Problem) { p.People[0].Steps[3].NeedsOne = []string{"large"} }, [][]string{{"small"}}},
		"one goes back later than the other":   {func(p *floor.Problem) { p.People[0].Steps[2].Release = []string{"large"} }, apart},
	} {
		t.Run(name, func(t *testing.T) {
			p := twoHoops()
			c.change(&p)
			assert.ElementsMatch(t, c.want, floor.AlikePools(p))
		})
	}
}

// Of hoops that are alike a plan names the first that is free of those that the step names for
// its machine; whoever asks keeps their problem as it was.
func TestWhichOfTheHoopsThatAreAlike(t *testing.T) {
	p := twoHoops()
	p.Pools[0].Count = 0
	r, err := floor.Plan(p, floor.Options{Iterations: 50, Seed: 1})
	require.NoError(t, err)
	require.NoError(t, floortest.Check(p, r))
	assert.EqualValues(t, 17+17+3, r.MakespanMinutes, "one hoop goes from the first to the second")

	p = twoHoops()
	before := twoHoops()
	r, err = floor.Plan(p, floor.Options{Iterations: 50, Seed: 1})
	require.NoError(t, err)
	require.NoError(t, floortest.Check(p, r))
	assert.Equal(t, before, p)
	assert.EqualValues(t, 17+3+3, r.MakespanMinutes, "both at once, and the iron for one after the other")
	var took []string
	for _, s := range r.Steps {
		took = append(took, s.Took...)
	}
	assert.ElementsMatch(t, []string{"small", "large"}, took)
}

// Days in which all machines take both hoops keep the rules, whatever there is of each.
func TestDaysOfHoopsThatAreAlike(t *testing.T) {
	for seed := range uint64(40) {
		p := floortest.Generated(seed)
		for i := range p.People {
			for k := range p.People[i].Steps {
				step := &p.People[i].Steps[k]
				if step.TakeFor == nil {
					continue
				}
				step.TakeFor = maps.Clone(step.TakeFor)
				for station := range step.TakeFor {
					step.TakeFor[station] = floor.Choice{"large", "small"}
				}
			}
			for k := range p.People[i].Steps {
				if p.People[i].Steps[k].Release != nil {
					p.People[i].Steps[k].Release = []string{"small", "large"}
				}
			}
		}
		if seed%2 == 0 { // where what is good for people counts, too
			weights := floor.UsualWeights()
			p.Weights = &weights
		}
		require.Len(t, floor.AlikePools(p), 1, "seed %d", seed)
		r, err := floor.Plan(p, floor.Options{Iterations: 300, Seed: seed})
		require.NoError(t, err)
		require.NoError(t, floortest.Check(p, r), "seed %d", seed)
	}
}
