//go:build bench

// Package bench measures the bars the product is held to and prints them as
// one table. Run it with make bench; it fails when a bar is missed.
package bench

import (
	"fmt"
	"math/rand/v2"
	"os"
	"runtime"
	"slices"
	"testing"
	"text/tabwriter"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/cutplan"
	"chalkstep/core/cutplan/cutplantest"
	"chalkstep/core/schedule"
	"chalkstep/core/schedule/scheduletest"
	"chalkstep/core/schedule/search"
	"chalkstep/core/stitch"
	_ "chalkstep/core/stitch/dst"
	_ "chalkstep/core/stitch/exp"
	_ "chalkstep/core/stitch/jef"
	_ "chalkstep/core/stitch/pes"
	"chalkstep/core/stitch/stitchtest"
	"chalkstep/store/storetest"
)

var table = tabwriter.NewWriter(os.Stdout, 0, 4, 2, ' ', 0)

func TestMain(m *testing.M) {
	fmt.Fprintln(table, "measured\tfigure\tbar")
	storetest.Then = func() { table.Flush() }
	storetest.Main(m)
}

func row(what, figure, bar string) { fmt.Fprintf(table, "%s\t%s\t%s\n", what, figure, bar) }

func timed(f func()) time.Duration {
	start := time.Now()
	f()
	return time.Since(start)
}

// median is the middle time of several runs.
func median(runs int, f func()) time.Duration {
	middle, _, _ := compared(runs, f, func() {})
	return middle
}

// compared takes turns with two functions, so that whatever else the machine
// does, and however fast it runs just then, falls on both. It returns the middle
// time of each, and the middle of how many times longer the second took than
// the first beside it.
func compared(runs int, f, g func()) (ofFirst, ofSecond time.Duration, times float64) {
	ofF, ofG, ratios := make([]time.Duration, runs), make([]time.Duration, runs), make([]float64, runs)
	for i := range runs {
		ofF[i], ofG[i] = timed(f), timed(g)
		ratios[i] = float64(ofG[i]) / float64(ofF[i])
	}
	slices.Sort(ofF)
	slices.Sort(ofG)
	slices.Sort(ratios)
	return ofF[runs/2], ofG[runs/2], ratios[runs/2]
}

var sum uint64

// TestReadersAgainstByteSum compares reading a large design with the least
// that could be done with its bytes: adding them up one by one.
func TestReadersAgainstByteSum(t *testing.T) {
	// The application holds far more than this: a test alone would collect its
	// garbage after every few designs, on the processors that read them.
	held := make([]byte, 64<<20)
	defer runtime.KeepAlive(held)
	for _, design := range []struct {
		what    string
		pattern *stitch.Pattern
		bar     float64
	}{{"100,000 stitches in 12 stops", stitchtest.Large(100_000), 15},
		{"100,000 mixed stitches", stitchtest.Mixed(rand.New(rand.NewPCG(15, 3)), 100_000), 15}} {
		for _, format := range stitch.Names() {
			readAgainstByteSum(t, design.what, format, design.pattern, design.bar)
		}
	}
}

func readAgainstByteSum(t *testing.T, what, format string, pattern *stitch.Pattern, bar float64) {
	t.Helper()
	name := "large." + format
	data, err := stitch.Encode(name, pattern)
	require.NoError(t, err)
	adding, reading, ratio := compared(201, func() {
		local := uint64(0)
		for _, b := range data {
			local += uint64(b)
		}
		sum = local
	}, func() {
		p, _, err := stitch.Decode(name, data)
		require.NoError(t, err)
		require.NotEmpty(t, stitch.Analyse(p).Stops)
	})
	row(fmt.Sprintf("read and analyse %s, .%s", what, format),
		fmt.Sprintf("%v, %.1f × the %v of adding its bytes", reading, ratio, adding), fmt.Sprintf("%.0f ×", bar))
	assert.LessOrEqual(t, ratio, bar, "%s, %s", what, format)
}

// TestPlanningAClass plans 12 people at 5 machines, 9 steps each, as the
// pages do.
func TestPlanningAClass(t *testing.T) {
	const bar = 300 * time.Millisecond
	p := scheduletest.Class(12, 5, 1)
	var r schedule.Plan
	took := median(9, func() {
		var err error
		r, err = search.Solve(p, search.Options{Seed: 1})
		require.NoError(t, err)
	})
	require.NoError(t, scheduletest.Check(p, r))
	row("plan 12 people × 5 machines × 9 steps",
		fmt.Sprintf("%v, %.0f min, lower bound %.0f", took.Round(time.Millisecond), r.MakespanMinutes, r.LowerBoundMinutes),
		bar.String())
	assert.Less(t, took, bar)
}

// TestCuttingPlans lays sixty pieces that were cut from a full rectangle, and
// a hundred such jobs of all sizes.
func TestCuttingPlans(t *testing.T) {
	const bar, mean, worst = 200 * time.Millisecond, 1.06, 1.15
	m, pieces, best := cutplantest.Known(rand.New(rand.NewPCG(60, 11)), 60)
	var l cutplan.Layout
	took := median(9, func() {
		var err error
		l, err = cutplan.Plan(m, pieces)
		require.NoError(t, err)
	})
	require.NoError(t, cutplantest.Check(m, pieces, l))
	row(fmt.Sprintf("lay %d pieces for straight cuts", len(pieces)),
		fmt.Sprintf("%v, %.3f × the best length", took.Round(time.Millisecond), l.LengthMM/best), bar.String())
	assert.Less(t, took, bar)
	sum, most := 0.0, 0.0
	for seed := range uint64(100) {
		rng := rand.New(rand.NewPCG(seed, 11))
		m, pieces, best := cutplantest.Known(rng, 8+rng.IntN(53))
		l, err := cutplan.Plan(m, pieces)
		require.NoError(t, err)
		require.NoError(t, cutplantest.Check(m, pieces, l))
		sum, most = sum+l.LengthMM/best, max(most, l.LengthMM/best)
	}
	row("100 cutting jobs of known best length", fmt.Sprintf("mean %.4f ×, worst %.4f ×", sum/100, most),
		"1.06 ×, 1.15 ×")
	assert.LessOrEqual(t, sum/100, mean)
	assert.LessOrEqual(t, most, worst)
}
