package hoop

// A Kind of hoop is how it holds.
type Kind string

// The kinds of hoop: two rings and a screw, two frames and magnets, a clamp
// for bands.
const (
	Screw    Kind = "screw"
	Magnetic Kind = "magnetic"
	Clamp    Kind = "clamp"
)

// Kinds in the order in which a page asks for them.
var Kinds = []Kind{Screw, Magnetic, Clamp}
