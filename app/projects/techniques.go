package projects

import (
	"errors"
	"slices"
	"strings"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/policy"
	"chalkstep/core/project"
	"chalkstep/core/say"
	"chalkstep/core/technique"
	"chalkstep/store"
)

// savingSets are the blocks of the class that a window's saving is told for.
const savingSets = 12

// Ways are the techniques of one purpose.
type Ways struct {
	technique.GroupOf
	Options []Way
	// Chosen counts those that are.
	Chosen int
}

// A Way is a technique that may be chosen for a project.
type Way struct {
	technique.Technique
	Chosen bool
	// Proposed says why the house would take it here, Unfit why it cannot be
	// taken; each is silent where there is nothing to say.
	Proposed, Unfit say.Text
}

// ways lists the techniques to choose from for a project.
func (d UseCases) ways(p project.Project) ([]Ways, error) {
	written, err := d.Workshop.Techniques()
	if err != nil {
		return nil, err
	}
	all := slices.Clone(technique.All)
	for _, w := range written {
		all = append(all, w.Technique())
	}
	for _, t := range p.Techniques { // one that has left the workshop's list since
		if !slices.ContainsFunc(all, func(have technique.Technique) bool { return have.Key == t.Key }) {
			all = append(all, t)
		}
	}
	work := p.Worked()
	proposals := technique.Propose(work)
	var ways []Ways
	for _, g := range technique.Groups {
		group := Ways{GroupOf: g}
		for _, t := range all {
			if t.Group != g.Key {
				continue
			}
			way := Way{Technique: t, Chosen: p.HasTechnique(t.Key), Unfit: t.Unfit(work)}
			if i := slices.IndexFunc(proposals, func(p technique.Proposal) bool { return p.Key == t.Key }); i >= 0 {
				way.Proposed = proposals[i].Why
			}
			if way.Chosen {
				group.Chosen++
			}
			group.Options = append(group.Options, way)
		}
		if len(group.Options) > 0 {
			ways = append(ways, group)
		}
	}
	return ways, nil
}

// readTechniques reads which techniques a project is made by. One that the
// workshop wrote is taken as it is now, or as the project has it where it has
// left the list since.
func (d UseCases) readTechniques(problems form.Problems, p *project.Project, in ProjectParts) error {
	was := p.Techniques
	p.Techniques, p.Blocks = nil, 0
	for _, key := range in.Techniques {
		t, known := technique.ByKey(technique.Key(key))
		if id, own := technique.OwnID(technique.Key(key)); own {
			written, err := d.Workshop.Technique(id)
			if err != nil && !errors.Is(err, store.ErrNotFound) {
				return err
			}
			t, known = written.Technique(), err == nil
		}
		if i := slices.IndexFunc(was, func(have technique.Technique) bool {
			return have.Key == technique.Key(key)
		}); !known && i >= 0 {
			t, known = was[i], true
		}
		if !known {
			problems["techniques"] = "Choose techniques from the list."
			return nil
		}
		p.Techniques = append(p.Techniques, t)
	}
	slices.SortStableFunc(p.Techniques, func(a, b technique.Technique) int { return inOrder(a) - inOrder(b) })
	if strings.TrimSpace(in.Blocks) != "" && p.Effects().Window {
		p.Blocks = form.Whole(problems, "techniques", in.Blocks, 1, 50, "Write how many blocks a sheet serves, 1 to 50.")
	}
	return nil
}

// inOrder is the place of a technique in the order of the work; those that the
// workshop wrote come last.
func inOrder(t technique.Technique) int {
	if i := slices.IndexFunc(technique.All, func(have technique.Technique) bool { return have.Key == t.Key }); i >= 0 {
		return i
	}
	return len(technique.All)
}

// A Comparison is a project as it is and as it would be.
type Comparison struct {
	Now, Then project.Together
	// Saving is what a stabilizer window would save.
	Saving technique.Saving
}

// Techniques compares a project with what it would be with the techniques that
// are chosen: what is in the way of them is among the problems, and nothing is
// kept.
func (d UseCases) Techniques(id int64, typed ProjectParts) (Comparison, form.Problems, error) {
	if err := d.Need(actor.See); err != nil {
		return Comparison{}, nil, err
	}
	p, err := d.Workshop.Project(id)
	if err != nil {
		return Comparison{}, nil, err
	}
	rules, machines, err := d.Floorplan()
	if err != nil {
		return Comparison{}, nil, err
	}
	made := Comparison{Now: project.Put(p, machines, rules)}
	problems := form.Problems{}
	if err = d.readTechniques(problems, &p, typed); err != nil {
		return made, nil, err
	}
	if fault, bad := p.Faults(rules.Ladder)[project.InWays]; bad && len(problems) == 0 {
		problems["techniques"] = d.Say(fault)
	}
	made.Then, made.Saving = project.Put(p, machines, rules), savingOf(p, rules)
	return made, problems, nil
}

// savingOf is what a stabilizer window saves on a project.
func savingOf(p project.Project, rules policy.Rules) technique.Saving {
	return technique.SavingOf(savingSets, p.BlocksPerSheet(), rules.Pace.HoopWoven, rules.Pace.Stabilise)
}
