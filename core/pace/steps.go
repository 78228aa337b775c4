package pace

import (
	"slices"
	"strconv"
	"strings"

	"chalkstep/core/recipe"
	"chalkstep/core/say"
	"chalkstep/core/skill"
	"chalkstep/core/stitch"
)

// A Where is where a step is done.
type Where string

// The places of a class.
const (
	Bench     Where = "bench"
	AtMachine Where = "machine"
)

// A StepKey names a step of a project. Steps of further hoopings carry the
// hooping's number, and work off the machine its own: "sew-2", "work:1".
type StepKey string

// The steps of a first hooping.
const (
	StepMark      StepKey = "mark"
	StepStabilise StepKey = "stabilise"
	StepHoop      StepKey = "hoop"
	StepLoad      StepKey = "load"
	StepSew       StepKey = "sew"
	StepUnhoop    StepKey = "unhoop"
	StepCleanUp   StepKey = "clean-up"
	StepPress     StepKey = "press"
	StepSignOff   StepKey = "sign-off"
)

// Work off the machine begins with where it is done.
const (
	benchWork = "work:"
	ironWork  = "iron:"
)

// A Step is one thing a student does for a project.
type Step struct {
	Key   StepKey
	Title say.Text
	Where Where
	// Minutes for a practised person. The sewing step has none of its own:
	// its minutes depend on the machine.
	Minutes float64
	// Instructor tells that the step cannot be done without one.
	Instructor bool
	// Skills are the keys of what a student needs to do it alone.
	Skills []skill.Key
	// Iron tells that it is done at the iron; Sewing that it is done in sewing
	// mode, at a machine that sews as well as embroiders; Errand that it is done
	// at a machine with no blank in its hoop.
	Iron, Sewing, Errand bool
	// Notes stand with it, Cautions are shown where it happens.
	Notes, Cautions []say.Text
}

// Cautions where hands meet heat and needles (handbook, Cautions).
var (
	IronCaution = say.T("The iron is hot: on a pad, through a cloth, never on or beside a machine.")
	LoadCaution = say.T("Fingers, hair, lanyards and sleeves away from the needle and the arm. The machine's manual " +
		"and the room's rules come first.")
	SewCaution = say.T("Stop the machine before reaching in. Power off before changing a needle.")
)

// A Making is what the steps of a project follow from.
type Making struct {
	Fabric recipe.Fabric
	Recipe recipe.Recipe
	// Roles are what the design's stops sew.
	Roles []stitch.Role
	// InHoop is work built up in the hoop on stabilizer alone; Layers tells that
	// more than appliqué pieces is laid.
	InHoop, Layers bool
	// Floats tells that a technique says how the blank is floated: a step of its
	// own after the stabilizer is hooped.
	Floats bool
}

// sewing is what sewing it is called and asks for.
func (m Making) sewing() (title say.Text, skills []skill.Key) {
	skills = []skill.Key{skill.ChangeColour}
	pieces := slices.Contains(m.Roles, stitch.Placement)
	if pieces {
		skills = append(skills, skill.Applique)
	}
	if m.Layers {
		skills = append(skills, skill.LayersInHoop)
	}
	switch {
	case m.Layers && pieces && !m.Recipe.CutsBefore():
		return say.T("Sew stop by stop, laying and trimming the layers"), skills
	case m.Layers:
		return say.T("Sew stop by stop, laying the layers"), skills
	case pieces && m.Recipe.CutsBefore():
		return say.T("Sew stop by stop, laying the pieces"), skills
	case pieces:
		return say.T("Sew stop by stop, laying and trimming the pieces"), skills
	}
	return say.T("Sew stop by stop"), skills
}

// StepsFor lists the steps of a project from the bare blank to the sign-off. What
// is built in the hoop has no blank: nothing is marked, and only stabilizer is
// hooped.
func (f Figures) StepsFor(m Making) []Step {
	r := m.Recipe
	hoopStep := Step{Key: StepHoop, Title: say.T("Hoop the blank"), Where: Bench, Minutes: f.HoopWoven,
		Skills: []skill.Key{skill.HoopWoven}}
	stabilise := Step{Key: StepStabilise, Title: say.T("Cut and lay the stabilizer"), Where: Bench, Minutes: f.Stabilise,
		Skills: []skill.Key{skill.CutStabilizer}}
	switch {
	case m.InHoop:
		hoopStep.Title, stabilise.Title = say.T("Hoop the stabilizer alone"),
			say.T("Cut the stabilizer, lay the layers ready in order")
	case m.Floats:
		hoopStep.Title = say.T("Hoop the stabilizer alone")
	case r.Hooping == recipe.Floated:
		hoopStep.Title = say.T("Hoop the stabilizer and float the blank on it")
	case m.Fabric.Knit():
		hoopStep.Minutes, hoopStep.Skills = f.HoopKnit, []skill.Key{skill.HoopKnit}
	}
	load := Step{
		Key: StepLoad, Title: say.T("Load, check the needle over the mark, trace"), Where: AtMachine, Minutes: f.Load,
		Skills: []skill.Key{skill.SafeStart, skill.Threading, skill.LoadTrace}, Cautions: []say.Text{LoadCaution},
	}
	if r.Over != nil {
		load.Skills = append(load.Skills, skill.Topper)
	}
	sew := Step{Key: StepSew, Where: AtMachine, Cautions: []say.Text{SewCaution}}
	sew.Title, sew.Skills = m.sewing()
	steps := []Step{
		{Key: StepMark, Title: say.T("Mark the blank with the template"), Where: Bench, Minutes: f.Mark,
			Skills: []skill.Key{skill.MarkAlign}},
		stabilise, hoopStep, load, sew,
		{Key: StepUnhoop, Title: say.T("Take it out of the hoop"), Where: Bench, Minutes: f.Unhoop},
		{Key: StepCleanUp, Title: say.T("Snip, trim and clean up"), Where: Bench, Minutes: f.CleanUp,
			Skills: []skill.Key{skill.CleanUp}},
		{Key: StepPress, Title: say.T("Press"), Where: Bench, Minutes: f.Press, Iron: true,
			Cautions: []say.Text{IronCaution}},
		{Key: StepSignOff, Title: say.T("Inspect together and sign off"), Where: Bench, Minutes: f.SignOff, Instructor: true},
	}
	if m.InHoop {
		steps = slices.DeleteFunc(steps, func(s Step) bool { return s.Key == StepMark })
	}
	if r.NoPress {
		steps = slices.DeleteFunc(steps, func(s Step) bool { return s.Key == StepPress })
	}
	return steps
}

