package pace

import "math"

// Runs are what the logged stitch-outs of a machine come to: how many minutes
// sewing took, and how many the figures said with nothing learned.
type Runs struct {
	Count                    int
	TookMinutes, SaidMinutes float64
	// Breaks are those that were counted, in so many BreakStitches.
	Breaks, BreakStitches int
	// Off is the sum of the logarithms of what each run took by what was said of it,
	// OffSquares that of their squares.
	Off, OffSquares float64
}

// Learning is slow on purpose: it starts as if trustMinutes of sewing had gone
// as estimated, so that one odd run does not turn a plan over, and a machine
// is never taken for more than twice as fast or slow.
const (
	trustMinutes  = 20
	mostOff       = 2.0
	leastOfSewing = 0.2 // of the estimate, where the rest ate nearly all of a run
	// What is known of breaks starts as if so many stitches had broken as usual, of how
	// runs vary as if so many had varied so.
	trustStitches = 20_000
	trustRuns     = 8
	leastSpread   = 0.03
	mostSpread    = 1
)

// Sewn is what of the minutes of a stitch-out was sewing: what it took beyond
// changes, snips and handling, which the estimate has apart.
func Sewn(minutes float64, said StitchOut) float64 {
	return max(leastOfSewing*said.Sewing, minutes-(said.Total-said.Sewing))
}

// Learned is a machine's pace for mixed work from its logged runs: the share
// of its top speed that it really reaches. It is 0 where there is no run,
// which stands for nothing learned.
func (f Figures) Learned(runs Runs) float64 {
	if runs.Count == 0 {
		return 0
	}
	took, said := trustMinutes+runs.TookMinutes, trustMinutes+runs.SaidMinutes
	return f.MixedPace / min(mostOff, max(1/mostOff, took/said))
}

// BreakRate is how often the thread breaks in 10,000 stitches, by what was counted of a
// machine.
func (f Figures) BreakRate(runs Runs) float64 {
	return 10_000 * (f.BreaksPer10000*trustStitches/10_000 + float64(runs.Breaks)) / (trustStitches +
		float64(runs.BreakStitches))
}

// Spread is how the minutes of sewing vary at a machine, as a standard deviation by what
// was logged of it.
func (f Figures) Spread(runs Runs) float64 {
	around := 0.0 // of squares around their mean
	if runs.Count > 1 {
		around = max(0, runs.OffSquares-runs.Off*runs.Off/float64(runs.Count))
	}
	variance := (trustRuns*f.SewSpread*f.SewSpread + around) / (trustRuns + float64(max(0, runs.Count-1)))
	return min(mostSpread, max(leastSpread, math.Sqrt(variance)))
}
