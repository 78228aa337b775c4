package stitch_test

import (
	"fmt"
	"maps"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/stitch"
	"chalkstep/core/stitch/stitchtest"
)

// fewest finds the least number of runs by trying every order.
func fewest(thread []string, order stitch.Order) int {
	n := len(thread)
	best := n + 1
	// atHalt are those that were done when the run began.
	var try func(done, atHalt uint, last string, runs int)
	try = func(done, atHalt uint, last string, runs int) {
		if runs >= best {
			return
		}
		if done == 1<<n-1 {
			best = runs
			return
		}
		for i := range n {
			ready := done&(1<<i) == 0
			for _, earlier := range order.After[i] {
				ready = ready && done&(1<<earlier) != 0
			}
			if !ready {
				continue
			}
			goesOn := thread[i] == last
			for _, earlier := range order.Halted[i] {
				goesOn = goesOn && atHalt&(1<<earlier) != 0
			}
			if goesOn {
				try(done|1<<i, atHalt, thread[i], runs)
			} else {
				try(done|1<<i, done, thread[i], runs+1)
			}
		}
	}
	try(0, 0, "", 0)
	return best
}

func TestColourOrderIsTheBestThereIs(t *testing.T) {
	for seed := range uint64(200) {
		rng := rand.New(rand.NewPCG(seed, 6))
		n := 2 + rng.IntN(7)
		thread, order := make([]string, n), stitch.Order{After: make([][]int, n), Halted: make([][]int, n)}
		for i := range n {
			thread[i] = fmt.Sprint(rng.IntN(4))
			for j := range i {
				if rng.IntN(3) == 0 {
					order.After[i] = append(order.After[i], j)
					if rng.IntN(3) == 0 {
						order.Halted[i] = append(order.Halted[i], j)
					}
				}
			}
		}
		runs := stitch.ColorOrder(thread, order)
		require.Len(t, runs, fewest(thread, order), "seed %d", seed)
		done := map[int]bool{}
		for _, run := range runs {
			before := maps.Clone(done)
			for _, i := range run {
				assert.Equal(t, thread[run[0]], thread[i])
				for _, earlier := range order.Halted[i] {
					assert.True(t, before[earlier], "stop %d before a halt", i)
				}
				for _, earlier := range order.After[i] {
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
	sheet, err := stitch.Copies(patches(true), spots(6), true, nil)
	out, before, after := sheet.Pattern, sheet.Before, sheet.After
	require.NoError(t, err)
	assert.Equal(t, 23, before)
	assert.Equal(t, 3, after)
	a := stitch.Analyse(out)
	assert.Len(t, a.Stops, 4)
	assert.Equal(t, 6*stitch.Analyse(patches(true)).Stitches, a.Stitches)

	sheet, err = stitch.Copies(patches(true), spots(6), false, nil)
	unsorted, after := sheet.Pattern, sheet.After
	require.NoError(t, err)
	assert.Equal(t, 23, after)
	assert.Len(t, stitch.Analyse(unsorted).Stops, 24)
}

func TestStopsOfOneThreadJoinWhereNothingLiesBetween(t *testing.T) {
	red, blue := stitch.RGB{R: 200}, stitch.RGB{B: 200}
	sheet, err := stitch.Copies(patches(false, red, blue, red, blue), spots(2), true, nil)
	before, after := sheet.Before, sheet.After
	require.NoError(t, err)
	assert.Equal(t, 7, before)
	assert.Equal(t, 1, after, "side by side, the reds are sewn together")
	sheet, err = stitch.Copies(patches(true, red, blue, red, blue), spots(2), true, nil)
	after = sheet.After
	require.NoError(t, err)
	assert.Equal(t, 3, after, "one on another, their order counts")
}

func TestACopyIsTheDesignMovedAndTurned(t *testing.T) {
	p := &stitch.Pattern{Moves: []stitch.Move{{X: 0, Y: 0}, {X: 100, Y: 0}, {X: 100, Y: 40}}}
	sheet, err := stitch.Copies(p, []stitch.Spot{{X: 1000, Y: -500}, {X: -1000, Y: 500, Turned: true}}, true, nil)
	out := sheet.Pattern
	require.NoError(t, err)
	assert.Equal(t, [][2]int32{{950, -520}, {1050, -520}, {1050, -480}, {-980, 450}, {-980, 550}, {-1020, 550}},
		stitchtest.Penetrations(out))
	assert.Equal(t, 1, stitchtest.Count(out, stitch.Trim), "the thread is cut between the copies")
}

func TestTheClosingAnchorStaysLast(t *testing.T) {
	green := stitch.RGB{G: 200}
	p := patches(false, green, stitch.RGB{R: 9}, stitch.RGB{R: 99}, stitch.RGB{B: 99}, green)
	// Make the last stop two tiny marks in corners, in the first stop's thread.
	a := stitch.Analyse(p)
	first := a.Stops[4].Moves[1]
	p.Moves = p.Moves[:len(p.Moves)-len(a.Stops[4].Moves)+1]
	p.Moves = append(p.Moves, stitch.Move{X: 0, Y: 0}, stitch.Move{X: 10, Y: 0}, stitch.Move{X: 0, Y: 0},
		stitch.Move{X: first.X + 190, Y: 76, Kind: stitch.Jump},
		stitch.Move{X: first.X + 190, Y: 76}, stitch.Move{X: first.X + 200, Y: 76}, stitch.Move{X: first.X + 190, Y: 76})
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
	sheet, err := stitch.Copies(patches(false, colors...), spots(30), true, nil)
	before, after := sheet.Before, sheet.After
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
		if _, err := stitch.Copies(patches(false, colors...), spots(30), true, nil); err != nil {
			b.Fatal(err)
		}
	}
}

// Pieces of one thread: the machine halts after the placements of all copies,
// for the cloth to be laid, and after all tack-downs, for it to be cut away. An
// eye is sewn on the cloth, not under it, although it touches no outline.
func TestSortedPiecesKeepTheirHalts(t *testing.T) {
	red := stitch.RGB{R: 200}
	p := &stitch.Pattern{Colors: []stitch.RGB{red, red, red, red}}
	around := func(inset int32, step int32) {
		for _, c := range [][2]int32{{400 - inset, inset}, {400 - inset, 400 - inset}, {inset, 400 - inset}, {inset, inset}} {
			stitchtest.Line(p, c[0], c[1], step)
		}
	}
	p.Moves = append(p.Moves, stitch.Move{X: 0, Y: 0})
	around(0, 25)
	p.Moves = append(p.Moves, stitch.Move{X: 0, Y: 0, Kind: stitch.Change}, stitch.Move{X: 0, Y: 0})
	around(0, 25)
	p.Moves = append(p.Moves, stitch.Move{X: 0, Y: 0, Kind: stitch.Change}, stitch.Move{X: 0, Y: 0})
	corners := [][2]int32{{0, 0}, {400, 0}, {400, 400}, {0, 400}, {0, 0}}
	for i := range 4 {
		a, b := corners[i], corners[i+1]
		for step := int32(0); step <= 400; step += 4 {
			x, y := a[0]+(b[0]-a[0])*step/400, a[1]+(b[1]-a[1])*step/400
			side := int32(15)
			if step/4%2 == 1 {
				side = -15
			}
			if i%2 == 0 {
				y += side
			} else {
				x += side
			}
			p.Moves = append(p.Moves, stitch.Move{X: x, Y: y})
		}
	}
	p.Moves = append(p.Moves, stitch.Move{X: 200, Y: 200, Kind: stitch.Change}, stitch.Move{X: 200, Y: 200})
	for _, c := range [][2]int32{{230, 200}, {230, 230}, {200, 230}, {200, 200}} {
		stitchtest.Line(p, c[0], c[1], 10)
	}
	a := stitch.Analyse(p)
	require.Equal(t, []stitch.Role{stitch.Placement, stitch.TackDown, stitch.Cover},
		[]stitch.Role{a.Stops[0].Role, a.Stops[1].Role, a.Stops[2].Role})
	assert.Equal(t, [][]int{{0}, {1}, {2, 3}}, stitch.ColorOrder(stitch.Threads(a.Stops), stitch.Precedence(a.Stops)))
	sheet, err := stitch.Copies(p, spots(5), true, nil)
	out, after := sheet.Pattern, sheet.After
	require.NoError(t, err)
	assert.Equal(t, 2, after)
	assert.Len(t, stitch.Analyse(out).Stops, 3)
}

// Designs of many stops are sorted too, and nearly as well as can be: a design
// is made up from runs that are known to be enough, and few more are found.
func TestManyStopsAreSortedNearTheBest(t *testing.T) {
	for seed := range uint64(12) {
		rng := rand.New(rand.NewPCG(seed, 11))
		n := 70 + rng.IntN(130)
		known := 8 + rng.IntN(16)
		run := make([]int, n)
		thread, order := make([]string, n), stitch.Order{After: make([][]int, n), Halted: make([][]int, n)}
		for i := range n {
			run[i] = rng.IntN(known)
			thread[i] = fmt.Sprint(run[i] % 5)
		}
		for i := range n {
			for range rng.IntN(6) {
				if j := rng.IntN(n); run[j] < run[i] || run[j] == run[i] && j < i {
					order.After[i] = append(order.After[i], j)
					if run[j] < run[i] && rng.IntN(5) == 0 {
						order.Halted[i] = append(order.Halted[i], j)
					}
				}
			}
		}
		runs := stitch.ColorOrder(thread, order)
		assert.LessOrEqual(t, len(runs), known, "seed %d: %d stops in %d runs where %d are enough", seed, n, len(runs), known)
	}
}

func BenchmarkSortingAThousandStops(b *testing.B) {
	rng := rand.New(rand.NewPCG(1, 12))
	const n = 1000
	thread, order := make([]string, n), stitch.Order{After: make([][]int, n)}
	for i := range n {
		thread[i] = fmt.Sprint(rng.IntN(12))
		for range 3 {
			if i > 0 {
				order.After[i] = append(order.After[i], max(0, i-1-rng.IntN(200)))
			}
		}
	}
	for b.Loop() {
		if runs := stitch.ColorOrder(thread, order); len(runs) == n {
			b.Fatal("not sorted")
		}
	}
}
