package wrapup

import (
	"fmt"
	"slices"
	"strings"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/classday"
	"chalkstep/core/live"
	"chalkstep/core/photo"
	"chalkstep/core/skill"
)

// An OutcomeInput is what is said of a student after a class.
type OutcomeInput struct {
	StudentID int64
	// Reached is how far they came, empty for what the log says.
	Reached string
	Note    string
	KitKept bool
	Version int
}

// A MarkInput is a mark that is given after a class.
type MarkInput struct {
	StudentID int64
	Skill     skill.Key
	On        skill.Kind
	Level     skill.Level
}

// A SaveInput is what is said of a class when it is wrapped up.
type SaveInput struct {
	Outcomes []OutcomeInput
	Marks    []MarkInput
}

// Save writes down what is said of everybody of a class, and the marks they are given. What is wrong with
// a note is filed under "note-" and the ID of its student.
func (d UseCases) Save(classID int64, in SaveInput) error {
	if err := d.Need(actor.RunClasses); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error {
		if err := d.Workshop.LockClass(classID); err != nil {
			return err
		}
		w, err := d.sumUp(classID)
		if err != nil {
			return err
		}
		if !w.Running() && d.Now.Before(w.Plan.Class.StartsAt) {
			return form.Problems{"": "The class has not begun yet."}
		}
		if err := d.saveOutcomes(w, in.Outcomes); err != nil || len(in.Marks) == 0 {
			return err
		}
		return d.saveMarks(w, in.Marks)
	})
}

// saveOutcomes writes down what is said of students that was not said before. When a class is over,
// everything was looked at that was not changed, too.
func (d UseCases) saveOutcomes(w WrapPage, outcomes []OutcomeInput) error {
	problems := form.Problems{}
	var changed []live.Said
	for _, in := range outcomes {
		if !slices.ContainsFunc(w.Plan.Class.Places, func(p classday.Place) bool { return p.ID == in.StudentID }) {
			return actor.NotFound("student %d in class %d", in.StudentID, w.Plan.Class.ID)
		}
		said, was := live.Said{StudentID: in.StudentID, Reached: live.Reached(in.Reached),
			Note: strings.TrimSpace(form.Cleaned(in.Note)), KitKept: in.KitKept, Version: in.Version}, w.Said[in.StudentID]
		if said.Reached != "" && !said.Reached.Is() || said.Reached == "" && !w.Running() {
			problems[""] = "Say of everybody how far they came."
		}
		if len([]rune(said.Note)) > live.LongestNote {
			problems[fmt.Sprintf("note-%d", in.StudentID)] = "A note has at most 500 letters."
		}
		same := said.Reached == was.Reached && said.Note == was.Note && said.KitKept == was.KitKept
		if !same || was.Version == 0 && w.Over() {
			changed = append(changed, said)
		}
	}
	if err := problems.OrNil(); err != nil {
		return err
	}
	for _, said := range changed {
		if err := d.Workshop.SaveOutcome(w.Plan.Class.ID, said); err != nil {
			return form.Saved(err, "")
		}
	}
	return nil
}

// saveMarks gives marks that what happened speaks for.
func (d UseCases) saveMarks(w WrapPage, marks []MarkInput) error {
	if err := d.Need(actor.SignOff); err != nil {
		return err
	}
	for _, in := range marks {
		at := slices.IndexFunc(w.Suggested, func(s live.Suggested) bool {
			return s.StudentID == in.StudentID && s.Key == in.Skill && s.On == in.On
		})
		if at < 0 {
			return form.Problems{
				"": "Somebody who is ticked did not do that step here, or was marked at it already. Look again."}
		}
		if !slices.Contains([]skill.Level{skill.Shown, skill.Helped, skill.Alone}, in.Level) {
			return form.Problems{"": "A step is shown, or done with help, or alone: choose one of these."}
		}
		m := skill.Mark{StudentID: in.StudentID, Skill: in.Skill, On: in.On, Level: in.Level, Date: d.Now.In(d.Who.Zone),
			ClassID: w.Plan.Class.ID, Clean: w.Suggested[at].Clean && in.Level != skill.Helped}
		if _, err := d.Workshop.Mark(m, d.Who.AccountID); err != nil {
			return form.Saved(err, "")
		}
	}
	return nil
}

// SaveOutcomePhoto keeps a photo of what a student made in a class.
func (d UseCases) SaveOutcomePhoto(classID, studentID int64, data []byte) error {
	if err := d.Need(actor.RunClasses); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error {
		c, err := d.Workshop.Class(classID)
		if err != nil {
			return err
		}
		if !slices.ContainsFunc(c.Places, func(p classday.Place) bool { return p.ID == studentID }) {
			return actor.NotFound("student %d in class %d", studentID, classID)
		}
		problems := form.Problems{}
		if len(data) == 0 {
			problems["photo"] = "Choose a photo first."
		}
		p := d.Photo(problems, data)
		if err := problems.OrNil(); err != nil {
			return err
		}
		return form.Saved(d.Workshop.PutOutcomePhoto(classID, studentID, p), "")
	})
}

// OutcomePhoto is the photo of what a student made in a class.
func (d UseCases) OutcomePhoto(classID, studentID int64) (photo.Photo, error) {
	if err := d.Need(actor.See); err != nil {
		return photo.Photo{}, err
	}
	return d.Workshop.OutcomePhoto(classID, studentID)
}
