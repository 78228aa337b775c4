package floor_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/floor"
	"chalkstep/core/floor/floortest"
)

// Where stations and hoops go from one to the next in the order, every plan keeps the rules,
// and whoever is told to hold a turn up gives back what it takes just then.
func TestPlainDaysKeepTheRules(t *testing.T) {
	plain := 0
	for seed := range uint64(60) {
		plans, loose, ok := floor.Plainly(floortest.Generated(seed), seed, 60)
		if !ok {
			continue
		}
		plain++
		for _, r := range plans {
			require.NoError(t, floortest.Check(floortest.Generated(seed), r), "seed %d", seed)
		}
		require.Zero(t, loose, "seed %d", seed)
	}
	assert.Greater(t, plain, 50)
}

// Who is signed off loads alone: a step that asks for none of the instructor's time waits
// for none of it.
func TestAStepThatNeedsNoneTakesNone(t *testing.T) {
	person := func(id string, instructors int) floor.Person {
		return floor.Person{ID: id, Steps: []floor.Step{
			{ID: "load", On: map[string]float64{"left": 8, "right": 8}, Needs: map[string]int{"instructor": instructors}},
		}}
	}
	r, err := floor.Plan(floor.Problem{
		Stations: []floor.Station{{ID: "left"}, {ID: "right"}},
		Pools:    []floor.Pool{{ID: "instructor", Count: 1}},
		People:   []floor.Person{person("Ada", 0), person("Bea", 1), person("Cy", 1)},
	}, floor.Options{Iterations: 50, Seed: 1})
	require.NoError(t, err)
	assert.InDelta(t, 16, r.MakespanMinutes, 1e-9, "Ada and Bea, then Cy")
}

// Two people share a machine and a hoop: Bea's turn comes second, so she hoops when Ada has
// unhooped, though the instructor, who loads with both, signs Ada off in between.
func TestAPlainDayOfTwo(t *testing.T) {
	steps := func() []floor.Step {
		return []floor.Step{
			{ID: "mark", Minutes: floor.Minutes(4)},
			{ID: "hoop", Minutes: floor.Minutes(5), Take: []string{"hoop"}},
			{ID: "load", On: map[string]float64{"left": 3, "right": 3}, Keep: true, Needs: map[string]int{"instructor": 1}},
			{ID: "sew", On: map[string]float64{"left": 10, "right": 20}},
			{ID: "unhoop", Minutes: floor.Minutes(2), Release: []string{"hoop"}},
			{ID: "sign off", Minutes: floor.Minutes(3), Needs: map[string]int{"instructor": 1}},
		}
	}
	r, err := floor.Plan(floor.Problem{
		Stations: []floor.Station{{ID: "left"}, {ID: "right"}},
		Pools:    []floor.Pool{{ID: "hoop", Count: 1}, {ID: "instructor", Count: 1}},
		People:   []floor.Person{{ID: "Ada", Steps: steps()}, {ID: "Bea", Steps: steps()}},
	}, floor.Options{Iterations: 200, Seed: 1})
	require.NoError(t, err)
	// 4 to mark, twice 5 + 3 + 10 + 2 with the only hoop, 3 to sign off.
	assert.InDelta(t, 4+20+20+3, r.MakespanMinutes, 1e-9)
	for _, step := range r.Steps {
		if step.Step == "load" || step.Step == "sew" {
			assert.Equal(t, "left", step.Station, "the faster one")
		}
	}
}

// All sew on the left machine, which takes either hoop. Ada has the small one, so that Bea
// hoops the large one meanwhile; Cy, after them, has the small one again, which is back first.
func TestTheHoopThatIsBackFirst(t *testing.T) {
	person := func(id string) floor.Person {
		either := floor.Choice{"small", "large"}
		return floor.Person{ID: id, Steps: []floor.Step{
			{ID: "hoop", Minutes: floor.Minutes(5), TakeFor: map[string]floor.Choice{"left": either, "right": either}},
			{ID: "sew", On: map[string]float64{"left": 10, "right": 10}},
			{ID: "unhoop", Minutes: floor.Minutes(6), Release: []string{"small", "large"}},
		}}
	}
	r, err := floor.LeftOpen(floor.Problem{
		Stations: []floor.Station{{ID: "left"}, {ID: "right"}},
		Pools:    []floor.Pool{{ID: "small", Count: 1}, {ID: "large", Count: 1}},
		People:   []floor.Person{person("Ada"), person("Bea"), person("Cy")},
	}, "left")
	require.NoError(t, err)
	for name, want := range map[string]struct {
		hoop string
		sews float64
	}{"Ada": {"small", 5}, "Bea": {"large", 15}, "Cy": {"small", 26}} {
		assert.Equal(t, []string{want.hoop}, stepOf(t, r, name, "hoop").Took, name)
		sew := stepOf(t, r, name, "sew")
		assert.Equal(t, "left", sew.Station, name)
		assert.InDelta(t, want.sews, sew.Start, 1e-9, name)
	}
}

// A change that leaves machines and hoops busy for much longer is given up. Most of those that
// are given up are so rightly: their plans would not have been taken.
func TestWhatLosesTimeIsGivenUp(t *testing.T) {
	given, taken, wronged := 0, 0, 0
	for seed := range uint64(20) {
		g, k, w, err := floor.GivenUp(floortest.Generated(seed), seed, 3000)
		require.NoError(t, err)
		given, taken, wronged = given+g, taken+k, wronged+w
	}
	assert.Greater(t, given, 20*3000/10, "of 60,000 changes")
	assert.Greater(t, taken, 1000)
	assert.Less(t, wronged, taken/10, "%d given up, %d taken, %d wronged", given, taken, wronged)
}
