package live

import (
	"fmt"
	"strings"
	"time"

	"chalkstep/app/actor"
	"chalkstep/app/classload"
	"chalkstep/app/form"
	"chalkstep/core/live"
	"chalkstep/core/pace"
	"chalkstep/store"
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
	Speed   float64
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
	n, err := d.openLog(classID)
	if err != nil {
		return err
	}
	e, err := d.eventOf(n.Page, in)
	if err != nil {
		return err
	}
	noted, err := d.note(n, e)
	if err == nil && !noted {
		return form.Problems{"": d.Say(e.Kind.Refused())}
	}
	return err
}

// note writes down what somebody says, with what comes of it; it is false where it does not fit.
func (d UseCases) note(n *classload.Log, e live.Event) (fits bool, err error) {
	for _, written := range n.Page.Written(e) {
		if err := d.write(n, written); err != nil {
			return true, err
		}
		for _, then := range n.Page.Follows(written, n.Page.Now) {
			if err := d.write(n, then); err != nil {
				return true, err
			}
		}
		fits = true
	}
	return fits, nil
}

// openLog locks a class, so that what is read of its log is what is added to.
func (d UseCases) openLog(classID int64) (*classload.Log, error) {
	if err := d.Workshop.LockClass(classID); err != nil {
		return nil, err
	}
	n, err := d.load().ReadLog(classID)
	if err == nil && !n.Page.Why.Silent() {
		err = form.Problems{"": d.Say(n.Page.Why)}
	}
	return n, err
}

// write adds an event that was accepted, and keeps what it leaves behind.
func (d UseCases) write(n *classload.Log, e live.Event) error {
	if n.Page.Seq >= store.MostEvents {
		return form.Problems{"": fmt.Sprintf("A class can have %d events, and this one has them.", store.MostEvents)}
	}
	e.Seq, e.NotedAt = n.Page.Seq+1, d.Now
	if err := d.Workshop.AddEvent(n.Plan.Class.ID, e, d.Who.AccountID); err != nil {
		return err
	}
	n.Events = append(n.Events, e)
	n.Page = d.load().RunPageOf(n.Plan, n.Events)
	return d.Workshop.Leave(n.Plan.Class.ID, e, n.Page.Leaves(e), d.Who.AccountID)
}

// eventOf reads what is said to have happened, by the clock of the class.
func (d UseCases) eventOf(page classload.RunPage, in HappenInput) (live.Event, error) {
	e := live.Event{
		Kind: live.Kind(in.Kind), At: page.Now, NotedAt: d.Now, StudentID: in.StudentID, WithID: in.WithID,
		MachineID: in.MachineID, Step: pace.StepKey(in.Step), Stop: in.Stop, Reason: live.Reason(in.Reason),
		Speed: in.Speed, Undoes: in.Undoes, Text: strings.TrimSpace(form.Cleaned(in.Text)), By: d.Who.Name,
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
