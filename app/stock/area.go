// Package stock keeps what is on the shelf and every movement of it.
package stock

import "chalkstep/app/desk"

// A Desk is somebody at work in this area.
type Desk struct{ desk.Desk }
