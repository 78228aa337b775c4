// Package technique knows the ways in which a piece can be made: each adds or
// takes the place of steps with their minutes, brings things to the kit,
// cautions and lines to the card, and rungs of the ladder. Where practitioners
// differ, each school stands with its reason (handbook, Ways of working). Minutes
// are for practised hands; a project may set each otherwise.
package technique

import (
	"slices"

	"chalkstep/core/hoop"
	"chalkstep/core/pace"
	"chalkstep/core/recipe"
	"chalkstep/core/say"
	"chalkstep/core/skill"
	"chalkstep/core/stitch"
	"chalkstep/core/supply"
)

// A Key names a technique. Those that a workshop wrote begin with "own:".
type Key string

// A Technique is one way to do a part of the work.
type Technique struct {
	Key   Key
	Group Group
	// Name is what it is called, What says it in a sentence, Because why people
	// hold to it.
	Name, What, Because say.Text
	Steps               []Step
	Lines               []Line
	Things              []Thing
	// Ahead is what staff do before the day.
	Ahead []Task
	// Needs are rungs of the ladder it asks for, Teaches those it teaches.
	Needs, Teaches []skill.Key
	// Not lists techniques that it cannot go with, and why.
	Not []Exclusion
	Effects
	Picture Picture
	// Own is what a workshop wrote, nil for those of ours.
	Own *Written

	// unfit says why some work cannot be made by it, proposed why the house
	// proposes it for some work; each is silent where there is nothing to say.
	unfit, proposed func(Work) say.Text
}

// A Step that a technique adds, or that takes the place of the one of its key
// that every project has.
type Step struct {
	pace.Step
	// After is the step of every project that it follows, for techniques that a
	// workshop wrote; those of ours have their places in the sequence.
	After pace.StepKey
	// EachPiece takes its minutes for every appliqué piece.
	EachPiece bool
	// EachHooping is done in every hooping, not only in the first.
	EachHooping bool
	// Shared takes its share of the minutes: it is done once for as many blocks as
	// a sheet serves.
	Shared bool
}

// A Line stands on the step card at a step, or before or after stops of a role.
type Line struct {
	At     pace.StepKey
	Role   stitch.Role
	Before bool
	// Last stands after the last stop.
	Last bool
	// Caution tells that it is one.
	Caution bool
	Text    say.Text
}

// A Per says for whom a thing is brought.
type Per string

// Whom things are brought for.
const (
	EachSet     Per = "set"
	EachMachine Per = "machine"
	// Students share it, so many of them.
	Students Per = "students"
)

// A Cut is what a thing that is cut has to cover.
type Cut string

// What is covered.
const (
	// Design is covered with a margin on every side.
	Design Cut = "design"
	// Pieces are the appliqué pieces, each with a margin.
	Pieces Cut = "pieces"
)

// A Thing is brought to the class.
type Thing struct {
	Key supply.Key
	Per Per
	// Count is how many a set, or how many students share one.
	Count int
	// Of is what it has to cover where it is cut, MarginMM how much more on every
	// side.
	Of       Cut
	MarginMM float64
}

// A Task is done before the day, so many minutes for each set, or once.
type Task struct {
	Text    say.Text
	Minutes float64
	Once    bool
}

// An Exclusion is a technique that another cannot go with.
type Exclusion struct {
	Key     Key
	Because say.Text
}

// Effects are what of the computed things a technique changes. The zero value
// changes nothing.
type Effects struct {
	// House are schools that it follows.
	House recipe.Rules
	// Uses that it makes of the thing.
	Uses []recipe.Use
	// Floats holds the blank on the hooped sheet; Sticky takes a sheet that holds
	// by itself.
	Floats, Sticky bool
	// TopThread that it sews with, empty for what the recipe says.
	TopThread string
	// SpeedShare is how much of the usual pace is reached, 0 for all.
	SpeedShare float64
	// NoTrims turns the thread cutter off; OneColour sews everything with one
	// thread, without a halt; PlacementsFirst sews all placement lines before
	// the rest; SkipsMarks leaves out stops that are only marks.
	NoTrims, OneColour, PlacementsFirst, SkipsMarks bool
	// NoPen marks nothing with the pen that every kit has.
	NoPen bool
	// BasteMM is the room that a basting line takes on every side.
	BasteMM float64
	// Hoops is the kind of hoop it needs, empty for any; AtMarks lays the
	// template on the marks of the hoop.
	Hoops   hoop.Kind
	AtMarks bool
	// Window lets one hooped sheet serve several blocks.
	Window bool
	// Joins says that the hoopings meet, from the middle outwards.
	Joins bool
}

