package kit

// Drawn is the top thread that stitch-outs really used, with what it is
// estimated from: the path on the face and the ends, one for each trim and
// each colour start. Only runs whose thread was measured count.
type Drawn struct {
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
// thread: the factors learn from real use).
func (f Figures) LearnedDraw(d Drawn) float64 {
	drew := trustMM*f.DrawFactor + d.RealMM - float64(d.Ends)*f.TailMM
	return min(mostFor, max(leastFor, drew/(trustMM+d.PathMM)))
}
