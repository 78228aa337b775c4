package app_test

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/sync/errgroup"

	"chalkstep/app/actor"
	"chalkstep/app/bookings"
	appfleet "chalkstep/app/fleet"
	"chalkstep/app/form"
	"chalkstep/app/planning"
	"chalkstep/core/booking"
	"chalkstep/core/fleet"
	"chalkstep/demo/demotest"
	"chalkstep/store"
)

// a day on which nothing is planned, by the clock of the demo's zone.
const freeDay = "2026-12-03"

// slot of a machine on the free day, for somebody who may be alone there.
func slot(student, from, to string) bookings.BookingInput {
	return bookings.BookingInput{MachineID: heron, Student: student, Date: freeDay, From: from, To: to}
}

// told is what a student was told and has not read, in words, the newest first.
func told(t *testing.T, d person, studentID int64) (texts []string) {
	t.Helper()
	messages, _, err := d.Workshop.Messages(studentID, store.Rows{Limit: 20})
	require.NoError(t, err)
	for _, m := range messages {
		texts = append(texts, d.Say(m.Say()))
	}
	return texts
}

// on is who has a machine when, on the free day.
func on(t *testing.T, d person, machineID int64) (all []string) {
	t.Helper()
	page, err := d.Week(freeDay, machineID)
	require.NoError(t, err)
	for _, b := range page.Bookings {
		if b.StartsAt.In(d.Who.Zone).Format(time.DateOnly) != freeDay {
			continue
		}
		all = append(all, b.For()+" "+b.StartsAt.In(d.Who.Zone).Format("Mon 15:04"))
	}
	return all
}

// Who waits has what becomes free, in the order in which they asked, and is told; who was
// there before is told that it was called off.
func TestTheWaitingListFillsWhatBecomesFree(t *testing.T) {
	const ana, noor, iris = 1, 9, 5
	d := desks(t)["instructor"]
	require.NoError(t, d.Book(slot("Ana Thorne", "10:00", "12:00")))
	first, second := slot("Noor Haddad", "10:30", "11:30"), slot("Iris Vale", "11:00", "12:00")
	assert.Contains(t, problem(t, d.Book(first), "from"), "Heron is booked 10:00–12:00 for Ana Thorne")
	first.Wait, second.Wait = true, true
	require.NoError(t, d.Book(first))
	require.NoError(t, d.Book(second))
	assert.Equal(t, "Noor Haddad waits for that already.", problem(t, d.Book(first), "from"))
	alone := slot("Noor Haddad", "13:00", "14:00")
	alone.Wait = true
	require.NoError(t, d.Book(alone))
	assert.Equal(t, []string{"Ana Thorne Thu 10:00", "Noor Haddad Thu 13:00"}, on(t, d, heron),
		"what is free is not waited for")

	page, err := d.Week(freeDay, heron)
	require.NoError(t, err)
	require.Len(t, page.Waits, 2)
	require.NoError(t, d.CancelBooking(page.Bookings[0].ID))
	assert.Equal(t, []string{"Noor Haddad Thu 10:30", "Noor Haddad Thu 13:00"}, on(t, d, heron),
		"Iris asked later, and would overlap")
	assert.Equal(t, []string{"What you waited for is yours: Heron, Thu 3 Dec, 10:30 to 11:30."}, told(t, d, noor))
	assert.Equal(t, []string{"Your booking was called off by the workshop: Heron, Thu 3 Dec, 10:00 to 12:00."},
		told(t, d, ana))
	assert.Empty(t, told(t, d, iris))

	page, err = d.Week(freeDay, heron)
	require.NoError(t, err)
	require.Len(t, page.Waits, 1)
	require.NoError(t, d.EndWait(page.Waits[0].ID))
	assert.ErrorIs(t, d.EndWait(page.Waits[0].ID), actor.ErrNotFound)
	require.NoError(t, d.CancelBooking(page.Bookings[0].ID))
	assert.Equal(t, []string{"Noor Haddad Thu 13:00"}, on(t, d, heron), "Iris waits no more")
}

