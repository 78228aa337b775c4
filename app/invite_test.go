package app_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/actor"
	"chalkstep/app/people"
	"chalkstep/demo"
	"chalkstep/store"
)

// Somebody is added without a password, and chooses one by the link they are given: once,
// within a week, and the last link only.
func TestSomebodyIsInvited(t *testing.T) {
	all := desks(t)
	owner := all[store.Owner]
	app := owner.App()
	token, err := owner.AddPerson(t.Context(),
		people.PersonInput{Name: "Runa", Email: "runa@ferry.example", Role: "assistant"})
	require.NoError(t, err)
	require.NotEmpty(t, token)
	who, err := app.Invited(t.Context(), token)
	require.NoError(t, err)
	assert.Equal(t, "Runa", who.Name)
	assert.NotEmpty(t, problem(t, app.Accept(t.Context(), token, "short"), "password"))

	again, err := owner.InvitePerson(who.ID)
	require.NoError(t, err)
	assert.ErrorIs(t, app.Accept(t.Context(), token, "fair-winds-22"), actor.ErrNotFound, "the link of before")
	require.NoError(t, app.Accept(t.Context(), again, "fair-winds-22"))
	assert.ErrorIs(t, app.Accept(t.Context(), again, "fair-winds-23"), actor.ErrNotFound, "it works once")
	_, err = app.SignIn(t.Context(), actor.SignInInput{Email: "runa@ferry.example", Password: "fair-winds-22"})
	require.NoError(t, err)

	session, err := app.SignIn(t.Context(),
		actor.SignInInput{Email: demo.Logins[1].Email, Password: demo.Logins[1].Password})
	require.NoError(t, err)
	forgot, err := owner.InvitePerson(all[store.Instructor].Who.AccountID)
	require.NoError(t, err)
	_, err = app.Session(t.Context(), session.Token)
	require.NoError(t, err, "nothing ends before it is used")
	require.NoError(t, app.Accept(t.Context(), forgot, "new-rope-2026"))
	_, err = app.Session(t.Context(), session.Token)
	require.ErrorIs(t, err, actor.ErrNotFound)

	late, err := owner.InvitePerson(who.ID)
	require.NoError(t, err)
	kept := now
	t.Cleanup(func() { now = kept })
	now = now.Add(8 * 24 * time.Hour)
	_, err = app.Invited(t.Context(), late)
	require.ErrorIs(t, err, actor.ErrNotFound, "a week is over")
	_, err = owner.InvitePerson(4711)
	assert.ErrorIs(t, err, actor.ErrNotFound)
	_, err = all[store.Instructor].InvitePerson(who.ID)
	assert.ErrorIs(t, err, actor.ErrMayNot)
	for _, broken := range []string{"", "x", token + "x"} {
		_, err := app.Invited(t.Context(), broken)
		assert.ErrorIs(t, err, actor.ErrNotFound)
	}
}
