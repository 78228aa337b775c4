package floor_test

import (
	"encoding/json"
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/floor"
	"chalkstep/core/floor/floortest"
)

// sewing is somebody who hoops, sews and unhoops.
func sewing(id string, takes map[string]floor.Choice, minutes float64, release ...string) floor.Person {
	on := map[string]float64{}
	for station := range takes {
		on[station] = minutes
	}
	return floor.Person{ID: id, Steps: []floor.Step{
		{ID: "hoop", Minutes: floor.Minutes(5), TakeFor: takes},
		{ID: "sew", On: on},
		{ID: "unhoop", Minutes: floor.Minutes(2), Release: release},
	}}
}

func stepOf(t *testing.T, r floor.Result, person, step string) floor.Placed {
	t.Helper()
	for _, s := range r.Steps {
		if s.Person == person && s.Step == step {
			return s
		}
	}
	require.Fail(t, "no such step", "%s of %s", step, person)
	return floor.Placed{}
}

// Two machines take the small hoop, of which there is one, and the second takes the
// large one as well.
func TestAnyHoopThatFitsWillDo(t *testing.T) {
	day := func(second floor.Choice) floor.Problem {
		takes := map[string]floor.Choice{"a": {"small"}, "b": second}
		p := floor.Problem{WindowMinutes: 90, Stations: []floor.Station{{ID: "a"}, {ID: "b"}}, Pools: []floor.Pool{{ID: "small", Count: 1}, {ID: "large", Count: 1}}}
		release := []string{"small", "large"}[:len(second)]
		for _, id := range []string{"ana", "bo"} {
			p.People = append(p.People, sewing(id, takes, 20, release...))
		}
		return p
	}
	assert.Equal(t, 54.0, plan(t, day(floor.Choice{"small"})).MakespanMinutes, "one hoop goes round")
	r := plan(t, day(floor.Choice{"small", "large"}))
	assert.Equal(t, 27.0, r.MakespanMinutes, "with either, both sew at once")
	took := append(stepOf(t, r, "ana", "hoop").Took, stepOf(t, r, "bo", "hoop").Took...)
	assert.ElementsMatch(t, []string{"small", "large"}, took, "and the plan says which")
}

func TestAnAssistantHelpsWhereOneWillDo(t *testing.T) {
	p := floor.Problem{WindowMinutes: 60, Pools: []floor.Pool{{ID: "instructor", Count: 1}, {ID: "assistant", Count: 1}}}
	for i := range 4 {
		p.People = append(p.People, floor.Person{ID: fmt.Sprint("p", i), Steps: []floor.Step{
			{ID: "hoop", Minutes: floor.Minutes(6), NeedsOne: []string{"instructor", "assistant"}},
			{ID: "sign-off", Minutes: floor.Minutes(3), Needs: map[string]int{"instructor": 1}},
		}})
	}
	r := plan(t, p)
	assert.Equal(t, 21.0, r.MakespanMinutes, "the assistant hoops with three, and the last of them is signed off after it")
	p.Pools[1].Out = []floor.Span{{From: 0, To: 60}}
	assert.Equal(t, 36.0, plan(t, p).MakespanMinutes, "without the assistant the instructor does it all")
}

func TestNobodyWorksInABreak(t *testing.T) {
	p := floor.Problem{WindowMinutes: 60, Stations: []floor.Station{{ID: "a"}}, Pools: []floor.Pool{{ID: "small", Count: 1}}, Closed: []floor.Span{{From: 20, To: 35}},
		People: []floor.Person{sewing("ana", map[string]floor.Choice{"a": {"small"}}, 20, "small")}}
	r := plan(t, p)
	sew := stepOf(t, r, "ana", "sew")
	assert.Equal(t, 35.0, sew.Start, "twenty minutes do not fit before it")
	assert.Equal(t, 57.0, r.MakespanMinutes)
}

func TestAMachineIsOutForPartOfTheDay(t *testing.T) {
	takes := map[string]floor.Choice{"a": {"small"}, "b": {"small"}}
	p := floor.Problem{WindowMinutes: 90, Stations: []floor.Station{{ID: "a"}, {ID: "b", Out: []floor.Span{{From: 0, To: 200}}}}, Pools: []floor.Pool{{ID: "small", Count: 2}},
		People: []floor.Person{sewing("ana", takes, 20, "small"), sewing("bo", takes, 20, "small")}}
	r := plan(t, p)
	assert.Equal(t, "a", stepOf(t, r, "ana", "sew").Station)
	assert.Equal(t, "a", stepOf(t, r, "bo", "sew").Station)
	p.Stations[1].Out[0].To = 10
	assert.Equal(t, 32.0, plan(t, p).MakespanMinutes, "ten minutes out, and then it sews")
}

