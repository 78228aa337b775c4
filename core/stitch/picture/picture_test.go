package picture_test

import (
	"bytes"
	"encoding/xml"
	"image/color"
	"image/png"
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/stitch"
	"chalkstep/core/stitch/picture"
)

var red, blue = stitch.RGB{R: 200}, stitch.RGB{B: 200}

// fill sews rows over a square of so many tenths, so far apart.
func fill(p *stitch.Pattern, x, y, size, apart int32) {
	for row := int32(0); row <= size; row += apart {
		for along := int32(0); along <= size; along += 30 {
			at := along
			if row/apart%2 == 1 {
				at = size - along
			}
			p.Moves = append(p.Moves, stitch.Move{X: x + at, Y: y + row})
		}
	}
}

func change(p *stitch.Pattern) { p.Moves = append(p.Moves, stitch.Move{Kind: stitch.Change}) }

// A light design is drawn with lines, in the colours of its stops.
func TestALightDesignIsDrawnWithLines(t *testing.T) {
	var p stitch.Pattern
	fill(&p, 0, 0, 200, 40)
	change(&p)
	fill(&p, 100, 100, 200, 40)
	for _, view := range []picture.View{picture.Thumb, picture.Drawing} {
		got, err := picture.Of(&p, []stitch.RGB{red, blue}, view)
		require.NoError(t, err)
		assert.Equal(t, "image/svg+xml", got.MediaType)
		assert.LessOrEqual(t, len(got.Data), view.MostBytes)
		require.NoError(t, xml.Unmarshal(got.Data, new(struct{})))
		assert.Equal(t, 2, strings.Count(string(got.Data), "<path"))
		assert.Contains(t, string(got.Data), red.String())
		assert.Contains(t, string(got.Data), `viewBox="-170 -170 340 340"`)
	}
}

// Whatever is sewn, no picture is heavier than its view, and it decodes.
func TestNoPictureIsHeavierThanItsView(t *testing.T) {
	rng := rand.New(rand.NewPCG(15, 2))
	scribble := func(stitches, stops int, reach int32) *stitch.Pattern {
		var p stitch.Pattern
		for i := range stitches {
			if i > 0 && i%max(1, stitches/stops) == 0 {
				change(&p)
			}
			p.Moves = append(p.Moves, stitch.Move{X: rng.Int32N(reach), Y: rng.Int32N(reach)})
		}
		return &p
	}
	colors := make([]stitch.RGB, 9999)
	for i := range colors {
		colors[i] = stitch.RGB{R: uint8(rng.Uint32()), G: uint8(rng.Uint32()), B: uint8(rng.Uint32())}
	}
	var dense stitch.Pattern
	fill(&dense, 0, 0, 1200, 4)
	for name, p := range map[string]*stitch.Pattern{
		"a dense fill": &dense, "noise in one colour": scribble(60_000, 1, 1000),
		"noise in 9,999 stops":  scribble(120_000, 9999, 2000),
		"a single stitch":       {Moves: []stitch.Move{{X: 5, Y: 5}}},
		"a line without height": {Moves: []stitch.Move{{}, {X: 20_000}}},
	} {
		for _, view := range []picture.View{picture.Thumb, picture.Drawing} {
			got, err := picture.Of(p, colors, view)
			require.NoError(t, err, name)
			assert.LessOrEqual(t, len(got.Data), view.MostBytes, name)
			if got.MediaType == "image/png" {
				_, err := png.Decode(bytes.NewReader(got.Data))
				require.NoError(t, err, name)
			}
		}
	}
	_, err := picture.Of(&stitch.Pattern{}, nil, picture.Thumb)
	assert.ErrorContains(t, err, "no stitch")
}

// Pixels show what lies on top, where it lies, and nothing beside it.
func TestPixelsShowWhatLiesOnTop(t *testing.T) {
	var p stitch.Pattern
	fill(&p, 0, 0, 1000, 4)
	change(&p)
	fill(&p, 500, 500, 500, 4) // the upper right quarter, y up
	for i := range p.Moves {   // no row is straight, so lines do not do
		p.Moves[i].Y += int32(i * 104729 % 7)
	}
	got, err := picture.Of(&p, []stitch.RGB{red, blue}, picture.Thumb)
	require.NoError(t, err)
	require.Equal(t, "image/png", got.MediaType, "too much for lines")
	img, err := png.Decode(bytes.NewReader(got.Data))
	require.NoError(t, err)
	half, _ := picture.Extent(100, 100)
	at := func(xMM, yMM float64) color.Color { // most of what is seen there, from the centre, y up
		side := float64(img.Bounds().Dx()) / (2 * half)
		seen, best := map[color.Color]int{}, color.Color(nil)
		for dx := -3; dx <= 3; dx++ {
			for dy := -3; dy <= 3; dy++ {
				c := img.At(int((half+xMM*10)*side)+dx, int((half-yMM*10)*side)+dy)
				if seen[c]++; best == nil || seen[c] > seen[best] {
					best = c
				}
			}
		}
		return best
	}
	assertColor(t, red, at(-25, -25), "lower left")
	assertColor(t, red, at(25, -25), "lower right")
	assertColor(t, blue, at(25, 25), "upper right")
	_, _, _, alpha := img.At(0, 0).RGBA()
	assert.Zero(t, alpha, "the margin is clear")
}

func assertColor(t *testing.T, want stitch.RGB, got color.Color, where string) {
	t.Helper()
	c := color.NRGBAModel.Convert(got).(color.NRGBA)
	assert.Equal(t, want, stitch.RGB{R: c.R, G: c.G, B: c.B}, where)
}
