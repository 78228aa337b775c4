package technique

import (
	"slices"
	"strconv"
	"strings"

	"chalkstep/core/pace"
	"chalkstep/core/say"
	"chalkstep/core/skill"
	"chalkstep/core/supply"
)

// A Written technique is one that a workshop wrote from the same parts. ID and
// Version name its row.
type Written struct {
	ID      int64 `json:"id"`
	Version int   `json:"version"`
	// Name is what it is called, What says it, Because why.
	Name    string         `json:"name"`
	What    string         `json:"what"`
	Because string         `json:"because"`
	Steps   []WrittenStep  `json:"steps"`
	Lines   []WrittenLine  `json:"lines"`
	Things  []WrittenThing `json:"things"`
	Needs   []skill.Key    `json:"needs"`
}

// A WrittenStep follows a step of every project, or stands in its place.
type WrittenStep struct {
	Title   string       `json:"title"`
	At      pace.StepKey `json:"at"`
	Instead bool         `json:"instead,omitempty"`
	Minutes float64      `json:"minutes"`
	Iron    bool         `json:"iron,omitempty"`
	// Machine is done at the machine, in the hoop.
	Machine bool   `json:"machine,omitempty"`
	Caution string `json:"caution,omitempty"`
}

// A WrittenLine stands on the card at a step of every project.
type WrittenLine struct {
	Text    string       `json:"text"`
	At      pace.StepKey `json:"at"`
	Caution bool         `json:"caution,omitempty"`
}

// A WrittenThing is brought to the class.
type WrittenThing struct {
	Name  string `json:"name"`
	Per   Per    `json:"per"`
	Count int    `json:"count"`
}

// Limits of a written technique.
const (
	mostSteps, mostLines, mostThings = 12, 20, 20
	mostMinutes                      = 600
	mostCount                        = 100
)

// BaseSteps are the steps of every project, which written ones follow.
var BaseSteps = []pace.StepKey{pace.StepMark, pace.StepStabilise, pace.StepHoop, pace.StepLoad, pace.StepSew,
	pace.StepUnhoop, pace.StepCleanUp, pace.StepPress}

// ownPrefix begins the key of a written technique.
const ownPrefix = "own:"

// OwnID is the ID of the written technique that a key names.
func OwnID(key Key) (int64, bool) {
	id, own := strings.CutPrefix(string(key), ownPrefix)
	n, err := strconv.ParseInt(id, 10, 64)
	return n, own && err == nil && n > 0
}

// Key of a written technique.
func (w Written) Key() Key { return Key(ownPrefix + strconv.FormatInt(w.ID, 10)) }

// Faults says what of a written technique cannot be meant, by part.
func (w Written) Faults(ladder skill.Ladder) map[string]say.Text {
	faults := map[string]say.Text{}
	fault := func(in string, bad bool, format string, args ...any) {
		if _, has := faults[in]; bad && !has {
			faults[in] = say.T(format, args...)
		}
	}
	fault("name", strings.TrimSpace(w.Name) == "", "Give the technique a name.")
	fault("what", strings.TrimSpace(w.What) == "", "Say in a sentence what it is.")
	fault("because", strings.TrimSpace(w.Because) == "", "Say why it is done: a reader who does otherwise wants to know.")
	fault("steps", len(w.Steps) > mostSteps, "A technique has at most %s steps.", say.Count(mostSteps))
	fault("lines", len(w.Lines) > mostLines, "A technique has at most %s lines.", say.Count(mostLines))
	fault("things", len(w.Things) > mostThings, "A technique brings at most %s things.", say.Count(mostThings))
	instead := map[pace.StepKey]bool{}
	for i, s := range w.Steps {
		n := say.Count(i + 1)
		fault("steps", strings.TrimSpace(s.Title) == "", "Step %s: say what is done.", n)
		fault("steps", !slices.Contains(BaseSteps, s.At), "Step %s: choose the step it follows.", n)
		fault("steps", !(s.Minutes >= 0 && s.Minutes <= mostMinutes), "Step %s: write minutes from 0 to %s.", n,
			say.Count(mostMinutes))
		fault("steps", s.Iron &&
			s.Machine, "Step %s: it is at the iron or at the machine, never both: an iron stays off the machine.", n)
		fault("steps", s.Machine && s.At != pace.StepLoad && s.At != pace.StepHoop,
			"Step %s: at the machine it follows the loading, before it sews.", n)
		fault("steps", s.Instead && (s.At == pace.StepSew || s.At == pace.StepLoad || s.At == pace.StepUnhoop),
			"Step %s: loading, sewing and unhooping stay; let it follow them.", n)
		fault("steps", s.Instead && instead[s.At], "Step %s: another stands in that place already.", n)
		instead[s.At] = instead[s.At] || s.Instead
	}
	for i, l := range w.Lines {
		fault("lines", strings.TrimSpace(l.Text) == "", "Line %s: write it.", say.Count(i+1))
		fault("lines", !slices.Contains(BaseSteps, l.At), "Line %s: choose the step it stands at.", say.Count(i+1))
	}
	for i, t := range w.Things {
		fault("things", supply.Fold(t.Name) == "", "Thing %s: write its name.", say.Count(i+1))
		fault("things", !slices.Contains([]Per{EachSet, EachMachine, Students}, t.Per), "Thing %s: choose for whom it is.",
			say.Count(i+1))
		fault("things", t.Count < 1 || t.Count > mostCount, "Thing %s: write how many, 1 to %s.", say.Count(i+1),
			say.Count(mostCount))
	}
	for i, key := range w.Needs {
		_, known := ladder.ByKey(key)
		fault("needs", !known || slices.Contains(w.Needs[:i], key), "Choose steps of the ladder.")
	}
	return faults
}

// Technique is the written one as those of ours are.
func (w Written) Technique() Technique {
	t := Technique{Key: w.Key(), Group: Own, Name: say.Name(w.Name), What: say.Name(w.What), Because: say.Name(w.Because),
		Needs: w.Needs, Picture: Picture{inHoop(), cross(80, 55, 14)}, Own: &w}
	for i, s := range w.Steps {
		step := pace.Step{Key: pace.StepKey(string(w.Key()) + ":" + strconv.Itoa(i+1)), Title: say.Name(s.Title),
			Where: pace.Bench, Minutes: s.Minutes, Iron: s.Iron}
		if s.Iron {
			step.Cautions = []say.Text{pace.IronCaution}
		}
		if s.Machine {
			step.Where, step.Cautions = pace.AtMachine, []say.Text{pace.LoadCaution}
		}
		if s.Caution != "" {
			step.Cautions = append(step.Cautions, say.Name(s.Caution))
		}
		made := Step{Step: step, After: s.At}
		if s.Instead {
			made.Key, made.After = s.At, ""
		}
		t.Steps = append(t.Steps, made)
	}
	for _, l := range w.Lines {
		t.Lines = append(t.Lines, Line{At: l.At, Caution: l.Caution, Text: say.Name(l.Text)})
	}
	for _, thing := range w.Things {
		t.Things = append(t.Things, Thing{Key: supply.Named(supply.Tool, thing.Name), Per: thing.Per, Count: thing.Count})
	}
	return t
}
