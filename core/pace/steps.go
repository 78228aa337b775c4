package pace

import (
	"slices"
	"strconv"
	"strings"

	"chalkstep/core/recipe"
	"chalkstep/core/skill"
	"chalkstep/core/stitch"
)

// Where a step is done.
const (
	Bench     = "bench"
	AtMachine = "machine"
)

// Keys of the steps that the class plan treats specially.
const (
	StepHoop    = "hoop"
	StepLoad    = "load"
	StepSew     = "sew"
	StepUnhoop  = "unhoop"
	StepPress   = "press"
	StepSignOff = "sign-off"
)

// A Step is one thing a student does for a project.
type Step struct {
	Key   string
	Title string
	Where string
	// Minutes for a practised person. The sewing step has none of its own:
	// its minutes depend on the machine.
	Minutes float64
	// Instructor tells that the step cannot be done without one.
	Instructor bool
	// Skills are the keys of what a student needs to do it alone.
	Skills []string
	// Caution is shown where the step happens.
	Caution string
}

const pressCaution = "The iron is hot: on a pad, through a cloth, never on or beside a machine."

// sewing is what sewing a design of these roles is called and asks for.
func sewing(roles []stitch.Role) (title string, skills []string) {
	if slices.Contains(roles, stitch.Placement) {
		return "Sew stop by stop, laying and trimming the pieces", []string{skill.ChangeColour, skill.Applique}
	}
	return "Sew stop by stop", []string{skill.ChangeColour}
}

// StepsFor lists the steps of a project from the bare blank to the sign-off.
// roles are what the design's stops sew.
func (f Figures) StepsFor(fabric recipe.Fabric, r recipe.Recipe, roles []stitch.Role) []Step {
	hoopStep := Step{Key: StepHoop, Title: "Hoop the blank", Where: Bench, Minutes: f.HoopWoven, Skills: []string{skill.HoopWoven}}
	switch {
	case r.Hooping == recipe.Floated:
		hoopStep.Title = "Hoop the stabilizer and float the blank on it"
	case fabric.Knit():
		hoopStep.Minutes, hoopStep.Skills = f.HoopKnit, []string{skill.HoopKnit}
	}
	load := Step{Key: StepLoad, Title: "Load, check the needle over the mark, trace", Where: AtMachine, Minutes: f.Load, Skills: []string{skill.SafeStart, skill.Threading, skill.LoadTrace},
		Caution: "Fingers, hair, lanyards and sleeves away from the needle and the arm. The machine's manual and the room's rules come first."}
	if r.Over != nil {
		load.Skills = append(load.Skills, skill.Topper)
	}
	sew := Step{Key: StepSew, Where: AtMachine, Caution: "Stop the machine before reaching in. Power off before changing a needle."}
	sew.Title, sew.Skills = sewing(roles)
	return []Step{
		{Key: "mark", Title: "Mark the blank with the template", Where: Bench, Minutes: f.Mark, Skills: []string{skill.MarkAlign}},
		{Key: "stabilise", Title: "Cut and lay the stabilizer", Where: Bench, Minutes: f.Stabilise, Skills: []string{skill.CutStabilizer}},
		hoopStep, load, sew,
		{Key: StepUnhoop, Title: "Take it out of the hoop", Where: Bench, Minutes: f.Unhoop},
		{Key: "clean-up", Title: "Snip, trim and clean up", Where: Bench, Minutes: f.CleanUp, Skills: []string{skill.CleanUp}},
		{Key: StepPress, Title: "Press", Where: Bench, Minutes: f.Press, Caution: pressCaution},
		{Key: StepSignOff, Title: "Inspect together and sign off", Where: Bench, Minutes: f.SignOff, Instructor: true},
	}
}

// Key of a step in the nth hooping of a project: the first has the plain keys.
func Key(base string, hooping int) string {
	if hooping <= 1 {
		return base
	}
	return base + "-" + strconv.Itoa(hooping)
}

// Base takes a step's key apart into the plain key and the hooping.
func Base(key string) (base string, hooping int) {
	if at := strings.LastIndexByte(key, '-'); at > 0 {
		if n, err := strconv.Atoi(key[at+1:]); err == nil && n > 1 {
			return key[:at], n
		}
	}
	return key, 1
}

// AnotherHooping are the steps of the nth hooping of the same thing: hoop,
// load, sew and unhoop, as in the first.
func AnotherHooping(n int, title string, first []Step, roles []stitch.Role) []Step {
	var steps []Step
	for _, s := range first {
		switch s.Key {
		case StepHoop, StepLoad, StepUnhoop:
		case StepSew:
			s.Title, s.Skills = sewing(roles)
		default:
			continue
		}
		s.Key, s.Title = Key(s.Key, n), s.Title+": "+title
		steps = append(steps, s)
	}
	return steps
}

// Keys of work off the machine begin with where it is done.
const (
	benchWork = "work"
	ironWork  = "iron"
)

// Work is a step off the machine that a project adds, the nth of them from 1.
func Work(n int, title string, minutes float64, iron, instructor bool) Step {
	s := Step{Key: benchWork + ":" + strconv.Itoa(n), Title: title, Where: Bench, Minutes: minutes, Instructor: instructor}
	if iron {
		s.Key = ironWork + ":" + strconv.Itoa(n)
		s.Caution = pressCaution
	}
	return s
}

// NeedsIron tells whether a step is done at the iron.
func NeedsIron(key string) bool {
	return key == StepPress || strings.HasPrefix(key, ironWork+":")
}

// Needs collects the skills of steps, each once, in order.
func Needs(steps []Step) []string {
	var needs []string
	seen := map[string]bool{}
	for _, s := range steps {
		for _, key := range s.Skills {
			if !seen[key] {
				seen[key] = true
				needs = append(needs, key)
			}
		}
	}
	return needs
}
