package app_test

import (
	"net/netip"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/actor"
	"chalkstep/app/bookings"
	"chalkstep/app/people"
	"chalkstep/store"
)

// A student's link and the PIN they chose open their own page, and nothing else; a wrong PIN
// is counted, and a new link ends all that was before.
func TestAStudentsOwnPage(t *testing.T) {
	all := desks(t)
	d := all[store.Owner]
	app, from := d.App(), netip.MustParseAddr("192.0.2.7")
	const ana, tam = 1, 11
	link, err := d.OwnLink(ana)
	require.NoError(t, err)
	assert.False(t, link.HasPIN)
	for _, pin := range []string{"", "12", "abcd", "1234567890123", "12 34"} {
		_, err := app.Enter(t.Context(), link.Token, pin, from, "a phone")
		assert.NotEmpty(t, problem(t, err, "pin"), pin)
	}
	session, err := app.Enter(t.Context(), link.Token, " 4711 ", from, "a phone")
	require.NoError(t, err)
	_, err = app.Enter(t.Context(), link.Token, "4711", from, "a phone")
	require.NoError(t, err, "on a second phone")

	who, err := app.Student(t.Context(), session)
	require.NoError(t, err)
	own := atWork(app.For(t.Context(), who))
	page, err := own.Mine()
	require.NoError(t, err)
	assert.Equal(t, "Ana Thorne", page.Student.Name)
	require.NotNil(t, page.Class)
	require.NotEmpty(t, page.Class.Steps)
	assert.NotEmpty(t, page.Machines)
	assert.NotEmpty(t, summaries(t, d, page.Feed))
	for name, err := range map[string]error{
		"students": second(own.Students("", 1)), "somebody": second(own.Student(tam)), "a class": second(own.Class(badges)),
		"the week":               second(own.Week("", 0)),
		"a booking for somebody": own.Book(bookings.BookingInput{}), "a mark": own.Mark(people.MarkInput{}),
		"somebody's link": second(own.OwnLink(tam)),
	} {
		assert.ErrorIs(t, err, actor.ErrMayNot, name)
	}

	for range 5 {
		_, err := app.Enter(t.Context(), link.Token, "0000", from, "a phone")
		assert.ErrorIs(t, err, actor.ErrSignIn)
	}
	_, err = app.Enter(t.Context(), link.Token, "4711", from, "a phone")
	assert.ErrorIs(t, err, actor.ErrTries, "even the right one has to wait")

	require.NoError(t, d.RenewOwn(ana))
	_, err = app.Student(t.Context(), session)
	require.ErrorIs(t, err, actor.ErrNotFound)
	_, err = app.Door(t.Context(), link.Token)
	require.ErrorIs(t, err, actor.ErrNotFound)
	again, err := d.OwnLink(ana)
	require.NoError(t, err)
	assert.NotEqual(t, link.Token, again.Token)
	for _, broken := range []string{"", "1.1.1", "1.1.1.AAAA", "1.11" + again.Token[3:], "9.1.2" + again.Token[5:]} {
		_, err := app.Door(t.Context(), broken)
		assert.ErrorIs(t, err, actor.ErrNotFound, broken)
	}
	_, err = all[store.Assistant].OwnLink(ana)
	assert.ErrorIs(t, err, actor.ErrMayNot)
}

// A student books for themselves by the rules of the house, which they cannot set aside,
// where they may be alone; and is told nothing of who has a machine.
func TestAStudentBooksForThemselves(t *testing.T) {
	d := desks(t)[store.Owner]
	as := func(id int64) person {
		link, err := d.OwnLink(id)
		require.NoError(t, err)
		session, err := d.App().Enter(t.Context(), link.Token, "123456", netip.MustParseAddr("192.0.2.8"), "a phone")
		require.NoError(t, err)
		who, err := d.App().Student(t.Context(), session)
		require.NoError(t, err)
		return atWork(d.App().For(t.Context(), who))
	}
	ana, tam := as(1), as(11)
	in := bookings.BookingInput{MachineID: lantern, Date: "2026-11-30", From: "10:00", To: "11:00", Override: "I want to",
		Accompanied: true}
	assert.Contains(t, problem(t, tam.BookOwn(in), "machine"), "You may not have Lantern alone yet")
	require.NoError(t, ana.BookOwn(in))
	in.From, in.To = "06:00", "08:00"
	assert.Contains(t, problem(t, ana.BookOwn(in), "from"), "open from 09:00 to 21:00")

	require.NoError(t, d.Book(bookings.BookingInput{MachineID: lantern, Student: "Iris Vale", Date: "2026-12-01",
		From: "10:00", To: "12:00"}))
	in = bookings.BookingInput{MachineID: lantern, Date: "2026-12-01", From: "11:00", To: "12:30"}
	said := problem(t, ana.BookOwn(in), "from")
	assert.Contains(t, said, "Lantern is taken then. It is free Tue 1 Dec from 12:10 to 21:00")
	assert.NotContains(t, said, "Iris")

	page, err := ana.Mine()
	require.NoError(t, err)
	require.Len(t, page.Bookings, 2)
	assert.ErrorIs(t, tam.CancelOwn(page.Bookings[0].ID), actor.ErrNotFound, "somebody else's")
	require.NoError(t, ana.CancelOwn(page.Bookings[0].ID))
	late := ana.Actor
	late.Now = page.Bookings[1].StartsAt.Add(time.Minute)
	assert.ErrorIs(t, atWork(late).CancelOwn(page.Bookings[1].ID), actor.ErrNotFound, "it has begun")
}