// What nobody sat down at is given up after the grace of the house, and goes to who waits;
// where somebody sits, or the house has no grace, it stays.
func TestWhatNobodyComesToIsGivenUp(t *testing.T) {
	const ana, iris = 1, 5
	for name, c := range map[string]struct {
		grace, minutes int
		sits           bool
		has            string
	}{
		"too soon":      {15, 14, false, "Ana Thorne Thu 10:00"},
		"nobody came":   {15, 16, false, "Iris Vale Thu 10:30"},
		"she sits":      {15, 16, true, "Ana Thorne Thu 10:00"},
		"without grace": {0, 50, false, "Ana Thorne Thu 10:00"},
	} {
		t.Run(name, func(t *testing.T) {
			s := demotest.Open(t)
			clock := now
			a := actor.New(s, func() time.Time { return clock })
			who, err := a.Who(t.Context(), 1, 1)
			require.NoError(t, err)
			d := atWork(a.For(t.Context(), who))
			require.NoError(t, d.Book(slot("Ana Thorne", "10:00", "12:00")))
			waits := slot("Iris Vale", "10:30", "11:30")
			waits.Wait = true
			require.NoError(t, d.Book(waits))
			rules, err := d.BookingRules()
			require.NoError(t, err)
			rules.Figures["grace"] = map[bool]string{true: "15", false: "0"}[c.grace > 0]
			require.NoError(t, d.SaveBookingRules(rules))
			page, err := d.Week(freeDay, heron)
			require.NoError(t, err)
			assert.ErrorIs(t, d.SatDown(page.Bookings[0].ID), actor.ErrNotFound, "nine days before")

			clock = page.Bookings[0].StartsAt.Add(time.Duration(c.minutes) * time.Minute)
			d = atWork(a.For(t.Context(), who))
			if c.sits {
				require.NoError(t, d.SatDown(page.Bookings[0].ID))
			}
			require.NoError(t, bookings.Keep(t.Context(), a))
			require.NoError(t, bookings.Keep(t.Context(), a), "again, by another process")
			assert.Equal(t, []string{c.has}, on(t, d, heron))
			if c.has == "Iris Vale Thu 10:30" {
				assert.Equal(t, []string{"Nobody had sat down, so it is free for others: Heron, Thu 3 Dec, 10:00 to 12:00."},
					told(t, d, ana))
				assert.Len(t, told(t, d, iris), 1)
			}
		})
	}
}

// moves is what a class would move, which somebody has to have seen first.
func moves(t *testing.T, err error) form.Offer {
	t.Helper()
	var offer form.Offer
	require.ErrorAs(t, err, &offer)
	require.Equal(t, "moves", offer.Field)
	return offer
}

// A class names whose bookings it moves, and where to, before it does; what was agreed to is
// what was shown, and who is moved is told.
func TestAClassNamesWhomItMoves(t *testing.T) {
	const ana, bo, iris = 1, 2, 5
	d := desks(t)["instructor"]
	require.NoError(t, d.Book(slot("Ana Thorne", "10:00", "11:00")))
	with := slot("Bo Lindqvist", "11:10", "12:10")
	with.Accompanied = true
	require.NoError(t, d.Book(with))
	in := planning.ClassInput{
		Name: "A class of towels", Project: "Crab hand towel", Date: freeDay, From: "09:30", To: "12:30", Instructors: "1",
		Irons: "1", StudentIDs: []int64{ana, iris}, Machines: []int64{heron, kettle, pigeon},
	}
	_, err := d.SaveClass(in)
	offer := moves(t, err)
	said := offer.Words
	assert.Contains(t, said, "Ana Thorne has Heron from 10:00 to 11:00: instead Heron, Thu 3 Dec, 12:45 to 13:45")
	assert.Contains(t, said, "Bo Lindqvist has Heron from 11:10 to 12:10: instead")
	assert.Len(t, on(t, d, heron), 2, "nothing was moved")
	in.Moves = offer.Key

	other := slot("Noor Haddad", "12:40", "14:00") // where Ana was to go
	require.NoError(t, d.Book(other))
	_, err = d.SaveClass(in)
	again := moves(t, err)
	assert.NotEqual(t, said, again.Words, "it is asked anew")
	in.Moves = again.Key
	_, err = d.SaveClass(in)
	require.NoError(t, err)
	assert.Len(t, told(t, d, ana), 1)
	assert.Contains(t, told(t, d, bo)[0],
		"A class needs the machine. Instead of Heron, Thu 3 Dec, 11:10 to 12:10 you have")
	rules := booking.Defaults()
	page, err := d.Week(freeDay, 0)
	require.NoError(t, err)
	for i, b := range page.Bookings {
		open, _ := rules.OpenOn(b.StartsAt, d.Who.Zone)
		assert.True(t, b.Class != nil || b.Span().Within(open))
		for _, c := range page.Bookings[:i] {
			assert.False(t, b.Machine == c.Machine && b.Span().Meets(c.Span()), "%v and %v", b, c)
		}
	}

	// Where every machine is taken for weeks, the booking ends, and its student waits.
	last := slot("Noor Haddad", "18:00", "19:00")
	require.NoError(t, d.Book(last))
	for _, m := range []int64{heron, kettle, lantern, pigeon} {
		require.NoError(t, d.AddOutage(m, appfleet.OutageInput{From: "2026-11-24T15:00", Reason: "the roof"}))
	}
	in.Name, in.From, in.To, in.Moves, in.StudentIDs = "Another", "17:30", "20:30", "", []int64{iris}
	_, err = d.SaveClass(in)
	require.Contains(t, moves(t, err).Words, "no other time is free, so it ends, and they wait for it")
	in.Moves = moves(t, err).Key
	_, err = d.SaveClass(in)
	require.NoError(t, err)
	page, err = d.Week(freeDay, 0)
	require.NoError(t, err)
	require.Len(t, page.Waits, 1)
	assert.True(t, strings.HasPrefix(told(t, d, 9)[0], "A class needs the machine, and no other time was free"))
}

