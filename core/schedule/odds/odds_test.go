package odds_test

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/schedule"
	"chalkstep/core/schedule/lever"
	"chalkstep/core/schedule/odds"
	"chalkstep/core/schedule/scheduletest"
	"chalkstep/core/schedule/search"
)

func spread(v float64) *float64 { return &v }

// still is a day on which everything takes as long as was said.
func still(p schedule.Problem) schedule.Problem {
	for i := range p.Jobs {
		for k := range p.Jobs[i].Operations {
			p.Jobs[i].Operations[k].Spread = spread(0)
		}
	}
	return p
}

// Where nothing varies, every day is the plan, or better where somebody was kept
// waiting for nothing.
func TestADayOnWhichNothingVariesIsThePlan(t *testing.T) {
	for seed := range uint64(60) {
		p := still(scheduletest.Random(rand.New(rand.NewPCG(seed, 7))))
		r, err := search.Solve(p, search.Options{Iterations: 40, Seed: seed})
		if err != nil {
			continue
		}
		o, err := odds.Of(p, r, 3, seed)
		require.NoError(t, err)
		assert.LessOrEqual(t, o.P90, math.Round(10*r.MakespanMinutes)/10+1e-9, "seed %d", seed)
		assert.Equal(t, o.P10, o.P90)
	}
	p := still(scheduletest.Class(8, 3, 1))
	r, err := search.Solve(p, search.Options{Iterations: 300})
	require.NoError(t, err)
	o, err := odds.Of(p, r, 2, 1)
	require.NoError(t, err)
	assert.InDelta(t, r.MakespanMinutes, o.P50, 0.06)
	assert.Equal(t, r.Fits, o.FitsShare == 1)
}

// One step that varies is done as a lognormal says: half the days by its median,
// nine of ten by its ninth decile, and in the window as often as its distribution
// has it.
func TestOddsOfOneStep(t *testing.T) {
	for _, cv := range []float64{0.1, 0.3, 0.6} {
		sigma := math.Sqrt(math.Log(1 + cv*cv))
		median := 40 / math.Sqrt(1+cv*cv)
		p := schedule.Problem{WindowMinutes: 44,
			Jobs: []schedule.Job{
				{ID: "ana", Operations: []schedule.Operation{{ID: "mark", Minutes: schedule.Minutes(40), Spread: &cv}}}}}
		r, err := search.Solve(p, search.Options{})
		require.NoError(t, err)
		o, err := odds.Of(p, r, 20_000, 1)
		require.NoError(t, err)
		assert.InEpsilon(t, median, o.P50, 0.02)
		assert.InEpsilon(t, median*math.Exp(1.2816*sigma), o.P90, 0.02)
		within := 0.5 * (1 + math.Erf(math.Log(44/median)/sigma/math.Sqrt2))
		assert.InDelta(t, within, o.FitsShare, 0.015)
		require.Len(t, o.Late, 1)
		assert.InDelta(t, 1-within, o.Late[0].Share, 0.015)
	}
}

// Interruptions come by themselves: on average as many as was said, each as long
// as was said.
func TestInterruptions(t *testing.T) {
	p := schedule.Problem{WindowMinutes: 20, BreakMinutes: 5,
		Jobs: []schedule.Job{
			{ID: "ana", Operations: []schedule.Operation{
				{ID: "sew", Minutes: schedule.Minutes(20), Spread: spread(0), Breaks: 0.5}}}}}
	r, err := search.Solve(p, search.Options{})
	require.NoError(t, err)
	o, err := odds.Of(p, r, 20_000, 3)
	require.NoError(t, err)
	assert.InDelta(t, math.Exp(-0.5), o.FitsShare, 0.015, "no interruption at all")
	assert.Equal(t, 20.0, o.P50)
	assert.Equal(t, 25.0, o.P90, "nine days of ten have at most one")
}

