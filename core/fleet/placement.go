package fleet

import (
	"time"

	"chalkstep/core/hoop"
)

// A Placement is where a design lies in a hoop of a machine, and at what size.
// Version is 0 where none is kept.
type Placement struct {
	Version                     int
	DesignID, MachineID, HoopID int64
	hoop.Placing
	Percent int
	Basted  bool
	// Override is who set a lock on resizing aside, nil while nobody did.
	Override *Override
}

// An Override sets a lock on resizing aside.
type Override struct {
	ByID       int64
	By, Reason string
	At         time.Time
}