// Who is pinned goes first; all others go round them.
func TestAPinnedStepIsPlacedBeforeAllOthers(t *testing.T) {
	takes := map[string]floor.Choice{"a": {"small"}}
	at := 30.0
	p := floor.Problem{WindowMinutes: 120, Stations: []floor.Station{{ID: "a"}}, Pools: []floor.Pool{{ID: "small", Count: 2}},
		People: []floor.Person{sewing("ana", takes, 20, "small"), sewing("bo", takes, 20, "small"), sewing("cy", takes, 20, "small")}}
	p.People[2].Steps[1].At = &at
	r := plan(t, p)
	assert.Equal(t, 30.0, stepOf(t, r, "cy", "sew").Start)
	first := min(stepOf(t, r, "ana", "sew").Start, stepOf(t, r, "bo", "sew").Start)
	assert.Equal(t, 5.0, first, "one of the others sews before")
}

// What is good for people costs some minutes, and the plan says how many.
func TestFairnessShortensTheLongestWait(t *testing.T) {
	shorter, cost := 0, 0.0
	for seed := range uint64(8) {
		p := floortest.Class(12, 4, seed)
		longest := func(r floor.Result) float64 {
			most := 0.0
			for _, who := range p.People {
				at := who.Ready
				for _, s := range who.Steps {
					placed := stepOf(t, r, who.ID, s.ID)
					most, at = max(most, placed.Start-at), placed.End
				}
			}
			return most
		}
		short := plan(t, p)
		w := floor.UsualWeights()
		p.Weights = &w
		fair := plan(t, p)
		assert.GreaterOrEqual(t, fair.MakespanMinutes, fair.ShortestMinutes-1e-6)
		if longest(fair) < longest(short)-1 {
			shorter++
		}
		cost += fair.MakespanMinutes - short.MakespanMinutes
	}
	assert.Greater(t, shorter, 5, "of eight classes")
	assert.Less(t, cost/8, 8.0, "minutes, on average")
}

// Ana might change to a quicker machine, and be done eight minutes earlier. That is not
// worth the threading anew, unless it is needed for the margin before the class's end.
func TestAMarginBeforeTheEndIsWorthAChange(t *testing.T) {
	p := floor.Problem{Stations: []floor.Station{{ID: "a"}, {ID: "b"}}, People: []floor.Person{{ID: "ana", Steps: []floor.Step{
		{ID: "first", On: map[string]float64{"a": 20}},
		{ID: "second", On: map[string]float64{"a": 20, "b": 12}},
	}}}}
	for _, c := range []struct {
		name           string
		window, margin float64
		at             string
	}{
		{"no margin wanted", 50, 0, "a"},
		{"a margin there is anyhow", 100, 30, "a"},
		{"a margin that is missing", 50, 30, "b"},
	} {
		w := floor.UsualWeights()
		w.MarginMinutes, p.WindowMinutes, p.Weights = c.margin, c.window, &w
		assert.Equal(t, c.at, stepOf(t, plan(t, p), "ana", "second").Station, c.name)
	}
}

func TestNobodyChangesMachineWithoutNeed(t *testing.T) {
	changes, chances := 0, 0
	for seed := range uint64(12) {
		p := floortest.Generated(seed)
		w := floor.UsualWeights()
		w.Change, p.WindowMinutes = 100, 900 // nobody is in a hurry
		p.Weights = &w
		r, err := floor.Plan(p, floor.Options{Seed: 1, Iterations: 6000})
		require.NoError(t, err)
		require.NoError(t, floortest.Check(p, r))
		for _, who := range p.People {
			last := ""
			for _, s := range who.Steps {
				if at := stepOf(t, r, who.ID, s.ID); at.Station != "" {
					if last != "" && len(s.TakeFor) == 0 && s.ID[:4] == "load" {
						chances++
						if at.Station != last {
							changes++
						}
					}
					last = at.Station
				}
			}
		}
	}
	t.Logf("%d changes in %d chances", changes, chances)
	assert.LessOrEqual(t, changes, chances/20)
}

// The bound is known before any plan, and no plan that a search finds is shorter.
func TestTheBoundIsNoLongerThanAnyPlan(t *testing.T) {
	for seed := range uint64(40) {
		p := floortest.Generated(seed)
		bound, err := floor.LowerBound(p)
		require.NoError(t, err)
		r, err := floor.Plan(p, floor.Options{Seed: seed, Iterations: 2000})
		require.NoError(t, err)
		require.NoError(t, floortest.Check(p, r), "seed %d", seed)
		assert.LessOrEqual(t, bound, r.MakespanMinutes+1e-6, "seed %d", seed)
		assert.LessOrEqual(t, r.MakespanMinutes, floortest.FirstCome(p), "seed %d: sooner than without a plan", seed)
	}
}