// In is the key of a step in the nth hooping of a project: the first has the
// plain keys.
func (k StepKey) In(hooping int) StepKey {
	if hooping <= 1 {
		return k
	}
	return k + StepKey("-"+strconv.Itoa(hooping))
}

// Base takes a step's key apart into the plain key and the hooping; the part is
// [StepKey.PartN].
func (k StepKey) Base() (base StepKey, hooping int) {
	base, hooping = k.split()
	plain, _, _ := strings.Cut(string(base), partMark)
	return StepKey(plain), hooping
}

// split takes the hooping off a key.
func (k StepKey) split() (base StepKey, hooping int) {
	if at := strings.LastIndexByte(string(k), '-'); at > 0 {
		if n, err := strconv.Atoi(string(k[at+1:])); err == nil && n > 1 {
			return k[:at], n
		}
	}
	return k, 1
}

// partMark stands before the number of a part.
const partMark = "+"

// Part is the key of a part of a step that is done in several, counted from 1.
func (k StepKey) Part(n int) StepKey {
	if n <= 1 {
		return k
	}
	base, hooping := k.split()
	return (base + StepKey(partMark+strconv.Itoa(n))).In(hooping)
}

// PartN is which part of its step a key names, counted from 1.
func (k StepKey) PartN() int {
	base, _ := k.split()
	if _, text, is := strings.Cut(string(base), partMark); is {
		if n, err := strconv.Atoi(text); err == nil && n > 1 {
			return n
		}
	}
	return 1
}

// StepTrim is a piece trimmed off the machine between two parts of a sewing.
const StepTrim StepKey = "trim-off"

// StepPractice is what somebody does while they wait: it belongs to no project.
const StepPractice StepKey = "practice"

// Is tells whether it is a step of a kind, in any hooping.
func (k StepKey) Is(kind StepKey) bool {
	base, _ := k.Base()
	return base == kind
}

// InHoop tells whether somebody sits at the machine in which their hoop is.
func (s Step) InHoop() bool { return s.Where == AtMachine && !s.Sewing && !s.Errand }

// Hooping of a step, counted from 1.
func (k StepKey) Hooping() int {
	_, n := k.Base()
	return n
}

// AnotherHooping are the steps of the nth hooping of the same thing: hoop,
// load, sew and unhoop, as in the first, and what else is done again. title is
// what a person calls it.
func AnotherHooping(n int, title string, first []Step, m Making, again func(StepKey) bool) []Step {
	var steps []Step
	for _, s := range first {
		switch {
		case s.Key == StepHoop, s.Key == StepLoad, s.Key == StepUnhoop:
		case s.Key == StepSew:
			s.Title, s.Skills = m.sewing()
		case again == nil || !again(s.Key):
			continue
		}
		s.Key, s.Title = s.Key.In(n), say.T("%s: %s", s.Title, title)
		steps = append(steps, s)
	}
	return steps
}

// Work is a step off the machine that a project adds, the nth of them from 1.
func Work(n int, title string, minutes float64, iron, instructor bool) Step {
	s := Step{Key: WorkKey(n, iron), Title: say.Name(title), Where: Bench, Minutes: minutes, Instructor: instructor}
	if iron {
		s.Iron, s.Cautions = true, []say.Text{IronCaution}
	}
	return s
}

// WorkKey is the key of a project's nth step off the machine.
func WorkKey(n int, iron bool) StepKey {
	if iron {
		return StepKey(ironWork + strconv.Itoa(n))
	}
	return StepKey(benchWork + strconv.Itoa(n))
}

// IsWork tells a step that a project adds from those of every project.
func (k StepKey) IsWork() bool {
	return strings.HasPrefix(string(k), benchWork) || strings.HasPrefix(string(k), ironWork)
}

// Needs collects the skills of steps, each once, in order.
func Needs(steps []Step) []skill.Key {
	var needs []skill.Key
	for _, s := range steps {
		for _, key := range s.Skills {
			if !slices.Contains(needs, key) {
				needs = append(needs, key)
			}
		}
	}
	return needs
}
