package search_test

import (
	"maps"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/schedule"
	"chalkstep/core/schedule/scheduletest"
	"chalkstep/core/schedule/search"
)

// twoHoops is a day of two who hoop at the bench, for one of two machines that both take a small
// and a large hoop, of which there is one each.
func twoHoops() schedule.Problem {
	p := schedule.Problem{
		Machines:  []schedule.Machine{{ID: "left"}, {ID: "right"}},
		Resources: []schedule.Resource{{ID: "small", Count: 1}, {ID: "large", Count: 1}, {ID: "iron", Count: 1}},
	}
	for _, id := range []string{"Ada", "Bea"} {
		both := schedule.Choice{"small", "large"}
		p.Jobs = append(p.Jobs, schedule.Job{ID: id, Operations: []schedule.Operation{
			{ID: "hoop", Minutes: schedule.Minutes(5), TakeFor: map[string]schedule.Choice{"left": both, "right": both}},
			{ID: "sew", On: map[string]float64{"left": 10, "right": 10}},
			{ID: "unhoop", Minutes: schedule.Minutes(2), Release: []string{"small", "large"}},
			{ID: "press", Minutes: schedule.Minutes(3), Needs: map[string]int{"iron": 1}},
		}})
	}
	return p
}

// Pools are alike where nobody may take of one and not of the other.
func TestWhichHoopsAreAlike(t *testing.T) {
	apart := [][]string{{"small"}, {"large"}}
	for name, c := range map[string]struct {
		change func(*schedule.Problem)
		want   [][]string
	}{
		"every machine takes both": {func(*schedule.Problem) {}, [][]string{{"small", "large"}}},
		"in whichever order they are named": {func(p *schedule.Problem) {
			p.Jobs[1].Operations[0].TakeFor["right"] = schedule.Choice{"large", "small"}
		}, [][]string{{"small", "large"}}},
		"one machine takes the large one only": {func(p *schedule.Problem) {
			p.Jobs[1].Operations[0].TakeFor["right"] = schedule.Choice{"large"}
		}, apart},
		"one is out until ten": {func(p *schedule.Problem) {
			p.Resources[1].Unavailable = []schedule.Interval{{From: 0, To: 10}}
		}, [][]string{{"small"}}},
		"somebody takes one by name": {func(p *schedule.Problem) {
			p.Jobs[0].Operations[3].Take = []string{"large"}
		}, [][]string{{"small"}}},
		"somebody needs one at the bench": {func(p *schedule.Problem) {
			p.Jobs[0].Operations[3].Needs["large"] = 1
		}, [][]string{{"small"}}},
		"one may do instead of the iron": {func(p *schedule.Problem) {
			p.Jobs[0].Operations[3].NeedsOneOf = []string{"large"}
		}, [][]string{{"small"}}},
		"one goes back later than the other": {func(p *schedule.Problem) {
			p.Jobs[0].Operations[2].Release = []string{"large"}
		}, apart},
	} {
		t.Run(name, func(t *testing.T) {
			p := twoHoops()
			c.change(&p)
			assert.ElementsMatch(t, c.want, search.AlikePools(p))
		})
	}
}

// Of hoops that are alike a plan names the first that is free of those that the step names for
// its machine; whoever asks keeps their problem as it was.
func TestWhichOfTheHoopsThatAreAlike(t *testing.T) {
	p := twoHoops()
	p.Resources[0].Count = 0
	r, err := search.Solve(p, search.Options{Iterations: 50, Seed: 1})
	require.NoError(t, err)
	require.NoError(t, scheduletest.Check(p, r))
	assert.EqualValues(t, 17+17+3, r.MakespanMinutes, "one hoop goes from the first to the second")

	p = twoHoops()
	before := twoHoops()
	r, err = search.Solve(p, search.Options{Iterations: 50, Seed: 1})
	require.NoError(t, err)
	require.NoError(t, scheduletest.Check(p, r))
	assert.Equal(t, before, p)
	assert.EqualValues(t, 17+3+3, r.MakespanMinutes, "both at once, and the iron for one after the other")
	var took []string
	for _, s := range r.Assignments {
		took = append(took, s.Took...)
	}
	assert.ElementsMatch(t, []string{"small", "large"}, took)
}

// Days in which all machines take both hoops keep the rules, whatever there is of each.
func TestDaysOfHoopsThatAreAlike(t *testing.T) {
	for seed := range uint64(40) {
		p := scheduletest.Generated(seed)
		for i := range p.Jobs {
			for k := range p.Jobs[i].Operations {
				step := &p.Jobs[i].Operations[k]
				if step.TakeFor == nil {
					continue
				}
				step.TakeFor = maps.Clone(step.TakeFor)
				for machine := range step.TakeFor {
					step.TakeFor[machine] = schedule.Choice{"large", "small"}
				}
			}
			for k := range p.Jobs[i].Operations {
				if p.Jobs[i].Operations[k].Release != nil {
					p.Jobs[i].Operations[k].Release = []string{"small", "large"}
				}
			}
		}
		if seed%2 == 0 { // where what is good for people counts, too
			weights := schedule.UsualWeights()
			p.Weights = &weights
		}
		require.Len(t, search.AlikePools(p), 1, "seed %d", seed)
		r, err := search.Solve(p, search.Options{Iterations: 300, Seed: seed})
		require.NoError(t, err)
		require.NoError(t, scheduletest.Check(p, r), "seed %d", seed)
	}
}
