// Package stock keeps what is on the shelf and every movement of it.
package stock

import "chalkstep/app/actor"

// UseCases are those of somebody at work in this area.
type UseCases struct{ actor.Actor }
