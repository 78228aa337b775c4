package ui

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/blank"
	"chalkstep/core/pattern"
)

// The blank is drawn whole, with the design where its mark says.
func TestTheBlankIsDrawnAroundItsMark(t *testing.T) {
	assert.Empty(t, NewMark(blank.Mark{}).Outline, "nothing is drawn of no blank")
	cuff, err := pattern.Drawn(pattern.Cuff, pattern.Cuff.Usual())
	require.NoError(t, err)
	for _, shape := range blank.Shapes {
		for _, spot := range shape.Spots() {
			mark, err := blank.Place(blank.Request{Piece: &cuff, Shape: shape, Size: "M", WidthMM: 300, HeightMM: 420,
				Spot: spot, DesignWidthMM: 60, DesignHeightMM: 80})
			require.NoError(t, err)
			p := NewMark(mark)
			assert.Regexp(t, `^-?\d+ -?\d+ \d+ \d+$`, p.ViewBox)
			assert.Regexp(t, `^M.*Z$`, p.Outline)
			assert.Equal(t, []float64{mark.XMM, mark.YMM}, []float64{p.X, p.Y})
			assert.Contains(t, p.Transform, "scale(0.1)", "stitches are counted in tenths")
			if shape == blank.Towel || shape == blank.Napkin && spot == blank.CornerSpot {
				assert.Equal(t, spot == blank.AboveHem || spot == blank.CornerSpot, p.Seams != "", "%s, %s", shape, spot)
			}
		}
	}
}
