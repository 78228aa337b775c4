package rule

import "chalkstep/core/say"

// A Figure of some rules.
type Figure[R any] struct {
	Key            string
	Title, Because say.Word
	Least, Most    int
	// At is where it stands in the rules.
	At func(*R) *int
}

// Of is the figure in some rules.
func (f Figure[R]) Of(r R) int { return *f.At(&r) }

// Set changes it.
func (f Figure[R]) Set(r *R, n int) { *f.At(r) = n }
