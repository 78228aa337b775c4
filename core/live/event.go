// Package live is a class day while it runs: a log of what happened, the state of the
// room that follows from it, and the plan of what is left. The state is a pure function
// of the plan and the log, so that it can be replayed, and is the same wherever it is
// worked out.
package live

import (
	"time"

	"chalkstep/core/pace"
	"chalkstep/core/say"
)

// A Kind is what can happen.
type Kind string

// What can happen while a class runs.
const (
	// Started is that the class began; nothing counts before it.
	Started Kind = "started"
	// Here is that a student came, or came back; Late that they come later, by Until;
	// Gone that they left machine and hoop.
	Here Kind = "here"
	Late Kind = "late"
	Gone Kind = "gone"
	// Done is that a student is done with a step, Skipped that they leave it out;
	// StopDone that a stop of the sewing they are at is sewn.
	Done     Kind = "done"
	Skipped  Kind = "skipped"
	StopDone Kind = "stop-done"
	// Going is that a machine sews, or sews again: a piece is laid or trimmed, a thread is
	// back, or nothing was heard of it for long.
	Going Kind = "going"
	// Seated is that a student sits, or is to sit, at a machine.
	Seated Kind = "seated"
	// HandUp is that a student wants somebody, for a Reason; Settled that somebody came.
	HandUp  Kind = "hand-up"
	Settled Kind = "settled"
	// Noted is something to remember, for staff alone.
	Noted Kind = "noted"
	// Failed is that a machine is out of order, Mended that it works again.
	Failed Kind = "failed"
	Mended Kind = "mended"
	// Clocked sets how fast the clock of the class goes, for a rehearsal.
	Clocked Kind = "clocked"
	// Undone takes another event back, as if it had not been.
	Undone Kind = "undone"
)

// The fields of an event that kinds have beside the time.
type fields struct{ student, maybeStudent, machine, step, stop, reason, until, text, speed, undoes bool }

var kinds = map[Kind]fields{
	Started: {}, Here: {student: true}, Late: {student: true, until: true}, Gone: {student: true},
	Done: {student: true, step: true}, Skipped: {student: true, step: true}, StopDone: {student: true, step: true, stop: true}, Going: {student: true},
	Seated: {student: true, machine: true}, HandUp: {student: true, reason: true}, Settled: {student: true},
	Noted: {maybeStudent: true, text: true}, Failed: {machine: true}, Mended: {machine: true}, Clocked: {speed: true}, Undone: {undoes: true},
}

// Is tells whether it is one of the kinds there are.
func (k Kind) Is() bool { _, is := kinds[k]; return is }

// An Event is something that happened. Events are only added to the log.
type Event struct {
	// Seq is its place in the log of the class, from 1.
	Seq  int64
	Kind Kind
	// At is when it happened by the clock of the class; NotedAt when it was written
	// down: what a phone kept while it had no connection is noted later.
	At, NotedAt time.Time
	StudentID   int64
	// MachineID of Seated, Failed and Mended.
	MachineID int64
	// Step is which one, of Done, Skipped and StopDone; Stop the one that is sewn.
	Step pace.StepKey
	Stop int
	// Reason is what a hand is up for.
	Reason Reason
	// Until is when somebody who is late comes.
	Until time.Time
	// Text of a note.
	Text string
	// Speed of the clock of the class, 1 for that on the wall.
	Speed float64
	// Undoes is the Seq of the event that is taken back.
	Undoes int64
	// Sender is what whoever sent it calls it, so that it counts once; StationID the
	// machine whose phone sent it, 0 for none.
	Sender    string
	StationID int64
	// By names who said so.
	By string
}

// Plain is the event with what its kind says, and nothing else.
func (e Event) Plain() Event {
	has := kinds[e.Kind]
	plain := Event{Seq: e.Seq, Kind: e.Kind, At: e.At, NotedAt: e.NotedAt, Sender: e.Sender, StationID: e.StationID, By: e.By}
	if has.student || has.maybeStudent {
		plain.StudentID = e.StudentID
	}
	if has.machine {
		plain.MachineID = e.MachineID
	}
	if has.step {
		plain.Step = e.Step
	}
	if has.stop {
		plain.Stop = e.Stop
	}
	if has.reason {
		plain.Reason = e.Reason
	}
	if has.until {
		plain.Until = e.Until
	}
	if has.text {
		plain.Text = e.Text
	}
	if has.speed {
		plain.Speed = e.Speed
	}
	if has.undoes {
		plain.Undoes = e.Undoes
	}
	return plain
}

// A Reason is what a hand is up for.
type Reason string

// Reasons for a hand, as the Urgency goes.
const (
	Strike   Reason = "needle-strike"
	Smoke    Reason = "smoke"
	Nest     Reason = "nest"
	Break    Reason = "thread-broke"
	Bobbin   Reason = "bobbin-out"
	Piece    Reason = "next-piece"
	SignOff  Reason = "sign-off"
	Question Reason = "question"
)

// Reasons lists them, the most urgent first.
var Reasons = []Reason{Strike, Smoke, Nest, Break, Bobbin, Piece, SignOff, Question}

// reasons have their names, and what is said beside those at which somebody can be hurt.
var reasons = map[Reason]struct{ name, caution string }{
	Strike:   {"needle strike or an injury", "Stop the machine and switch it off. See to the student first; first aid and the room's own rules come before the work."},
	Smoke:    {"smoke or a burning smell", "Switch the machine off at the wall and leave it off. Follow the room's own rules; the machine's manual says who may look into it."},
	Nest:     {"thread nest", "Stop the machine before anybody reaches under the hoop."},
	Break:    {"thread broke", ""},
	Bobbin:   {"bobbin out", ""},
	Piece:    {"next piece to lay", ""},
	SignOff:  {"sign-off", ""},
	Question: {"question", ""},
}

// Is tells whether it is one of the reasons there are.
func (r Reason) Is() bool { _, is := reasons[r]; return is }

// Text is what it is called.
func (r Reason) Text() say.Text { return say.T(reasons[r].name) }

// OfMachine tells that what was wrong is over when the machine sews again.
func (r Reason) OfMachine() bool { return r == Break || r == Bobbin || r == Piece }

// Caution is what is said first, silent where nobody can be hurt.
func (r Reason) Caution() say.Text {
	if reasons[r].caution == "" {
		return say.Text{}
	}
	return say.T(reasons[r].caution)
}

// LongestNote is how many letters a note about somebody or a class has.
const LongestNote = 500
