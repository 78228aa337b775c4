// Package planning plans classes: who comes, what they make, at which machines and when, and what would help.
package planning

import (
	"chalkstep/app/actor"
	"chalkstep/app/classload"
)

// UseCases are those of somebody at work in this area.
type UseCases struct{ actor.Actor }

// load reads classes.
func (d UseCases) load() classload.Loader { return classload.Loader{Actor: d.Actor} }
