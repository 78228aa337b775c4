package floor_test

import (
	"encoding/json"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/floor"
	"chalkstep/core/floor/floortest"
)

func plan(t *testing.T, p floor.Problem) floor.Result {
	t.Helper()
	r, err := floor.Plan(p, floor.Options{Seed: 1})
	require.NoError(t, err)
	require.NoError(t, floortest.Check(p, r))
	return r
}

func TestTheExampleOfTwoPeopleOneHoopAndOneMachine(t *testing.T) {
	var p floor.Problem
	require.NoError(t, json.Unmarshal([]byte(`{"window_minutes":60,"stations":[{"id":"m1"}],"pools":[{"id":"hoop-small","count":1}],
		"people":[{"id":"p1","ready":0,"steps":[{"id":"hoop","minutes":6,"take":["hoop-small"]},{"id":"sew","on":{"m1":20}},{"id":"unhoop","minutes":3,"release":["hoop-small"]}]},
		          {"id":"p2","ready":0,"steps":[{"id":"hoop","minutes":6,"take":["hoop-small"]},{"id":"sew","on":{"m1":20}},{"id":"unhoop","minutes":3,"release":["hoop-small"]}]}]}`), &p))
	r := plan(t, p)
	assert.Equal(t, 58.0, r.MakespanMinutes, "the hoop goes round: twice 29 minutes")
	assert.Equal(t, 58.0, r.LowerBoundMinutes)
	assert.True(t, r.Fits)
	assert.Equal(t, "hoop-small", r.Bottleneck)
	assert.Equal(t, 29.0, r.Waiting["p1"]+r.Waiting["p2"])

	p.Pools[0].Count = 2
	two := plan(t, p)
	assert.Equal(t, 49.0, two.MakespanMinutes, "with a second hoop the machine is what is waited for")
	assert.Equal(t, "m1", two.Bottleneck)
}

func TestAHoopIsTakenForTheMachineThatAcceptsIt(t *testing.T) {
	step := func(id string) floor.Step { return floor.Step{ID: id, Minutes: floor.Minutes(5)} }
	hoop, unhoop := step("hoop"), step("unhoop")
	hoop.TakeFor = map[string]floor.Choice{"m1": {"round"}, "m2": {"square"}}
	unhoop.Release = []string{"round", "square"}
	steps := []floor.Step{hoop, {ID: "sew", On: map[string]float64{"m1": 10, "m2": 10}}, unhoop}
	p := floor.Problem{
		WindowMinutes: 30, Stations: []floor.Station{{ID: "m1"}, {ID: "m2"}}, Pools: []floor.Pool{{ID: "round", Count: 1}, {ID: "square", Count: 1}},
		People: []floor.Person{{ID: "ana", Steps: steps}, {ID: "bo", Steps: steps}},
	}
	r := plan(t, p)
	assert.Equal(t, 20.0, r.MakespanMinutes, "one sits at each machine with its own hoop")

	p.Pools[1].Count = 0
	r = plan(t, p)
	assert.Equal(t, 40.0, r.MakespanMinutes, "without a hoop the second machine stands idle")
}

func TestAKeptStationServesNobodyElse(t *testing.T) {
	steps := []floor.Step{{ID: "load", On: map[string]float64{"m1": 2}, Keep: true}, {ID: "help", Minutes: floor.Minutes(10)}, {ID: "sew", On: map[string]float64{"m1": 3}}}
	r := plan(t, floor.Problem{WindowMinutes: 20, Stations: []floor.Station{{ID: "m1"}}, People: []floor.Person{{ID: "ana", Steps: steps}, {ID: "bo", Steps: steps}}})
	assert.Equal(t, 30.0, r.MakespanMinutes)
	assert.False(t, r.Fits)
}

func TestNoPlanBreaksARule(t *testing.T) {
	for seed := range uint64(300) {
		p := floortest.Random(rand.New(rand.NewPCG(seed, 3)))
		r, err := floor.Plan(p, floor.Options{Iterations: 60, Seed: seed})
		if err != nil {
			assert.Regexp(t, "no station does both|at once", err.Error(), "seed %d", seed)
			continue
		}
		require.NoError(t, floortest.Check(p, r), "seed %d", seed)
		assert.LessOrEqual(t, r.LowerBoundMinutes, r.MakespanMinutes)
	}
}

func TestTheSamePlanComesOfTheSameSeed(t *testing.T) {
	p := floortest.Class(8, 3, 2)
	first, err := floor.Plan(p, floor.Options{Iterations: 300, Seed: 5})
	require.NoError(t, err)
	again, err := floor.Plan(p, floor.Options{Iterations: 300, Seed: 5})
	require.NoError(t, err)
	assert.Equal(t, first, again)
}

