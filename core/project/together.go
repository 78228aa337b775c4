package project

import (
	"slices"

	"chalkstep/core/blank"
	"chalkstep/core/design"
	"chalkstep/core/fleet"
	"chalkstep/core/hoop"
	"chalkstep/core/pace"
	"chalkstep/core/policy"
	"chalkstep/core/policy/rule"
	"chalkstep/core/recipe"
	"chalkstep/core/say"
	"chalkstep/core/skill"
)

// A Together is a project put together in a room.
type Together struct {
	Project
	// Sewing is what each hooping comes to, in order.
	Sewing []fleet.Estimate
	// Hoop is the one of the room that the first hooping asks for; NoHoop says
	// why there is none, and the recipe is then for the design's own size.
	Hoop   fleet.Hoop
	NoHoop say.Text
	// Recipe of the first hooping; NoRecipe says why there is none.
	Recipe   recipe.Recipe
	NoRecipe say.Text
	Steps    []pace.Step
	// BenchMinutes are a practised person's off the machine, SewMinutes those
	// at the machine in the middle.
	BenchMinutes, SewMinutes float64
	Needs, Teaches           []skill.Step
	// Differs lists the house rules the project answers otherwise.
	Differs []rule.Question[recipe.Rules]
	// Mark is where on the blank the design goes; NoMark says why that is not
	// known.
	Mark   blank.Mark
	NoMark say.Text
}

// teaches are the rungs that somebody said a project teaches, and those of its
// techniques.
func (p Project) teaches() []skill.Key {
	keys := slices.Clone(p.Teaches)
	for _, t := range p.Techniques {
		keys = append(keys, t.Teaches...)
	}
	return keys
}

// Minutes of the whole project for a practised person.
func (t Together) Minutes() float64 { return t.BenchMinutes + t.SewMinutes }

// Put puts a project together in a room. What cannot be worked out says why.
func Put(p Project, machines []fleet.Machine, rules policy.Rules) Together {
	t := Together{Project: p, Differs: rules.House.Differences(p.Holds()), Teaches: rules.Ladder.Missing(nil, p.teaches())}
	own := p.Rules(rules)
	machines = p.Takes(machines)
	for i := range p.Hoopings {
		e := fleet.EstimateOf(p.InField(i), machines, p.Garment(), own)
		e.Hands(own.Timing().Laying(p.Pacing(i)))
		t.Sewing = append(t.Sewing, e)
		t.SewMinutes += e.Minutes
	}
	var first design.Design
	if len(p.Hoopings) > 0 {
		first = p.InField(0)
	}
	if chosen, ok := fleet.ChooseHoop(fleet.HoopsOf(machines), first, p.Garment(), own); ok {
		t.Hoop = chosen
	} else {
		t.NoHoop = say.T("No hoop in the room takes this design.")
		if p.InHoop {
			t.NoHoop = say.T("No hoop in the room takes the finished thing, %s: what is built in the hoop has to fit into it.",
				say.Size{p.Blank.WidthMM, p.Blank.HeightMM})
		}
		// A recipe still has to be cut for something: the design itself.
		t.Hoop = fleet.Hoop{Field: hoop.Field{WidthMM: max(1, first.WidthMM), HeightMM: max(1, first.HeightMM)}}
	}
	var err error
	if len(p.Hoopings) > 0 {
		if t.Recipe, err = p.Recipe(0, t.Hoop.Field, rules); err != nil {
			t.NoRecipe = say.Of(err)
		}
	}
	if t.Steps, err = p.Steps(rules); err != nil {
		t.NoRecipe = say.Of(err)
	}
	for _, s := range t.Steps {
		if !s.Key.Is(pace.StepSew) {
			t.BenchMinutes += s.Minutes
		}
	}
	t.Needs = rules.Ladder.Missing(nil, pace.Needs(t.Steps))
	if t.Mark, err = p.Mark(); err != nil {
		t.NoMark = say.Of(err)
	}
	return t
}
