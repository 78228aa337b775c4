package pace_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/pace"
	"chalkstep/core/policy"
	"chalkstep/core/recipe"
	"chalkstep/core/skill"
	"chalkstep/core/stitch"
)

var home = pace.Machine{TopSpeedSPM: 700, ChangeSeconds: 60, AutoTrim: true}

func TestAStitchOutAddsUpByTheFormula(t *testing.T) {
	f := pace.Defaults()
	stops := []pace.Stop{
		{Stitches: 2800, Trims: 2, Role: stitch.Fill},
		{Stitches: 700, Snips: 3, Role: stitch.Satin},
		{Stitches: 455, Role: stitch.Run, SameThread: true},
	}
	out := f.StitchOut(home, stops, 1)
	assert.InDelta(t, 2800/(700*0.8)+0.2, out.Stops[0], 1e-9)
	assert.InDelta(t, 2+0.5, out.Stops[1], 1e-9)
	assert.InDelta(t, 1, out.Stops[2], 1e-9)
	assert.Equal(t, 1, out.Changes, "neighbours that share a thread need no change")
	assert.InDelta(t, 5.2+2.5+1+1, out.Total, 1e-9)
}

func TestAThousandStitchesTakeTwoToThreeMinutesAtHome(t *testing.T) {
	out := pace.Defaults().StitchOut(home, []pace.Stop{{Stitches: 1000, Role: stitch.Run}}, 1)
	assert.GreaterOrEqual(t, out.Total, 2.0)
	assert.LessOrEqual(t, out.Total, 3.0)
}

func TestAppliqueAddsHandsAndFirstTimersTakeLonger(t *testing.T) {
	f := pace.Defaults()
	piece := []pace.Stop{{Stitches: 100, Role: stitch.Placement}, {Stitches: 100, Role: stitch.TackDown},
		{Stitches: 900, Role: stitch.Cover}}
	practised, first := f.StitchOut(home, piece, 1), f.StitchOut(home, piece, f.FirstTimer)
	assert.InDelta(t, 7, practised.Handling, 1e-9)
	assert.InDelta(t, 7*1.6, first.Handling, 1e-9)
	assert.InDelta(t, 2, practised.ChangeMinutes, 1e-9, "60 s each")
	assert.InDelta(t, 4, first.ChangeMinutes, 1e-9, "120 s each")
	assert.InDelta(t, practised.Stops[2], first.Stops[2], 1e-9, "the machine sews no slower")
}

// Six pieces in a stop are laid and trimmed one by one.
func TestEveryPieceIsLaidAndTrimmed(t *testing.T) {
	f := pace.Defaults()
	six := []pace.Stop{{Stitches: 600, Role: stitch.Placement, Pieces: 6},
		{Stitches: 600, Role: stitch.TackDown, Pieces: 6}, {Stitches: 5400, Role: stitch.Cover}}
	assert.InDelta(t, 6*(3+4), f.StitchOut(home, six, 1).Handling, 1e-9)
	rules := policy.Defaults()
	rules.House.Applique = "pre-cut"
	assert.InDelta(t, 6*3, rules.Timing().StitchOut(home, six, 1).Handling, 1e-9, "what was cut before is not trimmed")
	assert.InDelta(t, 4, rules.Pace.TrimMinutes, 1e-9, "the figure itself stays")
}

