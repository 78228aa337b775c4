// Package live is a class day while it runs: a log of what happened, the state of the
// room that follows from it, and the plan of what is left. The state is a pure function
// of the plan and the log, so that it can be replayed, and is the same wherever it is
// worked out.
package live

import (
	"time"

	"chalkstep/core/pace"
)

// An Event is something that happened. Events are only added to the log.
type Event struct {
	// Seq is its place in the log of the class, from 1.
	Seq  int64
	Kind Kind
	// At is when it happened by the clock of the class; NotedAt when it was written
	// down: what a phone kept while it had no connection is noted later.
	At, NotedAt time.Time
	StudentID   int64
	// WithID is whom they change places with: what is written down names both apart.
	WithID int64
	// MachineID is which one.
	MachineID int64
	// Step is which one; Stop the one of its sewing.
	Step pace.StepKey
	Stop int
	// Reason is what a hand is up for.
	Reason Reason
	// Until is when somebody who is late comes.
	Until time.Time
	// Text of a note, or the key of an offer.
	Text string
	// Moves are those of an offer that is taken: what is written down names each apart.
	Moves []Move
	// Speed of the clock of the class, 1 for that on the wall.
	Speed float64
	// Undoes is the Seq of the event that is taken back.
	Undoes int64
	// PartOf is the Seq of the first event that was noted by the same press, 0 for one noted alone.
	PartOf int64
	// Sender is what whoever sent it calls it, so that it counts once; StationID the
	// machine whose phone sent it, 0 for none.
	Sender    string
	StationID int64
	// By names who said so.
	By string
}
