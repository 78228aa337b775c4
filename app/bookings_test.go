package app_test

import (
	"fmt"
	"maps"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/actor"
	"chalkstep/app/bookings"
	"chalkstep/app/people"
	"chalkstep/app/planning"
	"chalkstep/core/classday"
	"chalkstep/core/fleet"
	"chalkstep/store"
)

// What the rules of a house refuse is booked with a reason, which stays with it; care of a
// machine has no rules and no student.
func TestRulesAreSetAsideWithAReason(t *testing.T) {
	d := desks(t)[store.Instructor]
	in := bookings.BookingInput{MachineID: lantern, Student: "Ana Thorne", Date: "2026-12-02", From: "08:00", To: "12:00"}
	said := problem(t, d.Book(in), "override")
	assert.Contains(t, said, "The workshop is open from 09:00 to 21:00 then")
	assert.Contains(t, said, "at most 3 h 00")
	in.Override = "the fair is on Friday"
	require.NoError(t, d.Book(in))
	page, err := d.Week("2026-12-02", lantern)
	require.NoError(t, err)
	require.Len(t, page.Bookings, 1)
	assert.Equal(t, "the fair is on Friday", page.Bookings[0].Overrode)

	in = bookings.BookingInput{MachineID: lantern, Student: "Ana Thorne", Date: "2026-12-03", From: "10:00", To: "11:30"}
	assert.Contains(t, problem(t, d.Book(in), "override"), "5 h 00 of that one are booked. Choose")
	in.To = "11:00"
	require.NoError(t, d.Book(in), "six hours are allowed")
	care := bookings.BookingInput{MachineID: lantern, Care: true, Date: "2026-12-03", From: "07:00", To: "07:15",
		Note: "lint"}
	require.NoError(t, d.Book(care))
	care.Date, care.From, care.To = "2026-12-02", "11:00", "12:30"
	assert.Contains(t, problem(t, d.Book(care), "from"),
		"Lantern is booked 08:00–12:00 for Ana Thorne. It is free Wed 2 Dec from 12:10 to 21:00")
}

// A standing time is booked for all weeks or for none, by the clock on the wall.
func TestWeeksOnEnd(t *testing.T) {
	d := desks(t)[store.Instructor]
	in := bookings.BookingInput{MachineID: lantern, Student: "Ana Thorne", Date: "2026-11-30", From: "18:00", To: "19:30",
		Weeks: "6", Note: "the sampler"}
	assert.Contains(t, problem(t, d.Book(in), "override"), "On Mon 28 Dec: Machines are booked at most 28 days ahead")
	first, err := d.Week("2026-11-30", lantern)
	require.NoError(t, err)
	assert.Empty(t, first.Bookings, "none of them")
	in.Weeks = "4"
	require.NoError(t, d.Book(in))
	for week := range 4 {
		page, err := d.Week(time.Date(2026, 11, 30+7*week, 0, 0, 0, 0, time.UTC).Format(time.DateOnly), lantern)
		require.NoError(t, err)
		require.Len(t, page.Bookings, 1)
		assert.Equal(t, "18:00", page.Bookings[0].StartsAt.In(d.Who.Zone).Format("15:04"))
	}
	in.Weeks = "400"
	assert.NotEmpty(t, problem(t, d.Book(in), "weeks"))
}

// Times for a design: on machines that take it, when whoever sews it is free, and a slot
// that is offered can be had.
func TestTimesThatAreOfferedCanBeHad(t *testing.T) {
	d := desks(t)[store.Instructor]
	page, err := d.Slots(bookings.SlotsInput{Design: "Lighthouse", Student: "Kit Aldana", Days: "10"})
	require.NoError(t, err)
	require.NotEmpty(t, page.Slots)
	require.NotEmpty(t, page.Cannot, "Lantern's hoop is too small")
	for i, s := range page.Slots {
		from, to := s.From.In(d.Who.Zone), s.To.In(d.Who.Zone)
		in := bookings.BookingInput{
			MachineID: s.Machine.ID, Student: "Kit Aldana", Date: from.Format(time.DateOnly), From: from.Format("15:04"),
			To: to.Format("15:04"), Accompanied: s.Machine.Accompanied,
		}
		if i > 0 {
			in.Student = "Iris Vale"
		}
		if err := d.Book(in); i == 0 {
			require.NoError(t, err)
		}
	}
	_, err = d.Slots(bookings.SlotsInput{Design: "No such design"})
	assert.NotEmpty(t, problem(t, err, "design"))
	_, err = d.Slots(bookings.SlotsInput{Design: "Lighthouse", Student: "Nobody"})
	assert.NotEmpty(t, problem(t, err, "for"))
	_, err = d.Slots(bookings.SlotsInput{Design: "Lighthouse", Days: "9999"})
	assert.NotEmpty(t, problem(t, err, "days"))
}

