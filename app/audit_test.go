package app_test

import (
	"net/netip"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/actor"
	"chalkstep/app/bookings"
	"chalkstep/app/people"
	"chalkstep/store"
)

// What matters is written down as it is changed, by whom, with what it was; secrets are not,
// and nobody changes what is written, whatever they may.
func TestChangesAreWrittenDown(t *testing.T) {
	all := desks(t)
	owner, d := all[store.Owner], all[store.Instructor]
	last := func() store.Change {
		page, err := owner.Changes(1)
		require.NoError(t, err)
		require.NotEmpty(t, page.Changes)
		return page.Changes[0]
	}
	column := func(c store.Change, name string) (was, is string) {
		both, there := c.Columns[name]
		require.True(t, there, "%s among %v", name, c.Columns)
		if both[0] != nil {
			was = *both[0]
		}
		if both[1] != nil {
			is = *both[1]
		}
		return was, is
	}
	in, err := d.MachineInput(heron)
	require.NoError(t, err)
	before := in.TopSpeed
	in.TopSpeed = "555"
	_, err = d.SaveMachine(in)
	require.NoError(t, err)
	c := last()
	assert.Equal(t, store.Change{At: c.At, By: "Joss", What: "machines", Kind: store.ThingChanged, ID: heron,
		Name: "Heron", Columns: c.Columns}, c)
	was, is := column(c, "top_speed_spm")
	assert.Equal(t, before, was)
	assert.Equal(t, "555", is)
	assert.Len(t, c.Columns, 1, "nothing else was changed")

	require.NoError(t, all[store.Assistant].Mark(people.MarkInput{StudentIDs: []int64{1}, Skill: "threading",
		On: "single-needle", Level: "helped"}))
	c = last()
	assert.Equal(t, "Pim", c.By)
	assert.Equal(t, "Ana Thorne", c.Student)
	_, is = column(c, "level")
	assert.Equal(t, "helped", is)

	require.NoError(t, d.Book(bookings.BookingInput{MachineID: lantern, Student: "Ana Thorne", Date: "2026-11-30",
		From: "10:00", To: "11:00"}))
	week, err := d.Week("2026-11-30", lantern)
	require.NoError(t, err)
	require.NoError(t, d.CancelBooking(week.Bookings[0].ID))
	c = last()
	assert.Equal(t, store.ThingRemoved, c.Kind)
	assert.Equal(t, "Lantern", c.Machine)

	require.NoError(t, owner.SetPasswordOf(t.Context(), d.Who.AccountID, "another-one-9"))
	c = last()
	assert.Equal(t, "Joss", c.Name)
	for name, both := range c.Columns {
		for _, text := range both {
			assert.False(t, text != nil && (name == "password_hash" || *text == "another-one-9"), "no secret is written down")
		}
	}
	_, is = column(c, "password")
	assert.Equal(t, "another", is)

	link, err := owner.OwnLink(1)
	require.NoError(t, err)
	session, err := d.App().Enter(t.Context(), link.Token, "4711", netip.MustParseAddr("192.0.2.9"), "a phone")
	require.NoError(t, err)
	who, err := d.App().Student(t.Context(), session)
	require.NoError(t, err)
	require.NoError(t, atWork(d.App().For(t.Context(), who)).BookOwn(
		bookings.BookingInput{MachineID: lantern, Date: "2026-12-01", From: "10:00", To: "11:00"}))
	c = last()
	assert.Equal(t, "Ana Thorne", c.ByStudent)
	assert.Empty(t, c.By)

	_, err = all[store.Assistant].Changes(1)
	require.ErrorIs(t, err, actor.ErrMayNot)
	page, err := owner.Changes(1)
	require.NoError(t, err)
	assert.True(t, slices.IsSortedFunc(page.Changes, func(a, b store.Change) int { return b.At.Compare(a.At) }),
		"the newest first")
}