// A student waits, sits down and reads what they were told for themselves alone.
func TestAStudentWaitsForThemselves(t *testing.T) {
	const ana, noor = 1, 9
	all := desks(t)
	d := all["instructor"]
	require.NoError(t, d.Book(slot("Noor Haddad", "10:00", "12:00")))
	who := d.Actor.Who
	who.Role, who.AccountID, who.StudentID = "student", 0, ana
	own := atWork(d.App().For(t.Context(), who))
	mine := slot("", "10:00", "11:00")
	mine.Wait = true
	require.NoError(t, own.BookOwn(mine))
	page, err := own.Mine()
	require.NoError(t, err)
	require.Len(t, page.Waits, 1)
	week, err := d.Week(freeDay, heron)
	require.NoError(t, err)
	assert.ErrorIs(t, own.SatDownOwn(week.Bookings[0].ID), actor.ErrNotFound, "it is Noor's")
	assert.ErrorIs(t, own.CancelOwn(week.Bookings[0].ID), actor.ErrNotFound)
	require.NoError(t, d.CancelBooking(week.Bookings[0].ID))
	page, err = own.Mine()
	require.NoError(t, err)
	require.Len(t, page.Messages, 1)
	assert.Equal(t, fleet.Filled, page.Messages[0].Kind)
	require.NoError(t, own.ReadOwn(page.Messages[0].ID))
	assert.Empty(t, told(t, d, ana))
	assert.Len(t, told(t, d, noor), 1, "what Noor was told is Noor's to read")
	assert.ErrorIs(t, own.EndOwnWait(4711), actor.ErrNotFound)
}

// However many copies of the application look at once, what is free goes to one.
func TestManyCopiesFillOnce(t *testing.T) {
	s := demotest.Open(t)
	a, b := actor.New(s, func() time.Time { return now }), actor.New(s, func() time.Time { return now })
	who, err := a.Who(t.Context(), 1, 1)
	require.NoError(t, err)
	d := atWork(a.For(t.Context(), who))
	require.NoError(t, d.Book(slot("Ana Thorne", "10:00", "12:00")))
	for _, name := range []string{"Iris Vale", "Noor Haddad"} {
		in := slot(name, "10:00", "11:30")
		in.Wait = true
		require.NoError(t, d.Book(in))
	}
	page, err := d.Week(freeDay, heron)
	require.NoError(t, err)
	require.NoError(t, d.Workshop.CancelBooking(page.Bookings[0].ID), "past those who would fill it")
	var all errgroup.Group
	for i := range 8 {
		all.Go(func() error { return bookings.Keep(t.Context(), []*actor.App{a, b}[i%2]) })
	}
	require.NoError(t, all.Wait())
	assert.Equal(t, []string{"Iris Vale Thu 10:00"}, on(t, d, heron), "who asked first")
	assert.Len(t, told(t, d, 5), 1)
	assert.Empty(t, told(t, d, 9))
}
