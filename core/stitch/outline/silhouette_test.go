package outline_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/stitch"
	"chalkstep/core/stitch/outline"
	"chalkstep/core/stitch/stitchtest"
)

func enclosed(loop [][2]float64) float64 {
	sum := 0.0
	for i, p := range loop {
		q := loop[(i+1)%len(loop)]
		sum += p[0]*q[1] - q[0]*p[1]
	}
	return sum / 2
}

// A filled square has one edge, of its size; a ring has an opening, which
// runs the other way round.
func TestSilhouettes(t *testing.T) {
	square := &stitch.Pattern{}
	for row := int32(0); row <= 100; row++ {
		stitchtest.Line(square, 400*(row%2), row*4, 35)
	}
	loops := outline.Silhouette(stitch.Analyse(square))
	require.Len(t, loops, 1)
	assert.InDelta(t, 40*40, enclosed(loops[0]), 90, "within half a millimetre of its edge")

	ring := &stitch.Pattern{}
	for i := range 400 {
		angle, radius := float64(i)/400*2*math.Pi, 200.0
		if i%2 == 1 {
			radius = 150
		}
		ring.Moves = append(ring.Moves, stitch.Move{X: int32(radius * math.Cos(angle)), Y: int32(radius * math.Sin(angle))})
	}
	ring.Moves = append(ring.Moves, ring.Moves[0])
	loops = outline.Silhouette(stitch.Analyse(ring))
	require.Len(t, loops, 2)
	assert.InDelta(t, math.Pi*400, enclosed(loops[0]), 60)
	assert.Negative(t, enclosed(loops[1]), "an opening runs the other way")
}

// Every silhouette is closed and lies within a millimetre of the stitches.
func TestSilhouettesStayWithTheStitches(t *testing.T) {
	for seed := range uint64(12) {
		a := stitch.Analyse(stitchtest.NewKnown(rand.New(rand.NewPCG(seed, 5))).Pattern)
		loops := outline.Silhouette(a)
		require.NotEmpty(t, loops)
		for _, loop := range loops {
			require.GreaterOrEqual(t, len(loop), 3)
			for _, p := range loop {
				assert.LessOrEqual(t, math.Abs(p[0]), a.WidthMM/2+1)
				assert.LessOrEqual(t, math.Abs(p[1]), a.HeightMM/2+1)
			}
		}
	}
}
