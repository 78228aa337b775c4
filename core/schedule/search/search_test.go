package search_test

import (
	"encoding/json"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/schedule"
	"chalkstep/core/schedule/scheduletest"
	"chalkstep/core/schedule/search"
)

func plan(t *testing.T, p schedule.Problem) schedule.Plan {
	t.Helper()
	r, err := search.Solve(p, search.Options{Seed: 1})
	require.NoError(t, err)
	require.NoError(t, scheduletest.Check(p, r))
	return r
}

func TestTheExampleOfTwoPeopleOneHoopAndOneMachine(t *testing.T) {
	var p schedule.Problem
	require.NoError(t, json.Unmarshal(
		[]byte(`{"window_minutes":60,"stations":[{"id":"m1"}],"pools":[{"id":"hoop-small","count":1}],
		"people":[{"id":"p1","ready":0,"steps":[{"id":"hoop","minutes":6,"take":["hoop-small"]},
			{"id":"sew","on":{"m1":20}},{"id":"unhoop","minutes":3,"release":["hoop-small"]}]},
		          {"id":"p2","ready":0,"steps":[{"id":"hoop","minutes":6,"take":["hoop-small"]},
			{"id":"sew","on":{"m1":20}},{"id":"unhoop","minutes":3,"release":["hoop-small"]}]}]}`), &p))
	r := plan(t, p)
	assert.Equal(t, 58.0, r.MakespanMinutes, "the hoop goes round: twice 29 minutes")
	assert.Equal(t, 58.0, r.LowerBoundMinutes)
	assert.True(t, r.Fits)
	assert.Equal(t, "hoop-small", r.Bottleneck)
	assert.Equal(t, 29.0, r.Waiting["p1"]+r.Waiting["p2"])

	p.Resources[0].Count = 2
	two := plan(t, p)
	assert.Equal(t, 49.0, two.MakespanMinutes, "with a second hoop the machine is what is waited for")
	assert.Equal(t, "m1", two.Bottleneck)
}

func TestAHoopIsTakenForTheMachineThatAcceptsIt(t *testing.T) {
	step := func(id string) schedule.Operation { return schedule.Operation{ID: id, Minutes: schedule.Minutes(5)} }
	hoop, unhoop := step("hoop"), step("unhoop")
	hoop.TakeFor = map[string]schedule.Choice{"m1": {"round"}, "m2": {"square"}}
	unhoop.Release = []string{"round", "square"}
	steps := []schedule.Operation{hoop, {ID: "sew", On: map[string]float64{"m1": 10, "m2": 10}}, unhoop}
	p := schedule.Problem{
		WindowMinutes: 30, Machines: []schedule.Machine{{ID: "m1"}, {ID: "m2"}},
		Resources: []schedule.Resource{{ID: "round", Count: 1}, {ID: "square", Count: 1}},
		Jobs:      []schedule.Job{{ID: "ana", Operations: steps}, {ID: "bo", Operations: steps}},
	}
	r := plan(t, p)
	assert.Equal(t, 20.0, r.MakespanMinutes, "one sits at each machine with its own hoop")

	p.Resources[1].Count = 0
	r = plan(t, p)
	assert.Equal(t, 40.0, r.MakespanMinutes, "without a hoop the second machine stands idle")
}

func TestAKeptStationServesNobodyElse(t *testing.T) {
	steps := []schedule.Operation{{ID: "load", On: map[string]float64{"m1": 2}, KeepMachine: true},
		{ID: "help", Minutes: schedule.Minutes(10)}, {ID: "sew", On: map[string]float64{"m1": 3}}}
	r := plan(t, schedule.Problem{WindowMinutes: 20, Machines: []schedule.Machine{{ID: "m1"}},
		Jobs: []schedule.Job{{ID: "ana", Operations: steps}, {ID: "bo", Operations: steps}}})
	assert.Equal(t, 30.0, r.MakespanMinutes)
	assert.False(t, r.Fits)
}

func TestNoPlanBreaksARule(t *testing.T) {
	for seed := range uint64(300) {
		p := scheduletest.Random(rand.New(rand.NewPCG(seed, 3)))
		r, err := search.Solve(p, search.Options{Iterations: 60, Seed: seed})
		if err != nil {
			assert.Regexp(t, "no station does both|at once", err.Error(), "seed %d", seed)
			continue
		}
		require.NoError(t, scheduletest.Check(p, r), "seed %d", seed)
		assert.LessOrEqual(t, r.LowerBoundMinutes, r.MakespanMinutes)
	}
}

