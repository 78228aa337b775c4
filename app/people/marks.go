package people

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/photo"
	"chalkstep/core/say"
	"chalkstep/core/skill"
)

// A MarkInput says how some students did a step, today, seen by whoever is signed in.
type MarkInput struct {
	StudentIDs []int64     `form:"student"`
	Skill      skill.Key   `form:"skill"`
	On         skill.Kind  `form:"kind"`
	Level      skill.Level `form:"level"`
	Note       string      `form:"note"`
	// Photo of what it is given for, with one student alone.
	Photo []byte `form:"-"`
	// Anyway marks those, too, who have not reached what comes before.
	Anyway bool `form:"anyway"`
}

// Limits of marks.
const (
	mostMarked      = 60
	longestMarkNote = 500
)

// Mark writes down how students did a step. Of somebody who has not reached what comes
// before, it asks first.
func (d UseCases) Mark(in MarkInput) error {
	if err := d.Need(actor.SignOff); err != nil {
		return err
	}
	problems := form.Problems{}
	settings, err := d.Settings()
	if err != nil {
		return err
	}
	step, known := settings.Ladder.ByKey(in.Skill)
	if !known {
		problems["skill"] = "That step is not on the ladder."
	}
	if !slices.Contains(skill.Kinds, in.On) {
		problems["kind"] = "Choose the kind of machine it was done on."
	}
	if !slices.Contains(skill.Levels, in.Level) {
		problems["level"] = "Say how they did it: shown, with help, alone, or can teach it."
	}
	note := strings.TrimSpace(form.Cleaned(in.Note))
	if len([]rune(note)) > longestMarkNote {
		problems["note"] = "A note has at most 500 letters."
	}
	ids := slices.Compact(slices.Sorted(slices.Values(in.StudentIDs)))
	switch {
	case len(ids) == 0:
		problems["student"] = "Choose who did it."
	case len(ids) > mostMarked:
		problems["student"] = "Choose at most 60 at a time."
	case len(ids) > 1 && len(in.Photo) > 0:
		problems["photo"] = "A photo goes with the mark of one student."
	}
	picture := d.Photo(problems, in.Photo)
	if err := problems.OrNil(); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error {
		if err := d.Workshop.LockStudents(ids...); err != nil { // everyone locks in one order
			return err
		}
		if err := d.checkForerunners(ids, settings.Ladder, step, in); err != nil {
			return err
		}
		for _, id := range ids {
			mark := skill.Mark{StudentID: id, Skill: step.Key, On: in.On, Level: in.Level, Date: d.Now.In(d.Who.Zone),
				Note: note}
			made, err := d.Workshop.Mark(mark, d.Who.AccountID)
			if err == nil && picture.Data != nil {
				err = d.Workshop.PutMarkPhoto(made, picture)
			}
			if err != nil {
				return form.Saved(err, "")
			}
		}
		return nil
	})
}

// checkForerunners asks where somebody is marked at a step before what comes first. To be
// shown a step nothing is needed.
func (d UseCases) checkForerunners(ids []int64, ladder skill.Ladder, step skill.Step, in MarkInput) error {
	students, err := d.Workshop.StudentsByID(ids...)
	if err != nil {
		return err
	}
	if len(students) != len(ids) {
		return actor.NotFound("one of the students")
	}
	if in.Anyway || in.Level == skill.Shown {
		return nil
	}
	var lacking say.List
	for _, s := range students {
		if missing := ladder.Missing(s.Signed(), step.After); len(missing) > 0 {
			lacking = append(lacking, say.T("%s has not reached %s", say.Name(s.Name), skill.Titles(missing)))
		}
	}
	if len(lacking) == 0 {
		return nil
	}
	return form.Problems{"anyway": fmt.Sprintf("%s. Mark it all the same, or choose others.", d.Say(lacking))}
}

// MarkPhoto is the photo of what a mark was given for.
func (d UseCases) MarkPhoto(studentID, markID int64) (photo.Photo, error) {
	if err := d.Need(actor.See); err != nil {
		return photo.Photo{}, err
	}
	return d.Workshop.MarkPhoto(studentID, markID)
}

// TakeMarkBack takes a mark back that was given by mistake.
func (d UseCases) TakeMarkBack(studentID, markID int64) error {
	if err := d.Need(actor.SignOff); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error {
		return d.Workshop.TakeMarkBack(studentID, markID, d.Who.AccountID, d.Now)
	})
}

// A MatrixPage is some students and the steps of the ladder, on a kind of machine.
type MatrixPage struct {
	Group skill.Group
	On    skill.Kind
	Pages form.Pages
	// Class is whose students they are, where they are those of one.
	ClassID int64
	Class   string
	// Step is the one that is looked at; Ready are those for whom it can come next,
	// Teachers who can show it.
	Ladder          skill.Ladder
	Step            skill.Step
	Ready, Teachers skill.Group
	Stuck           []skill.Stuck
}

// Matrix opens what students whose names hold words, or those of a class where it is named,
// have shown on a kind of machine, looking at a step, which may be empty for the one that
// most are ready for.
func (d UseCases) Matrix(words string, page int, classID int64, on skill.Kind, key skill.Key) (MatrixPage, error) {
	if err := d.Need(actor.See); err != nil {
		return MatrixPage{}, err
	}
	const onPage = 24
	m := MatrixPage{Pages: form.NewPages(words, page, onPage), On: cmp.Or(on, skill.SingleNeedle)}
	if !slices.Contains(skill.Kinds, m.On) {
		return m, actor.NotFound("that kind of machine")
	}
	m.ClassID = classID
	students, class, err := d.group(&m.Pages, classID)
	if err != nil {
		return m, err
	}
	m.Class = class
	ids := make([]int64, len(students))
	for i, s := range students {
		ids[i] = s.ID
	}
	marks, err := d.Workshop.MarksOf(ids...)
	if err != nil {
		return m, err
	}
	for _, s := range students {
		m.Group = append(m.Group, skill.NewRecord(s, marks, m.On))
	}
	settings, err := d.Settings()
	if err != nil {
		return m, err
	}
	m.Ladder = settings.Ladder
	if step, known := m.Ladder.ByKey(key); known {
		m.Step = step
	} else if next, some := m.Group.Next(m.Ladder); some {
		m.Step = next
	} else {
		m.Step = m.Ladder.Steps()[0]
	}
	m.Ready, m.Teachers, m.Stuck = m.Group.ReadyFor(m.Ladder, m.Step), m.Group.Teachers(m.Step), m.Group.Stuck(m.Ladder)
	return m, nil
}
