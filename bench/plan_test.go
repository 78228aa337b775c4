//go:build bench

package bench

import (
	"fmt"
	"os"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/floor"
	"chalkstep/core/floor/floortest"
)

// within plans for so long, and has the plan checked.
func within(t *testing.T, p floor.Problem, budget time.Duration) floor.Result {
	t.Helper()
	end := time.Now().Add(budget)
	r, err := floor.Plan(p, floor.Options{Iterations: 1 << 60, Seed: 1, Stop: func() bool { return !time.Now().Before(end) }})
	require.NoError(t, err)
	require.NoError(t, floortest.Check(p, r))
	return r
}

// TestTwoHundredClasses plans classes as workshops hold them, half a second each.
func TestTwoHundredClasses(t *testing.T) {
	const classes = 200
	bound, firstCome, worst := 0.0, 0.0, 0.0
	for seed := range uint64(classes) {
		p := floortest.Generated(seed)
		r := within(t, p, 500*time.Millisecond)
		require.LessOrEqual(t, r.LowerBoundMinutes, r.MakespanMinutes+1e-6)
		ratio := r.MakespanMinutes / r.LowerBoundMinutes
		bound, worst = bound+ratio, max(worst, ratio)
		firstCome += r.MakespanMinutes / floortest.FirstCome(p)
	}
	row("200 classes: plan ÷ lower bound", fmt.Sprintf("mean %.4f, worst %.4f", bound/classes, worst), "mean 1.05")
	row("200 classes: sooner than first come, first served", fmt.Sprintf("%.1f %%", 100*(1-firstCome/classes)), "12 %")
	assert.LessOrEqual(t, firstCome/classes, 0.88)
}

// TestHalfASecondIsEnough compares plans of half a second with the best of a long
// search, CHALKSTEP_LONG each (5 s).
func TestHalfASecondIsEnough(t *testing.T) {
	const classes = 16
	long, err := time.ParseDuration(os.Getenv("CHALKSTEP_LONG"))
	if err != nil {
		long = 5 * time.Second
	}
	mean, worst := 0.0, 0.0
	for i := range uint64(classes) {
		p := floortest.Generated(12 * i)
		short := within(t, p, 500*time.Millisecond)
		best := min(short.MakespanMinutes, within(t, p, long).MakespanMinutes)
		ratio := short.MakespanMinutes / best
		mean, worst = mean+ratio/classes, max(worst, ratio)
	}
	row(fmt.Sprintf("16 classes: 500 ms ÷ the best of %v", long), fmt.Sprintf("mean %.4f, worst %.4f", mean, worst), "1.005, 1.02")
	assert.LessOrEqual(t, worst, 1.04)
}

// TestShops plans job shops: two with a known shortest plan, and random ones against
// a search twenty times as long.
func TestShops(t *testing.T) {
	six := within(t, floortest.ShopOf(floortest.SixBySix), 100*time.Millisecond)
	row("job shop 6 × 6 in 100 ms", fmt.Sprintf("%.0f", six.MakespanMinutes), "55, the optimum")
	assert.EqualValues(t, 55, six.MakespanMinutes)
	ten := within(t, floortest.ShopOf(floortest.TenByTen), 2*time.Second)
	row("job shop 10 × 10 in 2 s", fmt.Sprintf("%.0f", ten.MakespanMinutes), "939, within 1 % of 930")
	assert.LessOrEqual(t, ten.MakespanMinutes, 939.0)
	for _, size := range [][2]int{{15, 10}, {15, 15}, {20, 10}} {
		mean := 0.0
		for seed := range uint64(3) {
			p := floortest.Shop(size[0], size[1], seed)
			short := within(t, p, 500*time.Millisecond).MakespanMinutes
			mean += short / min(short, within(t, p, 10*time.Second).MakespanMinutes) / 3
		}
		row(fmt.Sprintf("3 job shops %d × %d: 500 ms ÷ the best of 10 s", size[0], size[1]), fmt.Sprintf("%.4f", mean), "1.03")
		assert.LessOrEqual(t, mean, 1.03)
	}
}
