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
	assert.InDelta(t, f.MixedPace/2, f.Learned(pace.Runs{Count: 1, TookMinutes: lunch, SaidMinutes: 15}), 1e-9, "a run left on over lunch")
	assert.InDelta(t, 3, pace.Sewn(1, pace.StitchOut{Total: 20, Sewing: 15}), 1e-9, "no run sews in less than a fifth of what was said")

	// The plan then says what the machine really takes.
	machine := pace.Machine{TopSpeedSPM: 700, ChangeSeconds: 60, AutoTrim: true}
	stops := []pace.Stop{{Stitches: 5000, Role: stitch.Run}}
	said := f.StitchOut(machine, stops, 1)
	real := said.Total * 1.5
	machine.Pace = f.Learned(pace.Runs{Count: 40, TookMinutes: 40 * pace.Sewn(real, said), SaidMinutes: 40 * said.Sewing})
	assert.InDelta(t, real, f.StitchOut(machine, stops, 1).Total, real*0.02)
}
