// Package wrapup ends classes: what came of them, photos, notes and make-ups.
package wrapup

import (
	"chalkstep/app/actor"
	"chalkstep/app/classload"
)

// UseCases are those of somebody at work in this area.
type UseCases struct{ actor.Actor }

// load reads classes.
func (d UseCases) load() classload.Loader { return classload.Loader{Actor: d.Actor} }
