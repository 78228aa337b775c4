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

// What a stop sews is told from its geometry alone, on 200 designs whose
// truth is known: with noise, reversed paths and doubled outlines.
func TestAtLeast95PercentOfRolesAreRight(t *testing.T) {
	const bar = 0.95
	right, all := 0, 0
	mistakes := map[string]int{}
	for seed := range uint64(200) {
		known := stitchtest.NewKnown(rand.New(rand.NewPCG(seed, 7)))
		stops := stitch.Analyse(known.Pattern).Stops
		require.Len(t, stops, len(known.Roles))
		for i, truth := range known.Roles {
			all++
			if stops[i].Role == truth {
				right++
			} else {
				mistakes[fmt.Sprintf("%s taken for %s", truth, stops[i].Role)]++
			}
		}
	}
	t.Logf("%d of %d stops right (%.1f %%); mistakes: %v", right, all, 100*float64(right)/float64(all), mistakes)
	assert.GreaterOrEqual(t, float64(right)/float64(all), bar)
}

// Pieces are recognised however they are ordered and covered.
func TestPiecesInEveryOrderAndCover(t *testing.T) {
	right, all := map[stitch.Role]int{}, map[stitch.Role]int{}
	mistakes := map[string]int{}
	for seed := range uint64(400) {
		known := stitchtest.NewPieces(rand.New(rand.NewPCG(seed, 31)))
		stops := stitch.Analyse(known.Pattern).Stops
		require.Len(t, stops, len(known.Roles))
		for i, truth := range known.Roles {
			all[truth]++
			if stops[i].Role == truth {
				right[truth]++
			} else {
				mistakes[fmt.Sprintf("%s taken for %s", truth, stops[i].Role)]++
			}
		}
	}
	rightInAll, allInAll := 0, 0
	for _, role := range stitch.Roles {
		if all[role] == 0 {
			continue
		}
		rightInAll, allInAll = rightInAll+right[role], allInAll+all[role]
		t.Logf("%-10s %4d of %4d right", role, right[role], all[role])
		assert.GreaterOrEqual(t, float64(right[role])/float64(all[role]), 0.9, role)
	}
	t.Logf("%d of %d stops right; mistakes: %v", rightInAll, allInAll, mistakes)
	assert.GreaterOrEqual(t, float64(rightInAll)/float64(allInAll), 0.95)
}

// Pieces are counted by their outer lines: a hole is no piece.
func TestPiecesOfAPlacementAreCounted(t *testing.T) {
	counted, several := 0, 0
	for seed := range uint64(300) {
		known := stitchtest.NewPieces(rand.New(rand.NewPCG(seed, 47)))
		stops := stitch.Analyse(known.Pattern).Stops
		for i, n := range known.Pieces {
			if stops[i].Role != stitch.Placement {
				continue
			}
			counted++
			if n > 1 {
				several++
			}
			assert.Equal(t, n, stops[i].Pieces, "seed %d, stop %d", seed, i+1)
		}
	}
	assert.Greater(t, counted, 300)
	assert.Greater(t, several, 50)
}

// A small satin detail that is sewn last, as a button or the glint of an eye, is
// a detail, wherever in the design it lies.
func TestASmallDetailSewnLastIsADetail(t *testing.T) {
	for seed := range uint64(200) {
		rng := rand.New(rand.NewPCG(seed, 17))
		p := &stitch.Pattern{Moves: []stitch.Move{{}}}
		for row := int32(1); row < 120; row++ {
			stitchtest.Line(p, row%2*500, row*4, 35)
		}
		x, y := rng.Int32N(400)+40, rng.Int32N(400)+40
		p.Moves = append(p.Moves, stitch.Move{X: x, Y: y, Kind: stitch.Change}, stitch.Move{X: x, Y: y})
		for i := range int32(10 + rng.IntN(20)) {
			p.Moves = append(p.Moves, stitch.Move{X: x + i%2*16, Y: y + i})
		}
		assert.Equal(t, stitch.Satin, stitch.Analyse(p).Stops[1].Role, "at %d, %d", x, y)
	}
}
