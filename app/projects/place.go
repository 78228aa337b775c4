package projects

import (
	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/blank"
	"chalkstep/core/project"
	"chalkstep/core/say"
)

// A Placed is where on its blank a design would go.
type Placed struct {
	Project project.Project
	Mark    blank.Mark
	// NoMark says why that is not known.
	NoMark say.Text
}

// Place tells where on its blank a design would go as it is typed: what is in the
// way is among the problems, and nothing is kept.
func (d UseCases) Place(id int64, in PlaceOnBlank) (Placed, form.Problems, error) {
	if err := d.Need(actor.See); err != nil {
		return Placed{}, nil, err
	}
	p, err := d.Workshop.Project(id)
	if err != nil {
		return Placed{}, nil, err
	}
	problems := form.Problems{}
	d.readPlace(problems, &p.Blank, in)
	placed := Placed{Project: p}
	if placed.Mark, err = p.Mark(); err != nil {
		placed.NoMark = say.Of(err)
	}
	if fault, bad := p.Faults(nil)[project.InSpot]; bad && len(problems) == 0 {
		problems["spot"] = d.Say(fault)
	}
	return placed, problems, nil
}
