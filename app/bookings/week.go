package bookings

import (
	"slices"
	"strings"
	"time"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/booking"
	"chalkstep/core/classday"
	"chalkstep/core/design"
	"chalkstep/core/fleet"
	"chalkstep/core/say"
	"chalkstep/core/skill"
	"chalkstep/store"
)

// A WeekPage is who has which machine in a week.
type WeekPage struct {
	booking.Span
	// Days begin those of the week, each with when the house is open.
	Days []Day
	// Machines are those that are looked at: all, or one.
	Machines []fleet.Machine
	All      []fleet.Machine
	// Bookings and Outages are those of the machines that are looked at.
	Bookings []fleet.Booking
	Outages  []fleet.Outage
	// Free are the stretches that can be booked, by machine.
	Free  map[int64][]booking.Span
	Rules booking.Rules
	// Waits are who waits for what others have.
	Waits []fleet.Wait
}

// IsOut tells that the machine of a booking cannot be used then.
func (p WeekPage) IsOut(b fleet.Booking) bool {
	return slices.ContainsFunc(p.Outages, func(o fleet.Outage) bool {
		return o.Machine.ID == b.Machine.ID && o.Within(b.StartsAt, b.EndsAt)
	})
}

// A Day of a week. Why says why the house is closed, Open is then nothing.
type Day struct {
	Begins time.Time
	Open   booking.Span
	Closed bool
	Why    string
}

// mostInWeek bookings are read of a week or two.
const mostInWeek = 2000

// Week opens the week of a day, as forms write it, empty for today; of one machine, or of
// all where there is none of that number.
func (d UseCases) Week(on string, machineID int64) (WeekPage, error) {
	if err := d.Need(actor.See); err != nil {
		return WeekPage{}, err
	}
	at := d.Now
	if day, err := time.ParseInLocation(time.DateOnly, strings.TrimSpace(on), d.Who.Zone); err == nil &&
		day.Year() >= form.FirstYear && day.Year() <= form.LastYear {
		at = day
	}
	settings, err := d.Settings()
	if err != nil {
		return WeekPage{}, err
	}
	page := WeekPage{Span: booking.Week(at, d.Who.Zone), Rules: settings.Booking, Free: map[int64][]booking.Span{}}
	for begins := page.From; begins.Before(page.To); begins = time.Date(begins.Year(), begins.Month(), begins.Day()+1, 0,
		0, 0, 0, d.Who.Zone) {
		one := Day{Begins: begins}
		open, ok := page.Rules.OpenOn(begins, d.Who.Zone)
		one.Open, one.Closed = open, !ok
		if closure, closed := page.Rules.ClosedOn(begins, d.Who.Zone); closed {
			one.Why = closure.Why
		}
		page.Days = append(page.Days, one)
	}
	if page.All, err = d.Workshop.Machines(); err != nil {
		return page, err
	}
	page.Machines = page.All
	if i := slices.IndexFunc(page.All, func(m fleet.Machine) bool { return m.ID == machineID }); i >= 0 {
		page.Machines = page.All[i : i+1]
	}
	if page.Bookings, _, err = d.Workshop.BookingsBetween(page.From, page.To, store.Rows{Limit: mostInWeek}); err != nil {
		return page, err
	}
	page.Bookings = slices.DeleteFunc(page.Bookings, func(b fleet.Booking) bool {
		return !slices.ContainsFunc(page.Machines, func(m fleet.Machine) bool { return m.ID == b.Machine.ID })
	})
	if page.Waits, err = d.Workshop.Waits(d.Now); err != nil {
		return page, err
	}
	within := booking.Span{From: page.From, To: page.To}.Since(d.Now)
	for _, m := range page.Machines {
		for _, o := range m.Outages {
			if o.Within(page.From, page.To) {
				page.Outages = append(page.Outages, o)
			}
		}
		if within.To.After(within.From) {
			page.Free[m.ID] = page.Rules.Free(within, fleet.WhenTaken(m.ID, page.Bookings, m.Outages, within), d.Who.Zone)
		}
	}
	return page, nil
}

// A SlotsInput asks for a machine that can sew a design, for somebody, in so many days
// from now.
type SlotsInput struct {
	Design, Student string
	Days            string
}

