package bookings

import (
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/booking"
	"chalkstep/core/fleet"
	"chalkstep/core/say"
	"chalkstep/core/skill"
	"chalkstep/store"
)

// A BookingInput is what a person asks for.
type BookingInput struct {
	MachineID int64 `form:"machine"`
	// Student is the name of one; of the care of a machine there is none.
	Student string `form:"student"`
	Care    bool   `form:"care"`
	Date    string `form:"date"`
	From    string `form:"from"`
	To      string `form:"to"`
	// Far says that a day far ahead is meant.
	Far bool `form:"far"`
	// Accompanied says that an instructor stays beside the student.
	Accompanied bool `form:"accompanied"`
	// Note is what it is for; Override why a rule of the house is set aside.
	Note     string `form:"note"`
	Override string `form:"override"`
	// Weeks is how many weeks on end it is booked for, empty for one.
	Weeks string `form:"weeks"`
	// Wait puts the student on the waiting list where somebody else has it.
	Wait bool `form:"wait"`
}

// Limits of a booking.
const (
	mostWeeks       = 12
	longestBookNote = 200
)

// Book gives a machine to a student for a stretch of time, in one week or several on end;
// all of them, or none. A student who may not book alone needs someone beside them, and a
// rule of the house is set aside only with a reason.
func (d UseCases) Book(in BookingInput) error {
	if err := d.Need(actor.Book); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error { return d.book(in) })
}

func (d UseCases) book(in BookingInput) error {
	problems := form.Problems{}
	start, end := d.Clock().Times(problems, in.Date, in.From, in.To, in.Far)
	machine, err := d.Workshop.Machine(in.MachineID)
	if errors.Is(err, store.ErrNotFound) {
		problems["machine"] = "Choose a machine."
	} else if err != nil {
		return err
	}
	var student *skill.Student
	if !in.Care {
		found, err := d.studentNamed(problems, "student", in.Student)
		if err != nil {
			return err
		}
		student = &found
	}
	weeks := 1
	if strings.TrimSpace(in.Weeks) != "" {
		weeks = form.Whole(problems, "weeks", in.Weeks, 1, mostWeeks, "Book 1 to 12 weeks on end.")
	}
	b := fleet.Booking{Machine: fleet.Named{ID: machine.ID, Name: machine.Name}, Accompanied: in.Accompanied && !in.Care}
	b.Note, b.Overrode = shortNote(problems, "note", in.Note), shortNote(problems, "override", in.Override)
	if err := problems.OrNil(); err != nil {
		return err
	}
	if student != nil {
		b.Student = &fleet.Named{ID: student.ID, Name: student.Name}
		if err := d.Workshop.LockStudents(student.ID); err != nil {
			return err
		}
	}
	outages, err := d.Workshop.Outages(d.Now)
	if err != nil {
		return err
	}
	for week := range weeks {
		b.StartsAt, b.EndsAt = weeksLater(start, week), weeksLater(end, week)
		if err := d.bookOrWait(b, machine, student, outages, in.Wait); err != nil {
			return ofWeek(err, weeks, b, d.Printer())
		}
	}
	return nil
}

// weeksLater is the same time of day so many weeks later, whatever clocks do meanwhile.
func weeksLater(at time.Time, weeks int) time.Time { return at.AddDate(0, 0, 7*weeks) }

// ofWeek says of which day a problem is, where several weeks are booked.
func ofWeek(err error, weeks int, b fleet.Booking, p say.Printer) error {
	var problems form.Problems
	if weeks == 1 || !errors.As(err, &problems) {
		return err
	}
	of := form.Problems{}
	for field, text := range problems {
		of[field] = fmt.Sprintf("On %s: %s Nothing was booked.", p.Say(say.Day(b.StartsAt)), text)
	}
	return of
}

// shortNote reads a line that is kept with a booking.
func shortNote(problems form.Problems, field, typed string) string {
	text := strings.TrimSpace(form.Cleaned(typed))
	if len([]rune(text)) > longestBookNote {
		problems[field] = "At most 200 letters."
	}
	return text
}

