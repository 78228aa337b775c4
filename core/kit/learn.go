package kit

import "chalkstep/core/pace"

// Learning starts as if trustMM of path had drawn as much as the figure says;
// the factor stays within what thread can do.
const (
	trustMM  = 20_000
	leastFor = 1.0
	mostFor  = 2.5
)

// LearnedDraw is the draw factor after what was really used (handbook, Estimating
// thread: the factors learn from real use).
func (f Figures) LearnedDraw(d pace.Drawn) float64 {
	drew := trustMM*f.DrawFactor + d.RealMM - float64(d.Ends)*f.TailMM
	return min(mostFor, max(leastFor, drew/(trustMM+d.PathMM)))
}
