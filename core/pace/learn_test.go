package pace_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"chalkstep/core/pace"
	"chalkstep/core/stitch"
)

func TestLearningFromLoggedRuns(t *testing.T) {
	f := pace.Defaults()
	assert.Zero(t, f.Learned(pace.Runs{}), "nothing logged, nothing learned")
	// runs of 25 minutes of sewing where 15 were said.
	runs := func(n int) pace.Runs {
		took := pace.Sewn(30, pace.StitchOut{Total: 20, Sewing: 15})
		return pace.Runs{Count: n, TookMinutes: float64(n) * took, SaidMinutes: float64(n) * 15}
	}
	once := f.Learned(runs(1))
	assert.Less(t, once, f.MixedPace)
	assert.Greater(t, once, f.MixedPace*15/25, "one run alone is not believed in full")
	assert.InDelta(t, f.MixedPace*15/25, f.Learned(runs(12)), 0.03, "a dozen are")
	lunch := pace.Sewn(9000, pace.StitchOut{Total: 20, Sewing: 15})
	assert.InDelta(t, f.MixedPace/2, f.Learned(pace.Runs{Count: 1, TookMinutes: lunch, SaidMinutes: 15}), 1e-9,
		"a run left on over lunch")
	assert.InDelta(t, 3, pace.Sewn(1, pace.StitchOut{Total: 20, Sewing: 15}), 1e-9,
		"no run sews in less than a fifth of what was said")

	// The plan then says what the machine really takes.
	machine := pace.Machine{TopSpeedSPM: 700, ChangeSeconds: 60, AutoTrim: true}
	stops := []pace.Stop{{Stitches: 5000, Role: stitch.Run}}
	said := f.StitchOut(machine, stops, 1)
	real := said.Total * 1.5
	machine.Pace = f.Learned(pace.Runs{Count: 40, TookMinutes: 40 * pace.Sewn(real, said), SaidMinutes: 40 * said.Sewing})
	assert.InDelta(t, real, f.StitchOut(machine, stops, 1).Total, real*0.02)
}

// Breaks and how runs vary are learned slowly: a few odd ones move them little, many
// move them to what was counted.
func TestLearningHowRunsVary(t *testing.T) {
	f := pace.Defaults()
	assert.InDelta(t, f.BreaksPer10000, f.BreakRate(pace.Runs{}), 1e-9, "nothing counted")
	assert.InDelta(t, f.SewSpread, f.Spread(pace.Runs{}), 1e-9, "nothing logged")
	for name, c := range map[string]struct {
		breaks, stitches int
		least, most      float64
	}{
		"one run without":   {0, 8000, 0.3, 0.5},
		"one run of three":  {3, 8000, 0.9, 1.6},
		"many, two a run":   {200, 800_000, 2.4, 2.5},
		"many, none at all": {0, 800_000, 0, 0.02},
	} {
		rate := f.BreakRate(pace.Runs{Breaks: c.breaks, BreakStitches: c.stitches})
		assert.True(t, rate >= c.least && rate <= c.most, "%s: %v", name, rate)
	}
	// Runs that are off by a factor each way, as logarithms.
	runs := func(n int, off float64) pace.Runs {
		r := pace.Runs{Count: n}
		for i := range n {
			sign := float64(1 - 2*(i%2))
			r.Off += sign * off
			r.OffSquares += off * off
		}
		return r
	}
	assert.InDelta(t, 0.12, f.Spread(runs(2, 0.1)), 0.02)
	assert.InDelta(t, 0.3, f.Spread(runs(200, 0.3)), 0.02)
	assert.InDelta(t, 0.03, f.Spread(runs(2000, 0)), 1e-9, "never nothing")
	assert.LessOrEqual(t, f.Spread(runs(2000, 9)), 1.0)
	slow := pace.Runs{Count: 50, Off: 50 * 0.4, OffSquares: 50 * 0.16}
	assert.Less(t, f.Spread(slow), 0.12, "who is always late by as much does not vary")
}
