package search_test

import (
	"encoding/json"
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/schedule"
	"chalkstep/core/schedule/scheduletest"
	"chalkstep/core/schedule/search"
)

// Sewing is somebody who hoops, sews and unhoops.
func sewing(id string, takes map[string]schedule.Choice, minutes float64, release ...string) schedule.Job {
	on := map[string]float64{}
	for machine := range takes {
		on[machine] = minutes
	}
	return schedule.Job{ID: id, Operations: []schedule.Operation{
		{ID: "hoop", Minutes: schedule.Minutes(5), TakeFor: takes},
		{ID: "sew", On: on},
		{ID: "unhoop", Minutes: schedule.Minutes(2), Release: release},
	}}
}

func assignmentOf(t *testing.T, r schedule.Plan, job, step string) schedule.Assignment {
	t.Helper()
	for _, s := range r.Assignments {
		if s.Job == job && s.Operation == step {
			return s
		}
	}
	require.Fail(t, "no such step", "%s of %s", step, job)
	return schedule.Assignment{}
}

// Two machines take the small hoop, of which there is one, and the second takes the
// large one as well.
func TestAnyHoopThatFitsWillDo(t *testing.T) {
	day := func(second schedule.Choice) schedule.Problem {
		takes := map[string]schedule.Choice{"a": {"small"}, "b": second}
		p := schedule.Problem{WindowMinutes: 90, Machines: []schedule.Machine{{ID: "a"}, {ID: "b"}},
			Resources: []schedule.Resource{{ID: "small", Count: 1}, {ID: "large", Count: 1}}}
		release := []string{"small", "large"}[:len(second)]
		for _, id := range []string{"ana", "bo"} {
			p.Jobs = append(p.Jobs, sewing(id, takes, 20, release...))
		}
		return p
	}
	assert.Equal(t, 54.0, plan(t, day(schedule.Choice{"small"})).MakespanMinutes, "one hoop goes round")
	r := plan(t, day(schedule.Choice{"small", "large"}))
	assert.Equal(t, 27.0, r.MakespanMinutes, "with either, both sew at once")
	took := append(assignmentOf(t, r, "ana", "hoop").Took, assignmentOf(t, r, "bo", "hoop").Took...)
	assert.ElementsMatch(t, []string{"small", "large"}, took, "and the plan says which")
}

func TestAnAssistantHelpsWhereOneWillDo(t *testing.T) {
	p := schedule.Problem{WindowMinutes: 60,
		Resources: []schedule.Resource{{ID: "instructor", Count: 1}, {ID: "assistant", Count: 1}}}
	for i := range 4 {
		p.Jobs = append(p.Jobs, schedule.Job{ID: fmt.Sprint("p", i), Operations: []schedule.Operation{
			{ID: "hoop", Minutes: schedule.Minutes(6), NeedsOneOf: []string{"instructor", "assistant"}},
			{ID: "sign-off", Minutes: schedule.Minutes(3), Needs: map[string]int{"instructor": 1}},
		}})
	}
	r := plan(t, p)
	assert.Equal(t, 21.0, r.MakespanMinutes, "the assistant hoops with three, and the last of them is signed off after it")
	p.Resources[1].Unavailable = []schedule.Interval{{From: 0, To: 60}}
	assert.Equal(t, 36.0, plan(t, p).MakespanMinutes, "without the assistant the instructor does it all")
}

// Nobody is in two places, whether they are asked for by name or as one of two: hooping with whoever is free,
// and loading with the instructor.
func TestAChoiceAndANeedAreOfTheSamePeople(t *testing.T) {
	for assistants, want := range map[int]float64{0: 16.5, 1: 12.5} {
		t.Run(fmt.Sprint(assistants, " assistants"), func(t *testing.T) {
			p := schedule.Problem{WindowMinutes: 60,
				Resources: []schedule.Resource{{ID: "ins", Count: 1}, {ID: "as", Count: assistants}},
				Jobs: []schedule.Job{
					{ID: "ana", Operations: []schedule.Operation{
						{ID: "hoop", Minutes: schedule.Minutes(10), NeedsOneOf: []string{"ins", "as"}}}},
					{ID: "bo", Operations: []schedule.Operation{{ID: "mark", Minutes: schedule.Minutes(6)},
						{ID: "load", Minutes: schedule.Minutes(6.5), Needs: map[string]int{"ins": 1}}}},
				}}
			r := plan(t, p)
			assert.Equal(t, want, r.MakespanMinutes)
			require.NoError(t, scheduletest.Check(p, r))
		})
	}
}

