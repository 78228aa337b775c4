package live

import (
	"errors"
	"time"

	"chalkstep/app/actor"
	"chalkstep/app/classload"
	"chalkstep/app/form"
	"chalkstep/core/card"
	"chalkstep/core/classday"
	"chalkstep/core/fleet"
	"chalkstep/core/live"
	"chalkstep/core/pace"
	"chalkstep/core/stitch"
)

// A StationPage is what the phone beside a machine shows: who is at it, what they do, and
// what comes next.
type StationPage struct {
	classload.RunPage
	Machine fleet.Machine
	// Taken tells that somebody has the machine; At is where they are.
	Taken bool
	At    live.Standing
	// Card is theirs, empty where there is none; Sheet is the hooping at this machine, nil where
	// the card has none.
	Card  card.Card
	Sheet *card.Sheet
	// Sittings are who may sit down here, the next first.
	Sittings []live.Sitting
	// Hand is theirs, nil while it is down.
	Hand *live.Hand
	// Quiet tells that the machine is asked whether all goes well.
	Quiet bool
	// Units the student measures in, empty where nobody said.
	Units string
}

// Station opens the machine beside which a phone lies, or the benches.
func (d UseCases) Station() (StationPage, error) {
	if err := d.Need(actor.PressStation); err != nil {
		return StationPage{}, err
	}
	page, err := d.load().Runs(d.Who.Place.ClassID)
	if err != nil {
		return StationPage{}, err
	}
	s := StationPage{RunPage: page}
	if !page.Why.Silent() { // the link is for the day of the class
		s.Standings = nil
		return s, nil
	}
	if d.Who.Place.MachineID == 0 {
		return s, nil
	}
	m, there := page.Plan.Machine(classday.StationID(d.Who.Place.MachineID))
	if !there {
		return StationPage{}, actor.NotFound("machine %d in the class", d.Who.Place.MachineID)
	}
	s.Machine = m
	if !page.Running() {
		return s, nil
	}
	if s.At, s.Taken = page.State.At(classday.StationID(m.ID)); !s.Taken {
		s.Sittings = s.Forecast.Sittings(s.State, classday.StationID(m.ID))
		return s, nil
	}
	for i, h := range page.Hands {
		if h.StudentID == s.At.StudentID {
			s.Hand = &page.Hands[i]
		}
	}
	s.Quiet = !page.Quiet(s.At, page.Now).IsZero()
	return s, d.card(&s)
}

// card finds the card of who is at a station, and the hooping that is sewn there.
func (d UseCases) card(s *StationPage) error {
	placed, more := s.At.Step()
	_, place, made := s.Plan.Maker(classday.PersonID(s.At.StudentID))
	if !more || !made {
		return nil
	}
	s.Units = place.Units
	c, err := d.cardOf(s.Plan, s.At.StudentID)
	if sheet, has := c.Sheet(pace.StepKey(placed.Operation).Hooping()); has {
		s.Card, s.Sheet = c, &sheet
	}
	return err
}

// cardOf is a student's card, which is made anew each minute while phones ask for it; it
// is empty where there is none.
func (d UseCases) cardOf(plan classday.Plan, studentID int64) (card.Card, error) {
	key := actor.CardKey{WorkshopID: d.Who.WorkshopID, ClassID: plan.Class.ID, Version: plan.Class.Version,
		StudentID: studentID, Minute: d.Now.Unix() / 60}
	return actor.Remembered(d.Actor, d.Memo().Cards, "card", key, func() (card.Card, error) {
		page, err := d.load().Kits(plan.Class.ID)
		if err != nil {
			return card.Card{}, err
		}
		c, err := card.Of(page.Plan, studentID, page.Spool)
		if err != nil {
			return card.Card{}, nil // the step says enough
		}
		return c, nil
	})
}

// A Press is what a phone sends: it keeps what it could not send, and sends it again until
// it is told that it arrived.
type Press struct {
	// ID is the phone's own for this press.
	ID string
	HappenInput
	// Ago is how long ago it was pressed.
	Ago time.Duration
}

