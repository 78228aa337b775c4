package blank_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/blank"
	"chalkstep/core/pattern"
)

func TestWhereADesignGoes(t *testing.T) {
	for name, c := range map[string]struct {
		request blank.Request
		x, y    float64
		first   blank.Distance
	}{
		"chest of a crew neck, top 50 mm below": {
			blank.Request{Shape: blank.Crew, Size: "M", Spot: blank.Chest, DesignWidthMM: 80, DesignHeightMM: 90}, 0,
			85 + 50 + 45, blank.Distance{MM: 50, From: "the neck edge", To: "the top of the design"}},
		"chest of a V neck, top 25 mm below": {
			blank.Request{Shape: blank.VNeck, Size: "M", Spot: blank.Chest, DesignWidthMM: 80, DesignHeightMM: 90}, 0,
			160 + 25 + 45, blank.Distance{MM: 25, From: "the neck edge", To: "the top of the design"}},
		"moved by hand, the numbers follow": {
			blank.Request{Shape: blank.Crew, Size: "M", Spot: blank.Chest, DesignWidthMM: 80, DesignHeightMM: 90, MoveXMM: 5,
				MoveYMM: -10}, 5, 170, blank.Distance{MM: 40, From: "the neck edge", To: "the top of the design"}},
		"towel, 50 mm above its border": {
			blank.Request{Shape: blank.Towel, WidthMM: 400, HeightMM: 600, Spot: blank.AboveHem, DesignWidthMM: 60,
				DesignHeightMM: 50}, 0, 600 - 60 - 50 - 25,
			blank.Distance{MM: 50, From: "the border", To: "the lower edge of the design"}},
		"the middle of a square": {
			blank.Request{Shape: blank.Square, WidthMM: 220, HeightMM: 220, Spot: blank.Centre, DesignWidthMM: 140,
				DesignHeightMM: 140}, 0, 110, blank.Distance{MM: 110, From: "the left edge", To: "the middle of the design"}},
	} {
		t.Run(name, func(t *testing.T) {
			m, err := blank.Place(c.request)
			require.NoError(t, err)
			assert.InDelta(t, c.x, m.XMM, 1e-9)
			assert.InDelta(t, c.y, m.YMM, 1e-9)
			assert.Equal(t, c.first, m.Measures[0])
			assert.Empty(t, m.Cautions)
		})
	}
}

// Left chest: 180 to 200 mm down and 90 to 115 mm to the side on adults, less
// on children; a corner lies on the 45° line, clear of the seam.
func TestSpotsFollowTheSize(t *testing.T) {
	last := 0.0
	for _, size := range blank.Sizes {
		m, err := blank.Place(blank.Request{Shape: blank.Crew, Size: size, Spot: blank.LeftChest, DesignWidthMM: 50,
			DesignHeightMM: 50})
		require.NoError(t, err)
		down := m.Measures[0].MM
		assert.Greater(t, down, last, size)
		last = down
		if size == "S" || size == "M" || size == "L" {
			assert.True(t, down >= 180 && down <= 202, "%s: %v", size, down)
			assert.True(t, m.Measures[1].MM >= 90 && m.Measures[1].MM <= 115, size)
		}
	}
	big, err := blank.Place(blank.Request{Shape: blank.Crew, Size: "M", Spot: blank.LeftChest, DesignWidthMM: 130,
		DesignHeightMM: 80})
	require.NoError(t, err)
	assert.Contains(t, big.Cautions[0].String(), "within about 100 mm")

	corner, err := blank.Place(blank.Request{Shape: blank.Napkin, WidthMM: 400, HeightMM: 400, Spot: blank.CornerSpot,
		DesignWidthMM: 40, DesignHeightMM: 60})
	require.NoError(t, err)
	assert.InDelta(t, 200-corner.XMM, 400-corner.YMM, 1e-9, "as far from one edge as from the other")
	assert.Greater(t, 200-corner.XMM, 15.0+30/1.42)
	over, err := blank.Place(blank.Request{Shape: blank.Square, WidthMM: 100, HeightMM: 100, Spot: blank.Centre,
		DesignWidthMM: 90, DesignHeightMM: 90, MoveXMM: 20})
	require.NoError(t, err)
	assert.Contains(t, over.Cautions[0].String(), "over the edge")
}

func TestUnknownBlanksAreNamed(t *testing.T) {
	for says, r := range map[string]blank.Request{
		"no blank is called “hat”":                     {Shape: "hat"},
		"give the piece its outline":                   {Shape: blank.PatternPiece, Spot: blank.Centre},
		"a towel has no spot called “left chest”":      {Shape: blank.Towel, Spot: blank.LeftChest},
		"no size is called “XXS”":                      {Shape: blank.Crew, Spot: blank.Chest, Size: "XXS"},
		"a square of 0 × 0 mm: expected a width and a": {Shape: blank.Square, Spot: blank.Centre},
	} {
		_, err := blank.Place(r)
		assert.ErrorContains(t, err, says)
	}
	cuff, err := pattern.Drawn(pattern.Cuff, pattern.Cuff.Usual())
	require.NoError(t, err)
	for _, shape := range blank.Shapes {
		for _, spot := range shape.Spots() {
			m, err := blank.Place(blank.Request{Piece: &cuff, Shape: shape, Size: "M", WidthMM: 300, HeightMM: 400, Spot: spot,
				DesignWidthMM: 50, DesignHeightMM: 50})
			require.NoError(t, err)
			assert.GreaterOrEqual(t, len(m.Outline), 4)
			assert.NotEmpty(t, m.Measures)
		}
	}
}

// A template shows the edges of the blank that lie near: the neck of a shirt as
// far above the design as it is measured, in every size; the corner of a napkin
// on the diagonal.
func TestEdgesNearTheDesign(t *testing.T) {
	for _, size := range blank.Sizes {
		m, err := blank.Place(blank.Request{Shape: blank.Crew, Size: size, Spot: blank.Chest, DesignWidthMM: 90,
			DesignHeightMM: 80})
		require.NoError(t, err)
		lowest := math.Inf(1)
		for _, line := range m.EdgesNear(90, 80) {
			for _, p := range line {
				lowest = min(lowest, p[1])
			}
		}
		assert.InDelta(t, 40+m.Measures[0].MM, lowest, 1.5,
			"size %s: the neck's lowest point is as far above the design's top as the mark says", size)
	}
	napkin, err := blank.Place(blank.Request{Shape: blank.Napkin, WidthMM: 400, HeightMM: 400, Spot: blank.CornerSpot,
		DesignWidthMM: 50, DesignHeightMM: 50})
	require.NoError(t, err)
	deepest := 0.0
	for _, line := range napkin.EdgesNear(50, 50) {
		for _, p := range line {
			if math.Abs(p[0]) < 3 {
				deepest = min(deepest, p[1])
			}
		}
	}
	assert.Less(t, deepest, -25.0, "the corner lies below the design, which stands upright towards the middle")
	assert.Empty(t, blank.Mark{}.EdgesNear(10, 10))
}
