package wrapup

import (
	"slices"
	"strings"
	"time"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/classday"
	"chalkstep/core/live"
	"chalkstep/core/recipe"
)

// An InspectPage is what is looked at of what a student made in a class.
type InspectPage struct {
	Plan    classday.Plan
	Student classday.Place
	// Project is what they made, Checks what is looked at of it.
	Project string
	Checks  []recipe.Check
	live.Inspection
}

// Inspect opens what is looked at of what a student made.
func (d UseCases) Inspect(classID, studentID int64) (InspectPage, error) {
	if err := d.Need(actor.See); err != nil {
		return InspectPage{}, err
	}
	plan, _, err := d.load().ClassIn(classID)
	if err != nil {
		return InspectPage{}, err
	}
	i := slices.IndexFunc(plan.Class.Places, func(p classday.Place) bool { return p.ID == studentID })
	if i < 0 {
		return InspectPage{}, actor.NotFound("student %d in class %d", studentID, classID)
	}
	page := InspectPage{Plan: plan, Student: plan.Class.Places[i], Project: plan.Class.Project.Name}
	var made recipe.Recipe
	if w, _, makes := plan.Maker(classday.PersonID(studentID)); makes {
		page.Project = w.Name
		if seat, sewn := plan.SeatOf(studentID, 1); sewn {
			if made, err = w.Recipe(0, seat.Hoop.Field, plan.Rules); err != nil {
				made = recipe.Recipe{} // what is looked at of anything
			}
		}
	}
	page.Checks = made.Checks()
	all, err := d.Workshop.Inspections(classID)
	page.Inspection = all[studentID]
	return page, err
}

// An InspectInput is what somebody saw: by check, whether it was good; what is not answered
// is not among them.
type InspectInput struct {
	Version int
	Good    map[recipe.CheckKey]bool
	Note    string
}

// SaveInspection writes down what was seen of what a student made.
func (d UseCases) SaveInspection(classID, studentID int64, in InspectInput) error {
	if err := d.Need(actor.SignOff); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error {
		page, err := d.Inspect(classID, studentID)
		if err != nil {
			return err
		}
		problems := form.Problems{}
		seen := live.Inspection{StudentID: studentID, Version: in.Version, At: d.Now.Truncate(time.Second),
			Note: strings.TrimSpace(form.Cleaned(in.Note))}
		for _, c := range page.Checks {
			if good, answered := in.Good[c.Key]; answered && good {
				seen.Good = append(seen.Good, c.Key)
			} else if answered {
				seen.Bad = append(seen.Bad, c.Key)
			}
		}
		if len(seen.Good)+len(seen.Bad) == 0 {
			problems[""] = "Say of at least one thing whether it is good."
		}
		if len([]rune(seen.Note)) > live.LongestNote {
			problems["note"] = "A note has at most 500 letters."
		}
		if err := problems.OrNil(); err != nil {
			return err
		}
		return form.Saved(d.Workshop.SaveInspection(classID, seen, d.Who.AccountID), "")
	})
}
