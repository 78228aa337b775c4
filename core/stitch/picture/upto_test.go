package picture_test

import (
	"bytes"
	"image"
	"image/png"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/stitch"
	"chalkstep/core/stitch/picture"
	"chalkstep/core/stitch/stitchtest"
)

// Three bars side by side, red, green and blue: while the second is sewn, the
// first is there and pale, the second strong, and the third not yet there.
func TestAStopIsStrongAndWhatWasBeforeItPale(t *testing.T) {
	p := &stitch.Pattern{Moves: []stitch.Move{{}}}
	colors := []stitch.RGB{{R: 200}, {G: 160}, {B: 220}}
	for bar := range int32(3) {
		if bar > 0 {
			last := p.Moves[len(p.Moves)-1]
			p.Moves = append(p.Moves, stitch.Move{X: last.X, Y: last.Y, Kind: stitch.Change})
		}
		for row := range int32(60) {
			stitchtest.Line(p, bar*300+row%2*200, row*10, 40)
		}
	}
	at := func(stop int) func(bar int) (r, g, b, a uint32) {
		made, err := picture.UpTo(p, picture.InOrder(colors, stop), 240)
		require.NoError(t, err)
		img, err := png.Decode(bytes.NewReader(made.Data))
		require.NoError(t, err)
		assert.Equal(t, 240, max(img.Bounds().Dx(), img.Bounds().Dy()))
		return func(bar int) (r, g, b, a uint32) {
			// Tenths from the left: 20 of margin, then 300 to a bar.
			x := (20 + bar*300 + 100) * img.Bounds().Dx() / (2*20 + 800)
			return strongest(img, x)
		}
	}
	second := at(2)
	r, _, _, a := second(0)
	assert.NotZero(t, a)
	assert.Greater(t, r, uint32(0xc000), "the red is pale")
	_, g, _, a := second(1)
	assert.NotZero(t, a)
	assert.InDelta(t, 160*0x101, g, 0x400, "the green is as it is")
	_, _, _, a = second(2)
	assert.Zero(t, a, "the blue is to come")
	for _, stop := range []int{0, 4, -1} {
		_, err := picture.UpTo(p, picture.InOrder(colors, stop), 240)
		assert.ErrorContains(t, err, "the design has 3")
	}
}

// strongest is the most solid pixel of a column, in the middle of a picture.
func strongest(img image.Image, x int) (r, g, b, a uint32) {
	for y := img.Bounds().Dy() / 3; y < img.Bounds().Dy()*2/3; y++ {
		if pr, pg, pb, pa := img.At(x, y).RGBA(); pa > a {
			r, g, b, a = pr, pg, pb, pa
		}
	}
	return r, g, b, a
}
