// Package fleet is the machines and hoops of the room, and their care.
package fleet

import "chalkstep/app/actor"

// UseCases are those of somebody at work in this area.
type UseCases struct{ actor.Actor }
