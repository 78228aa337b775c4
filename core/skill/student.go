package skill

import (
	"slices"
	"time"
)

// A Kind of machine: what is learned on one is known on all of its kind.
type Kind string

// The kinds of machine.
const (
	SingleNeedle Kind = "single-needle"
	MultiNeedle  Kind = "multi-needle"
)

// Kinds of machine.
var Kinds = []Kind{SingleNeedle, MultiNeedle}

// A Student of the workshop. ID and Version name the row.
type Student struct {
	ID      int64
	Version int
	Name    string
	// FirstTimer tells that they had never done it when they came; see [Student.StillNew].
	FirstTimer bool
	// Units names what they measure in, empty where nobody has said: see
	// [measure.UnitsNamed].
	Units string
	// Size of what they wear; Notes, access needs among them, are for staff alone; Photos
	// tells that they may be photographed.
	Size, Notes string
	Photos      bool
	SignOffs    []SignOff
	// Seen is when they were last marked, by kind of machine.
	Seen map[Kind]time.Time
	// Suspended says why they may not have a machine alone for now, empty where nobody
	// said so.
	Suspended string
}

// A SignOff says that a step of the ladder counts as reached by a student on a kind of
// machine (see [Standing.Reached]), since when, and who saw it.
type SignOff struct {
	Skill    Key
	On       Kind
	Date     time.Time
	Assessor string
	// Alone tells that they did it alone at least once.
	Alone bool
}

// StillNew tells that somebody who came as a first-timer takes longer yet over everything
// done by hand: until they have changed a colour and snipped its jumps, which is to have
// sewn something through. A figure of ours.
func (s Student) StillNew() bool {
	return s.FirstTimer && !slices.ContainsFunc(s.SignOffs, func(o SignOff) bool { return o.Skill == ChangeColour })
}

// AloneOn is the set of steps that they did alone on a kind of machine.
func (s Student) AloneOn(kind Kind) Signed {
	alone := Signed{}
	for _, o := range s.SignOffs {
		if o.On == kind && o.Alone {
			alone[o.Skill] = true
		}
	}
	return alone
}

// Signed is the set of steps signed off on any of some kinds of machine, or on
// any kind at all where none is named.
func (s Student) Signed(on ...Kind) Signed {
	signed := Signed{}
	for _, o := range s.SignOffs {
		if len(on) == 0 || slices.Contains(on, o.On) {
			signed[o.Skill] = true
		}
	}
	return signed
}