// Nobody is in two places at once, whatever way they come there: the database sees to it.
func TestTheDatabaseKeepsAStudentInOnePlace(t *testing.T) {
	d := desks(t)[store.Owner]
	class, err := d.Workshop.Class(badges)
	require.NoError(t, err)
	const ana, wren = 1, 14
	at := func(student, machine int64, from time.Time) error {
		_, err := d.Workshop.Book(fleet.Booking{Machine: fleet.Named{ID: machine}, Student: &fleet.Named{ID: student},
			StartsAt: from, EndsAt: from.Add(time.Hour)}, d.Who.AccountID)
		return err
	}
	assert.ErrorIs(t, at(ana, lantern, class.StartsAt.Add(time.Hour)), store.ErrElsewhere, "she is in the class")
	require.NoError(t, at(wren, lantern, class.StartsAt.Add(time.Hour)))
	assert.ErrorIs(t, at(wren, pigeon, class.StartsAt.Add(90*time.Minute)), store.ErrElsewhere, "at another machine")

	// Absent, she may be elsewhere, and cannot come back meanwhile; a class that is called
	// off leaves everybody free.
	place := class.Places[0]
	require.Equal(t, int64(ana), place.ID)
	require.NoError(t, d.SavePlace(badges, ana, planning.PlaceInput{Attendance: "absent", Version: place.Version}))
	require.NoError(t, at(ana, pigeon, class.StartsAt.Add(2*time.Hour)))
	err = d.SavePlace(badges, ana, planning.PlaceInput{Attendance: "expected", Version: place.Version + 1})
	require.Error(t, err)
	assert.NotErrorIs(t, err, actor.ErrMayNot)
	require.NoError(t, d.CallOff(badges))
	require.NoError(t, d.Workshop.FreeCalledOff(d.Now.Add(classday.HeldFor)))
	require.NoError(t, at(class.Places[1].ID, kettle, class.StartsAt), fmt.Sprint(class.Places[1].Name))
}

// The owner says when machines are booked; what is wrong is said by day and line, and
// nothing is half kept.
func TestTheRulesOfBookingAreTheOwners(t *testing.T) {
	all := desks(t)
	d := all[store.Owner]
	in, err := d.BookingRules()
	require.NoError(t, err)
	require.Equal(t, "09:00", in.From[time.Monday])
	assert.ErrorIs(t, all[store.Instructor].SaveBookingRules(in), actor.ErrMayNot)
	bad := in
	bad.From, bad.To = slices.Clone(in.From), slices.Clone(in.To)
	bad.From[time.Tuesday], bad.To[time.Sunday] = "noon", "08:00"
	bad.Closed = "2026-12-25 the holidays\nChristmas"
	bad.Figures = maps.Clone(in.Figures)
	bad.Figures["most"], bad.Figures["gap"] = "20", "-1"
	err = d.SaveBookingRules(bad)
	assert.Contains(t, problem(t, err, people.HoursField(time.Tuesday)), "clock times")
	assert.Contains(t, problem(t, err, people.HoursField(time.Sunday)), "closes after it opens")
	assert.Contains(t, problem(t, err, "closed"), "Line 2")
	assert.NotEmpty(t, problem(t, err, people.FigureField("gap")))
	assert.Contains(t, problem(t, err, people.FigureField("most")), "not shorter")

	in.From[time.Sunday], in.To[time.Sunday] = "", ""
	in.To[time.Friday] = "00:00" // midnight
	in.Closed = "2026-12-25 the holidays\n\n2026-12-08\r\n2026-12-25 again"
	in.Figures["most"] = "60"
	require.NoError(t, d.SaveBookingRules(in))
	again := atWork(signedIn(t, d))
	kept, err := again.BookingRules()
	require.NoError(t, err)
	assert.Equal(t, "2026-12-08\n2026-12-25 the holidays", kept.Closed)
	assert.Empty(t, kept.From[time.Sunday])
	for date, says := range map[string]string{"2026-11-29": "closed on Sun 29 Nov", "2026-12-08": "closed on Tue 8 Dec",
		"2026-12-01": "at most 60 minutes"} {
		said := problem(t, again.Book(bookings.BookingInput{MachineID: lantern, Student: "Ana Thorne", Date: date,
			From: "10:00", To: "11:30"}), "override")
		assert.Contains(t, said, says)
	}
	require.NoError(t, again.Book(bookings.BookingInput{MachineID: lantern, Student: "Ana Thorne", Date: "2026-11-27",
		From: "23:00", To: "23:45"}))
}

// Who is suspended is accompanied until that is lifted, and who was not seen for long, too.
func TestClearanceLapsesAndIsSuspended(t *testing.T) {
	d := desks(t)[store.Owner]
	const ana = 1
	in := bookings.BookingInput{MachineID: lantern, Student: "Ana Thorne", Date: "2026-11-30", From: "10:00", To: "11:00"}
	assert.NotEmpty(t, problem(t, d.Suspend(ana, "  ", false), "suspended"))
	require.NoError(t, d.Suspend(ana, "the guard was taken off", false))
	assert.Contains(t, problem(t, d.Book(in), "accompanied"), "suspended: the guard was taken off")
	page, err := d.Student(ana)
	require.NoError(t, err)
	assert.Empty(t, page.Alone)
	require.NoError(t, d.Suspend(ana, "", true))
	rules, err := d.BookingRules()
	require.NoError(t, err)
	rules.Figures["idle"] = "5"
	require.NoError(t, d.SaveBookingRules(rules))
	later := atWork(signedIn(t, d))
	assert.Contains(t, problem(t, later.Book(in), "accompanied"), "lapsed: last marked on")
	require.NoError(t, later.Mark(people.MarkInput{StudentIDs: []int64{ana}, Skill: "threading", On: "single-needle",
		Level: "alone"}))
	require.NoError(t, later.Book(in), "seen today")
}

// signedIn is somebody at work with the workshop as it stands now.
func signedIn(t *testing.T, d person) actor.Actor {
	t.Helper()
	who, err := d.App().Who(t.Context(), d.Who.WorkshopID, d.Who.AccountID)
	require.NoError(t, err)
	return d.App().For(t.Context(), who)
}
