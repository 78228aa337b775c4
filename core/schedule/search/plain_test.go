package search_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/schedule"
	"chalkstep/core/schedule/scheduletest"
	"chalkstep/core/schedule/search"
)

// Where stations and hoops go from one to the next in the order, every plan keeps the rules,
// and whoever is told to hold a turn up gives back what it takes just then.
func TestPlainDaysKeepTheRules(t *testing.T) {
	plain := 0
	for seed := range uint64(60) {
		plans, loose, ok := search.Plainly(scheduletest.Generated(seed), seed, 60)
		if !ok {
			continue
		}
		plain++
		for _, r := range plans {
			require.NoError(t, scheduletest.Check(scheduletest.Generated(seed), r), "seed %d", seed)
		}
		require.Zero(t, loose, "seed %d", seed)
	}
	assert.Greater(t, plain, 50)
}

// Who is signed off loads alone: a step that asks for none of the instructor's time waits
// for none of it.
func TestAStepThatNeedsNoneTakesNone(t *testing.T) {
	job := func(id string, instructors int) schedule.Job {
		return schedule.Job{ID: id, Operations: []schedule.Operation{
			{ID: "load", On: map[string]float64{"left": 8, "right": 8}, Needs: map[string]int{"instructor": instructors}},
		}}
	}
	r, err := search.Solve(schedule.Problem{
		Machines:  []schedule.Machine{{ID: "left"}, {ID: "right"}},
		Resources: []schedule.Resource{{ID: "instructor", Count: 1}},
		Jobs:      []schedule.Job{job("Ada", 0), job("Bea", 1), job("Cy", 1)},
	}, search.Options{Iterations: 50, Seed: 1})
	require.NoError(t, err)
	assert.InDelta(t, 16, r.MakespanMinutes, 1e-9, "Ada and Bea, then Cy")
}

// Two people share a machine and a hoop: Bea's turn comes second, so she hoops when Ada has
// unhooped, though the instructor, who loads with both, signs Ada off in between.
func TestAPlainDayOfTwo(t *testing.T) {
	steps := func() []schedule.Operation {
		return []schedule.Operation{
			{ID: "mark", Minutes: schedule.Minutes(4)},
			{ID: "hoop", Minutes: schedule.Minutes(5), Take: []string{"hoop"}},
			{ID: "load", On: map[string]float64{"left": 3, "right": 3}, KeepMachine: true,
				Needs: map[string]int{"instructor": 1}},
			{ID: "sew", On: map[string]float64{"left": 10, "right": 20}},
			{ID: "unhoop", Minutes: schedule.Minutes(2), Release: []string{"hoop"}},
			{ID: "sign off", Minutes: schedule.Minutes(3), Needs: map[string]int{"instructor": 1}},
		}
	}
	r, err := search.Solve(schedule.Problem{
		Machines:  []schedule.Machine{{ID: "left"}, {ID: "right"}},
		Resources: []schedule.Resource{{ID: "hoop", Count: 1}, {ID: "instructor", Count: 1}},
		Jobs:      []schedule.Job{{ID: "Ada", Operations: steps()}, {ID: "Bea", Operations: steps()}},
	}, search.Options{Iterations: 200, Seed: 1})
	require.NoError(t, err)
	// 4 to mark, twice 5 + 3 + 10 + 2 with the only hoop, 3 to sign off.
	assert.InDelta(t, 4+20+20+3, r.MakespanMinutes, 1e-9)
	for _, step := range r.Assignments {
		if step.Operation == "load" || step.Operation == "sew" {
			assert.Equal(t, "left", step.Machine, "the faster one")
		}
	}
}

// All sew on the left machine, which takes either hoop. Ada has the small one, so that Bea
// hoops the large one meanwhile; Cy, after them, has the small one again, which is back first.
func TestTheHoopThatIsBackFirst(t *testing.T) {
	job := func(id string) schedule.Job {
		either := schedule.Choice{"small", "large"}
		return schedule.Job{ID: id, Operations: []schedule.Operation{
			{ID: "hoop", Minutes: schedule.Minutes(5), TakeFor: map[string]schedule.Choice{"left": either, "right": either}},
			{ID: "sew", On: map[string]float64{"left": 10, "right": 10}},
			{ID: "unhoop", Minutes: schedule.Minutes(6), Release: []string{"small", "large"}},
		}}
	}
	r, err := search.LeftOpen(schedule.Problem{
		Machines:  []schedule.Machine{{ID: "left"}, {ID: "right"}},
		Resources: []schedule.Resource{{ID: "small", Count: 1}, {ID: "large", Count: 1}},
		Jobs:      []schedule.Job{job("Ada"), job("Bea"), job("Cy")},
	}, "left")
	require.NoError(t, err)
	for name, want := range map[string]struct {
		hoop string
		sews float64
	}{"Ada": {"small", 5}, "Bea": {"large", 15}, "Cy": {"small", 26}} {
		assert.Equal(t, []string{want.hoop}, assignmentOf(t, r, name, "hoop").Took, name)
		sew := assignmentOf(t, r, name, "sew")
		assert.Equal(t, "left", sew.Machine, name)
		assert.InDelta(t, want.sews, sew.Start, 1e-9, name)
	}
}

// A change that leaves machines and hoops busy for much longer is given up. Most of those that
// are given up are so rightly: their plans would not have been taken.
func TestWhatLosesTimeIsGivenUp(t *testing.T) {
	given, taken, wronged := 0, 0, 0
	for seed := range uint64(20) {
		g, k, w, err := search.GivenUp(scheduletest.Generated(seed), seed, 3000)
		require.NoError(t, err)
		given, taken, wronged = given+g, taken+k, wronged+w
	}
	assert.Greater(t, given, 20*3000/10, "of 60,000 changes")
	assert.Greater(t, taken, 1000)
	assert.Less(t, wronged, taken/10, "%d given up, %d taken, %d wronged", given, taken, wronged)
}
