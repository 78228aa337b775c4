package stitch_test

import (
	"fmt"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/stitch"
	"chalkstep/core/stitch/stitchtest"
)

// fewest finds the least number of runs by trying every order.
func fewest(thread []string, after [][]int) int {
	n := len(thread)
	best := n + 1
	var try func(done uint, last string, runs int)
	try = func(done uint, last string, runs int) {
		if runs >= best {
			return
		}
		if done == 1<<n-1 {
			best = runs
			return
		}
		for i := range n {
			ready := done&(1<<i) == 0
			for _, earlier := range after[i] {
				ready = ready && done&(1<<earlier) != 0
			}
			if !ready {
				continue
			}
			more := 1
			if thread[i] == last {
				more = 0
			}
			try(done|1<<i, thread[i], runs+more)
		}
	}
	try(0, "", 0)
	return best
}

func TestColourOrderIsTheBestThereIs(t *testing.T) {
	for seed := range uint64(200) {
		rng := rand.New(rand.NewPCG(seed, 6))
		n := 2 + rng.IntN(7)
		thread, after := make([]string, n), make([][]int, n)
		for i := range n {
			thread[i] = fmt.Sprint(rng.IntN(4))
			for j := range i {
				if rng.IntN(3) == 0 {
					after[i] = append(after[i], j)
				}
			}
		}
		runs := stitch.ColorOrder(thread, after)
		require.Len(t, runs, fewest(thread, after), "seed %d", seed)
		done := map[int]bool{}
		for _, run := range runs {
			for _, i := range run {
				assert.Equal(t, thread[run[0]], thread[i])
				for _, earlier := range after[i] {
					assert.True(t, done[earlier], "stop %d before what it lies on", i)
				}
				done[i] = true
			}
		}
		assert.Len(t, done, n)
	}
}

// patches is a design of stops side by side, or one on top of another.
func patches(stacked bool, colors ...stitch.RGB) *stitch.Pattern {
	p := &stitch.Pattern{Colors: colors}
	for i := range max(4, len(colors)) {
		left := int32(i * 300)
		if stacked {
			left = 0
		}
		if i > 0 {
			p.Moves = append(p.Moves, stitch.Move{X: left, Kind: stitch.Change})
		}
		p.Moves = append(p.Moves, stitch.Move{X: left, Y: 0})
		for row := int32(1); row < 20; row++ {
			stitchtest.Line(p, left+200*(row%2), row*4, 35)
		}
	}
	return p
}

func spots(n int) []stitch.Spot {
	var all []stitch.Spot
	for i := range n {
		all = append(all, stitch.Spot{X: float64(i * 1500)})
	}
	return all
}

func TestSixCopiesOfFourStopsAreTwentyThreeChangesDownToThree(t *testing.T) {
	out, before, after, err := stitch.Copies(patches(true), spots(6), true)
	require.NoError(t, err)
	assert.Equal(t, 23, before)
	assert.Equal(t, 3, after)
	a := stitch.Analyse(out)
	assert.Len(t, a.Stops, 4)
	assert.Equal(t, 6*stitch.Analyse(patches(true)).Stitches, a.Stitches)

	unsorted, _, after, err := stitch.Copies(patches(true), spots(6), false)
	require.NoError(t, err)
	assert.Equal(t, 23, after)
	assert.Len(t, stitch.Analyse(unsorted).Stops, 24)
}

func TestStopsOfOneThreadJoinWhereNothingLiesBetween(t *testing.T) {
	red, blue := stitch.RGB{R: 200}, stitch.RGB{B: 200}
	_, before, after, err := stitch.Copies(patches(false, red, blue, red, blue), spots(2), true)
	require.NoError(t, err)
	assert.Equal(t, 7, before)
	assert.Equal(t, 1, after, "side by side, the reds are sewn together")
	_, _, after, err = stitch.Copies(patches(true, red, blue, red, blue), spots(2), true)
	require.NoError(t, err)
	assert.Equal(t, 3, after, "one on another, their order counts")
}

func TestACopyIsTheDesignMovedAndTurned(t *testing.T) {
	p := &stitch.Pattern{Moves: []stitch.Move{{X: 0, Y: 0}, {X: 100, Y: 0}, {X: 100, Y: 40}}}
	out, _, _, err := stitch.Copies(p, []stitch.Spot{{X: 1000, Y: -500}, {X: -1000, Y: 500, Turned: true}}, true)
	require.NoError(t, err)
	assert.Equal(t, [][2]int32{{950, -520}, {1050, -520}, {1050, -480}, {-980, 450}, {-980, 550}, {-1020, 550}}, stitchtest.Penetrations(out))
	assert.Equal(t, 1, stitchtest.Count(out, stitch.Trim), "the thread is cut between the copies")
}

func TestTheClosingAnchorStaysLast(t *testing.T) {
	green := stitch.RGB{G: 200}
	p := patches(false, green, stitch.RGB{R: 9}, stitch.RGB{R: 99}, stitch.RGB{B: 99}, green)
	// Make the last stop a tiny mark at the edge, in the first stop's thread.
	a := stitch.Analyse(p)
	first := a.Stops[4].Moves[1]
	p.Moves = p.Moves[:len(p.Moves)-len(a.Stops[4].Moves)+1]
	p.Moves = append(p.Moves, first, stitch.Move{X: first.X + 10, Y: first.Y}, first)
	require.Equal(t, stitch.Anchor, stitch.Analyse(p).Stops[4].Role)
	runs := stitch.ColorOrder(stitch.Threads(stitch.Analyse(p).Stops), stitch.Precedence(stitch.Analyse(p).Stops))
	last := runs[len(runs)-1]
	assert.Equal(t, 4, last[len(last)-1])
}

func TestThirtyCopiesOfTwelveStopsAreSortedAtOnce(t *testing.T) {
	var colors []stitch.RGB
	for i := range 12 {
		colors = append(colors, stitch.RGB{R: uint8(i % 5 * 40)})
	}
	_, before, after, err := stitch.Copies(patches(false, colors...), spots(30), true)
	require.NoError(t, err)
	assert.Equal(t, 359, before)
	assert.Equal(t, 4, after)
}

func BenchmarkThirtyCopiesOfTwelveStops(b *testing.B) {
	var colors []stitch.RGB
	for i := range 12 {
		colors = append(colors, stitch.RGB{R: uint8(i % 5 * 40)})
	}
	for b.Loop() {
		if _, _, _, err := stitch.Copies(patches(false, colors...), spots(30), true); err != nil {
			b.Fatal(err)
		}
	}
}
