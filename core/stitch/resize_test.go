package stitch_test

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/stitch"
	"chalkstep/core/stitch/stitchtest"
)

func TestResizingMovesStitchesApart(t *testing.T) {
	p := stitchtest.NewKnown(rand.New(rand.NewPCG(4, 4))).Pattern
	was := stitch.Analyse(p)
	for percent := stitch.ResizeLowest; percent <= stitch.ResizeMost; percent += stitch.ResizeStep {
		require.NoError(t, stitch.CheckPercent(percent))
		is := stitch.Analyse(stitch.Resized(p, percent))
		assert.Equal(t, was.Stitches, is.Stitches, "nothing is recomputed")
		assert.InDelta(t, was.WidthMM*float64(percent)/100, is.WidthMM, 0.1)
	}
	assert.InDelta(t, 1.25, stitch.ResizedCoverage(0.8, 80), 1e-9, "density changes by 1/scale²")
	turned := stitch.Analyse(stitch.QuarterTurned(p))
	assert.Equal(t, []float64{was.HeightMM, was.WidthMM}, []float64{turned.WidthMM, turned.HeightMM})
	back := stitch.QuarterTurned(stitch.QuarterTurned(stitch.QuarterTurned(stitch.QuarterTurned(p))))
	assert.Equal(t, p.Moves, back.Moves, "four quarters are a whole turn")
	for _, bad := range []int{75, 125, 93, 0} {
		assert.ErrorContains(t, stitch.CheckPercent(bad), "from 80 % to 120 % in steps of 5")
	}
}

func TestLocks(t *testing.T) {
	for name, c := range map[string]struct {
		traits  stitch.Traits
		percent int
		locked  []string
	}{
		"as it is, nothing is locked":     {stitch.Traits{NarrowestSatinMM: 0.8, Applique: true, Film: true}, 100, nil},
		"a robust design goes both ways":  {stitch.Traits{NarrowestSatinMM: 2.5, LetteringMM: 12}, 80, nil},
		"satin near 1.5 mm, even larger":  {stitch.Traits{NarrowestSatinMM: 1.5}, 110, []string{"narrow satin"}},
		"satin that shrinks below 1.5 mm": {stitch.Traits{NarrowestSatinMM: 1.8}, 80, []string{"narrow satin"}},
		"the same satin a little smaller": {stitch.Traits{NarrowestSatinMM: 1.8}, 95, nil},
		"lettering under 6 mm":            {stitch.Traits{LetteringMM: 5}, 105, []string{"small lettering"}},
		"film and pieces that are cut before": {stitch.Traits{Film: true, Applique: true}, 105,
			[]string{"film overlay", "appliqué pieces"}},
	} {
		t.Run(name, func(t *testing.T) {
			var names []string
			for _, l := range c.traits.Locks(c.percent) {
				names = append(names, l.What.String())
				assert.False(t, l.Because.Silent())
			}
			assert.Equal(t, c.locked, names)
		})
	}
}

func TestTheHullHoldsEveryStitch(t *testing.T) {
	for seed := range uint64(20) {
		a := stitch.Analyse(stitchtest.NewKnown(rand.New(rand.NewPCG(seed, 2))).Pattern)
		hull := a.Hull()
		require.GreaterOrEqual(t, len(hull), 3)
		for _, s := range a.Stops {
			for _, m := range s.Moves {
				if m.Kind != stitch.Stitch {
					continue
				}
				x, y := (float64(m.X)-a.CentreX)/10, (float64(m.Y)-a.CentreY)/10
				for i, p := range hull {
					q := hull[(i+1)%len(hull)]
					require.False(t, (q[0]-p[0])*(y-p[1])-(q[1]-p[1])*(x-p[0]) < -1e-6, "(%v, %v) lies outside", x, y)
				}
			}
		}
	}
}
