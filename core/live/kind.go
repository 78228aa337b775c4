package live

import (
	"cmp"
	"fmt"
	"slices"
	"time"

	"chalkstep/core/fleet/care"
	"chalkstep/core/pace"
	"chalkstep/core/say"
)

// A Kind is what can happen. All there is to say of one is in a file of its own.
type Kind string

// Fields are what an event of a kind says beside when it happened.
type Fields struct {
	Student, MaybeStudent, Machine, Step, Stop, Reason, Until, Text, Speed, Undoes, Moves bool
}

// A Phone is which of the phones beside machines may say something.
type Phone int

// Phones at benches are at no machine.
const (
	NoPhone      Phone = iota
	AnyPhone           // whoever it is about
	MachinePhone       // any that lies at a machine
	OwnPhone           // that at whose place the student is
)

// A Choice is how a kind is offered beside the board.
type Choice struct {
	Kind Kind
	// At is where it stands among the others, from 1.
	At   int
	Text say.Text
	// Key is the letter that chooses it, Asks the fields that are filled in then, the first
	// first; empty for none.
	Key, Asks string
}

// declaration is what a kind is.
type declaration struct {
	has   Fields
	phone Phone
	// ofClass has it happen to the class or a machine, ofStudent to a student; both are false where
	// it does not fit what happened before, and nil where there is nothing that fits.
	ofClass   func(s *State, e Event) bool
	ofStudent func(s *State, at *Standing, e Event) bool
	// joins has somebody come who was not in the class.
	joins func(s *State, e Event) bool
	// refused says why it does not fit.
	refused say.Text
	// said is what happened, for whoever takes it back.
	said func(s State, e Event) say.Text
	// offered is nothing where a kind has buttons of its own.
	offered Choice
	// leaves are the rows it leaves behind, where it does.
	leaves func(s State, e Event) Trace
	// stands are the events that it stands for, and that are written down instead of it; none where
	// it does not fit.
	stands func(s State, e Event) []Event
}

var kinds = map[Kind]declaration{}

// declare makes a kind one of those there are. Two of one name are a mistake in this package, which
// the program does not start with.
func declare(kind Kind, is declaration) struct{} {
	if kind.Is() {
		panic("the kind of event " + string(kind) + " is declared twice")
	}
	kinds[kind] = is
	return struct{}{}
}

// Has is what events of the kind say.
func (k Kind) Has() Fields { return kinds[k].has }

// Is tells whether it is one of the kinds there are.
func (k Kind) Is() bool { _, is := kinds[k]; return is }

// Refused says why an event of the kind does not fit.
func (k Kind) Refused() say.Text {
	if !k.Is() {
		return say.T("Press one of the buttons of the board.")
	}
	return kinds[k].refused
}

// Choices are the kinds that are offered beside the board, in order.
func Choices() []Choice {
	var all []Choice
	for kind, is := range kinds {
		if is.offered.At > 0 {
			is.offered.Kind = kind
			all = append(all, is.offered)
		}
	}
	slices.SortFunc(all, func(a, b Choice) int { return cmp.Compare(a.At, b.At) })
	return all
}

// A field of an event: whether a kind has it, whether an event says it, and how it is taken over.
type field struct {
	name string
	in   func(Fields) bool
	said func(Event) bool
	copy func(to *Event, from Event)
}

var fields = []field{
	{"a machine", func(f Fields) bool { return f.Machine }, func(e Event) bool { return e.MachineID != 0 },
		func(to *Event, from Event) { to.MachineID = from.MachineID }},
	{"a step", func(f Fields) bool { return f.Step }, func(e Event) bool { return e.Step != "" },
		func(to *Event, from Event) { to.Step = from.Step }},
	{"a stop", func(f Fields) bool { return f.Stop }, func(e Event) bool { return e.Stop > 0 },
		func(to *Event, from Event) { to.Stop = from.Stop }},
	{"a reason", func(f Fields) bool { return f.Reason }, func(e Event) bool { return e.Reason != "" },
		func(to *Event, from Event) { to.Reason = from.Reason }},
	{"a time", func(f Fields) bool { return f.Until }, func(e Event) bool { return !e.Until.IsZero() },
		func(to *Event, from Event) { to.Until = from.Until }},
	{"a text", func(f Fields) bool { return f.Text }, func(e Event) bool { return e.Text != "" },
		func(to *Event, from Event) { to.Text = from.Text }},
	{"a speed", func(f Fields) bool { return f.Speed }, func(e Event) bool { return e.Speed > 0 },
		func(to *Event, from Event) { to.Speed = from.Speed }},
	{"an event that it takes back", func(f Fields) bool { return f.Undoes }, func(e Event) bool { return e.Undoes != 0 },
		func(to *Event, from Event) { to.Undoes = from.Undoes }},
}

