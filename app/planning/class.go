package planning

import (
	"chalkstep/app/actor"
	"chalkstep/core/classday"
)

// Class opens a class with its plan, worked out anew when anything it was made
// from has changed.
func (d UseCases) Class(classID int64) (classday.Plan, error) {
	if err := d.Need(actor.See); err != nil {
		return classday.Plan{}, err
	}
	plan, _, err := d.load().ClassIn(classID)
	return plan, err
}