// A Pressed is what became of a press: Refused says why it does not count, empty where it
// does. Either way it need not be sent again.
type Pressed struct{ ID, Refused string }

// Limits of what a phone sends at once.
const (
	MostPresses   = 100
	longestSender = 40
	longestAgo    = 12 * time.Hour
)

// Press notes what a phone beside a machine sends, in its order, each once however often
// it is sent. It counts for when it was pressed.
func (d UseCases) Press(presses []Press) ([]Pressed, error) {
	if err := d.Need(actor.PressStation); err != nil {
		return nil, err
	}
	if len(presses) > MostPresses {
		return nil, form.Problems{"": "That is more than one phone presses."}
	}
	var all []Pressed
	err := actor.OnceOnly(d, func(d UseCases) error {
		all = nil
		n, err := d.load().OpenLog(d.Who.Place.ClassID)
		if err != nil {
			return err
		}
		for _, p := range presses {
			done, err := d.press(n, p)
			if err != nil {
				return err
			}
			all = append(all, done)
		}
		return nil
	})
	return all, err
}

func (d UseCases) press(n *classload.Log, p Press) (Pressed, error) {
	done := Pressed{ID: p.ID}
	if p.ID == "" || len(p.ID) > longestSender || form.Cleaned(p.ID) != p.ID || p.Ago < 0 || p.Ago > longestAgo {
		done.Refused = "That is not how a phone presses."
		return done, nil
	}
	sender := d.Who.Place.Sender(p.ID)
	for _, e := range n.Events {
		if e.Sender == sender {
			return done, nil
		}
	}
	p.At = ""
	e, err := d.eventOf(n.Page, p.HappenInput)
	var problems form.Problems
	if errors.As(err, &problems) {
		done.Refused = problems.Error()
		return done, nil
	}
	e.Sender, e.StationID, e.MachineID = sender, d.Who.Place.MachineID, d.Who.Place.MachineID
	if e.At = n.Page.Clock.Of(d.Now.Add(-p.Ago)); e.At.Before(n.Page.StartedAt) {
		e.At = n.Page.StartedAt
	}
	switch {
	case !e.Kind.ByPhone():
		done.Refused = "A phone beside a machine cannot say that."
		return done, nil
	case !n.Page.MayPhone(e, d.Who.Place.MachineID):
		done.Refused = "They are not here any more: somebody noted it meanwhile."
		return done, nil
	}
	noted, err := d.load().Note(n, e)
	if !noted {
		done.Refused = d.Say(e.Kind.Refused())
	}
	return done, err
}

// RestartAt says where to restart what is sewn at the station: from a point on the
// drawing, in millimetres from the middle of the design.
func (d UseCases) RestartAt(xMM, yMM float64) (stitch.Place, error) {
	s, err := d.Station()
	if err != nil {
		return stitch.Place{}, err
	}
	if s.Sheet == nil {
		return stitch.Place{}, actor.NotFound("what is sewn at machine %d", d.Who.Place.MachineID)
	}
	pattern, err := d.Pattern(s.Sheet.Design)
	if err != nil {
		return stitch.Place{}, err
	}
	place, _ := stitch.Analyse(pattern).Nearest(xMM, yMM)
	return place, nil
}

// StationPicture draws what is sewn at the station as it lies there while its nth stop is
// sewn, counted as it is sewn.
func (d UseCases) StationPicture(designID int64, n int) (mediaType string, data []byte, err error) {
	if err := d.Need(actor.PressStation); err != nil {
		return "", nil, err
	}
	page, err := d.load().Runs(d.Who.Place.ClassID)
	if err != nil {
		return "", nil, err
	}
	if !page.Why.Silent() {
		return "", nil, actor.NotFound("design %d at the station: %s", designID, page.Why)
	}
	return d.load().StopPicture(page.Plan.Works, designID, n)
}