// Two at one machine are one after the other on every day; whoever was to be
// second is late more often.
func TestWhoIsAtRisk(t *testing.T) {
	sew := []schedule.Operation{{ID: "sew", On: map[string]float64{"m1": 30}, Spread: spread(0.2)}}
	p := schedule.Problem{WindowMinutes: 62, Machines: []schedule.Machine{{ID: "m1"}},
		Jobs: []schedule.Job{{ID: "ana", Operations: sew}, {ID: "bo", Ready: 1, Operations: sew}}}
	r, err := search.Solve(p, search.Options{})
	require.NoError(t, err)
	o, err := odds.Of(p, r, 5000, 1)
	require.NoError(t, err)
	require.Len(t, o.Late, 1)
	assert.Equal(t, "bo", o.Late[0].Job)
	assert.InDelta(t, 60, o.P50, 1.5)
	again, err := odds.Of(p, r, 5000, 1)
	require.NoError(t, err)
	assert.Equal(t, o, again, "the same seed gives the same days")
	_, err = odds.Of(p, r, 0, 1)
	assert.ErrorContains(t, err, "days is 0")
	_, err = odds.Of(p, schedule.Plan{}, 10, 1)
	assert.ErrorContains(t, err, "the plan has no step sew of ana")
}

// What is sure comes first, the soonest end before others, then what just fits, by the days on
// which it does, and then what does not, by its end again.
func TestBestFirst(t *testing.T) {
	best := []lever.Promise{
		{MakespanMinutes: 70, Fits: true, FitsShare: 1},
		{MakespanMinutes: 75, Fits: true, FitsShare: 0.9},
		{MakespanMinutes: 79, Fits: true, FitsShare: 0.62},
		{MakespanMinutes: 77, Fits: true, FitsShare: 0.45},
		{MakespanMinutes: 78, Fits: true, FitsShare: 0.45},
		{MakespanMinutes: 81, FitsShare: 0.2},
		{MakespanMinutes: 90, FitsShare: 0.3},
	}
	for seed := range uint64(20) {
		mixed := slices.Clone(best)
		rand.New(rand.NewPCG(seed, 1)).Shuffle(len(mixed), func(i, k int) { mixed[i], mixed[k] = mixed[k], mixed[i] })
		slices.SortFunc(mixed, lever.BestFirst)
		assert.Equal(t, best, mixed)
	}
}

// A hoop more, a machine more, less to do or somebody less: each is planned, and the best
// come first, with why.
func TestLevers(t *testing.T) {
	steps := []schedule.Operation{{ID: "hoop", Minutes: schedule.Minutes(10), Take: []string{"small"}},
		{ID: "sew", On: map[string]float64{"m1": 20}},
		{ID: "unhoop", Minutes: schedule.Minutes(5), Release: []string{"small"}}}
	p := schedule.Problem{WindowMinutes: 80, Machines: []schedule.Machine{{ID: "m1"}},
		Resources: []schedule.Resource{{ID: "small", Count: 1}},
		Jobs: []schedule.Job{{ID: "ana", Operations: steps}, {ID: "bo", Operations: steps},
			{ID: "cy", Operations: steps}}}
	now, outcomes, err := lever.Compare(p, []lever.Lever{
		{Name: "a hoop more", Resources: map[string]int{"small": 1}, Cost: "12.00"},
		{Name: "a machine more", Machines: []lever.IdenticalMachine{{ID: "m2", Like: "m1"}}},
		{Name: "both", Resources: map[string]int{"small": 1}, Machines: []lever.IdenticalMachine{{ID: "m2", Like: "m1"}}},
		{Name: "half the sewing", Minutes: map[string]float64{"sew": 0.5}},
		{Name: "without Cy", Without: []string{"cy"}},
		{Name: "half an hour more", WindowMinutes: 30},
	}, search.Options{Iterations: 200, Seed: 1})
	require.NoError(t, err)
	assert.Equal(t, 105.0, now.MakespanMinutes)
	got := map[string]float64{}
	for i, o := range outcomes {
		got[o.Name] = o.MakespanMinutes
		assert.True(t, i == 0 || outcomes[i-1].Fits || !o.Fits, "what fits comes first")
	}
	assert.Equal(t, map[string]float64{"a hoop more": 75, "a machine more": 105, "both": 70, "half the sewing": 75,
		"without Cy": 70, "half an hour more": 105}, got)
	assert.True(t, outcomes[0].Fits)
	for _, o := range outcomes {
		switch o.Name {
		case "a hoop more":
			assert.Equal(t, "small held it up, and now m1 does", o.Because)
			assert.Equal(t, "12.00", o.Cost)
		case "a machine more":
			assert.Equal(t, "small still holds it up", o.Because)
		case "half an hour more":
			assert.True(t, o.Fits)
		}
	}
	for says, bad := range map[string]lever.Lever{
		`lever "x": pool "large" is not in pools`: {Name: "x", Resources: map[string]int{"large": 1}},
		`lever "x": station "m7" is not in stations`: {Name: "x",
			Machines: []lever.IdenticalMachine{{ID: "m8", Like: "m7"}}},
		`station "m1": expected a name that no other`: {Name: "x",
			Machines: []lever.IdenticalMachine{{ID: "m1", Like: "m1"}}},
		`lever "x": no step is called "press"`:     {Name: "x", Minutes: map[string]float64{"press": 0}},
		`lever "x": minutes of sew is -1`:          {Name: "x", Minutes: map[string]float64{"sew": -1}},
		`lever "x": person "dee" is not in people`: {Name: "x", Without: []string{"dee"}},
	} {
		_, _, err := lever.Compare(p, []lever.Lever{bad}, search.Options{Iterations: 10})
		assert.ErrorContains(t, err, says)
	}
	assert.Len(t, p.Jobs, 3, "the day itself is as it was")
	assert.Equal(t, 20.0, p.Jobs[0].Operations[1].On["m1"])
}

