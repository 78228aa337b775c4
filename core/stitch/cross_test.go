package stitch_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/stitch"
)

// A cross is as wide as it is high, its middle where the needle starts and ends, and every
// stitch is 2 mm; it survives each format.
func TestACrossIsAroundTheNeedle(t *testing.T) {
	p := stitch.Cross(5)
	left, bottom, right, top, ok := stitch.Extent(p.Moves)
	require.True(t, ok)
	assert.Equal(t, []int32{-100, -100, 100, 100}, []int32{left, bottom, right, top})
	assert.Equal(t, stitch.Move{Kind: stitch.Stitch}, p.Moves[len(p.Moves)-1])
	for i := 1; i < len(p.Moves); i++ {
		dx, dy := p.Moves[i].X-p.Moves[i-1].X, p.Moves[i].Y-p.Moves[i-1].Y
		assert.Equal(t, int32(400), dx*dx+dy*dy, "stitch %d", i)
	}
	for _, name := range stitch.Names() {
		data, err := stitch.Encode("cross."+name, p)
		require.NoError(t, err, name)
		back, _, err := stitch.Decode("cross."+name, data)
		require.NoError(t, err, name)
		l, b, r, u, _ := stitch.Extent(back.Moves)
		assert.Equal(t, []int32{200, 200}, []int32{r - l, u - b}, name)
	}
}