// Plain is the event with what its kind says, and nothing else.
func (e Event) Plain() Event {
	has := e.Kind.Has()
	plain := Event{Seq: e.Seq, Kind: e.Kind, At: e.At, NotedAt: e.NotedAt, Sender: e.Sender, StationID: e.StationID,
		PartOf: e.PartOf, By: e.By}
	if has.Student || has.MaybeStudent {
		plain.StudentID = e.StudentID
	}
	for _, f := range fields {
		if f.in(has) {
			f.copy(&plain, e)
		}
	}
	return plain
}

// Check tells what of an event its kind does not say, or does not say enough of: only what is whole
// is written down.
func (e Event) Check() error {
	is := kinds[e.Kind]
	if !e.Kind.Is() || is.stands != nil {
		return fmt.Errorf("writing an event down: there is no kind %q", e.Kind)
	}
	if !is.has.MaybeStudent && is.has.Student != (e.StudentID != 0) {
		return fmt.Errorf("writing an event of kind %s down: expected a student: %t", e.Kind, is.has.Student)
	}
	for _, f := range fields {
		if has := f.in(is.has); has != f.said(e) {
			return fmt.Errorf("writing an event of kind %s down: expected %s: %t", e.Kind, f.name, has)
		}
	}
	return nil
}

// Written are the events that are written down for one that somebody sends: itself with what its kind
// says, or those it stands for; none where it does not fit.
func (s State) Written(e Event) []Event {
	if stands := kinds[e.Kind].stands; stands != nil {
		return s.atOnce(stands(s, e))
	}
	if !s.Accepts(e) {
		return nil
	}
	plain := e.Plain()
	if e.Kind != Undone {
		return []Event{plain}
	}
	var all []Event
	for _, seq := range slices.Backward(s.AtOnce) {
		plain.Undoes = seq
		all = append(all, plain)
	}
	return s.atOnce(all)
}

// atOnce are events that one press stands for.
func (s State) atOnce(all []Event) []Event {
	for i := range all {
		if len(all) > 1 {
			all[i].PartOf = s.Seq + 1
		}
		if i > 0 {
			all[i].Sender = "" // a press that comes twice is known by its first event
		}
	}
	return all
}

// SaidLast is what happened last, with how much was noted with it; silent where there is nothing.
func (s State) SaidLast() say.Text {
	switch {
	case s.Last == nil:
		return say.Text{}
	case len(s.AtOnce) > 1:
		return say.T("%s, and %s noted with it", s.Said(*s.Last), say.Count(len(s.AtOnce)-1))
	}
	return s.Said(*s.Last)
}

// Said is what an event is called, silent where nobody says it.
func (s State) Said(e Event) say.Text {
	if said := kinds[e.Kind].said; said != nil {
		return said(s, e)
	}
	return say.Text{}
}

// A Trace is the rows that an event leaves behind. A rehearsal leaves none.
type Trace struct {
	// StruckID is the machine on which a needle struck, 0 for none.
	StruckID int64
	// Observed is how long a step took, nil where nobody knows.
	Observed *pace.Observation
	// CaredID is the machine to which Care was done, 0 for none.
	CaredID int64
	Care    care.Kind
	// FreeFrom is from when the machines and people of the class are free, zero where that is not known.
	FreeFrom time.Time
}

// Leaves are the rows that an event leaves behind that was just written down.
func (s State) Leaves(e Event) Trace {
	if s.Clock.Rehearses() {
		return Trace{}
	}
	t := Trace{}
	if leaves := kinds[e.Kind].leaves; leaves != nil {
		t = leaves(s, e)
	}
	t.FreeFrom = s.FreeFrom()
	return t
}

// MayPhone tells whether the phone that lies at a machine, 0 for the benches, may say something.
func (s State) MayPhone(e Event, machineID int64) bool {
	switch kinds[e.Kind].phone {
	case AnyPhone:
		return true
	case MachinePhone:
		return machineID != 0
	case OwnPhone:
		return s.isBeside(e.StudentID, machineID)
	case NoPhone:
	}
	return false
}

// ByPhone tells whether some phone may say something of the kind.
func (k Kind) ByPhone() bool { return kinds[k].phone != NoPhone }

// Refusals of several kinds.
var (
	notTheirs = say.T("They are not at that step: it was noted just now, or somebody else has the machine. Look at " +
		"the board again.")
	notedBefore = say.T("That was noted already. Look at the board again.")
)

// about says something of the student of an event.
func about(format string) func(State, Event) say.Text {
	return func(s State, e Event) say.Text {
		at, _ := s.Standing(e.StudentID)
		return say.T(format, say.Name(at.Name))
	}
}

// ofStep says something of the student of an event and of its step.
func ofStep(format string) func(State, Event) say.Text {
	return func(s State, e Event) say.Text {
		at, _ := s.Standing(e.StudentID)
		return say.T(format, say.Name(at.Name), s.stepTitle(e))
	}
}

// ofMachine says something of the machine of an event.
func ofMachine(format string) func(State, Event) say.Text {
	return func(s State, e Event) say.Text { return say.T(format, s.machineName(e.MachineID)) }
}

// words are the same of every event.
func words(text string) func(State, Event) say.Text {
	return func(State, Event) say.Text { return say.T(text) }
}
