package wrapup

import (
	"slices"

	"chalkstep/app/actor"
	"chalkstep/app/classload"
	"chalkstep/core/classday"
	"chalkstep/core/fleet"
	"chalkstep/core/live"
	"chalkstep/core/skill"
)

// A WrapPage is how a class went, and what is still to do about it.
type WrapPage struct {
	classload.RunPage
	live.Report
	Said map[int64]live.Said
	// Inspections are what was looked at, by student.
	Inspections map[int64]live.Inspection
	// Suggested are the marks that what happened speaks for, Marked those given in the class.
	Suggested []live.Suggested
	Marked    []skill.Mark
	// Makeups are when unfinished work could go on, and Booked when it does, by student.
	Makeups map[int64][]Makeup
	Booked  map[int64][]fleet.Booking
	// Reserved tells that the shelf is not put right yet.
	Reserved bool
}

// Wrap sums a class up, however far it is.
func (d UseCases) Wrap(classID int64) (WrapPage, error) {
	if err := d.Need(actor.See); err != nil {
		return WrapPage{}, err
	}
	w, err := d.sumUp(classID)
	if err == nil {
		w.Makeups, w.Booked, err = d.makeups(w)
	}
	return w, err
}

// sumUp is how a class went, without the times to make up for anything.
func (d UseCases) sumUp(classID int64) (WrapPage, error) {
	page, err := d.load().Runs(classID)
	if err != nil {
		return WrapPage{}, err
	}
	w := WrapPage{RunPage: page, Reserved: len(page.Plan.Class.Reserved) > 0}
	if w.Said, err = d.Workshop.Outcomes(classID); err != nil {
		return w, err
	}
	if w.Inspections, err = d.Workshop.Inspections(classID); err != nil {
		return w, err
	}
	w.Report = page.State.Report()
	if len(w.Students) == 0 { // there was no plan
		for _, p := range page.Plan.Class.Places {
			if p.Attendance != classday.Absent {
				w.Students = append(w.Students,
					live.Outcome{Standing: live.Standing{StudentID: p.ID, Name: p.Name}, Reached: live.Missing})
			}
		}
	}
	w.Report = w.Report.With(w.Said)
	ids := make([]int64, len(w.Students))
	for i, o := range w.Students {
		ids[i] = o.StudentID
	}
	marks, err := d.Workshop.MarksOf(ids...)
	if err != nil {
		return w, err
	}
	w.Suggested = page.Suggested(marks)
	w.Marked = slices.DeleteFunc(marks, func(m skill.Mark) bool { return m.ClassID != classID })
	return w, nil
}

// Over tells that a class has ended, or was not run and its time is over.
func (w WrapPage) Over() bool {
	_, ended := w.Ended()
	return ended || !w.Running() && w.Now.After(w.Plan.Class.EndsAt)
}
