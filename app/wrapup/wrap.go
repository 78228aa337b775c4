package wrapup

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"chalkstep/app/actor"
	"chalkstep/app/classload"
	"chalkstep/app/form"
	"chalkstep/core/booking"
	"chalkstep/core/classday"
	"chalkstep/core/fleet"
	"chalkstep/core/live"
	"chalkstep/core/photo"
	"chalkstep/core/say"
	"chalkstep/core/skill"
	"chalkstep/paper"
	"chalkstep/store"
)

// A WrapPage is how a class went, and what is still to do about it.
type WrapPage struct {
	classload.RunPage
	live.Report
	Said map[int64]live.Said
	// Inspections are what was looked at, by student.
	Inspections map[int64]live.Inspection
	// Rounds are what could be signed off from what was seen.
	Rounds []live.Round
	// Makeups are when unfinished work could go on, by student.
	Makeups map[int64][]Makeup
	// Reserved tells that the shelf is not put right yet.
	Reserved bool
}

// A Makeup is a stretch of time in which somebody could finish at a machine.
type Makeup struct {
	Machine          fleet.Named
	StartsAt, EndsAt time.Time
	// Accompanied tells that an instructor has to stay.
	Accompanied bool
}

// Wrap sums a class up, however far it is.
func (d UseCases) Wrap(classID int64) (WrapPage, error) {
	if err := d.Need(actor.See); err != nil {
		return WrapPage{}, err
	}
	page, err := d.load().Runs(classID)
	if err != nil {
		return WrapPage{}, err
	}
	w := WrapPage{RunPage: page, Reserved: len(page.Plan.Class.Reserved) > 0, Rounds: page.Rounds()}
	if w.Said, err = d.Workshop.Outcomes(classID); err != nil {
		return w, err
	}
	if w.Inspections, err = d.Workshop.Inspections(classID); err != nil {
		return w, err
	}
	marks, err := d.Workshop.MarksIn(classID)
	if err != nil {
		return w, err
	}
	w.Rounds = live.Unmarked(w.Rounds, marks)
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
	w.Makeups, err = d.makeups(w)
	return w, err
}

// Limits of looking for a time to finish.
const (
	makeupDays   = 14
	mostMakeups  = 3
	mostBookings = 500
	leastMakeup  = 30 * time.Minute
)

// makeups look for times at which those who have something to finish could: at the hour of
// the class, on the days that follow, at a machine they may sit at, as the rules of booking
// allow it.
func (d UseCases) makeups(w WrapPage) (map[int64][]Makeup, error) {
	found := map[int64][]Makeup{}
	class := w.Plan.Class
	first := class.StartsAt
	if first.Before(d.Now) {
		first = time.Date(d.Now.In(d.Who.Zone).Year(), d.Now.In(d.Who.Zone).Month(), d.Now.In(d.Who.Zone).Day(),
			first.In(d.Who.Zone).Hour(), first.In(d.Who.Zone).Minute(), 0, 0, d.Who.Zone)
	}
	var open []live.Outcome
	for _, o := range w.Students {
		if len(o.Steps) > 0 && (o.Reached == live.ToFinish || o.Reached == live.NotStarted && w.Running()) {
			open = append(open, o)
		}
	}
	if len(open) == 0 || d.Now.After(class.EndsAt.AddDate(0, 0, makeupDays)) {
		return found, nil
	}
	until := first.AddDate(0, 0, makeupDays+1)
	taken, _, err := d.Workshop.BookingsBetween(d.Now, until, store.Rows{Limit: mostBookings})
	if err != nil {
		return nil, err
	}
	ids := make([]int64, len(open))
	for i, o := range open {
		ids[i] = o.StudentID
	}
	elsewhere, err := d.Workshop.Elsewhere(ids, booking.Week(d.Now, d.Who.Zone).From, until, class.ID)
	if err != nil {
		return nil, err
	}
	settings, err := d.Settings()
	if err != nil {
		return nil, err
	}
	instructors, err := d.Workshop.Instructors(d.Now, until, 0)
	if err != nil {
		return nil, err
	}
	free := freeTimes{plan: w.Plan, rules: settings.Booking, taken: map[int64][]booking.Span{}, instructors: instructors}
	for _, m := range class.Machines {
		free.taken[m.ID] = fleet.WhenTaken(m.ID, taken, nil, booking.Span{})
	}
	for _, o := range open {
		free.elsewhere, free.booked = fleet.WhereIs(o.StudentID, elsewhere, d.Who.Zone)
		length := max(leastMakeup, free.rules.Length(o.LeftMinutes()))
		for n := 1; n <= makeupDays && len(found[o.StudentID]) < mostMakeups; n++ {
			from := first.AddDate(0, 0, n)
			m, ok, err := d.makeupAt(free, o, booking.Span{From: from, To: from.Add(length)})
			if err != nil {
				return nil, err
			}
			if ok {
				found[o.StudentID] = append(found[o.StudentID], m)
			}
		}
	}
	return found, nil
}

