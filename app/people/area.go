// Package people keeps the workshop itself, who works in it, and its students.
package people

import "chalkstep/app/desk"

// A Desk is somebody at work in this area.
type Desk struct{ desk.Desk }
