package pace_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"chalkstep/core/pace"
	"chalkstep/core/stitch"
)

func TestLearningFromLoggedRuns(t *testing.T) {
	f := pace.Defaults()
	assert.Zero(t, f.Learned(nil), "nothing logged, nothing learned")
	slow := pace.Run{Real: 30, Estimated: 20, Sewing: 15} // 25 minutes of sewing where 15 were said
	once := f.Learned([]pace.Run{slow})
	assert.Less(t, once, f.MixedPace)
	assert.Greater(t, once, f.MixedPace*15/25, "one run alone is not believed in full")
	many := f.Learned([]pace.Run{slow, slow, slow, slow, slow, slow, slow, slow, slow, slow, slow, slow})
	assert.InDelta(t, f.MixedPace*15/25, many, 0.03, "a dozen are")
	assert.InDelta(t, f.MixedPace/2, f.Learned([]pace.Run{{Real: 9000, Estimated: 20, Sewing: 15}}), 1e-9, "a run left on over lunch")

	// The plan then says what the machine really takes.
	machine := pace.Machine{TopSpeedSPM: 700, ChangeSeconds: 60, AutoTrim: true}
	stops := []pace.Stop{{Stitches: 5000, Role: stitch.Run}}
	said := f.StitchOut(machine, stops, 1)
	real := said.Total * 1.5
	var runs []pace.Run
	for range 40 {
		runs = append(runs, pace.Run{Real: real, Estimated: said.Total, Sewing: said.Sewing})
	}
	machine.Pace = f.Learned(runs)
	assert.InDelta(t, real, f.StitchOut(machine, stops, 1).Total, real*0.02)
}
