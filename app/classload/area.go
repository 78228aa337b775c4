// Package classload reads classes for whoever plans, prepares, runs or ends them: a class with its
// plan, its log, what it takes from the shelf, and cards.
package classload

import "chalkstep/app/actor"

// A Loader reads classes for somebody. It names no permission: its users do.
type Loader struct{ actor.Actor }
