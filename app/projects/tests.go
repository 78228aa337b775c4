package projects

import (
	"strings"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/design"
	"chalkstep/core/fleet"
	"chalkstep/core/photo"
)

// mostTests are listed of a project, the newest.
const mostTests = 10

// A TestInput is what a person logs of a test stitch-out of a project.
type TestInput struct {
	MachineID   int64  `form:"machine"`
	Date        string `form:"date"`
	Minutes     string `form:"minutes"`
	WentWrong   string `form:"went-wrong"`
	WhatChanged string `form:"changed"`
	Photo       []byte `form:"-"`
}

// LogTest keeps how a test of a project, as it is made now, really went.
func (d UseCases) LogTest(id int64, in TestInput) error {
	if err := d.Need(actor.ChangeProjects); err != nil {
		return err
	}
	p, err := d.Workshop.Project(id)
	if err != nil {
		return err
	}
	problems := form.Problems{}
	if p.Gone() {
		problems["machine"] = "Its design is gone from the workshop: give it another first."
	}
	rules, machines, err := d.Floorplan()
	if err != nil {
		return err
	}
	run := design.StitchOut{MachineID: in.MachineID, Fabric: string(p.Fabric)}
	machine, known := machineOf(machines, in.MachineID)
	if !known {
		problems["machine"] = "Choose the machine it was sewn on."
	}
	run.SewnOn = form.PastDay(d.Date(), problems, "date", in.Date)
	run.Minutes = form.Number(problems, "minutes", in.Minutes, 0.1, 1440,
		"Write the minutes at the machine, from loading to the last stitch.")
	run.WentWrong = form.Text(problems, "went-wrong", strings.ReplaceAll(in.WentWrong, "\n", " "), form.LongestText)
	test := &design.Test{ProjectID: id,
		Changed: form.Text(problems, "changed", strings.ReplaceAll(in.WhatChanged, "\n", " "), form.LongestText)}
	picture := d.Photo(problems, in.Photo)
	if err := problems.OrNil(); err != nil {
		return err
	}
	run.Test, test.MadeAs = test, p.MadeAs(rules)
	sewn := p.Sewn(0)
	run = sewn.Said(run, p.Rules(rules).Timing().StitchOut(machine.Pacing(), p.Pacing(0), 1))
	_, err = actor.Once(d, func(d UseCases) (int64, error) {
		id, err := d.Workshop.LogStitchOut(run, picture, d.Who.AccountID)
		return id, form.Saved(err, "")
	})
	return err
}

func machineOf(machines []fleet.Machine, id int64) (fleet.Machine, bool) {
	for _, m := range machines {
		if m.ID == id {
			return m, true
		}
	}
	return fleet.Machine{}, false
}

// RemoveTest takes back an entry made by mistake.
func (d UseCases) RemoveTest(id, run int64) error {
	if err := d.Need(actor.ChangeProjects); err != nil {
		return err
	}
	p, err := d.Workshop.Project(id)
	if err != nil {
		return err
	}
	tests, err := d.Workshop.TestsOf(mostTests, p.ID)
	if err != nil {
		return err
	}
	for _, t := range tests {
		if t.ID == run {
			return actor.OnceOnly(d, func(d UseCases) error { return d.Workshop.RemoveStitchOut(t.DesignID, run) })
		}
	}
	return actor.NotFound("the test %d of a project", run)
}

// TestPhoto gives the photo of a project's test with its type.
func (d UseCases) TestPhoto(id, run int64) (kind string, data []byte, err error) {
	if err := d.Need(actor.See); err != nil {
		return "", nil, err
	}
	tests, err := d.Workshop.TestsOf(mostTests, id)
	if err != nil {
		return "", nil, err
	}
	for _, t := range tests {
		if t.ID == run {
			p, err := d.Workshop.StitchOutPhoto(t.DesignID, run)
			return photo.MediaType, p.Data, err
		}
	}
	return "", nil, actor.NotFound("the test %d of a project", run)
}
