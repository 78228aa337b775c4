package kit_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"chalkstep/core/kit"
)

func TestTheDrawFactorLearns(t *testing.T) {
	f := kit.Defaults()
	assert.InDelta(t, f.DrawFactor, f.LearnedDraw(nil), 1e-9)
	assert.InDelta(t, f.DrawFactor, f.LearnedDraw([]kit.ThreadRun{{PathMM: 9000, Ends: 4}}), 1e-9, "thread that nobody measured")
	var runs []kit.ThreadRun
	for range 60 {
		runs = append(runs, kit.ThreadRun{RealMM: 10_000*1.6 + 5*f.TailMM, PathMM: 10_000, Ends: 5})
	}
	assert.InDelta(t, 1.6, f.LearnedDraw(runs), 0.02)
	assert.InDelta(t, 2.5, f.LearnedDraw([]kit.ThreadRun{{RealMM: 1e7, PathMM: 10_000, Ends: 1}}), 1e-9, "a slip of the decimal point")
}
