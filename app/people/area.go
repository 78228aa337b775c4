// Package people keeps the workshop itself, who works in it, and its students.
package people

import "chalkstep/app/actor"

// A UseCases is somebody at work in this area.
type UseCases struct{ actor.Actor }
