// Package room keeps the machines and hoops, and who has booked which when.
package room

import "chalkstep/app/desk"

// A Desk is somebody at work in this area.
type Desk struct{ desk.Desk }
