package app_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/actor"
	applive "chalkstep/app/live"
	"chalkstep/store"
)

// The link of a phone is for the day of the class: afterwards it says so, shows nobody and
// takes nothing.
func TestAStationIsForTheDayOfTheClass(t *testing.T) {
	d := desks(t)[store.Instructor]
	_, links, err := d.Stations(towels)
	require.NoError(t, err)
	who, err := d.App().Station(t.Context(), links[0].Token)
	require.NoError(t, err)
	at := func(later time.Duration) applive.UseCases {
		base := d.App().For(t.Context(), who)
		base.Now = base.Now.Add(later)
		return actor.As[applive.UseCases](base)
	}
	today, err := at(0).Station()
	require.NoError(t, err)
	require.True(t, today.Taken)
	assert.Equal(t, "Noor Haddad", today.At.Name)
	_, _, err = at(0).StationPicture(today.Sheet.Design.ID, 1)
	require.NoError(t, err)
	_, _, err = at(0).StationPicture(compass, 1)
	assert.ErrorIs(t, err, actor.ErrNotFound, "another design")

	tomorrow := at(24 * time.Hour)
	page, err := tomorrow.Station()
	require.NoError(t, err)
	assert.Equal(t, "The class is over.", page.Why.String())
	assert.Empty(t, page.Standings)
	_, err = tomorrow.Press([]applive.Press{{ID: "a", HappenInput: applive.HappenInput{Kind: "going", StudentID: 9}}})
	assert.Error(t, err)
	_, _, err = tomorrow.StationPicture(today.Sheet.Design.ID, 1)
	assert.ErrorIs(t, err, actor.ErrNotFound)
	_, err = at(0).Run(towels)
	assert.ErrorIs(t, err, actor.ErrMayNot, "a phone sees its machine and no more")
	_, err = (wrapupUse{Actor: at(0).Actor}).Wrap(towels)
	assert.ErrorIs(t, err, actor.ErrMayNot)
}