func BenchmarkThousandDays(b *testing.B) {
	p := scheduletest.Class(12, 5, 1)
	r, err := search.Solve(p, search.Options{Iterations: 300})
	require.NoError(b, err)
	for b.Loop() {
		_, err := odds.Of(p, r, 1000, 1)
		require.NoError(b, err)
	}
}

// A station may vary and break otherwise than others.
func TestOddsOfAStation(t *testing.T) {
	none, wide := 0.0, 0.6
	day := func(machine schedule.Machine) odds.Outlook {
		machine.ID = "m"
		p := schedule.Problem{WindowMinutes: 100, Machines: []schedule.Machine{machine},
			Jobs: []schedule.Job{
				{ID: "p", Operations: []schedule.Operation{{ID: "sew", On: map[string]float64{"m": 90}, Breaks: 0.5}}}}}
		r, err := search.Solve(p, search.Options{Iterations: 1})
		require.NoError(t, err)
		o, err := odds.Of(p, r, 4000, 1)
		require.NoError(t, err)
		return o
	}
	steady := day(schedule.Machine{Spread: &none})
	assert.InDelta(t, 90, steady.P10, 1e-9)
	assert.InDelta(t, 0.91, steady.FitsShare, 0.02, "two breaks of six minutes are too many: 1 - 1.5 e^-0.5")
	assert.Less(t, day(schedule.Machine{Spread: &none, BreakFactor: 4}).FitsShare, 0.5, "two on average")
	assert.Less(t, day(schedule.Machine{Spread: &wide}).FitsShare, 0.75)
	for name, machine := range map[string]schedule.Machine{"spread": {Spread: new(float64)}, "factor": {BreakFactor: -1}} {
		if machine.Spread != nil {
			*machine.Spread = 3
		}
		machine.ID = "m"
		_, err := search.Solve(schedule.Problem{Machines: []schedule.Machine{machine}}, search.Options{})
		assert.ErrorContains(t, err, "expected 0 to", name)
	}
}

// Where one of some helps, it is whoever is free on the day: not who the plan said,
// who may have left.
func TestOddsOfHelp(t *testing.T) {
	none := 0.0
	p := schedule.Problem{WindowMinutes: 60,
		Resources: []schedule.Resource{{ID: "assistant", Count: 1, Unavailable: []schedule.Interval{{From: 20, To: 1000}}},
			{ID: "instructor", Count: 1}},
		Jobs: []schedule.Job{{ID: "p", Operations: []schedule.Operation{
			{ID: "mark", Minutes: schedule.Minutes(9)},
			{ID: "hoop", Minutes: schedule.Minutes(10), NeedsOneOf: []string{"assistant", "instructor"}, Spread: &none},
		}}, {ID: "q", Operations: []schedule.Operation{
			{ID: "ask", Minutes: schedule.Minutes(12), Needs: map[string]int{"instructor": 1}, Spread: &none}}}}}
	r, err := search.Solve(p, search.Options{Seed: 1})
	require.NoError(t, err)
	o, err := odds.Of(p, r, 2000, 1)
	require.NoError(t, err)
	assert.Equal(t, 1.0, o.FitsShare)
	assert.Less(t, o.P90, 30.0)
}
