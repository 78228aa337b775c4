package stitch_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/stitch"
	"chalkstep/core/stitch/stitchtest"
)

// rowsApart is a fill of 40 × 40 mm with rows so many tenths apart.
func rowsApart(tenths int32) *stitch.Pattern {
	p := &stitch.Pattern{Moves: []stitch.Move{{}}}
	for row := int32(0); row*tenths <= 400; row++ {
		stitchtest.Line(p, 400*(row%2), row*tenths, 35)
	}
	return p
}

func TestCoverageIsThreadOverArea(t *testing.T) {
	for name, c := range map[string]struct {
		apart int32
		want  float64
		class stitch.DensityClass
	}{
		"rows 1 mm apart are open":         {10, 0.42, stitch.Open},
		"rows as wide as thread cover":     {4, 1.0, stitch.Medium},
		"rows at half the width are dense": {2, 2.0, stitch.Dense},
		"rows at a quarter are too dense":  {1, 4.0, stitch.TooDense},
	} {
		t.Run(name, func(t *testing.T) {
			m := stitch.Density(rowsApart(c.apart).Moves)
			assert.InDelta(t, c.want, m.Mean(), 0.08*c.want+0.03)
			assert.Equal(t, c.class, stitch.Class(m.Mean()))
			total := 0.0
			for _, coverage := range m.Coverage {
				total += coverage
			}
			assert.InDelta(t, stitch.Analyse(rowsApart(c.apart)).Stops[0].ThreadMM*0.4, total, 1, "all thread is somewhere")
		})
	}
}

func TestAnEmptyOrHugeMapStaysSmall(t *testing.T) {
	assert.Zero(t, stitch.Density(nil).Mean())
	huge := stitch.Density([]stitch.Move{{X: -20_000, Y: -20_000}, {X: 20_000, Y: 20_000}})
	assert.LessOrEqual(t, len(huge.Coverage), 1<<20)
	assert.Greater(t, huge.CellMM, 1.0)
}

func TestLengthsThatAreHardToSewAreCounted(t *testing.T) {
	p := &stitch.Pattern{Moves: []stitch.Move{{X: 0}, {X: 3}, {X: 33}, {X: 133}, {X: 163}, {X: 163, Kind: stitch.Jump},
		{X: 164}}}
	l := stitch.LengthsOf(stitch.Analyse(p))
	assert.Equal(t, stitch.Lengths{Short: 1, Long: 1}, l, "what a jump parts is no stitch")

	satin := &stitch.Pattern{}
	for at := range int32(200) {
		width := int32(30)
		if at > 150 {
			width = 14
		}
		satin.Moves = append(satin.Moves, stitch.Move{X: at * 4, Y: at % 2 * width})
	}
	assert.InDelta(t, 1.45, stitch.LengthsOf(stitch.Analyse(satin)).NarrowestSatinMM, 0.05)
}

// Smoothing moves thread about between neighbours, but shows no more than
// there is, and leaves an even area as it was.
func TestSmoothing(t *testing.T) {
	even := stitch.DensityMap{CellMM: 1, Columns: 4, Rows: 3, Coverage: []float64{1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1}}
	assert.InDeltaSlice(t, even.Coverage, even.Smoothed().Coverage, 1e-9)
	peak := stitch.DensityMap{CellMM: 1, Columns: 3, Rows: 3, Coverage: []float64{0, 0, 0, 0, 9, 0, 0, 0, 0}}
	assert.InDeltaSlice(t, []float64{9.0 / 4, 9.0 / 6, 9.0 / 4, 9.0 / 6, 1, 9.0 / 6, 9.0 / 4, 9.0 / 6, 9.0 / 4},
		peak.Smoothed().Coverage, 1e-9)
}

// Measured in one pass, a design and its stops cover as much as measured each
// by itself.
func TestCoveragesInOnePass(t *testing.T) {
	p := rowsApart(4)
	p.Moves = append(p.Moves, stitch.Move{X: 400, Y: 400, Kind: stitch.Change})
	p.Moves = append(p.Moves, rowsApart(10).Moves...)
	a := stitch.Analyse(p)
	whole, byStop := stitch.Coverages(p, a.Stops)
	assert.InDelta(t, stitch.Density(p.Moves).Mean(), whole, 1e-9)
	for i, s := range a.Stops {
		assert.InDelta(t, stitch.Density(s.Moves).Mean(), byStop[i], 0.02)
	}
	whole, byStop = stitch.Coverages(&stitch.Pattern{}, nil)
	assert.Zero(t, whole)
	assert.Empty(t, byStop)
}

// BenchmarkCoveragesOfManyWideStops is the worst that a file can ask for: each
// of its many stops spans all of the largest field.
func BenchmarkCoveragesOfManyWideStops(b *testing.B) {
	p := &stitch.Pattern{}
	for i := range int32(9_990) {
		for k := range int32(20) {
			p.Moves = append(p.Moves, stitch.Move{X: -19_000 + i%1000 + k*2000, Y: -19_000 + k*1999 + i%700})
		}
		p.Moves = append(p.Moves, stitch.Move{Kind: stitch.Change})
	}
	a := stitch.Analyse(p)
	for b.Loop() {
		if whole, _ := stitch.Coverages(p, a.Stops); whole <= 0 {
			b.Fatal("nothing is covered")
		}
	}
}

// A narrow satin detail in a fill's stop is as hard to resize as one of its own.
func TestTheNarrowestSatinIsFoundInAFillsStop(t *testing.T) {
	p := &stitch.Pattern{Moves: []stitch.Move{{}}}
	for row := int32(1); row < 150; row++ {
		stitchtest.Line(p, row%2*400, row*4, 35)
	}
	plain := stitch.LengthsOf(stitch.Analyse(p))
	assert.Zero(t, plain.NarrowestSatinMM, "rows are no satin")
	p.Moves = append(p.Moves, stitch.Move{X: 100, Y: 100, Kind: stitch.Trim},
		stitch.Move{X: 100, Y: 100, Kind: stitch.Jump})
	for i := range int32(120) {
		p.Moves = append(p.Moves, stitch.Move{X: 100 + i%2*14, Y: 100 + i*2})
	}
	a := stitch.Analyse(p)
	require.Equal(t, stitch.Fill, a.Stops[0].Role)
	assert.InDelta(t, 1.4, stitch.LengthsOf(a).NarrowestSatinMM, 0.1)
	locks := stitch.Facts{Stops: a.Stops, Lengths: stitch.LengthsOf(a)}.TraitsOf(false).Locks(95)
	require.Len(t, locks, 1)
	assert.Equal(t, "narrow satin", locks[0].What.String())
}

// Ties and knots lie close without making a design dense.
func TestTiesAreNotTheDensestStop(t *testing.T) {
	facts := stitch.Facts{Stops: []stitch.Stop{{N: 1, Stitches: 2000}, {N: 2, Stitches: 24}}, Coverage: []float64{1, 5}}
	var said []string
	for _, f := range stitch.Findings(facts) {
		said = append(said, f.Text.String())
	}
	assert.Contains(t, said, "stop 1 is the densest: medium")
}
