package planning

import (
	"chalkstep/app/actor"
	"chalkstep/core/classday"
	"chalkstep/core/project"
)

// Untested lists what a class makes of which nobody has sewn a test as it is
// made in this class.
func (d UseCases) Untested(plan classday.Plan) ([]project.Project, error) {
	if err := d.Need(actor.See); err != nil {
		return nil, err
	}
	if plan.Class.Off() || plan.Class.Over(d.Now) {
		return nil, nil
	}
	var ids []int64
	for _, w := range plan.Works {
		ids = append(ids, w.ID)
	}
	const newest = 10
	tests, err := d.Workshop.TestsOf(newest, ids...)
	if err != nil {
		return nil, err
	}
	var untested []project.Project
	for _, w := range plan.Works {
		if !w.Gone() && w.TestedBy(tests, plan.Rules).Now == nil {
			untested = append(untested, w.Project)
		}
	}
	return untested, nil
}
