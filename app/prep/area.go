// Package prep gets classes ready: kits, what is taken from the shelf and bought, cards and labels.
package prep

import (
	"chalkstep/app/actor"
	"chalkstep/app/classload"
)

// UseCases are those of somebody at work in this area.
type UseCases struct{ actor.Actor }

// load reads classes.
func (d UseCases) load() classload.Loader { return classload.Loader{Actor: d.Actor} }
