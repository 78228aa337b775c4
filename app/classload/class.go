package classload

import (
	"chalkstep/app/form"
	"chalkstep/core/classday"
	"chalkstep/core/live"
)

// Class opens a class with its plan.
func (d Loader) Class(id int64) (classday.Plan, error) {
	plan, _, err := d.ClassIn(id)
	return plan, err
}

// LockedClass finds a class that may be changed yet, and keeps others from changing it.
func (d Loader) LockedClass(id int64) (classday.Class, error) {
	if err := d.Workshop.LockClass(id); err != nil {
		return classday.Class{}, err
	}
	c, err := d.Workshop.Class(id)
	if err != nil {
		return c, err
	}
	return c, d.Changeable(c)
}

// Changeable refuses to change a class that is over: it is a record.
func (d Loader) Changeable(c classday.Class) error {
	if c.Over(d.Now) {
		return form.Problems{"": "The class is over, so it stays as it was. Notes, marks and outcomes go under Wrap up."}
	}
	return nil
}

// Begun tells whether a class was started.
func (d Loader) Begun(id int64) (bool, error) {
	events, err := d.Workshop.Events(id)
	return live.Of(classday.Plan{}, events).Running(), err
}
