// Package run is a class day while it runs: a log of what happened, the state of the
// room that follows from it, and the plan of what is left. The state is a pure function
// of the plan and the log, so that it can be replayed, and is the same wherever it is
// worked out.
package run

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
	// Here is that a student came, or came back; Gone that they left machine and hoop.
	Here Kind = "here"
	Gone Kind = "gone"
	// Done is that a student is done with a step, Skipped that they leave it out.
	Done    Kind = "done"
	Skipped Kind = "skipped"
	// HandUp is that a student wants somebody, for a Reason; Settled that somebody came.
	HandUp  Kind = "hand-up"
	Settled Kind = "settled"
	// Undone takes another event back, as if it had not been.
	Undone Kind = "undone"
)

// Kinds lists them all.
var Kinds = []Kind{Started, Here, Gone, Done, Skipped, HandUp, Settled, Undone}

// OfStudent tells whether an event of a kind is about a student.
func (k Kind) OfStudent() bool { return k != Started && k != Undone }

// An Event is something that happened. Events are only added to the log.
type Event struct {
	// Seq is its place in the log of the class, from 1.
	Seq       int64
	Kind      Kind
	At        time.Time
	StudentID int64
	// Step is which one, of Done and Skipped.
	Step pace.StepKey
	// Reason is what a hand is up for.
	Reason Reason
	// Undoes is the Seq of the event that is taken back.
	Undoes int64
	// By names who said so.
	By string
}

// Plain is the event with what its kind says, and nothing else.
func (e Event) Plain() Event {
	plain := Event{Seq: e.Seq, Kind: e.Kind, At: e.At, By: e.By}
	if e.Kind.OfStudent() {
		plain.StudentID = e.StudentID
	}
	switch e.Kind {
	case Done, Skipped:
		plain.Step = e.Step
	case HandUp:
		plain.Reason = e.Reason
	case Undone:
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

// Caution is what is said first, silent where nobody can be hurt.
func (r Reason) Caution() say.Text {
	if reasons[r].caution == "" {
		return say.Text{}
	}
	return say.T(reasons[r].caution)
}
