package kit_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"chalkstep/core/kit"
	"chalkstep/core/pace"
)

func TestTheDrawFactorLearns(t *testing.T) {
	f := kit.Defaults()
	assert.InDelta(t, f.DrawFactor, f.LearnedDraw(pace.Drawn{}), 1e-9, "nothing measured, nothing learned")
	const runs = 60
	assert.InDelta(t, 1.6,
		f.LearnedDraw(pace.Drawn{RealMM: runs * (10_000*1.6 + 5*f.TailMM), PathMM: runs * 10_000, Ends: runs * 5}), 0.02)
	assert.InDelta(t, 2.5, f.LearnedDraw(pace.Drawn{RealMM: 1e7, PathMM: 10_000, Ends: 1}), 1e-9,
		"a slip of the decimal point")
}