func TestTheSamePlanComesOfTheSameSeed(t *testing.T) {
	p := scheduletest.Class(8, 3, 2)
	first, err := search.Solve(p, search.Options{Iterations: 300, Seed: 5})
	require.NoError(t, err)
	again, err := search.Solve(p, search.Options{Iterations: 300, Seed: 5})
	require.NoError(t, err)
	assert.Equal(t, first, again)
}

func TestSearchingNeverMakesAPlanWorse(t *testing.T) {
	for seed := range uint64(10) {
		p := scheduletest.Class(9, 4, seed)
		short, err := search.Solve(p, search.Options{Iterations: 1, Seed: seed})
		require.NoError(t, err)
		long, err := search.Solve(p, search.Options{Iterations: 400, Seed: seed})
		require.NoError(t, err)
		require.NoError(t, scheduletest.Check(p, long))
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
	p := schedule.Problem{WindowMinutes: 60}
	for i, job := range jobs {
		p.Machines = append(p.Machines, schedule.Machine{ID: names[i]})
		person := schedule.Job{ID: "job " + names[i]}
		for _, op := range job {
			person.Operations = append(person.Operations,
				schedule.Operation{ID: names[op.station], On: map[string]float64{names[op.station]: float64(op.minutes)}})
		}
		p.Jobs = append(p.Jobs, person)
	}
	r, err := search.Solve(p, search.Options{Iterations: 20_000, Seed: 1})
	require.NoError(t, err)
	require.NoError(t, scheduletest.Check(p, r))
	assert.Equal(t, 55.0, r.MakespanMinutes)
}

func TestWhatCannotBeMeantIsNamed(t *testing.T) {
	base := func() schedule.Problem { return scheduletest.Class(2, 2, 1) }
	for says, change := range map[string]func(*schedule.Problem){
		`person p1, step 4 (load): station "m9" is not in stations`: func(p *schedule.Problem) {
			p.Jobs[0].Operations[3].On["m9"] = 4
		},
		`person p1, step 1 (mark): expected either minutes or on`: func(p *schedule.Problem) {
			p.Jobs[0].Operations[0].Minutes = nil
		},
		`person p2, step 3 (hoop): pool "ring" is not in pools`: func(p *schedule.Problem) {
			p.Jobs[1].Operations[2].Take = []string{"ring"}
		},
		`person p1, step 8 (press): it asks for 2 of iron at once, and there are 1`: func(p *schedule.Problem) {
			p.Jobs[0].Operations[7].Needs["iron"] = 2
		},
		`person p1, step 2 (stabilise): it releases hoop, which was not taken`: func(p *schedule.Problem) {
			p.Jobs[0].Operations[1].Release = []string{"hoop"}
		},
		`person p1, step 5 (sew): keep needs a later step with on`: func(p *schedule.Problem) {
			p.Jobs[0].Operations[4].KeepMachine = true
		},
		`person "p1": expected a name that nobody else has`: func(p *schedule.Problem) {
			p.Jobs[1].ID = "p1"
		},
		`station "m1": expected a name that no other station has`: func(p *schedule.Problem) {
			p.Machines[1].ID = "m1"
		},
		`window_minutes is -1`: func(p *schedule.Problem) { p.WindowMinutes = -1 },
	} {
		p := base()
		change(&p)
		_, err := search.Solve(p, search.Options{Iterations: 1})
		assert.ErrorContains(t, err, says)
	}
}

func TestADayThatNoStationCanServeIsSaid(t *testing.T) {
	hoop := schedule.Operation{ID: "hoop", Minutes: schedule.Minutes(5),
		TakeFor: map[string]schedule.Choice{"m1": {"round"}}}
	p := schedule.Problem{Machines: []schedule.Machine{{ID: "m1"}},
		Resources: []schedule.Resource{{ID: "round", Count: 0}},
		Jobs: []schedule.Job{
			{ID: "ana", Operations: []schedule.Operation{hoop, {ID: "sew", On: map[string]float64{"m1": 10}}}}}}
	_, err := search.Solve(p, search.Options{})
	assert.ErrorContains(t, err, "no plan exists")
}

func TestAnEmptyDayIsDoneAtOnce(t *testing.T) {
	r := plan(t, schedule.Problem{WindowMinutes: 10})
	assert.Zero(t, r.MakespanMinutes)
	assert.True(t, r.Fits)
	assert.Empty(t, r.Bottleneck)
}
