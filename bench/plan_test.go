//go:build bench

package bench

import (
	"encoding/csv"
	"fmt"
	"maps"
	"os"
	"slices"
	"strconv"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/schedule"
	"chalkstep/core/schedule/scheduletest"
	"chalkstep/core/schedule/search"
)

// within plans for so long, and has the plan checked.
func within(t *testing.T, p schedule.Problem, budget time.Duration) schedule.Plan {
	t.Helper()
	begun := time.Now()
	r, err := search.Solve(p,
		search.Options{Seed: 1, Used: func() float64 { return float64(time.Since(begun)) / float64(budget) }})
	require.NoError(t, err)
	require.NoError(t, scheduletest.Check(p, r))
	return r
}

// generated is how many classes the bars are about.
const generated = 200

// minuteFile has the length of the best plan that a minute of search found, by class: all
// of them take longer than anybody waits for a measurement, so that they are kept.
const minuteFile = "testdata/best-of-a-minute.csv"

// searched is the search whose minutes count. It is raised when the search finds shorter
// plans: then every class is searched a minute anew. What an earlier search found in a minute, or
// a later one, is kept where it is shorter, so that a plan is held to more than one minute's.
const searched = 3

// A minute is what a minute of a search found.
type minute struct {
	search  int
	minutes float64
}

// TestTwoHundredClasses plans classes as workshops hold them, half a second each.
func TestTwoHundredClasses(t *testing.T) {
	minutes := bestOfAMinute(t)
	bound, firstCome, worst, longer, longest, measured := 0.0, 0.0, 0.0, 0.0, 0.0, 0
	hardest := uint64(0)
	for seed := range uint64(generated) {
		p := scheduletest.Generated(seed)
		r := within(t, p, 500*time.Millisecond)
		require.LessOrEqual(t, r.LowerBoundMinutes, r.MakespanMinutes+1e-6)
		ratio := r.MakespanMinutes / r.LowerBoundMinutes
		bound, worst = bound+ratio, max(worst, ratio)
		firstCome += r.MakespanMinutes / scheduletest.FirstCome(p)
		if best := minutes[seed]; best.search == searched {
			ratio := r.MakespanMinutes / min(best.minutes, r.MakespanMinutes)
			longer, measured = longer+ratio, measured+1
			if ratio > longest {
				longest, hardest = ratio, seed
			}
		}
	}
	row("200 classes: plan ÷ lower bound", fmt.Sprintf("mean %.4f, worst %.4f", bound/generated, worst), "mean 1.05")
	row("200 classes: sooner than first come, first served", fmt.Sprintf("%.1f %%", 100*(1-firstCome/generated)), "12 %")
	require.Positive(t, measured)
	longer /= float64(measured)
	row(fmt.Sprintf("%d classes: 500 ms ÷ the best of a minute", measured),
		fmt.Sprintf("mean %.4f, worst %.4f (class %d)", longer, longest, hardest), "1.005, 1.02")
	assert.LessOrEqual(t, bound/generated, 1.05)
	assert.LessOrEqual(t, firstCome/generated, 0.88)
	assert.LessOrEqual(t, longer, 1.005)
	assert.LessOrEqual(t, longest, 1.02)
}

func bestOfAMinute(t *testing.T) map[uint64]minute {
	t.Helper()
	file, err := os.Open(minuteFile)
	require.NoError(t, err)
	defer file.Close()
	rows, err := csv.NewReader(file).ReadAll()
	require.NoError(t, err)
	best := map[uint64]minute{}
	for _, row := range rows[1:] {
		var found minute
		seed, err := strconv.ParseUint(row[0], 10, 64)
		require.NoError(t, err)
		found.search, err = strconv.Atoi(row[1])
		require.NoError(t, err)
		found.minutes, err = strconv.ParseFloat(row[2], 64)
		require.NoError(t, err)
		best[seed] = found
	}
	return best
}

func keepMinutes(t *testing.T, best map[uint64]minute) {
	t.Helper()
	lines := "class,search,minutes\n"
	for _, seed := range slices.Sorted(maps.Keys(best)) {
		lines += fmt.Sprintf("%d,%d,%.3f\n", seed, best[seed].search, best[seed].minutes)
	}
	require.NoError(t, os.WriteFile(minuteFile, []byte(lines), 0o644))
}

// TestBestOfAMinute searches a minute each for so many of the classes whose minute is not in
// the file yet, CHALKSTEP_MINUTES of them (none), and keeps them there. They are taken from
// here and there, so that any number of them is a sample.
func TestBestOfAMinute(t *testing.T) {
	left, err := strconv.Atoi(os.Getenv("CHALKSTEP_MINUTES"))
	if err != nil {
		t.Skip("CHALKSTEP_MINUTES says how many classes to search a minute each")
	}
	best := bestOfAMinute(t)
	const apart = 37 // has no divisor in common with their number: each comes once
	for i := range uint64(generated) {
		seed := apart * i % generated
		if best[seed].search == searched || left == 0 {
			continue
		}
		left--
		found := within(t, scheduletest.Generated(seed), time.Minute).MakespanMinutes
		if earlier := best[seed]; earlier.search > 0 {
			found = min(found, earlier.minutes)
		}
		best[seed] = minute{searched, found}
		keepMinutes(t, best)
	}
}

// TestShops plans job shops: two with a known shortest plan, and random ones against
// a search twenty times as long.
func TestShops(t *testing.T) {
	six := within(t, scheduletest.ShopOf(scheduletest.SixBySix), 100*time.Millisecond)
	row("job shop 6 × 6 in 100 ms", fmt.Sprintf("%.0f", six.MakespanMinutes), "55, the optimum")
	assert.EqualValues(t, 55, six.MakespanMinutes)
	ten := within(t, scheduletest.ShopOf(scheduletest.TenByTen), 2*time.Second)
	row("job shop 10 × 10 in 2 s", fmt.Sprintf("%.0f", ten.MakespanMinutes), "948, within 2 % of 930")
	assert.LessOrEqual(t, ten.MakespanMinutes, 1.02*930)
	for _, size := range [][2]int{{15, 10}, {15, 15}, {20, 10}} {
		mean := 0.0
		for seed := range uint64(3) {
			p := scheduletest.Shop(size[0], size[1], seed)
			short := within(t, p, 500*time.Millisecond).MakespanMinutes
			mean += short / min(short, within(t, p, 10*time.Second).MakespanMinutes) / 3
		}
		row(fmt.Sprintf("3 job shops %d × %d: 500 ms ÷ the best of 10 s", size[0], size[1]), fmt.Sprintf("%.4f", mean),
			"1.05")
		assert.LessOrEqual(t, mean, 1.05)
	}
}
