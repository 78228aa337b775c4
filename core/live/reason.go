package live

import "chalkstep/core/say"

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
	Strike: {"needle strike or an injury",
		"Stop the machine and switch it off. See to the student first; first aid and the room's own rules come before the " +
			"work."},
	Smoke: {"smoke or a burning smell",
		"Switch the machine off at the wall and leave it off. Follow the room's own rules; the machine's manual says who " +
			"may look into it."},
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
