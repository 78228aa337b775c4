package kit

// A ThreadRun is the top thread one stitch-out really used, with what it is
// estimated from: the path on the face and the ends, one for each trim and
// each colour start.
type ThreadRun struct {
	RealMM, PathMM float64
	Ends           int
}

// Learning starts as if trustMM of path had drawn as much as the figure says;
// the factor stays within what thread can do.
const (
	trustMM  = 20_000
	leastFor = 1.0
	mostFor  = 2.5
)

// LearnedDraw is the draw factor after logged runs (handbook, Estimating
// thread: the factors learn from real use). Runs without a measured thread
// say nothing.
func (f Figures) LearnedDraw(runs []ThreadRun) float64 {
	drew, path := trustMM*f.DrawFactor, float64(trustMM)
	for _, r := range runs {
		if r.RealMM <= 0 || r.PathMM <= 0 {
			continue
		}
		drew += r.RealMM - float64(r.Ends)*f.TailMM
		path += r.PathMM
	}
	return min(mostFor, max(leastFor, drew/path))
}
