package pace

// Drawn is the top thread that was really used, with what it is estimated from: the path
// on the face and the ends, one for each trim and each colour start. Only what was
// measured counts.
type Drawn struct {
	RealMM float64 `json:"real_mm"`
	PathMM float64 `json:"path_mm"`
	Ends   int     `json:"ends"`
}

// Measured tells that there is something to learn from.
func (d Drawn) Measured() bool { return d.RealMM > 0 && d.PathMM > 0 }

// And is what both come to.
func (d Drawn) And(other Drawn) Drawn {
	return Drawn{d.RealMM + other.RealMM, d.PathMM + other.PathMM, d.Ends + other.Ends}
}

// Thread is what so many classes used. Where it was set aside it says why, and is not
// learned from.
type Thread struct {
	Drawn
	Classes int    `json:"classes,omitempty"`
	Aside   string `json:"aside,omitempty"`
}

// Used is what is learned from.
func (t Thread) Used() Drawn {
	if t.Aside != "" {
		return Drawn{}
	}
	return t.Drawn
}