// bookOrWait books one stretch of time, or, where somebody else has it and the student
// wants to, waits for it.
func (d UseCases) bookOrWait(b fleet.Booking, machine fleet.Machine, student *skill.Student, outages []fleet.Outage,
	waits bool) error {
	if !waits || student == nil {
		return d.bookOne(b, machine, student, outages)
	}
	if err := d.mayBook(b, machine, *student); err != nil {
		return err
	}
	taken, _, err := d.Workshop.BookingsBetween(b.StartsAt, b.EndsAt, store.Rows{Limit: form.MostAtOnce})
	if err != nil {
		return err
	}
	if slices.ContainsFunc(taken, func(other fleet.Booking) bool { return other.Machine.ID == machine.ID }) &&
		b.StartsAt.After(d.Now) {
		return d.wait(b)
	}
	return d.bookOne(b, machine, student, outages)
}

// bookOne books one stretch of time, when all that stands in its way was looked at.
func (d UseCases) bookOne(b fleet.Booking, machine fleet.Machine, student *skill.Student,
	outages []fleet.Outage) error {
	for _, o := range outages {
		if o.Machine.ID == machine.ID && o.Within(b.StartsAt, b.EndsAt) && b.Student != nil {
			return form.Problems{"machine": machine.Name + " is " + d.Say(o.Say()) + ". Choose another machine or time."}
		}
	}
	if !b.EndsAt.After(d.Now) {
		return form.Problems{"date": "That time is over: choose a later one."}
	}
	if student != nil {
		if err := d.mayBook(b, machine, *student); err != nil {
			return err
		}
	}
	if err := d.checkRules(b); err != nil {
		return err
	}
	if b.Accompanied {
		if err := d.instructorFree(b.StartsAt, b.EndsAt); err != nil {
			return err
		}
	}
	if !b.StartsAt.After(d.Now) {
		b.SatAt = &d.Now // they are there
	}
	_, err := d.Workshop.Book(b, d.Who.AccountID)
	switch {
	case errors.Is(err, store.ErrOverlap) && !d.Who.May(actor.See): // who has it is nobody's business
		return form.Problems{"from": machine.Name + " is taken then. " + d.nextFree(machine, b)}
	case errors.Is(err, store.ErrOverlap):
		return form.Problems{"from": d.whoHas(machine, b.StartsAt, b.EndsAt) + " " + d.nextFree(machine, b)}
	case errors.Is(err, store.ErrElsewhere):
		return form.Problems{"student": b.Student.Name + " is somewhere else then. Choose another time or student."}
	}
	return form.Saved(err, "")
}

// mayBook makes a problem of a student who may not be alone there, or is elsewhere.
func (d UseCases) mayBook(b fleet.Booking, machine fleet.Machine, student skill.Student) error {
	c, err := d.Clearance(student, machine.Kind())
	if err != nil {
		return err
	}
	switch {
	case c.May() || b.Accompanied:
	case d.Who.StudentID == student.ID:
		return form.Problems{"machine": fmt.Sprintf(
			"You may not have %s alone yet: %s. Ask somebody of the staff to be with you.", machine.Name, d.Say(c.Why()))}
	default:
		return form.Problems{
			"accompanied": fmt.Sprintf(
				"%s may not work alone on a %s machine: %s. Tick that an instructor stays, or choose someone else.", student.Name,
				machine.Kind(), d.Say(c.Why()))}
	}
	elsewhere, err := d.Workshop.Elsewhere([]int64{student.ID}, b.StartsAt, b.EndsAt, 0)
	if err != nil {
		return err
	}
	if len(elsewhere) > 0 && d.Who.StudentID == student.ID {
		e := elsewhere[0]
		return form.Problems{
			"from": d.Say(say.T("You have something else from %s to %s then. Choose another time.", say.Clock(e.StartsAt),
				say.Clock(e.EndsAt)))}
	}
	if len(elsewhere) > 0 {
		return form.Problems{"student": elsewhere[0].Busy(d.Who.Zone) + " Choose another time or student."}
	}
	return nil
}