// A Group holds techniques of one purpose.
type Group string

// The groups, in the order of the work.
const (
	Before    Group = "before"
	Marking   Group = "marking"
	Pen       Group = "pen"
	Fitting   Group = "fitting"
	Hooping   Group = "hooping"
	HoopAids  Group = "hoop-aids"
	Floating  Group = "floating"
	Basting   Group = "basting"
	PieceCuts Group = "pieces"
	Fusing    Group = "fusing"
	Shadow    Group = "shadow"
	Order     Group = "order"
	Marks     Group = "marks"
	Setting   Group = "setting"
	Joining   Group = "joining"
	Names     Group = "names"
	MakingUp  Group = "making-up"
	Closing   Group = "closing"
	Special   Group = "special"
	Own       Group = "own"
)

// A GroupOf techniques, as a page shows it.
type GroupOf struct {
	Key   Group
	Title say.Word
	// One tells that a project takes at most one of them, for the reason.
	One     bool
	Because say.Text
}

// Groups in the order of the work.
var Groups = []GroupOf{
	{Key: Before, Title: "Before anything is marked"},
	{Key: Marking, Title: "Marking", One: true, Because: say.T("a blank is marked in one way")},
	{Key: Pen, Title: "What marks it", One: true,
		Because: say.T("marks of two kinds have two remedies, and one of them sets the other")},
	{Key: Fitting, Title: "Fitting"},
	{Key: Hooping, Title: "Hooping", One: true, Because: say.T("it is hooped in one way")},
	{Key: HoopAids, Title: "What helps in hooping"},
	{Key: Floating, Title: "Floating", One: true, Because: say.T("the blank is held in one way")},
	{Key: Basting, Title: "Basting and first stitches"},
	{Key: PieceCuts, Title: "Appliqué pieces", One: true, Because: say.T("a piece is cut in one way")},
	{Key: Fusing, Title: "Fusing the pieces", One: true, Because: say.T("a piece is fused once")},
	{Key: Shadow, Title: "Light pieces over dark", One: true,
		Because: say.T("what is cut away needs no lining, and the other way round")},
	{Key: Order, Title: "Sewing order", One: true, Because: say.T("the stops have one order")},
	{Key: Marks, Title: "Stops that are only marks"},
	{Key: Setting, Title: "Settings of the machine"},
	{Key: Joining, Title: "Joined hoopings", One: true, Because: say.T("a line is joined in one way")},
	{Key: Names, Title: "Names and plates"},
	{Key: MakingUp, Title: "Making up", One: true,
		Because: say.T("a thing is cut out as a patch, bound or turned, and not two of these")},
	{Key: Closing, Title: "Closing the edge", One: true, Because: say.T("an edge is closed once")},
	{Key: Special, Title: "Special threads and sides"},
	{Key: Own, Title: "Of this workshop"},
}

// GroupByKey finds a group.
func GroupByKey(key Group) (GroupOf, bool) {
	i := slices.IndexFunc(Groups, func(g GroupOf) bool { return g.Key == key })
	if i < 0 {
		return GroupOf{}, false
	}
	return Groups[i], true
}

// All are the techniques of ours, in the order of their groups.
var All = slices.Concat(before, marking, pens, fitting, hooping, hoopAids, floating, basting, pieceCuts, fusing, shadow,
	order, marks, settings, joining, names, makingUp, closing, special)

// ByKey finds a technique of ours.
func ByKey(key Key) (Technique, bool) {
	i := slices.IndexFunc(All, func(t Technique) bool { return t.Key == key })
	if i < 0 {
		return Technique{}, false
	}
	return All[i], true
}

// Cautions of a technique, wherever they stand.
func (t Technique) Cautions() []say.Text {
	var texts []say.Text
	for _, s := range t.Steps {
		texts = append(texts, s.Cautions...)
	}
	for _, l := range t.Lines {
		if l.Caution {
			texts = append(texts, l.Text)
		}
	}
	return texts
}

// StandsAt is the step at which a technique is read and drawn: the first that it
// brings, or the first at which it has a line; the sewing where its lines stand at
// stops, and none where all of it is done before the day.
func (t Technique) StandsAt() pace.StepKey {
	if len(t.Steps) > 0 {
		return t.Steps[0].Key
	}
	for _, l := range t.Lines {
		if l.At != "" {
			return l.At
		}
	}
	if len(t.Lines) > 0 {
		return pace.StepSew
	}
	return ""
}
