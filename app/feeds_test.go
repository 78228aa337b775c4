package app_test

import (
	"bytes"
	"strings"
	"testing"

	"github.com/emersion/go-ical"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/actor"
	"chalkstep/app/bookings"
	"chalkstep/app/planning"
	"chalkstep/core/booking"
	"chalkstep/store"
)

// summaries are what a link reads now, by status.
func summaries(t *testing.T, d person, token string) map[string][]string {
	t.Helper()
	who, err := d.App().Reader(t.Context(), token)
	require.NoError(t, err)
	data, err := bookings.UseCases{Actor: d.App().For(t.Context(), who)}.ReadFeed("")
	require.NoError(t, err)
	cal, err := ical.NewDecoder(bytes.NewReader(data)).Decode()
	require.NoError(t, err)
	by := map[string][]string{}
	for _, e := range cal.Events() {
		summary, err := e.Props.Text(ical.PropSummary)
		require.NoError(t, err)
		status, err := e.Props.Text(ical.PropStatus)
		require.NoError(t, err)
		by[status] = append(by[status], summary)
	}
	return by
}

// A student's calendar has what is theirs, follows what changes, and its link opens nothing
// else; renewed, the link of before is dead.
func TestACalendarFollows(t *testing.T) {
	all := desks(t)
	d := all[store.Instructor]
	const ana = 1
	feed, err := d.StudentFeed(ana)
	require.NoError(t, err)
	before := summaries(t, d, feed.Token)
	assert.Contains(t, before["CONFIRMED"], "Buoy badges, first felt")
	assert.Contains(t, before["CONFIRMED"], "Pigeon: Ana Thorne")
	for _, s := range before["CONFIRMED"] {
		assert.NotContains(t, s, "Iris", "nobody else's")
	}
	require.NoError(t, d.Book(bookings.BookingInput{MachineID: lantern, Student: "Ana Thorne", Date: "2026-11-27",
		From: "10:00", To: "11:00"}))
	require.NoError(t, d.CallOff(badges))
	after := summaries(t, d, feed.Token)
	assert.Contains(t, after["CONFIRMED"], "Lantern: Ana Thorne")
	assert.Contains(t, after["CANCELLED"], "Buoy badges, first felt")

	class, err := d.Class(towels)
	require.NoError(t, err)
	for _, p := range class.Class.Places {
		if p.ID == ana {
			require.NoError(t, d.SavePlace(towels, ana, planning.PlaceInput{Attendance: "absent", Version: p.Version}))
		}
	}
	assert.NotContains(t, summaries(t, d, feed.Token)["CONFIRMED"], class.Class.Name, "she does not come")

	who, err := d.App().Reader(t.Context(), feed.Token)
	require.NoError(t, err)
	reader := atWork(d.App().For(t.Context(), who))
	_, err = reader.Students("", 1)
	require.ErrorIs(t, err, actor.ErrMayNot)
	require.NoError(t, d.RenewFeed(feed.Calendar))
	_, err = d.App().Reader(t.Context(), feed.Token)
	require.ErrorIs(t, err, actor.ErrNotFound)
	again, err := d.StudentFeed(ana)
	require.NoError(t, err)
	assert.NotEmpty(t, summaries(t, d, again.Token))

	feeds, err := d.Feeds()
	require.NoError(t, err)
	assert.Len(t, feeds, 6, "the workshop and five machines")
	assert.Contains(t, strings.Join(summaries(t, d, feeds[0].Token)["CONFIRMED"], ";"), "Heron: Iris Vale")
	for _, broken := range []string{"", "1.student.1.1", "1.student.1.1.AAAA", "2" + again.Token[1:],
		strings.Replace(again.Token, ".1.", ".2.", 1), strings.Repeat("9", 500), "1.moon.1.1.AAAA"} {
		_, err := d.App().Reader(t.Context(), broken)
		assert.ErrorIs(t, err, actor.ErrNotFound, broken)
	}
	assert.ErrorIs(t, d.RenewFeed(booking.Calendar{Kind: booking.OfMachine, ID: 4711}), actor.ErrNotFound)
	assert.ErrorIs(t, d.RenewFeed(booking.Calendar{Kind: "moon"}), actor.ErrNotFound)
	_, err = all[store.Assistant].Feeds()
	assert.ErrorIs(t, err, actor.ErrMayNot)
}
