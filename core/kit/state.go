package kit

import "slices"

// A State is how far a kit is.
type State string

// The states of a kit.
const (
	ToCut     State = "to cut"
	Cut       State = "cut"
	Packed    State = "packed"
	HandedOut State = "handed out"
	Returned  State = "returned"
)

// States in the order a kit goes through them.
var States = []State{ToCut, Cut, Packed, HandedOut, Returned}

// Next is the state a kit goes to next; ok is false at the end.
func (s State) Next() (next State, ok bool) {
	i := slices.Index(States, s)
	if i < 0 || i+1 >= len(States) {
		return "", false
	}
	return States[i+1], true
}

// Been tells whether a kit has been in a state by now.
func (s State) Been(state State) bool { return slices.Index(States, s) >= slices.Index(States, state) }

// Complete tells whether everything has to be in the bag in this state. What
// comes back may have been used.
func (s State) Complete() bool { return s == Packed || s == HandedOut }