// freeTimes are what a time to finish is looked for with: the rules of booking, when each
// machine is taken, what takes instructors, and where the student is otherwise and how much
// they have booked by week, from the beginning of this one.
type freeTimes struct {
	plan        classday.Plan
	rules       booking.Rules
	taken       map[int64][]booking.Span
	instructors fleet.Instructors
	elsewhere   []booking.Span
	booked      map[time.Time]float64
}

// makeupAt finds a machine that takes what somebody has to finish and is free.
func (d UseCases) makeupAt(free freeTimes, o live.Outcome, at booking.Span) (Makeup, bool, error) {
	if slices.ContainsFunc(free.elsewhere, at.Meets) {
		return Makeup{}, false, nil
	}
	weekMinutes := free.booked[booking.Week(at.From, d.Who.Zone).From]
	work, place, _ := free.plan.Maker(o.Steps[0].Job)
	for _, m := range free.plan.Class.Machines {
		_, out := m.Out(at.From, at.To)
		taken := free.taken[m.ID]
		if out || !work.Fits(m.ID) || slices.ContainsFunc(taken, at.Meets) ||
			len(free.rules.Check(at, weekMinutes, taken, d.Now, d.Who.Zone)) > 0 {
			continue
		}
		c, err := d.Clearance(place.Student, m.Kind())
		if err != nil {
			return Makeup{}, false, err
		}
		if c.May() || free.instructors.Free(at.From, at.To) {
			return Makeup{fleet.Named{ID: m.ID, Name: m.Name}, at.From, at.To, !c.May()}, true, nil
		}
	}
	return Makeup{}, false, nil
}

// BookMakeup books the nth of the times that a student was offered, and keeps the kit on
// the shelf under their name.
func (d UseCases) BookMakeup(classID, studentID int64, startsAt time.Time) error {
	if err := d.Need(actor.Book); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error {
		w, err := d.Wrap(classID)
		if err != nil {
			return err
		}
		at := slices.IndexFunc(w.Makeups[studentID], func(m Makeup) bool { return m.StartsAt.Equal(startsAt) })
		if at < 0 {
			return form.Problems{"": "That time is taken meanwhile: choose another."}
		}
		m := w.Makeups[studentID][at]
		if err := d.Workshop.LockStudents(studentID); err != nil {
			return err
		}
		if m.Accompanied {
			busy, err := d.Workshop.LockInstructors(m.StartsAt, m.EndsAt, 0)
			if err != nil {
				return err
			}
			if !busy.Free(m.StartsAt, m.EndsAt) {
				return form.Problems{"": "No instructor is free then, and one has to stay: choose another time."}
			}
		}
		_, err = d.Workshop.Book(fleet.Booking{Machine: m.Machine, Student: &fleet.Named{ID: studentID}, StartsAt: m.StartsAt,
			EndsAt: m.EndsAt, Accompanied: m.Accompanied}, d.Who.AccountID)
		if errors.Is(err, store.ErrOverlap) || errors.Is(err, store.ErrElsewhere) {
			return form.Problems{"": m.Machine.Name + " is taken meanwhile: choose another time."}
		}
		if err != nil {
			return err
		}
		said := w.Said[studentID]
		said.StudentID, said.KitKept = studentID, true
		return form.Saved(d.Workshop.SaveOutcome(classID, said, photo.Photo{}), "")
	})
}

