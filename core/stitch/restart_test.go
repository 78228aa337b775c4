package stitch_test

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/stitch"
	"chalkstep/core/stitch/stitchtest"
)

// row sews 30 stitches of 2 mm to the right, with a trim after the twentieth.
func row() stitch.Analysis {
	p := &stitch.Pattern{}
	for i := range int32(30) {
		if i == 20 {
			p.Moves = append(p.Moves, stitch.Move{X: 380, Kind: stitch.Trim}, stitch.Move{X: 400, Kind: stitch.Jump})
		}
		p.Moves = append(p.Moves, stitch.Move{X: i * 20})
	}
	return stitch.Analyse(p)
}

func TestWhereToRestart(t *testing.T) {
	for name, c := range map[string]struct {
		stitch, restart int
		atTrim          bool
	}{
		"in the middle":              {15, 7, false},
		"the last before the trim":   {20, 12, false},
		"just after the trim":        {23, 21, true},
		"far enough behind the trim": {30, 22, false},
		"at the very start":          {3, 1, true},
	} {
		t.Run(name, func(t *testing.T) {
			place, err := row().PlaceOf(1, c.stitch)
			require.NoError(t, err)
			assert.Equal(t, c.restart, place.Restart)
			assert.Equal(t, c.atTrim, place.AtTrim)
			assert.Equal(t, 30, place.Of)
		})
	}
	_, err := row().PlaceOf(2, 1)
	assert.ErrorContains(t, err, "stops 1 to 1")
	_, err = row().PlaceOf(1, 31)
	assert.ErrorContains(t, err, "stitches 1 to 30")
}

// Pointing at any stitch finds it again, whichever file it came from.
func TestPointingAtAStitchFindsIt(t *testing.T) {
	a := stitch.Analyse(stitchtest.Random(rand.New(rand.NewPCG(4, 4)), 600, 100))
	for stop := range a.Stops {
		for n := 1; n <= a.Stops[stop].Stitches; n += 7 {
			want, err := a.PlaceOf(stop+1, n)
			require.NoError(t, err)
			got, ok := a.Nearest(want.XMM+0.01, want.YMM)
			require.True(t, ok)
			assert.InDelta(t, want.XMM, got.XMM, 0.11)
			assert.InDelta(t, want.YMM, got.YMM, 0.11)
		}
	}
	_, ok := stitch.Analysis{}.Nearest(0, 0)
	assert.False(t, ok)
}

// Some machines count through the whole design: every stitch has one number
// there, and the last is the number of them all.
func TestStitchesCountedThroughTheDesign(t *testing.T) {
	rng := rand.New(rand.NewPCG(2, 22))
	a := stitch.Analyse(stitchtest.Random(rng, 3000, 60))
	for n := 1; n <= a.Stitches; n += 37 {
		p, err := a.PlaceThrough(n)
		require.NoError(t, err)
		assert.Equal(t, [2]int{n, a.Stitches}, [2]int{p.Through, p.Total})
		same, err := a.PlaceOf(p.Stop, p.Stitch)
		require.NoError(t, err)
		assert.Equal(t, p, same)
	}
	last, err := a.PlaceThrough(a.Stitches)
	require.NoError(t, err)
	assert.Equal(t, len(a.Stops), last.Stop)
	for _, n := range []int{0, -1, a.Stitches + 1} {
		_, err := a.PlaceThrough(n)
		assert.ErrorContains(t, err, "the design has stitches 1 to")
	}
}
