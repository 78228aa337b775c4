// Package designs is where stitch files become designs of the workshop: adding
// them, looking at them, placing them in hoops, and logging how they sewed out.
package designs

import "chalkstep/app/actor"

// UseCases are those of somebody at work in this area.
type UseCases struct{ actor.Actor }
