package live

import (
	"strings"
	"time"

	"chalkstep/app/actor"
	"chalkstep/app/classload"
	"chalkstep/app/form"
	"chalkstep/core/live"
	"chalkstep/core/pace"
)

// A HappenInput is something that is said to have happened.
type HappenInput struct {
	Kind      string
	StudentID int64
	// WithID is whom somebody changes places with.
	WithID    int64
	MachineID int64
	Step      string
	Stop      int
	Reason    string
	// Minutes is in how many somebody comes who is late.
	Minutes string
	Text    string
	// Offer is the key of one that is taken.
	Offer string
	Speed float64
	// Undoes is the event that is taken back.
	Undoes int64
	// At is the time of day when it happened, empty for now.
	At string
}

// mostLate is by how many minutes somebody may be said to come late.
const mostLate = 600

// Happen notes that something happened in a class. What does not fit what happened
// meanwhile is refused, and says so.
func (d UseCases) Happen(classID int64, in HappenInput) error {
	if err := d.Need(actor.RunClasses); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error { return d.happen(classID, in) })
}

func (d UseCases) happen(classID int64, in HappenInput) error {
	n, err := d.load().OpenLog(classID)
	if err != nil {
		return err
	}
	e, err := d.eventOf(n.Page, in)
	if err != nil {
		return err
	}
	noted, err := d.load().Note(n, e)
	if err == nil && !noted {
		if !n.Page.EndedAt.IsZero() && e.Kind != live.Undone {
			return form.Problems{"": "The class has ended: take that back first, with the last entry."}
		}
		return form.Problems{"": d.Say(e.Kind.Refused())}
	}
	return err
}

// eventOf reads what is said to have happened, by the clock of the class.
func (d UseCases) eventOf(page classload.RunPage, in HappenInput) (live.Event, error) {
	e := live.Event{
		Kind: live.Kind(in.Kind), At: page.Now, NotedAt: d.Now, StudentID: in.StudentID, WithID: in.WithID,
		MachineID: in.MachineID, Step: pace.StepKey(in.Step), Stop: in.Stop, Reason: live.Reason(in.Reason),
		Speed: in.Speed, Undoes: in.Undoes, Text: strings.TrimSpace(form.Cleaned(in.Text)), By: d.Who.Name,
		Moves: live.MovesOf(in.Offer),
	}
	problems, has := form.Problems{}, e.Kind.Has()
	if has.Until {
		e.Until = page.Now.Add(
			time.Duration(form.Whole(problems, "minutes", in.Minutes, 1, mostLate,
				"Write in how many minutes they come: 1 to 600.")) * time.Minute)
	}
	if has.Text {
		switch {
		case e.Text == "":
			problems["text"] = "Write what is to be remembered."
		case len([]rune(e.Text)) > live.LongestNote:
			problems["text"] = "A note has at most 500 letters."
		}
	}
	if in.At != "" {
		e.At = d.timeOfDay(page, in.At, problems)
	}
	return e, problems.OrNil()
}

// timeOfDay reads when something happened on the day of a class.
func (d UseCases) timeOfDay(page classload.RunPage, text string, problems form.Problems) time.Time {
	day := page.Plan.Class.StartsAt.In(d.Who.Zone)
	at, err := time.ParseInLocation("2006-01-02 15:04", day.Format("2006-01-02 ")+text, d.Who.Zone)
	switch {
	case err != nil:
		problems["at"] = "Write the time as 10:45."
	case at.Before(page.StartedAt.Truncate(time.Minute)), at.After(page.Now):
		problems["at"] = "Write a time since the class began, and not later than now."
	}
	return at
}
