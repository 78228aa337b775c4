// Package projects keeps what students make: designs, a blank, parts and steps.
package projects

import "chalkstep/app/desk"

// A Desk is somebody at work in this area.
type Desk struct{ desk.Desk }