func TestSearchingNeverMakesAPlanWorse(t *testing.T) {
	for seed := range uint64(10) {
		p := floortest.Class(9, 4, seed)
		short, err := floor.Plan(p, floor.Options{Iterations: 1, Seed: seed})
		require.NoError(t, err)
		long, err := floor.Plan(p, floor.Options{Iterations: 400, Seed: seed})
		require.NoError(t, err)
		require.NoError(t, floortest.Check(p, long))
		assert.LessOrEqual(t, long.MakespanMinutes, short.MakespanMinutes)
	}
}

// A job shop of six jobs on six machines whose best makespan, 55, is known.
func TestAKnownJobShopIsSolvedToItsOptimum(t *testing.T) {
	jobs := [][]struct{ station, minutes int }{
		{{2, 1}, {0, 3}, {1, 6}, {3, 7}, {5, 3}, {4, 6}}, {{1, 8}, {2, 5}, {4, 10}, {5, 10}, {0, 10}, {3, 4}},
		{{2, 5}, {3, 4}, {5, 8}, {0, 9}, {1, 1}, {4, 7}}, {{1, 5}, {0, 5}, {2, 5}, {3, 3}, {4, 8}, {5, 9}},
		{{2, 9}, {1, 3}, {4, 5}, {5, 4}, {0, 3}, {3, 1}}, {{1, 3}, {3, 3}, {5, 9}, {0, 10}, {4, 4}, {2, 1}},
	}
	names := []string{"a", "b", "c", "d", "e", "f"}
	p := floor.Problem{WindowMinutes: 60}
	for i, job := range jobs {
		p.Stations = append(p.Stations, floor.Station{ID: names[i]})
		person := floor.Person{ID: "job " + names[i]}
		for _, op := range job {
			person.Steps = append(person.Steps, floor.Step{ID: names[op.station], On: map[string]float64{names[op.station]: float64(op.minutes)}})
		}
		p.People = append(p.People, person)
	}
	r, err := floor.Plan(p, floor.Options{Iterations: 20_000, Seed: 1})
	require.NoError(t, err)
	require.NoError(t, floortest.Check(p, r))
	assert.Equal(t, 55.0, r.MakespanMinutes)
}

func TestWhatCannotBeMeantIsNamed(t *testing.T) {
	base := func() floor.Problem { return floortest.Class(2, 2, 1) }
	for says, change := range map[string]func(*floor.Problem){
		`person p1, step 4 (load): station "m9" is not in stations`:                 func(p *floor.Problem) { p.People[0].Steps[3].On["m9"] = 4 },
		`person p1, step 1 (mark): expected either minutes or on`:                   func(p *floor.Problem) { p.People[0].Steps[0].Minutes = nil },
		`person p2, step 3 (hoop): pool "ring" is not in pools`:                     func(p *floor.Problem) { p.People[1].Steps[2].Take = []string{"ring"} },
		`person p1, step 8 (press): it asks for 2 of iron at once, and there are 1`: func(p *floor.Problem) { p.People[0].Steps[7].Needs["iron"] = 2 },
		`person p1, step 2 (stabilise): it releases hoop, which was not taken`:      func(p *floor.Problem) { p.People[0].Steps[1].Release = []string{"hoop"} },
		`person p1, step 5 (sew): keep needs a later step with on`:                  func(p *floor.Problem) { p.People[0].Steps[4].Keep = true },
		`person "p1": expected a name that nobody else has`:                         func(p *floor.Problem) { p.People[1].ID = "p1" },
		`station "m1": expected a name that no other station has`:                   func(p *floor.Problem) { p.Stations[1].ID = "m1" },
		`window_minutes is -1`: func(p *floor.Problem) { p.WindowMinutes = -1 },
	} {
		p := base()
		change(&p)
		_, err := floor.Plan(p, floor.Options{Iterations: 1})
		assert.ErrorContains(t, err, says)
	}
}

func TestADayThatNoStationCanServeIsSaid(t *testing.T) {
	hoop := floor.Step{ID: "hoop", Minutes: floor.Minutes(5), TakeFor: map[string]floor.Choice{"m1": {"round"}}}
	p := floor.Problem{Stations: []floor.Station{{ID: "m1"}}, Pools: []floor.Pool{{ID: "round", Count: 0}},
		People: []floor.Person{{ID: "ana", Steps: []floor.Step{hoop, {ID: "sew", On: map[string]float64{"m1": 10}}}}}}
	_, err := floor.Plan(p, floor.Options{})
	assert.ErrorContains(t, err, "no plan exists")
}

func TestAnEmptyDayIsDoneAtOnce(t *testing.T) {
	r := plan(t, floor.Problem{WindowMinutes: 10})
	assert.Zero(t, r.MakespanMinutes)
	assert.True(t, r.Fits)
	assert.Empty(t, r.Bottleneck)
}
