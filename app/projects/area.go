// Package projects keeps what students make: designs, a blank, parts and steps.
package projects

import "chalkstep/app/actor"

// UseCases are those of somebody at work in this area.
type UseCases struct{ actor.Actor }
