package actor

import (
	"chalkstep/core/design"
	"chalkstep/core/stitch/picture"
)

// SeenAt are the stops of a design that have been sewn when a stop is, in the
// order in which they are.
func SeenAt(d design.Design, stop int) []picture.Seen {
	var seen []picture.Seen
	for _, s := range d.Stops {
		seen = append(seen, picture.Seen{Stop: s.N, Color: s.Color})
		if s.N == stop {
			break
		}
	}
	return seen
}
