// Package room keeps the machines and hoops, and who has booked which when.
package room

import "chalkstep/app/actor"

// A UseCases is somebody at work in this area.
type UseCases struct{ actor.Actor }
