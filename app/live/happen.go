package live

import (
	"fmt"
	"strings"
	"time"

	"chalkstep/app/classload"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/classday"
	"chalkstep/core/live"
	"chalkstep/core/pace"
	"chalkstep/core/say"
	"chalkstep/store"
)

// Swapped is that two students change places, which is that each is seated at the
// other's machine.
const Swapped = "swapped"

// AllHere is that everybody came who is not said to be late.
const AllHere = "all-here"

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
	switch in.Kind {
	case Swapped:
		return d.swap(n, in)
	case AllHere:
		return d.allHere(n)
	}
	e, err := d.eventOf(n.Page, in)
	if err != nil {
		return err
	}
	if !n.Page.Accepts(e) {
		return form.Problems{"": d.Say(refusal(e.Kind))}
	}
	if err := d.write(n, e); err != nil || e.Kind != live.Failed {
		return err
	}
	return d.seatElsewhere(n)
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

// write adds an event that was accepted.
func (d UseCases) write(n *classload.Log, e live.Event) error {
	if n.Page.Seq >= store.MostEvents {
		return form.Problems{"": fmt.Sprintf("A class can have %d events, and this one has them.", store.MostEvents)}
	}
	e = e.Plain()
	e.Seq, e.NotedAt = n.Page.Seq+1, d.Now
	if err := d.Workshop.AddEvent(n.Plan.Class.ID, e, d.Who.AccountID); err != nil {
		return err
	}
	n.Events = append(n.Events, e)
	n.Page = d.load().RunPageOf(n.Plan, n.Events)
	if machine, seated := n.Page.MachineOf(e.StudentID); seated && e.Kind == live.HandUp && e.Reason == live.Strike && !n.Page.Clock.Rehearses() {
		return d.Workshop.Struck(n.Plan.Class.ID, e.Seq, machine, e.At)
	}
	if o, known := n.Page.Observed(e.StudentID); known && e.Kind == live.Done && !n.Page.Clock.Rehearses() {
		return d.Workshop.Observe(e.Seq, o)
	}
	return nil
}

// allHere notes that everybody came who is not said to be late.
func (d UseCases) allHere(n *classload.Log) error {
	noted := false
	for _, at := range n.Page.Standings {
		e := live.Event{Kind: live.Here, At: n.Page.Now, StudentID: at.StudentID}
		if at.Presence != live.Awaited || at.Expected.After(n.Page.Now) || !n.Page.Accepts(e) {
			continue
		}
		if err := d.write(n, e); err != nil {
			return err
		}
		noted = true
	}
	if !noted {
		return form.Problems{"": d.Say(notedBefore)}
	}
	return nil
}

// swap seats two at each other's machine.
func (d UseCases) swap(n *classload.Log, in HappenInput) error {
	one, known := n.Page.MachineOf(in.StudentID)
	other, knownToo := n.Page.MachineOf(in.WithID)
	if !known || !knownToo || one == other {
		return form.Problems{"": "Choose two who are to sit at different machines."}
	}
	for _, e := range []live.Event{{Kind: live.Seated, StudentID: in.StudentID, MachineID: other}, {Kind: live.Seated, StudentID: in.WithID, MachineID: one}} {
		e.At = n.Page.Now
		if !n.Page.Accepts(e) {
			return form.Problems{"": d.Say(refusal(live.Seated))}
		}
		if err := d.write(n, e); err != nil {
			return err
		}
	}
	return nil
}

// seatElsewhere seats those who were to sit at a machine that is out of order where the
// plan of what is left has them.
func (d UseCases) seatElsewhere(n *classload.Log) error {
	f, err := n.Page.State.Forecast(n.Page.Now)
	if err != nil {
		return nil // nobody can go on, and the board says so
	}
	for _, at := range n.Page.Stranded() {
		e := live.Event{Kind: live.Seated, At: n.Page.Now, StudentID: at.StudentID}
		for _, placed := range f.Result.Assignments {
			if m, there := n.Plan.Machine(placed.Machine); there && placed.Job == classday.PersonID(at.StudentID) && placed.Operation != live.Stay {
				e.MachineID = m.ID
				break
			}
		}
		if e.MachineID != 0 && at.Presence == live.Present && n.Page.Accepts(e) {
			if err := d.write(n, e); err != nil {
				return err
			}
		}
	}
	return nil
}

// eventOf reads what is said to have happened, by the clock of the class.
func (d UseCases) eventOf(page classload.RunPage, in HappenInput) (live.Event, error) {
	e := live.Event{
		Kind: live.Kind(in.Kind), At: page.Now, NotedAt: d.Now, StudentID: in.StudentID, MachineID: in.MachineID, Step: pace.StepKey(in.Step), Stop: in.Stop, Reason: live.Reason(in.Reason),
		Speed: in.Speed, Undoes: in.Undoes, Text: strings.TrimSpace(form.Cleaned(in.Text)), By: d.Who.Name,
	}
	problems := form.Problems{}
	if e.Kind == live.Late {
		e.Until = page.Now.Add(time.Duration(form.Whole(problems, "minutes", in.Minutes, 1, mostLate, "Write in how many minutes they come: 1 to 600.")) * time.Minute)
	}
	if e.Kind == live.Noted {
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

// Refusals of several kinds.
var (
	notTheirs   = say.T("That step is not theirs any more: somebody noted it just now. Look at the board again.")
	notedBefore = say.T("That was noted already. Look at the board again.")
)

// refusals say why something cannot have happened.
var refusals = map[live.Kind]say.Text{
	live.Here: notedBefore, live.Gone: notedBefore, live.Settled: notedBefore, live.Failed: notedBefore, live.Mended: notedBefore, live.Going: notedBefore,
	live.Done: notTheirs, live.Skipped: notTheirs,
	live.Started:  say.T("The class has begun already."),
	live.StopDone: say.T("That stop is not what they sew: somebody noted it just now. Look again."),
	live.HandUp:   say.T("Choose somebody who is here, and what for."),
	live.Undone:   say.T("Something else happened since: take that back first."),
	live.Seated:   say.T("They cannot sit there: the machine does not take what they have hooped, or is out of order, or they sit there already."),
	live.Late:     say.T("They are here already."),
	live.Clocked:  say.T("The clock goes 1 to 3,600 times as fast as that on the wall."),
	live.Noted:    say.T("Choose somebody of the class, or nobody for a note on the class."),
}

// refusal says why something cannot have happened.
func refusal(kind live.Kind) say.Text {
	if text, known := refusals[kind]; known {
		return text
	}
	return say.T("Press one of the buttons of the board.")
}