// An OutcomeInput is what is said of a student after a class.
type OutcomeInput struct {
	StudentID int64 `form:"-"`
	// Reached is how far they came, empty for what the log says.
	Reached string `form:"reached"`
	Note    string `form:"note"`
	KitKept bool   `form:"kept"`
	Photo   []byte `form:"-"`
	Version int    `form:"version"`
}

// SaveOutcome notes what is said of a student after a class.
func (d UseCases) SaveOutcome(classID int64, in OutcomeInput) error {
	if err := d.Need(actor.RunClasses); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error {
		c, err := d.Workshop.Class(classID)
		if err != nil {
			return err
		}
		if !slices.ContainsFunc(c.Places, func(p classday.Place) bool { return p.ID == in.StudentID }) {
			return actor.NotFound("student %d in class %d", in.StudentID, classID)
		}
		problems := form.Problems{}
		said := live.Said{StudentID: in.StudentID, Reached: live.Reached(in.Reached),
			Note: strings.TrimSpace(form.Cleaned(in.Note)), KitKept: in.KitKept, Version: in.Version}
		if said.Reached != "" && !said.Reached.Is() {
			problems["reached"] = "Choose how far they came."
		}
		if len([]rune(said.Note)) > live.LongestNote {
			problems["note"] = "A note has at most 500 letters."
		}
		p := d.Photo(problems, in.Photo)
		if err := problems.OrNil(); err != nil {
			return err
		}
		return form.Saved(d.Workshop.SaveOutcome(classID, said, p), "")
	})
}

// SaveOutcomes notes at once how far everybody came in a class that was not run here.
func (d UseCases) SaveOutcomes(classID int64, reached map[int64]string) error {
	if err := d.Need(actor.RunClasses); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error {
		w, err := d.Wrap(classID)
		if err != nil {
			return err
		}
		if w.Running() {
			return form.Problems{"": "The class was run here: how far everybody came is known."}
		}
		if d.Now.Before(w.Plan.Class.StartsAt) {
			return form.Problems{"": "The class has not begun yet."}
		}
		for _, o := range w.Students {
			to := live.Reached(reached[o.StudentID])
			if !to.Is() {
				return form.Problems{"": "Say of everybody how far they came."}
			}
			said := w.Said[o.StudentID]
			if said.Reached == to {
				continue
			}
			said.StudentID, said.Reached = o.StudentID, to
			if err := d.Workshop.SaveOutcome(classID, said, photo.Photo{}); err != nil {
				return form.Saved(err, "")
			}
		}
		return nil
	})
}

// OutcomePhoto is the photo of what a student made in a class.
func (d UseCases) OutcomePhoto(classID, studentID int64) (photo.Photo, error) {
	if err := d.Need(actor.See); err != nil {
		return photo.Photo{}, err
	}
	return d.Workshop.OutcomePhoto(classID, studentID)
}

// SignRound signs a step of the ladder off for those who were seen to do it.
func (d UseCases) SignRound(classID int64, key skill.Key, on skill.Kind, studentIDs []int64) error {
	if err := d.Need(actor.SignOff); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error {
		page, err := d.load().Runs(classID)
		if err != nil {
			return err
		}
		if err := d.Workshop.LockStudents(studentIDs...); err != nil {
			return err
		}
		marks, err := d.Workshop.MarksIn(classID)
		if err != nil {
			return err
		}
		rounds := live.Unmarked(page.Rounds(), marks)
		at := slices.IndexFunc(rounds, func(r live.Round) bool { return r.Key == key && r.On == on })
		if at < 0 || len(studentIDs) == 0 {
			return form.Problems{"": "Tick those who have shown the step."}
		}
		for _, id := range studentIDs {
			seen := slices.IndexFunc(rounds[at].Seen, func(s live.Seen) bool { return s.StudentID == id })
			if seen < 0 {
				return form.Problems{
					"": "Somebody who is ticked did not do that step here, or was marked at it already. Look again."}
			}
			level := skill.Helped
			if rounds[at].Seen[seen].Alone {
				level = skill.Alone
			}
			if _, err := d.Workshop.Mark(skill.Mark{StudentID: id, Skill: key, On: on, Level: level, Date: d.Now.In(d.Who.Zone),
				ClassID: classID}, d.Who.AccountID); err != nil {
				return form.Saved(err, "")
			}
		}
		return nil
	})
}