// A SlotsPage are the best times, and which machines cannot and why.
type SlotsPage struct {
	Asked  bool
	Slots  []booking.Slot
	Cannot []say.Text
}

// Limits of looking for a time.
const (
	mostSlots    = 6
	mostSlotDays = 60
	slotBookings = 5000
)

// Slots finds the best times for a design.
func (d UseCases) Slots(in SlotsInput) (SlotsPage, error) {
	if err := d.Need(actor.See); err != nil {
		return SlotsPage{}, err
	}
	page := SlotsPage{}
	if strings.TrimSpace(in.Design) == "" && strings.TrimSpace(in.Student) == "" {
		return page, nil
	}
	problems := form.Problems{}
	sewn, err := form.Named(problems, "design", in.Design, "design", "Choose what is to be sewn.", d.Workshop.DesignNamed)
	if err != nil {
		return page, err
	}
	var student skill.Student
	if strings.TrimSpace(in.Student) != "" {
		if student, err = d.studentNamed(problems, "for", in.Student); err != nil {
			return page, err
		}
	}
	days := 7
	if strings.TrimSpace(in.Days) != "" {
		days = form.Whole(problems, "days", in.Days, 1, mostSlotDays, "Look 1 to 60 days ahead.")
	}
	if err := problems.OrNil(); err != nil {
		return page, err
	}
	page.Asked = true
	want := booking.Want{Within: booking.Span{From: d.Now, To: d.Now.AddDate(0, 0, days)}, Now: d.Now, Zone: d.Who.Zone}
	bookings, _, err := d.Workshop.BookingsBetween(want.Within.From, want.Within.To, store.Rows{Limit: slotBookings})
	if err != nil {
		return page, err
	}
	if student.ID != 0 {
		if err := d.whereIs(student, &want); err != nil {
			return page, err
		}
		instructors, err := d.Workshop.Instructors(want.Within.From, want.Within.To, 0)
		if err != nil {
			return page, err
		}
		want.Staffed = func(s booking.Span) bool { return instructors.Free(s.From, s.To) }
	}
	err = d.findSlots(&page, want, sewn, student, bookings)
	return page, err
}

// findSlots finds free times on the machines that can sew a design, by how long it takes a student
// there; page says of the others why they cannot.
func (d UseCases) findSlots(page *SlotsPage, want booking.Want, sewn design.Design, student skill.Student,
	bookings []fleet.Booking) error {
	rules, machines, err := d.Floorplan()
	if err != nil {
		return err
	}
	for _, m := range machines {
		seat := fleet.SeatAt(m, sewn, false, rules)
		if !seat.Fits() {
			page.Cannot = append(page.Cannot, say.T("%s: %s", say.Name(m.Name), seat.Problem))
			continue
		}
		one := booking.Machine{ID: m.ID, Name: m.Name,
			Minutes: seat.PracticeMinutes(sewn, rules, classday.Hand(student, rules.Timing())),
			Taken:   fleet.WhenTaken(m.ID, bookings, m.Outages, want.Within)}
		if student.ID != 0 {
			c, err := d.Clearance(student, m.Kind())
			if err != nil {
				return err
			}
			one.Accompanied = !c.May()
		}
		if length := rules.Booking.Length(one.Minutes); rules.Booking.MostMinutes > 0 &&
			length.Minutes() > float64(rules.Booking.MostMinutes) {
			page.Cannot = append(page.Cannot,
				say.T("%s: it takes %s, longer than a booking may be", say.Name(m.Name), say.Minutes(one.Minutes)))
			continue
		}
		want.Machines = append(want.Machines, one)
	}
	page.Slots = rules.Booking.Slots(want, mostSlots)
	return nil
}

// whereIs tells when somebody is elsewhere, and how much of each week they have booked.
func (d UseCases) whereIs(student skill.Student, want *booking.Want) error {
	first := booking.Week(want.Within.From, d.Who.Zone).From
	elsewhere, err := d.Workshop.Elsewhere([]int64{student.ID}, first, want.Within.To, 0)
	if err != nil {
		return err
	}
	want.Elsewhere, want.BookedMinutes = fleet.WhereIs(student.ID, elsewhere, d.Who.Zone)
	return nil
}
