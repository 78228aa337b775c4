package pace

// A Run is one logged stitch-out, in minutes, beside what the figures said of
// it with nothing learned.
type Run struct {
	Real, Estimated float64
	// Sewing is the part of the estimate that is stitching.
	Sewing float64
}

// Learning is slow on purpose: it starts as if trustMinutes of sewing had gone
// as estimated, so that one odd run does not turn a plan over, and a machine
// is never taken for more than twice as fast or slow.
const (
	trustMinutes  = 20
	mostOff       = 2.0
	leastOfSewing = 0.2 // of the estimate, where the rest ate nearly all of a run
)

// Learned is a machine's pace for mixed work from its logged runs: the share
// of its top speed that it really reaches. What a run took beyond changes,
// snips and handling, which the estimate has apart, was sewing. It is 0 where
// there is no run, which stands for nothing learned.
func (f Figures) Learned(runs []Run) float64 {
	if len(runs) == 0 {
		return 0
	}
	took, said := float64(trustMinutes), float64(trustMinutes)
	for _, r := range runs {
		took += max(leastOfSewing*r.Sewing, r.Real-(r.Estimated-r.Sewing))
		said += r.Sewing
	}
	return f.MixedPace / min(mostOff, max(1/mostOff, took/said))
}