func TestAHoopIsAPoolOrAListOfThem(t *testing.T) {
	var s floor.Step
	require.NoError(t, json.Unmarshal([]byte(`{"id":"hoop","minutes":5,"take_for":{"a":"small","b":["small","large"]}}`), &s))
	assert.Equal(t, map[string]floor.Choice{"a": {"small"}, "b": {"small", "large"}}, s.TakeFor)
	data, err := json.Marshal(s)
	require.NoError(t, err)
	assert.JSONEq(t, `{"id":"hoop","minutes":5,"take_for":{"a":"small","b":["small","large"]}}`, string(data))
	assert.ErrorContains(t, json.Unmarshal([]byte(`{"take_for":{"a":7}}`), &s), "expected a pool, or a list of pools")
}

func TestWhatIsOutIsAStretchOfTheDay(t *testing.T) {
	at := -1.0
	for says, change := range map[string]func(*floor.Problem){
		"closed: from 20 to 10": func(p *floor.Problem) { p.Closed = []floor.Span{{From: 20, To: 10}} },
		"station m1 is out: from -1 to 10: expected a stretch of the day":           func(p *floor.Problem) { p.Stations[0].Out = []floor.Span{{From: -1, To: 10}} },
		"pool iron is out: units is 3: expected 0 to 1":                             func(p *floor.Problem) { p.Pools[1].Out = []floor.Span{{From: 1, To: 10, Units: 3}} },
		"person p1, step 1 (mark): at is -1":                                        func(p *floor.Problem) { p.People[0].Steps[0].At = &at },
		"person p1, step 8 (press): needs_one names iron, of which it has one":      func(p *floor.Problem) { p.People[0].Steps[7].NeedsOne = []string{"iron"} },
		"person p1, step 3 (hoop): take_for names 0 pools for m1: expected 1 to 12": func(p *floor.Problem) { p.People[0].Steps[2].TakeFor = map[string]floor.Choice{"m1": {}} },
		"weights: late is -2": func(p *floor.Problem) { p.Weights = &floor.Weights{Late: -2} },
	} {
		p := floortest.Class(2, 2, 1)
		change(&p)
		_, err := floor.Plan(p, floor.Options{Iterations: 1})
		assert.ErrorContains(t, err, says)
	}
}

// Somebody goes back to the station they were at, and others may have it in between.
func TestTheSameStationAgain(t *testing.T) {
	back := func(id string) floor.Person {
		return floor.Person{ID: id, Steps: []floor.Step{
			{ID: "sew", On: map[string]float64{"a": 10, "b": 12}, Take: []string{"hoop"}},
			{ID: "trim", Minutes: floor.Minutes(10)},
			{ID: "sew on", On: map[string]float64{"a": 10, "b": 12}, Same: true, Release: []string{"hoop"}},
		}}
	}
	p := floor.Problem{WindowMinutes: 60, Stations: []floor.Station{{ID: "a"}, {ID: "b", Out: []floor.Span{{From: 0, To: 500}}}}, Pools: []floor.Pool{{ID: "hoop", Count: 2}},
		People: []floor.Person{back("p1"), back("p2")}}
	r, err := floor.Plan(p, floor.Options{Seed: 1})
	require.NoError(t, err)
	require.NoError(t, floortest.Check(p, r))
	assert.InDelta(t, 40, r.MakespanMinutes, 1e-6, "the one trims while the other sews")
	for i := range p.People {
		p.People[i].Steps[0].Keep, p.People[i].Steps[2].Same = true, false
	}
	r, err = floor.Plan(p, floor.Options{Seed: 1})
	require.NoError(t, err)
	assert.InDelta(t, 60, r.MakespanMinutes, 1e-6, "a machine that is kept stands idle meanwhile")

	for name, c := range map[string]struct {
		change func(*floor.Problem)
		says   string
	}{
		"no step before": {func(p *floor.Problem) { p.People[0].Steps[0].Same = true }, "same needs an earlier step with on"},
		"at the bench":   {func(p *floor.Problem) { p.People[0].Steps[1].Same = true }, "same belongs to a step with on"},
		"no such station": {func(p *floor.Problem) {
			p.People[0].Steps[2].On, p.People[0].Steps[0].On = map[string]float64{"a": 1}, map[string]float64{"b": 1}
			p.People[0].Steps[2].Same = true
		}, "no station does both"},
	} {
		bad := p
		bad.People = []floor.Person{back("p1")}
		c.change(&bad)
		_, err := floor.Plan(bad, floor.Options{Iterations: 10})
		assert.ErrorContains(t, err, c.says, name)
	}
}