// A machine of several needles changes in seconds, whoever sits there, until a
// thread finds no needle free.
func TestChangesOnSeveralNeedles(t *testing.T) {
	f := pace.Defaults()
	wharf := pace.Machine{TopSpeedSPM: 1000, ChangeSeconds: 5, Needles: 3, AutoTrim: true}
	thread := func(order ...uint8) []pace.Stop {
		var stops []pace.Stop
		for i, n := range order {
			stops = append(stops, pace.Stop{Stitches: 100, Thread: stitch.RGB{R: n}, SameThread: i > 0 && order[i-1] == n})
		}
		return stops
	}
	for _, c := range []struct {
		name      string
		order     []uint8
		rethreads int
		practised float64 // seconds
		first     float64
	}{
		{"three colours, back and forth", []uint8{1, 2, 3, 1, 2, 3}, 0, 25, 25},
		{"a fourth takes the needle of what is not wanted any more", []uint8{1, 2, 3, 4, 2, 3}, 1, 4*5 + 60, 4*5 + 120},
		{"one thread throughout", []uint8{1, 1, 1}, 0, 0, 0},
		{"the fourth drives out the one that is wanted last", []uint8{1, 2, 3, 4, 1, 2, 3}, 2, 4*5 + 2*60, 4*5 + 2*120},
	} {
		t.Run(c.name, func(t *testing.T) {
			assert.Equal(t, c.rethreads, f.StitchOut(wharf, thread(c.order...), 1).Rethreads)
			assert.InDelta(t, c.practised/60, f.StitchOut(wharf, thread(c.order...), 1).ChangeMinutes, 1e-9)
			assert.InDelta(t, c.first/60, f.StitchOut(wharf, thread(c.order...), f.FirstTimer).ChangeMinutes, 1e-9)
		})
	}
}

func TestWithoutATrimmerEveryThreadIsSnippedByHand(t *testing.T) {
	f := pace.Defaults()
	stop := []pace.Stop{{Stitches: 700, Trims: 6, Snips: 3, Role: stitch.Run}}
	manual := home
	manual.AutoTrim = false
	assert.InDelta(t, 9*10.0/60-(6*6.0/60+3*10.0/60), f.StitchOut(manual, stop, 1).Total-f.StitchOut(home, stop, 1).Total,
		1e-9)
}

func TestALearnedPaceScalesEveryRole(t *testing.T) {
	f := pace.Defaults()
	slow := home
	slow.Pace = 0.325
	for _, role := range stitch.Roles {
		stop := []pace.Stop{{Stitches: 1000, Role: role}}
		assert.InDelta(t, 2*f.StitchOut(home, stop, 1).Stops[0], f.StitchOut(slow, stop, 1).Stops[0], 1e-9, role)
	}
}

func TestStepsFollowTheBlank(t *testing.T) {
	f := pace.Defaults()
	minutes := func(fabric recipe.Fabric, hooping string) (total float64, steps []pace.Step) {
		steps = f.StepsFor(pace.Making{Fabric: fabric, Recipe: recipe.Recipe{Hooping: hooping}})
		for _, s := range steps {
			total += s.Minutes
		}
		return total, steps
	}
	woven, steps := minutes(recipe.Linen, recipe.Hooped)
	knit, knitSteps := minutes(recipe.Jersey, recipe.Hooped)
	assert.InDelta(t, 31, woven, 1e-9, "mark 5, stabilise 4, hoop 5, load 3, unhoop and clean 8, press 3, sign off 3")
	assert.InDelta(t, 36, knit, 1e-9)
	require.Len(t, steps, 9)
	assert.Contains(t, pace.Needs(steps), skill.HoopWoven)
	assert.Contains(t, pace.Needs(knitSteps), skill.HoopKnit)
	assert.NotContains(t, pace.Needs(knitSteps), skill.HoopWoven)

	pieces := f.StepsFor(
		pace.Making{Fabric: recipe.Linen, Roles: []stitch.Role{stitch.Placement, stitch.TackDown, stitch.Cover}})
	assert.Contains(t, pace.Needs(pieces), skill.Applique)
	assert.Len(t, f.StepsFor(pace.Making{Fabric: recipe.Vinyl, Recipe: recipe.Recipe{NoPress: true}}), len(steps)-1,
		"what melts is not pressed")
}

func TestStopsOfKnowsSharedThreads(t *testing.T) {
	stops := pace.StopsOf([]stitch.Stop{{Stitches: 1}, {Stitches: 2}, {Stitches: 3}}, []stitch.RGB{{R: 1}, {R: 1}})
	assert.Equal(t, []bool{false, true, false}, []bool{stops[0].SameThread, stops[1].SameThread, stops[2].SameThread})
}