// A day that cannot be is refused in words, and not planned for ever.
func TestAnImpossibleDayIsRefused(t *testing.T) {
	day := func(step schedule.Operation) schedule.Problem {
		return schedule.Problem{WindowMinutes: 60, Machines: []schedule.Machine{{ID: "a"}, {ID: "b"}},
			Resources: []schedule.Resource{{ID: "ins"}, {ID: "as"}, {ID: "small"}, {ID: "large", Count: 1}},
			Jobs: []schedule.Job{{ID: "ana", Operations: []schedule.Operation{step,
				{ID: "sew", On: map[string]float64{"a": 10}, Release: []string{}}}}}}
	}
	for name, c := range map[string]struct {
		step schedule.Operation
		says string
	}{
		"one of several, of whom there is nobody": {schedule.Operation{ID: "hoop", Minutes: schedule.Minutes(5),
			NeedsOneOf: []string{"ins", "as"}}, "needs one of ins, as, and there is none of them"},
		"a station whose hoop there is none of": {schedule.Operation{ID: "hoop", Minutes: schedule.Minutes(5),
			TakeFor: map[string]schedule.Choice{"a": {"small"}, "b": {"large"}}}, "there is none"},
		"a hoop there is none of": {schedule.Operation{ID: "hoop", Minutes: schedule.Minutes(5), Take: []string{"small"}},
			"and there are 0"},
	} {
		t.Run(name, func(t *testing.T) {
			_, err := search.Solve(day(c.step), search.Options{Iterations: 20})
			assert.ErrorContains(t, err, c.says)
		})
	}
	both := day(schedule.Operation{ID: "hoop", Minutes: schedule.Minutes(5),
		TakeFor: map[string]schedule.Choice{"a": {"small", "large"}}})
	assert.Equal(t, 15.0, plan(t, both).MakespanMinutes, "the other hoop will do")
}

func TestNobodyWorksInABreak(t *testing.T) {
	p := schedule.Problem{WindowMinutes: 60, Machines: []schedule.Machine{{ID: "a"}},
		Resources: []schedule.Resource{{ID: "small", Count: 1}}, Closed: []schedule.Interval{{From: 20, To: 35}},
		Jobs: []schedule.Job{sewing("ana", map[string]schedule.Choice{"a": {"small"}}, 20, "small")}}
	r := plan(t, p)
	sew := assignmentOf(t, r, "ana", "sew")
	assert.Equal(t, 35.0, sew.Start, "twenty minutes do not fit before it")
	assert.Equal(t, 57.0, r.MakespanMinutes)
}

func TestAMachineIsOutForPartOfTheDay(t *testing.T) {
	takes := map[string]schedule.Choice{"a": {"small"}, "b": {"small"}}
	p := schedule.Problem{WindowMinutes: 90,
		Machines:  []schedule.Machine{{ID: "a"}, {ID: "b", Unavailable: []schedule.Interval{{From: 0, To: 200}}}},
		Resources: []schedule.Resource{{ID: "small", Count: 2}},
		Jobs:      []schedule.Job{sewing("ana", takes, 20, "small"), sewing("bo", takes, 20, "small")}}
	r := plan(t, p)
	assert.Equal(t, "a", assignmentOf(t, r, "ana", "sew").Machine)
	assert.Equal(t, "a", assignmentOf(t, r, "bo", "sew").Machine)
	p.Machines[1].Unavailable[0].To = 10
	assert.Equal(t, 32.0, plan(t, p).MakespanMinutes, "ten minutes out, and then it sews")
}

