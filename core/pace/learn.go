package pace

// Runs are what the logged stitch-outs of a machine come to: how many minutes
// sewing took, and how many the figures said with nothing learned.
type Runs struct {
	Count                    int
	TookMinutes, SaidMinutes float64
}

// Learning is slow on purpose: it starts as if trustMinutes of sewing had gone
// as estimated, so that one odd run does not turn a plan over, and a machine
// is never taken for more than twice as fast or slow.
const (
	trustMinutes  = 20
	mostOff       = 2.0
	leastOfSewing = 0.2 // of the estimate, where the rest ate nearly all of a run
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
