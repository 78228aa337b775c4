// Package skill is the ladder a beginner climbs: small steps, each with what
// an assessor looks for and what has to come first (handbook, Skills and
// projects for beginners).
package skill

import (
	"slices"
	"strings"

	"chalkstep/core/say"
)

// A Key names a step of the ladder.
type Key string

// A Step is one rung.
type Step struct {
	Key Key `json:"key"`
	// Title, Short where there is little room, and LookFor, what the assessor wants to
	// see, are words of ours, or of the workshop.
	Title   say.Word `json:"title"`
	Short   say.Word `json:"short"`
	LookFor say.Word `json:"look_for"`
	// After are the keys of the steps that come first.
	After []Key `json:"after,omitempty"`
}

// A Ladder is the steps of a workshop, lowest first: nothing comes before what it needs.
// An empty one stands for the [Usual].
type Ladder []Step

// Steps of the ladder.
func (l Ladder) Steps() []Step {
	if len(l) == 0 {
		return Usual
	}
	return l
}

// Keys of the steps that other rules of the trade refer to.
const (
	SafeStart     Key = "safe-start"
	Bobbin        Key = "bobbin"
	Threading     Key = "threading"
	NeedleChange  Key = "needle-change"
	CutStabilizer Key = "stabilizer"
	HoopWoven     Key = "hoop-woven"
	LoadTrace     Key = "load-trace-start"
	ChangeColour  Key = "change-colour"
	ReadBack      Key = "read-back"
	MarkAlign     Key = "mark-align"
	BreakRecovery Key = "break-recovery"
	CleanUp       Key = "clean-up"
	HoopKnit      Key = "hoop-knit"
	Topper        Key = "topper"
	Applique      Key = "applique"
	ManyInHoop    Key = "many-in-hoop"
	LayersInHoop  Key = "layers-in-hoop"
	PreCut        Key = "pre-cut-fuse"
	Joined        Key = "joined-hoopings"
	Names         Key = "names"
	MachineCare   Key = "machine-care"
)

// Usual is the ladder of a workshop that has none of its own (handbook, Skills and projects
// for beginners).
var Usual = Ladder{
	{SafeStart, "Safe start and stop", "Safe start",
		"Hair, sleeves and lanyard tied back; foot down; stops the machine before reaching in.", nil},
	{Bobbin, "Wind and fit a bobbin", "Bobbin", "Wound evenly, right style for this machine, thread under its spring.",
		[]Key{SafeStart}},
	{Threading, "Thread and rethread", "Thread",
		"Foot up while threading, thread in the tension discs, right cap on the spool.", []Key{SafeStart}},
	{NeedleChange, "Change a needle", "Needle",
		"Power off; needle fully up and flat to the back; old one in the sharps tin.", []Key{SafeStart}},
	{CutStabilizer, "Choose and cut stabilizer", "Stabilizer",
		"Names what goes under this fabric and why; sheet larger than the hoop on all sides.", nil},
	{HoopWoven, "Hoop a woven", "Hoop woven", "Stabilizer caught on all sides, drum-tight, no pull lines.",
		[]Key{CutStabilizer}},
	{LoadTrace, "Load, trace, start", "Load, trace",
		"Right hoop told to the machine, clicks in, traces, holds the tail for three stitches.",
		[]Key{SafeStart, Threading, HoopWoven}},
	{ChangeColour, "Change colour and snip jumps", "Colour, jumps",
		"Follows the step card, snips close without nicking the fabric.", []Key{LoadTrace}},
	{ReadBack, "Read the back", "Read back",
		"Finds the bobbin as the middle third of a satin column and says what to do if not.", []Key{LoadTrace}},
	{MarkAlign, "Mark and align with a template", "Mark, align",
		"Cross under the needle within 2 mm, up-arrow the right way.", []Key{HoopWoven}},
	{BreakRecovery, "Recover a thread break", "Thread break",
		"Rethreads with the foot up, steps back by stitch, sews over the gap.", []Key{Threading, LoadTrace}},
	{CleanUp, "Clean up and finish", "Finish",
		"Stabilizer trimmed to the house margin, jumps gone, marks gone, bench clear.", []Key{ChangeColour}},
	{HoopKnit, "Hoop a knit", "Hoop knit", "Stabilised first, firm and not stretched, one layer only.",
		[]Key{HoopWoven, CleanUp}},
	{Topper, "Topper on pile", "Topper", "Film covers the whole design and is gone afterwards.", []Key{CleanUp}},
	{Applique, "Lay, tack, trim appliqué", "Appliqué",
		"Covers the line, trims to 1–2 mm with the hoop flat on the table.", []Key{MarkAlign, CleanUp}},
	{PreCut, "Pre-cut and fuse", "Pre-cut",
		"Cuts exactly on the line, right side up, fuses on a pad off the machine and waits until it is cool.",
		[]Key{Applique}},
	{ManyInHoop, "Several in one hoop, colour-sorted", "Many in hoop", "Even margins, changes no more often than needed.",
		[]Key{ChangeColour}},
	{LayersInHoop, "Layers in the hoop with binding", "Layers",
		"Every layer covers its line, binding joined mid-side, corners mitred.", []Key{Applique}},
	{Joined, "Joined hoopings", "Joined", "Points meet within 1 mm and in one direction, the weight lies on the table.",
		[]Key{MarkAlign, CleanUp}},
	{Names, "Names and lettering", "Names", "Spelt as asked, level with the mark, letters open, one height for all.",
		[]Key{ChangeColour, MarkAlign}},
	{MachineCare, "Care of the machine", "Care",
		"Lint out of the bobbin area, needle looked at, a drop of oil only where the manual says so, cover back on.",
		[]Key{Bobbin, NeedleChange}},
}

// aloneNeeds are the steps without which nobody books a machine alone.
var aloneNeeds = []Key{SafeStart, Threading, HoopWoven, NeedleChange, BreakRecovery}

// ByKey finds a step of the ladder.
func (l Ladder) ByKey(key Key) (Step, bool) {
	i := slices.IndexFunc(l.Steps(), func(s Step) bool { return s.Key == key })
	if i < 0 {
		return Step{}, false
	}
	return l.Steps()[i], true
}

// A Signed set holds the keys of the steps a student has been signed off on.
type Signed map[Key]bool

// Missing lists, in the order of the ladder, its steps among needs that are not signed.
func (l Ladder) Missing(signed Signed, needs []Key) []Step {
	var missing []Step
	for _, step := range l.Steps() {
		if slices.Contains(needs, step.Key) && !signed[step.Key] {
			missing = append(missing, step)
		}
	}
	return missing
}

// Next is the lowest step that is not signed and whose forerunners are; ok
// is false at the top of the ladder.
func (l Ladder) Next(signed Signed) (step Step, ok bool) {
	for _, step := range l.Steps() {
		if !signed[step.Key] && len(l.Missing(signed, step.After)) == 0 {
			return step, true
		}
	}
	return Step{}, false
}

// Titles of steps as the middle of a sentence has them.
func Titles(steps []Step) say.List {
	var names say.List
	for _, s := range steps {
		title := string(s.Title)
		names = append(names, say.Word(strings.ToLower(title[:1])+title[1:]))
	}
	return names
}