// reached are the outcomes in words.
var reached = map[live.Reached]string{live.Finished: "finished", live.ToFinish: "to finish",
	live.NotStarted: "not started", live.Missing: "did not come"}

// Outcome says how far somebody came.
func Outcome(r live.Reached) string { return reached[r] }

// WrapPDF prints how a class went.
func (d UseCases) WrapPDF(ctx context.Context, classID int64, sheetName string) ([]byte, error) {
	if err := d.Need(actor.See); err != nil {
		return nil, err
	}
	w, err := d.Wrap(classID)
	if err != nil {
		return nil, err
	}
	sheet, err := actor.Sheet(sheetName)
	if err != nil {
		return nil, err
	}
	class := w.Plan.Class
	t := paper.Table{
		Title: class.Name, Intro: fmt.Sprintf("%s, %s–%s. %s", d.Say(say.Date(class.StartsAt)),
			d.Say(say.Clock(class.StartsAt)), d.Say(say.Clock(class.EndsAt)), class.Project.Name),
		Head: []string{"Who", "Outcome", "Last done", "Note"}, Widths: []float64{0.24, 0.2, 0.14, 0.42},
	}
	for _, o := range w.Students {
		done := ""
		if !o.Ended.IsZero() {
			done = d.Say(say.Clock(o.Ended))
		}
		outcome := reached[o.Reached]
		if o.Reached == live.ToFinish && len(o.ToGo) > 0 {
			outcome += ", " + d.Say(say.N{N: len(o.ToGo), Noun: "step"}) + " to go"
		}
		t.Rows = append(t.Rows, []string{o.Name, outcome, done, w.Said[o.StudentID].Note})
	}
	var parts []string
	for _, s := range w.Steps {
		parts = append(parts,
			fmt.Sprintf("%s: planned %s, real %s", d.Say(w.TitleOf(s.Step)), d.Say(say.Minutes(s.Planned)),
				d.Say(say.Minutes(s.Real))))
	}
	for _, c := range w.Report.Calls {
		where := "the bench"
		if m, there := w.Plan.Machine(c.Station); there {
			where = m.Name
		}
		parts = append(parts, fmt.Sprintf("%s × %s at %s", d.Say(say.Count(c.N)), d.Say(c.Reason.Text()), where))
	}
	t.Foot = strings.Join(parts, ". ")
	return actor.Print(ctx, d.Actor, []any{"table", t, sheet}, func() ([]byte, error) { return t.PDF(ctx, sheet) })
}

// WrapCSV lists every step of everybody: who, at which machine, from when to when, and
// the minutes planned and real. Times are in the workshop's zone; what has not happened
// is empty.
func (d UseCases) WrapCSV(classID int64) ([]byte, error) {
	if err := d.Need(actor.See); err != nil {
		return nil, err
	}
	page, err := d.load().Runs(classID)
	if err != nil {
		return nil, err
	}
	rows := [][]string{{"student", "step", "machine", "planned_minutes", "real_minutes", "begun", "done", "skipped"}}
	for _, o := range page.State.Report().Students {
		for k, step := range o.Steps {
			machine, _ := page.Plan.Machine(step.Machine)
			row := []string{o.Name, step.Operation, machine.Name, Minutes(step.End - step.Start), "", "", "", ""}
			if k < o.Next {
				real := o.Real[k]
				row[6] = real.Ended.In(d.Who.Zone).Format(time.RFC3339)
				if real.Timed() {
					row[4], row[5] = Minutes(real.Ended.Sub(real.Begun).Minutes()), real.Begun.In(d.Who.Zone).Format(time.RFC3339)
				}
				if real.Skipped {
					row[7] = "yes"
				}
			}
			rows = append(rows, row)
		}
	}
	return paper.CSV(rows)
}

func Minutes(n float64) string { return strconv.FormatFloat(n, 'f', 1, 64) }
