// Package live runs classes: what happens in them, as instructors, phones beside machines and students see it.
package live

import (
	"chalkstep/app/actor"
	"chalkstep/app/classload"
)

// UseCases are those of somebody at work in this area.
type UseCases struct{ actor.Actor }

// load reads classes.
func (d UseCases) load() classload.Loader { return classload.Loader{Actor: d.Actor} }
