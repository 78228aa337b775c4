package people

import (
	"slices"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/say"
	"chalkstep/core/skill"
)

// A StepInput is a step of the ladder as a person writes it; Key is empty for a new one.
type StepInput struct {
	Version int         `form:"version"`
	Key     skill.Key   `form:"key"`
	Title   string      `form:"title" says:"Step"`
	Short   string      `form:"short" says:"Short"`
	LookFor string      `form:"look-for" says:"Looks for"`
	After   []skill.Key `form:"after" says:"Comes after"`
}

// A LadderPage is the ladder of the workshop, and a step of it that is changed.
type LadderPage struct {
	Ladder skill.Ladder
	// Usual tells that it is the handbook's.
	Usual bool
	In    StepInput
	// Kept tells that the step cannot be taken off.
	Kept bool
}

// EditLadder opens the ladder with one of its steps, or a new one for an empty key.
func (d UseCases) EditLadder(key skill.Key) (LadderPage, error) {
	if err := d.Need(actor.See); err != nil {
		return LadderPage{}, err
	}
	settings, err := d.Settings()
	if err != nil {
		return LadderPage{}, err
	}
	page := LadderPage{Ladder: settings.Ladder, Usual: len(settings.Ladder) == 0, In: StepInput{Version: settings.Version}}
	if key == "" {
		return page, nil
	}
	step, known := settings.Ladder.ByKey(key)
	if !known {
		return page, actor.NotFound("that step of the ladder")
	}
	page.In = StepInput{settings.Version, step.Key, string(step.Title), string(step.Short), string(step.LookFor),
		step.After}
	page.Kept = key.Kept()
	return page, nil
}

// Lengths of a step's words; its short name stands in a box of the drawing.
const (
	longestStepTitle = 60
	longestStepShort = 14
	longestLookFor   = 200
)

// SaveStep keeps a step of the ladder.
func (d UseCases) SaveStep(in StepInput) error {
	if err := d.Need(actor.SetHouse); err != nil {
		return err
	}
	problems := form.Problems{}
	step := skill.Step{Key: in.Key, Title: say.Word(form.Text(problems, "title", in.Title, longestStepTitle)),
		Short:   say.Word(form.Text(problems, "short", in.Short, longestStepShort)),
		LookFor: say.Word(form.Text(problems, "look-for", in.LookFor, longestLookFor))}
	if step.Title == "" && problems["title"] == "" {
		problems["title"] = "Say what the step is."
	}
	if step.Short == "" && problems["short"] == "" {
		problems["short"] = "Give it a short name for where there is little room."
	}
	settings, err := d.Settings()
	if err != nil {
		return err
	}
	for _, key := range slices.Compact(slices.Sorted(slices.Values(in.After))) {
		if _, known := settings.Ladder.ByKey(key); !known || key == in.Key {
			problems["after"] = "Choose from the other steps of the ladder."
		}
		step.After = append(step.After, key)
	}
	if err := problems.OrNil(); err != nil {
		return err
	}
	return d.changeLadder(in.Version, "after", func(l skill.Ladder) (skill.Ladder, error) { return l.With(step) })
}

// DropStep takes a step off the ladder; its marks are kept.
func (d UseCases) DropStep(key skill.Key, version int) error {
	if err := d.Need(actor.SetHouse); err != nil {
		return err
	}
	return d.changeLadder(version, "", func(l skill.Ladder) (skill.Ladder, error) { return l.Without(key) })
}

// UsualLadder goes back to the handbook's.
func (d UseCases) UsualLadder(version int) error {
	if err := d.Need(actor.SetHouse); err != nil {
		return err
	}
	return d.changeLadder(version, "", func(skill.Ladder) (skill.Ladder, error) { return nil, nil })
}

// changeLadder keeps a ladder that was changed; what is wrong with it is said at a field.
func (d UseCases) changeLadder(version int, field string, change func(skill.Ladder) (skill.Ladder, error)) error {
	settings, err := d.Settings()
	if err != nil {
		return err
	}
	changed, err := change(settings.Ladder)
	if err != nil {
		return form.Problems{field: d.Say(say.Of(err))}
	}
	settings.Ladder, settings.Version = changed, version
	return actor.OnceOnly(d, func(d UseCases) error { return form.Saved(d.Workshop.SaveSettings(settings), "") })
}
