package stitch_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"chalkstep/core/stitch"
	"chalkstep/core/stitch/stitchtest"
)

func TestADrawingLiftsTheThreadAndLeavesOutWhatLiesOnALine(t *testing.T) {
	p := &stitch.Pattern{Moves: []stitch.Move{{X: 0, Y: 0}}}
	stitchtest.Line(p, 300, 0, 25)
	stitchtest.Line(p, 300, 200, 25)
	p.Moves = append(p.Moves, stitch.Move{X: 0, Y: 200, Kind: stitch.Jump}, stitch.Move{X: 0, Y: 200},
		stitch.Move{X: 20, Y: 220})
	assert.Equal(t, "m-150 100 300 0 0-200m-300 0 20-20", stitch.SVGPath(p.Moves, 150, 100, 1))
}

func TestADrawingOfNothingIsEmpty(t *testing.T) {
	assert.Empty(t, stitch.SVGPath(nil, 0, 0, 1))
}
