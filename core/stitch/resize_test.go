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
		"as it is, nothing is locked":         {stitch.Traits{NarrowestSatinMM: 0.8, Applique: true, Film: true}, 100, nil},
		"a robust design goes both ways":      {stitch.Traits{NarrowestSatinMM: 2.5, LetteringMM: 12}, 80, nil},
		"satin near 1.5 mm, even larger":      {stitch.Traits{NarrowestSatinMM: 1.5}, 110, []string{"narrow satin"}},
		"satin that shrinks below 1.5 mm":     {stitch.Traits{NarrowestSatinMM: 1.8}, 80, []string{"narrow satin"}},
		"the same satin a little smaller":     {stitch.Traits{NarrowestSatinMM: 1.8}, 95, nil},
		"lettering under 6 mm":                {stitch.Traits{LetteringMM: 5}, 105, []string{"small lettering"}},
		"film and pieces that are cut before": {stitch.Traits{Film: true, Applique: true}, 105, []string{"film overlay", "appliqué pieces"}},
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

func TestLetteringIsFoundAndMeasured(t *testing.T) {
	column := func(p *stitch.Pattern, x, y, height, width int32) {
		if n := len(p.Moves); n > 0 {
			last := p.Moves[n-1]
			p.Moves = append(p.Moves, stitch.Move{X: last.X, Y: last.Y, Kind: stitch.Trim})
		}
		for at := int32(0); at <= height; at += 4 {
			p.Moves = append(p.Moves, stitch.Move{X: x + width*(at/4%2), Y: y + at})
		}
	}
	word := func(heights ...int32) *stitch.Pattern {
		p := &stitch.Pattern{}
		for i, h := range heights {
			column(p, int32(i)*60, 0, h, 20)
		}
		return p
	}
	height := func(p *stitch.Pattern) float64 { return stitch.LetteringMM(stitch.Analyse(p)) }
	assert.InDelta(t, 5.2, height(word(80, 52, 80, 60)), 0.41, "the shortest letter counts")
	assert.Zero(t, height(word(80, 80)), "two columns are no word")
	assert.Zero(t, height(word(80, 20, 300, 80)), "pieces of all heights are no word")
	stairs := &stitch.Pattern{}
	for i := range int32(5) {
		column(stairs, i*60, i*100, 80, 20)
	}
	assert.Zero(t, height(stairs), "pieces not on one line are no word")
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
