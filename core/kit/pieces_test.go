package kit_test

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/kit"
	"chalkstep/core/recipe"
	"chalkstep/core/say"
	"chalkstep/core/stitch"
	"chalkstep/core/supply"
)

func wide(mm float64) func(supply.Key) float64 { return func(supply.Key) float64 { return mm } }

func TestCutSizes(t *testing.T) {
	layout := kit.Layout{FinishedMM: [2]float64{220, 220},
		Boxes: map[int]stitch.Bounds{1: {Left: -60, Right: 60, Bottom: -60, Top: 60}}}
	for name, c := range map[string]struct {
		layer kit.Layer
		want  kit.Piece
	}{
		"a piece: its line and 12 mm a side": {kit.Layer{As: kit.PieceLayer, Fabric: "linen", Stop: 1},
			kit.Piece{Key: supply.Cloth("linen"), SizeMM: [2]float64{144, 144}, Count: 1}},
		"a background: 25 mm a side": {kit.Layer{As: kit.Background, Fabric: "linen"},
			kit.Piece{Key: supply.Cloth("linen"), SizeMM: [2]float64{270, 270}, Count: 1}},
		"batting as the background, any way": {kit.Layer{As: kit.Batting},
			kit.Piece{Key: supply.Key{Kind: supply.Batting}, SizeMM: [2]float64{270, 270}, Count: 1, Turn: true}},
		"fusible 3 mm smaller a side": {kit.Layer{As: kit.Fusible},
			kit.Piece{Key: supply.Key{Kind: supply.Fusible}, SizeMM: [2]float64{264, 264}, Count: 1, Turn: true}},
		"a size that the project sets": {kit.Layer{As: kit.Backing, Fabric: "canvas", SizeMM: [2]float64{300, 310}},
			kit.Piece{Key: supply.Cloth("canvas"), SizeMM: [2]float64{300, 310}, Count: 1}},
		"binding in one strip: 880 + 126 + 6 mm": {kit.Layer{As: kit.Binding, Fabric: "linen"},
			kit.Piece{Key: supply.Cloth("linen"), SizeMM: [2]float64{1012, 63}, Count: 1, Turn: true}},
	} {
		t.Run(name, func(t *testing.T) {
			pieces := kit.Pieces([]kit.Layer{c.layer}, layout, wide(1100))
			require.Len(t, pieces, 1)
			got := pieces[0]
			assert.NotEmpty(t, got.Working.String())
			assert.Equal(t, c.layer.As, got.As)
			got.As, got.Working = "", say.Text{}
			assert.Equal(t, c.want, got)
		})
	}
	joined := kit.Pieces([]kit.Layer{{As: kit.Binding, Fabric: "linen"}}, layout, wide(600))[0]
	assert.Equal(t, 2, joined.Count, "on a narrow fabric in two strips")
	assert.InDelta(t, 1012+63, float64(joined.Count)*joined.SizeMM[0], 1, "the join takes a strip's width")

	under, err := recipe.For(recipe.Request{Fabric: recipe.Terry, WidthMM: 60, HeightMM: 50, Stitches: 2000,
		HoopMM: [2]float64{100, 100}})
	require.NoError(t, err)
	sheets := kit.SheetPieces(under, "Small square")
	require.Len(t, sheets, 2)
	assert.Equal(t, supply.Sheet(supply.TearAway, supply.Medium), sheets[0].Key)
	assert.Equal(t, [2]float64{150, 150}, sheets[1].SizeMM)
}

// Spools at once are what counting at every moment finds.
func TestSpoolsAtOnceEqualsCountingEveryMoment(t *testing.T) {
	rng := rand.New(rand.NewPCG(7, 7))
	threads := []supply.Key{navy, white, supply.Spool(supply.Cotton, stitch.RGB{})}
	for range 300 {
		var sewing []kit.Sewing
		for range rng.IntN(30) {
			from := float64(rng.IntN(60))
			sewing = append(sewing, kit.Sewing{Thread: threads[rng.IntN(3)], From: from, To: from + float64(rng.IntN(15))})
		}
		counted := map[supply.Key]int{}
		for moment := 0.5; moment < 80; moment++ {
			now := map[supply.Key]int{}
			for _, s := range sewing {
				if s.From < moment && moment < s.To {
					now[s.Thread]++
					counted[s.Thread] = max(counted[s.Thread], now[s.Thread])
				}
			}
		}
		assert.Equal(t, counted, kit.SpoolsAtOnce(sewing))
	}
}

// Thread by stop is the formula summed on its own, on sewn patterns.
func TestThreadIsTheFormula(t *testing.T) {
	f := kit.Defaults()
	for seed := range uint64(30) {
		rng := rand.New(rand.NewPCG(seed, 3))
		p := &stitch.Pattern{}
		x, y := int32(0), int32(0)
		path, ends := 0.0, 1
		for i := range 300 {
			if i > 0 && rng.IntN(40) == 0 {
				p.Moves = append(p.Moves, stitch.Move{X: x, Y: y, Kind: stitch.Trim})
				x += 100
				p.Moves = append(p.Moves, stitch.Move{X: x, Y: y, Kind: stitch.Jump}, stitch.Move{X: x, Y: y})
				ends++
				continue
			}
			step := int32(3 + rng.IntN(40))
			if i > 0 {
				path += float64(step) / 10
			}
			if i > 0 {
				x += step
			}
			p.Moves = append(p.Moves, stitch.Move{X: x, Y: y})
		}
		stop := stitch.Analyse(p).Stops[0]
		want := path*1.35 + 40*float64(ends)
		assert.InEpsilon(t, want, f.TopThreadMM(stop), 0.001)
	}
}

// A bobbin is swapped between stops, before it would run out in one.
func TestBobbinsAreSwappedBetweenStops(t *testing.T) {
	f := kit.Figures{DrawFactor: 1, BobbinShare: 0.5}
	stops := func(metres ...float64) []stitch.Stop {
		var all []stitch.Stop
		for i, m := range metres {
			all = append(all, stitch.Stop{N: i + 1, ThreadMM: m * 1000})
		}
		return all
	}
	for name, c := range map[string]struct {
		stops []stitch.Stop
		want  []int
	}{
		"one bobbin is enough":                {stops(20, 20, 20), nil},
		"before the stop it would run out in": {stops(50, 40, 60), []int{3}},
		"again when the next runs low":        {stops(100, 10, 100, 30), []int{3, 4}},
		"a stop longer than a bobbin":         {stops(10, 300, 10), []int{2, 3}},
		"the first starts on a full one":      {stops(130), nil},
	} {
		assert.Equal(t, c.want, f.BobbinSwaps(c.stops, 60), name)
	}
}
