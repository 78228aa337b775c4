// Package people keeps the workshop itself, who works in it, and its students.
package people

import "chalkstep/app/actor"

// UseCases are those of somebody at work in this area.
type UseCases struct{ actor.Actor }
