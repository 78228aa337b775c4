// Package skill is the ladder a beginner climbs: small steps, each with what
// an assessor looks for and what has to come first (handbook, Skills and
// projects for beginners).
package skill

import "slices"

// A Step is one rung.
type Step struct {
	Key   string
	Title string
	// LookFor is what the assessor wants to see.
	LookFor string
	// After are the keys of the steps that come first.
	After []string
}

// Keys of the steps that other rules of the trade refer to.
const (
	SafeStart     = "safe-start"
	Bobbin        = "bobbin"
	Threading     = "threading"
	NeedleChange  = "needle-change"
	CutStabilizer = "stabilizer"
	HoopWoven     = "hoop-woven"
	LoadTrace     = "load-trace-start"
	ChangeColour  = "change-colour"
	ReadBack      = "read-back"
	MarkAlign     = "mark-align"
	BreakRecovery = "break-recovery"
	CleanUp       = "clean-up"
	HoopKnit      = "hoop-knit"
	Topper        = "topper"
	Applique      = "applique"
	ManyInHoop    = "many-in-hoop"
	LayersInHoop  = "layers-in-hoop"
)

// Ladder lists the steps, lowest first: nothing comes before what it needs.
var Ladder = []Step{
	{SafeStart, "Safe start and stop", "Hair, sleeves and lanyard tied back; foot down; stops the machine before reaching in.", nil},
	{Bobbin, "Wind and fit a bobbin", "Wound evenly, right style for this machine, thread under its spring.", []string{SafeStart}},
	{Threading, "Thread and rethread", "Foot up while threading, thread in the tension discs, right cap on the spool.", []string{SafeStart}},
	{NeedleChange, "Change a needle", "Power off; needle fully up and flat to the back; old one in the sharps tin.", []string{SafeStart}},
	{CutStabilizer, "Choose and cut stabilizer", "Names what goes under this fabric and why; sheet larger than the hoop on all sides.", nil},
	{HoopWoven, "Hoop a woven", "Stabilizer caught on all sides, drum-tight, no pull lines.", []string{CutStabilizer}},
	{LoadTrace, "Load, trace, start", "Right hoop told to the machine, clicks in, traces, holds the tail for three stitches.", []string{SafeStart, Threading, HoopWoven}},
	{ChangeColour, "Change colour and snip jumps", "Follows the step card, snips close without nicking the fabric.", []string{LoadTrace}},
	{ReadBack, "Read the back", "Finds the bobbin as the middle third of a satin column and says what to do if not.", []string{LoadTrace}},
	{MarkAlign, "Mark and align with a template", "Cross under the needle within 2 mm, up-arrow the right way.", []string{HoopWoven}},
	{BreakRecovery, "Recover a thread break", "Rethreads with the foot up, steps back by stitch, sews over the gap.", []string{Threading, LoadTrace}},
	{CleanUp, "Clean up and finish", "Stabilizer trimmed to the house margin, jumps gone, marks gone, bench clear.", []string{ChangeColour}},
	{HoopKnit, "Hoop a knit", "Stabilised first, firm and not stretched, one layer only.", []string{HoopWoven, CleanUp}},
	{Topper, "Topper on pile", "Film covers the whole design and is gone afterwards.", []string{CleanUp}},
	{Applique, "Lay, tack, trim appliqué", "Covers the line, trims to 1–2 mm with the hoop flat on the table.", []string{MarkAlign, CleanUp}},
	{ManyInHoop, "Several in one hoop, colour-sorted", "Even margins, changes no more often than needed.", []string{ChangeColour}},
	{LayersInHoop, "Layers in the hoop with binding", "Every layer covers its line, binding joined mid-side, corners mitred.", []string{Applique}},
}

// aloneNeeds are the steps without which nobody books a machine alone.
var aloneNeeds = []string{SafeStart, Threading, HoopWoven, NeedleChange, BreakRecovery}

// ByKey finds a step of the ladder.
func ByKey(key string) (Step, bool) {
	i := slices.IndexFunc(Ladder, func(s Step) bool { return s.Key == key })
	if i < 0 {
		return Step{}, false
	}
	return Ladder[i], true
}

// A Signed set holds the keys of the steps a student has been signed off on.
type Signed map[string]bool

// Missing lists, in ladder order, the steps among needs that are not signed.
func Missing(signed Signed, needs []string) []Step {
	var missing []Step
	for _, step := range Ladder {
		if slices.Contains(needs, step.Key) && !signed[step.Key] {
			missing = append(missing, step)
		}
	}
	return missing
}

// MayBookAlone tells whether a student may have a machine without an
// instructor; signed holds what was signed off on that kind of machine. When
// not, missing lists what is still to be shown.
func MayBookAlone(signed Signed) (ok bool, missing []Step) {
	missing = Missing(signed, aloneNeeds)
	return len(missing) == 0, missing
}

// Next is the lowest step that is not signed and whose forerunners are; ok
// is false at the top of the ladder.
func Next(signed Signed) (step Step, ok bool) {
	for _, step := range Ladder {
		if !signed[step.Key] && len(Missing(signed, step.After)) == 0 {
			return step, true
		}
	}
	return Step{}, false
}