// Who is pinned goes first; all others go round them.
func TestAPinnedStepIsPlacedBeforeAllOthers(t *testing.T) {
	takes := map[string]schedule.Choice{"a": {"small"}}
	at := 30.0
	p := schedule.Problem{WindowMinutes: 120, Machines: []schedule.Machine{{ID: "a"}},
		Resources: []schedule.Resource{{ID: "small", Count: 2}},
		Jobs: []schedule.Job{sewing("ana", takes, 20, "small"), sewing("bo", takes, 20, "small"),
			sewing("cy", takes, 20, "small")}}
	p.Jobs[2].Operations[1].At = &at
	r := plan(t, p)
	assert.Equal(t, 30.0, assignmentOf(t, r, "cy", "sew").Start)
	first := min(assignmentOf(t, r, "ana", "sew").Start, assignmentOf(t, r, "bo", "sew").Start)
	assert.Equal(t, 5.0, first, "one of the others sews before")
}

// What is good for people costs some minutes, and the plan says how many.
func TestFairnessShortensTheLongestWait(t *testing.T) {
	shorter, cost := 0, 0.0
	for seed := range uint64(8) {
		p := scheduletest.Class(12, 4, seed)
		longest := func(r schedule.Plan) float64 {
			most := 0.0
			for _, who := range p.Jobs {
				at := who.Ready
				for _, s := range who.Operations {
					placed := assignmentOf(t, r, who.ID, s.ID)
					most, at = max(most, placed.Start-at), placed.End
				}
			}
			return most
		}
		short := plan(t, p)
		w := schedule.UsualWeights()
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
	p := schedule.Problem{Machines: []schedule.Machine{{ID: "a"}, {ID: "b"}},
		Jobs: []schedule.Job{{ID: "ana", Operations: []schedule.Operation{
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
		w := schedule.UsualWeights()
		w.MarginMinutes, p.WindowMinutes, p.Weights = c.margin, c.window, &w
		assert.Equal(t, c.at, assignmentOf(t, plan(t, p), "ana", "second").Machine, c.name)
	}
}

func TestNobodyChangesMachineWithoutNeed(t *testing.T) {
	changes, chances := 0, 0
	for seed := range uint64(12) {
		p := scheduletest.Generated(seed)
		w := schedule.UsualWeights()
		w.Change, p.WindowMinutes = 100, 900 // nobody is in a hurry
		p.Weights = &w
		r, err := search.Solve(p, search.Options{Seed: 1, Iterations: 6000})
		require.NoError(t, err)
		require.NoError(t, scheduletest.Check(p, r))
		for _, who := range p.Jobs {
			last := ""
			for _, s := range who.Operations {
				if at := assignmentOf(t, r, who.ID, s.ID); at.Machine != "" {
					if last != "" && len(s.TakeFor) == 0 && s.ID[:4] == "load" {
						chances++
						if at.Machine != last {
							changes++
						}
					}
					last = at.Machine
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
		p := scheduletest.Generated(seed)
		bound, err := search.LowerBound(p)
		require.NoError(t, err)
		r, err := search.Solve(p, search.Options{Seed: seed, Iterations: 2000})
		require.NoError(t, err)
		require.NoError(t, scheduletest.Check(p, r), "seed %d", seed)
		assert.LessOrEqual(t, bound, r.MakespanMinutes+1e-6, "seed %d", seed)
		assert.LessOrEqual(t, r.MakespanMinutes, scheduletest.FirstCome(p), "seed %d: sooner than without a plan", seed)
	}
}

func TestAHoopIsAPoolOrAListOfThem(t *testing.T) {
	var s schedule.Operation
	require.NoError(t, json.Unmarshal([]byte(`{"id":"hoop","minutes":5,"take_for":{"a":"small","b":["small","large"]}}`),
		&s))
	assert.Equal(t, map[string]schedule.Choice{"a": {"small"}, "b": {"small", "large"}}, s.TakeFor)
	data, err := json.Marshal(s)
	require.NoError(t, err)
	assert.JSONEq(t, `{"id":"hoop","minutes":5,"take_for":{"a":"small","b":["small","large"]}}`, string(data))
	assert.ErrorContains(t, json.Unmarshal([]byte(`{"take_for":{"a":7}}`), &s), "expected a pool, or a list of pools")
}

func TestWhatIsOutIsAStretchOfTheDay(t *testing.T) {
	at := -1.0
	for says, change := range map[string]func(*schedule.Problem){
		"closed: from 20 to 10": func(p *schedule.Problem) { p.Closed = []schedule.Interval{{From: 20, To: 10}} },
		"station m1 is out: from -1 to 10: expected a stretch of the day": func(p *schedule.Problem) {
			p.Machines[0].Unavailable = []schedule.Interval{{From: -1, To: 10}}
		},
		"pool iron is out: units is 3: expected 0 to 1": func(p *schedule.Problem) {
			p.Resources[1].Unavailable = []schedule.Interval{{From: 1, To: 10, Units: 3}}
		},
		"person p1, step 1 (mark): at is -1": func(p *schedule.Problem) {
			p.Jobs[0].Operations[0].At = &at
		},
		"person p1, step 8 (press): needs_one names iron, of which it has one": func(p *schedule.Problem) {
			p.Jobs[0].Operations[7].NeedsOneOf = []string{"iron"}
		},
		"person p1, step 3 (hoop): take_for names 0 pools for m1: expected 1 to 12": func(p *schedule.Problem) {
			p.Jobs[0].Operations[2].TakeFor = map[string]schedule.Choice{"m1": {}}
		},
		"weights: late is -2": func(p *schedule.Problem) { p.Weights = &schedule.Weights{Late: -2} },
	} {
		p := scheduletest.Class(2, 2, 1)
		change(&p)
		_, err := search.Solve(p, search.Options{Iterations: 1})
		assert.ErrorContains(t, err, says)
	}
}

// Somebody goes back to the station they were at, and others may have it in between.
func TestTheSameStationAgain(t *testing.T) {
	back := func(id string) schedule.Job {
		return schedule.Job{ID: id, Operations: []schedule.Operation{
			{ID: "sew", On: map[string]float64{"a": 10, "b": 12}, Take: []string{"hoop"}},
			{ID: "trim", Minutes: schedule.Minutes(10)},
			{ID: "sew on", On: map[string]float64{"a": 10, "b": 12}, SameMachine: true, Release: []string{"hoop"}},
		}}
	}
	p := schedule.Problem{WindowMinutes: 60,
		Machines:  []schedule.Machine{{ID: "a"}, {ID: "b", Unavailable: []schedule.Interval{{From: 0, To: 500}}}},
		Resources: []schedule.Resource{{ID: "hoop", Count: 2}},
		Jobs:      []schedule.Job{back("p1"), back("p2")}}
	r, err := search.Solve(p, search.Options{Seed: 1})
	require.NoError(t, err)
	require.NoError(t, scheduletest.Check(p, r))
	assert.InDelta(t, 40, r.MakespanMinutes, 1e-6, "the one trims while the other sews")
	for i := range p.Jobs {
		p.Jobs[i].Operations[0].KeepMachine, p.Jobs[i].Operations[2].SameMachine = true, false
	}
	r, err = search.Solve(p, search.Options{Seed: 1})
	require.NoError(t, err)
	assert.InDelta(t, 60, r.MakespanMinutes, 1e-6, "a machine that is kept stands idle meanwhile")

	for name, c := range map[string]struct {
		change func(*schedule.Problem)
		says   string
	}{
		"no step before": {func(p *schedule.Problem) {
			p.Jobs[0].Operations[0].SameMachine = true
		}, "same needs an earlier step with on"},
		"at the bench": {func(p *schedule.Problem) {
			p.Jobs[0].Operations[1].SameMachine = true
		}, "same belongs to a step with on"},
		"no such station": {func(p *schedule.Problem) {
			p.Jobs[0].Operations[2].On, p.Jobs[0].Operations[0].On = map[string]float64{"a": 1}, map[string]float64{"b": 1}
			p.Jobs[0].Operations[2].SameMachine = true
		}, "no station does both"},
	} {
		bad := p
		bad.Jobs = []schedule.Job{back("p1")}
		c.change(&bad)
		_, err := search.Solve(bad, search.Options{Iterations: 10})
		assert.ErrorContains(t, err, c.says, name)
	}
}
