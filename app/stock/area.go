// Package stock keeps what is on the shelf and every movement of it.
package stock

import "chalkstep/app/actor"

// A UseCases is somebody at work in this area.
type UseCases struct{ actor.Actor }
