package technique

import (
	"cmp"
	"slices"

	"chalkstep/core/pace"
	"chalkstep/core/say"
)

// Steps that techniques bring.
const (
	stepPress      pace.StepKey = "press-flat"
	stepInterface  pace.StepKey = "interface"
	stepWeb        pace.StepKey = "fuse-web"
	stepCutPieces  pace.StepKey = "cut-pieces"
	stepPerforate  pace.StepKey = "perforate"
	stepTear       pace.StepKey = "tear-pieces"
	stepPeel       pace.StepKey = "peel-pieces"
	stepLine       pace.StepKey = "line-pieces"
	stepTryOn      pace.StepKey = "try-on"
	stepSpray      pace.StepKey = "spray"
	stepDryRun     pace.StepKey = "dry-run"
	stepWindow     pace.StepKey = "window"
	stepFloat      pace.StepKey = "float"
	stepFirst      pace.StepKey = "bobbin-up"
	stepBaste      pace.StepKey = "baste"
	stepSoak       pace.StepKey = "soak"
	stepPatchWeb   pace.StepKey = "patch-web"
	stepPatchCut   pace.StepKey = "patch-cut"
	stepPatchSeal  pace.StepKey = "patch-seal"
	stepPatchOn    pace.StepKey = "patch-on"
	stepTopStitch  pace.StepKey = "top-stitch"
	stepTrimLine   pace.StepKey = "trim-line"
	stepStrip      pace.StepKey = "binding-strip"
	stepSeam       pace.StepKey = "seam"
	stepTurn       pace.StepKey = "turn-out"
	stepCloseEdge  pace.StepKey = "close-edge"
	stepPressSeams pace.StepKey = "press-seams"
)

// BasteStep is the step of a basting box, which is run by pedal where there is
// one.
const BasteStep = stepBaste

// sequence is the order of all steps, of every project and of every technique:
// nothing that belongs after comes before, however techniques are put together.
var sequence = []pace.StepKey{
	stepPress, stepInterface, stepLine, stepWeb, stepPerforate, stepTear, stepCutPieces, stepPeel, stepStrip,
	pace.StepMark, stepTryOn,
	pace.StepStabilise, stepSpray, stepDryRun, stepWindow, pace.StepHoop, stepFloat,
	pace.StepLoad, stepFirst, stepBaste, pace.StepSew, pace.StepUnhoop,
	pace.StepCleanUp, stepSoak, pace.StepPress,
	stepPatchWeb, stepPatchCut, stepPatchSeal, stepPatchOn, stepTopStitch,
	stepTrimLine, stepSeam, stepTurn, stepPressSeams, stepCloseEdge,
	pace.StepSignOff,
}

// place of a step in the sequence; steps that a workshop wrote follow the one
// they name.
func place(key pace.StepKey, after map[pace.StepKey]pace.StepKey) int {
	if anchor, own := after[key]; own {
		return 2*slices.Index(sequence, anchor) + 1
	}
	return 2 * slices.Index(sequence, key)
}

// Apply puts the steps of techniques among those of every project. pieces is
// how many appliqué pieces it has, blocks how many blocks one sheet serves.
func Apply(steps []pace.Step, chosen []Technique, pieces, blocks int) []pace.Step {
	all := slices.Clone(steps)
	after := map[pace.StepKey]pace.StepKey{}
	for _, t := range chosen {
		for _, s := range t.Steps {
			step := s.Step
			if s.EachPiece {
				step.Minutes *= float64(max(1, pieces))
			}
			if s.Shared {
				step.Minutes /= float64(max(1, blocks))
			}
			if s.After != "" {
				after[step.Key] = s.After
			}
			i := slices.IndexFunc(all, func(have pace.Step) bool { return have.Key == step.Key })
			if i < 0 {
				all = append(all, step)
				continue
			}
			step.Skills = append(slices.Clone(all[i].Skills), step.Skills...)
			all[i] = step
		}
	}
	slices.SortStableFunc(all, func(a, b pace.Step) int { return cmp.Compare(place(a.Key, after), place(b.Key, after)) })
	for i := range all {
		for _, t := range chosen {
			all[i] = t.on(all[i])
		}
	}
	return all
}

// on adds what a technique says at a step.
func (t Technique) on(step pace.Step) pace.Step {
	for _, l := range t.Lines {
		if l.At == "" || l.At != step.Key {
			continue
		}
		if l.Caution {
			step.Cautions = withNew(step.Cautions, l.Text)
		} else {
			step.Notes = withNew(step.Notes, l.Text)
		}
	}
	return step
}

// withNew adds a text that is not there yet.
func withNew(texts []say.Text, one say.Text) []say.Text {
	if slices.ContainsFunc(texts, func(t say.Text) bool { return t.String() == one.String() }) {
		return texts
	}
	return append(slices.Clone(texts), one)
}

// EachHooping tells whether a step of some techniques is done in every hooping.
func EachHooping(key pace.StepKey, chosen []Technique) bool {
	return slices.ContainsFunc(chosen, func(t Technique) bool {
		return slices.ContainsFunc(t.Steps, func(s Step) bool { return s.Key == key && s.EachHooping })
	})
}
