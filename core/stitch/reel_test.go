package stitch_test

import (
	"encoding/binary"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/stitch"
	"chalkstep/core/stitch/stitchtest"
)

// A reel says of every move where it lies, whether thread joins it to the one
// before, whether it is a stitch, and where stops begin.
func TestTheReelHoldsEveryMove(t *testing.T) {
	p := &stitch.Pattern{Moves: []stitch.Move{
		{X: 0, Y: 0}, {X: 30, Y: 0}, {X: 30, Y: 0, Kind: stitch.Trim}, {X: 60, Y: 40, Kind: stitch.Jump}, {X: 60, Y: 40},
		{X: 60, Y: 40, Kind: stitch.Change}, {X: 100, Y: 80}, {X: 100, Y: 20},
	}}
	reel := stitch.Analyse(p).Reel()
	n := int(binary.LittleEndian.Uint32(reel))
	require.Equal(t, 8, n)
	require.Len(t, reel, 4+5*n)
	x := func(i int) int16 { return int16(binary.LittleEndian.Uint16(reel[4+2*i:])) }
	y := func(i int) int16 { return int16(binary.LittleEndian.Uint16(reel[4+2*n+2*i:])) }
	assert.Equal(t, []int16{-50, -40}, []int16{x(0), y(0)}, "from the middle of the design")
	assert.Equal(t, []int16{50, -20}, []int16{x(7), y(7)})
	assert.Equal(t, []byte{4 | 2, 2 | 1, 0, 0, 2, 4, 2, 2 | 1}, reel[4+4*n:])
}

// Counting in the reel is counting in the analysis.
func TestTheReelAgreesWithTheAnalysis(t *testing.T) {
	for seed := range uint64(30) {
		a := stitch.Analyse(stitchtest.Random(rand.New(rand.NewPCG(seed, 8)), 400, 100))
		reel := a.Reel()
		n := int(binary.LittleEndian.Uint32(reel))
		stitches, stops := 0, 0
		for _, flags := range reel[4+4*n:] {
			stitches += int(flags >> 1 & 1)
			stops += int(flags >> 2 & 1)
		}
		assert.Equal(t, a.Stitches, stitches)
		assert.Equal(t, len(a.Stops), stops)
		points := 0
		for _, line := range a.Lines() {
			points += len(line)
		}
		assert.Equal(t, a.Stitches, points, "the lines are the same stitches")
	}
}