// checkRules makes a problem of rules of the house that a booking breaks, where nobody
// wrote why. Care has no rules: it is done when it can be.
func (d UseCases) checkRules(b fleet.Booking) error {
	if b.Student == nil || b.Overrode != "" {
		return nil
	}
	settings, err := d.Settings()
	if err != nil {
		return err
	}
	rules := settings.Booking
	weekMinutes, err := d.Workshop.BookedMinutes(b.Student.ID, booking.Week(b.StartsAt, d.Who.Zone))
	if err != nil {
		return err
	}
	gap := time.Duration(rules.GapMinutes) * time.Minute
	near, _, err := d.Workshop.BookingsBetween(b.StartsAt.Add(-gap), b.EndsAt.Add(gap), store.Rows{Limit: form.MostAtOnce})
	if err != nil {
		return err
	}
	var taken []booking.Span
	for _, other := range near {
		// Who goes on, or comes back, needs no gap to themselves.
		if other.Machine.ID == b.Machine.ID && (other.Student == nil || other.Student.ID != b.Student.ID) {
			taken = append(taken, other.Span())
		}
	}
	var why say.List
	for _, broken := range rules.Check(b.Span(), weekMinutes, taken, d.Now, d.Who.Zone) {
		why = append(why, broken.Why)
	}
	if len(why) == 0 {
		return nil
	}
	says := form.Sentence(d.Say(why)) + " Choose another time"
	if !d.Who.May(actor.Book) {
		return form.Problems{"from": says + "."}
	}
	return form.Problems{"override": says + ", or write why it is booked all the same."}
}

// nextFree says when a machine is free for as long as somebody wants it.
func (d UseCases) nextFree(machine fleet.Machine, b fleet.Booking) string {
	const weeks, few = 2, 2
	settings, err := d.Settings()
	if err != nil {
		return "Choose another time or machine."
	}
	within := booking.Span{From: form.Midnight(b.StartsAt, d.Who.Zone), To: b.StartsAt.AddDate(0, 0, 7*weeks)}.Since(d.Now)
	bookings, _, err := d.Workshop.BookingsBetween(within.From, within.To, store.Rows{Limit: mostInWeek})
	if err != nil {
		return "Choose another time or machine."
	}
	var times say.List
	for _, free := range settings.Booking.Free(within, fleet.WhenTaken(machine.ID, bookings, machine.Outages, within),
		d.Who.Zone) {
		if free.Length() >= b.EndsAt.Sub(b.StartsAt) && len(times) < few {
			times = append(times, say.T("%s from %s to %s", say.Day(free.From), say.Clock(free.From), say.Clock(free.To)))
		}
	}
	if len(times) == 0 {
		return "Choose another time or machine."
	}
	return fmt.Sprintf("It is free %s.", d.Say(times))
}

// instructorFree makes a problem of a stretch in which every instructor is in
// a class, or beside somebody else.
func (d UseCases) instructorFree(start, end time.Time) error {
	busy, err := d.Workshop.LockInstructors(start, end, 0)
	if err != nil {
		return err
	}
	if !busy.Free(start, end) {
		return form.Problems{
			"accompanied": fmt.Sprintf("No instructor is free then: %s. Choose another time.", d.Say(busy.Say()))}
	}
	return nil
}

// studentNamed finds a student by the name a person wrote.
func (d UseCases) studentNamed(problems form.Problems, field, typed string) (skill.Student, error) {
	return form.Named(problems, field, typed, "student", "Choose a student.", d.Workshop.StudentNamed)
}

// whoHas says who has a machine in a stretch of time.
func (d UseCases) whoHas(m fleet.Machine, start, end time.Time) string {
	bookings, _, err := d.Workshop.BookingsBetween(start, end, store.Rows{Limit: form.MostAtOnce})
	if err != nil {
		return m.Name + " is booked then."
	}
	for _, b := range bookings {
		if b.Machine.ID == m.ID {
			return b.Taken(d.Who.Zone)
		}
	}
	return m.Name + " is booked then."
}

// CancelBooking frees a machine again.
func (d UseCases) CancelBooking(id int64) error {
	if err := d.Need(actor.Book); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error {
		b, err := d.Workshop.Booking(id)
		if err != nil {
			return err
		}
		if err := d.Workshop.CancelBooking(id); err != nil {
			return err
		}
		if b.Student != nil && b.EndsAt.After(d.Now) {
			if err := d.tell(fleet.Cancelled, b); err != nil {
				return err
			}
		}
		return d.fill()
	})
}
