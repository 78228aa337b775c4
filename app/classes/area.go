// Package classes plans classes and gets them ready: who sits where and when,
// kits, cards, what is packed from the shelf and what is left to buy.
package classes

import "chalkstep/app/actor"

// A UseCases is somebody at work in this area.
type UseCases struct{ actor.Actor }
