package stitch_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/stitch"
	"chalkstep/core/stitch/stitchtest"
)

func TestAnalyseCountsAndMeasures(t *testing.T) {
	// Two stops: 3 mm right and 4 mm up, then after a trim a far stitch, and
	// a second thread joined by an untrimmed jump.
	p := &stitch.Pattern{Moves: []stitch.Move{
		{X: 100, Y: 100}, {X: 130, Y: 140},
		{X: 130, Y: 140, Kind: stitch.Trim}, {X: 150, Y: 140, Kind: stitch.Jump}, {X: 160, Y: 140, Kind: stitch.Jump},
		{X: 170, Y: 140, Kind: stitch.Jump},
		{X: 200, Y: 100},
		{X: 200, Y: 100, Kind: stitch.Change},
		{X: 200, Y: 300}, {X: 250, Y: 300, Kind: stitch.Jump}, {X: 300, Y: 300},
	}}
	a := stitch.Analyse(p)
	assert.Equal(t, 20.0, a.WidthMM)
	assert.Equal(t, 20.0, a.HeightMM)
	assert.Equal(t, 5, a.Stitches)
	assert.Equal(t, 4, a.Jumps)
	assert.Equal(t, 1, a.Trims)
	assert.Equal(t, 1, a.ColorChanges)
	require.Len(t, a.Stops, 2)
	assert.InDelta(t, 5.0, a.Stops[0].ThreadMM, 1e-9, "the thread is cut before the far stitch")
	assert.InDelta(t, 10.0, a.Stops[1].ThreadMM, 1e-9, "an untrimmed jump draws thread across")
	assert.Equal(t, 1, a.Stops[1].Snips)
	assert.Equal(t, stitch.Bounds{Left: -10, Bottom: -10, Right: 0, Top: -6}, a.Stops[0].Bounds)
	assert.Nil(t, a.Stops[0].Color)
}

func TestARunWithoutStitchesIsNotAStop(t *testing.T) {
	p := &stitch.Pattern{Colors: []stitch.RGB{{R: 255}, {B: 255}}, Moves: []stitch.Move{
		{Kind: stitch.Change}, {X: 5}, {X: 9}, {X: 9, Kind: stitch.Change}, {X: 9, Kind: stitch.Change}, {X: 20},
		{X: 20, Kind: stitch.Change},
	}}
	a := stitch.Analyse(p)
	require.Len(t, a.Stops, 2)
	assert.Equal(t, 4, a.ColorChanges, "each of them halts the machine")
	assert.Equal(t, "#0000ff", a.Stops[1].Color.String())
	assert.Contains(t, a.Warnings[0], "halts for 4 thread changes")
}

func TestStopsAddUpToTheWhole(t *testing.T) {
	for seed := range uint64(100) {
		p := stitchtest.Random(rand.New(rand.NewPCG(seed, 1)), 500, 120)
		a := stitch.Analyse(p)
		stitches, width := 0, stitch.Bounds{Left: math.Inf(1), Right: math.Inf(-1)}
		for _, s := range a.Stops {
			stitches += s.Stitches
			width.Left, width.Right = min(width.Left, s.Bounds.Left), max(width.Right, s.Bounds.Right)
		}
		assert.Equal(t, a.Stitches, stitches)
		assert.InDelta(t, a.WidthMM, width.Width(), 1e-9)
		assert.InDelta(t, 0, width.Left+width.Right, 1e-9, "bounds are from the centre")
	}
}

func TestRolesAreSeenInTheGeometry(t *testing.T) {
	zigzag := func(p *stitch.Pattern, x, y, length, width int32) {
		for at := int32(0); at <= length; at += 4 {
			p.Moves = append(p.Moves, stitch.Move{X: x + at, Y: y + width/2*(1-2*(at/4%2))})
		}
	}
	square := func(p *stitch.Pattern, half int32) {
		p.Moves = append(p.Moves, stitch.Move{X: -half, Y: -half})
		for _, corner := range [][2]int32{{half, -half}, {half, half}, {-half, half}, {-half, -half}} {
			stitchtest.Line(p, corner[0], corner[1], 25)
		}
	}
	change := func(p *stitch.Pattern) {
		last := p.Moves[len(p.Moves)-1]
		p.Moves = append(p.Moves, stitch.Move{X: last.X, Y: last.Y, Kind: stitch.Change})
	}
	roles := func(p *stitch.Pattern) (roles []stitch.Role) {
		for _, s := range stitch.Analyse(p).Stops {
			roles = append(roles, s.Role)
		}
		return roles
	}

	t.Run("satin, fill and run", func(t *testing.T) {
		p := &stitch.Pattern{}
		zigzag(p, 0, 0, 400, 30)
		change(p)
		for row := int32(0); row < 60; row++ {
			stitchtest.Line(p, 300*(row%2), 100+row*4, 35)
		}
		change(p)
		square(p, 300)
		assert.Equal(t, []stitch.Role{stitch.Satin, stitch.Fill, stitch.Run}, roles(p))
	})
	t.Run("an appliqué piece and the anchor that closes the design", func(t *testing.T) {
		p := &stitch.Pattern{}
		square(p, 200)
		change(p)
		square(p, 193)
		change(p)
		for _, side := range [][4]int32{{-200, -200, 1, 0}, {200, -200, 0, 1}, {200, 200, -1, 0}, {-200, 200, 0, -1}} {
			for at := int32(0); at < 400; at += 4 {
				across := 15 * (1 - 2*(at/4%2))
				p.Moves = append(p.Moves,
					stitch.Move{X: side[0] + side[2]*at + side[3]*across, Y: side[1] + side[3]*at + side[2]*across})
			}
		}
		change(p)
		p.Moves = append(p.Moves, stitch.Move{X: -210, Y: -210}, stitch.Move{X: -200, Y: -210}, stitch.Move{X: -210, Y: -210})
		assert.Equal(t, []stitch.Role{stitch.Placement, stitch.TackDown, stitch.Cover, stitch.Anchor}, roles(p))
	})
}

func TestDensityFollowsTheHandbook(t *testing.T) {
	for name, c := range map[string]struct {
		stitches int
		want     stitch.DensityClass
	}{"open": {3499, stitch.Open}, "medium": {8000, stitch.Medium}, "dense": {13000, stitch.Dense},
		"too dense": {13001, stitch.TooDense}} {
		got, _ := stitch.DensityOf(c.stitches, 100, 100)
		assert.Equal(t, c.want, got, name)
	}
}

func TestColoursSurvivePrintAndParse(t *testing.T) {
	c, err := stitch.ParseRGB("#1f6f5c")
	require.NoError(t, err)
	assert.Equal(t, "#1f6f5c", c.String())
	for _, bad := range []string{"", "1f6f5c", "#1f6f5", "#1f6f5cc", "#gg0000"} {
		_, err := stitch.ParseRGB(bad)
		assert.ErrorContains(t, err, "six hexadecimal digits", bad)
	}
}
