package app_test

import (
	"errors"
	"fmt"
	"net/netip"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/actor"
	"chalkstep/app/keeping"
	"chalkstep/demo"
	"chalkstep/demo/demotest"
	"chalkstep/store"
)

// A room behind one address guesses until nobody new gets in from there. A browser at which the
// owner has signed in before does, with what it has from then, and has tries of its own; what
// it has is worth nothing to anybody else.
func TestABrowserThatIsKnownIsNotHeldUpByOthers(t *testing.T) {
	clock := now
	a := actor.New(demotest.Open(t), func() time.Time { return clock })
	room := netip.MustParseAddr("192.0.2.7")
	owner, instructor := demo.Logins[0], demo.Logins[1]
	in := func(email, password, known string) (actor.SignedIn, error) {
		return a.SignIn(t.Context(), actor.SignInInput{Email: email, Password: password, Address: room, Known: known})
	}
	first, err := in(owner.Email, owner.Password, "")
	require.NoError(t, err)
	both, err := in(instructor.Email, instructor.Password, first.Known)
	require.NoError(t, err, "another person at the same computer")
	for n := range 90 {
		_, err := in([]string{owner.Email, instructor.Email, fmt.Sprintf("guess-%d@ferry.example", n)}[max(0, min(n-12, 2))],
			"guess", "")
		assert.Error(t, err)
	}
	_, err = in(owner.Email, owner.Password, "")
	assert.ErrorIs(t, err, actor.ErrTries, "a browser that is not known")
	for what, known := range map[string]string{
		"nothing": "", "a forged signature": first.Known[:len(first.Known)-4] + "AAAA",
		"another account's": strings.Replace(first.Known, "1.", "2.", 1), "nonsense": strings.Repeat("~a.b.c", 500),
		"a NUL": "\x00",
	} {
		_, err := in(owner.Email, owner.Password, known)
		assert.ErrorIs(t, err, actor.ErrTries, what)
	}
	_, err = in(demo.Logins[2].Email, demo.Logins[2].Password, both.Known)
	assert.ErrorIs(t, err, actor.ErrTries, "somebody who has not signed in there")
	for _, login := range []struct {
		email, password string
	}{{owner.Email, owner.Password}, {instructor.Email, instructor.Password}} {
		again, err := in(" "+strings.ToUpper(login.email), login.password, both.Known)
		require.NoError(t, err, login.email)
		assert.Equal(t, both.Known, again.Known)
	}
	// Its own tries are counted, by itself.
	for range actor.TriesPerEmail {
		_, err := in(owner.Email, "guess", both.Known)
		assert.ErrorIs(t, err, actor.ErrSignIn)
	}
	_, err = in(owner.Email, owner.Password, both.Known)
	assert.ErrorIs(t, err, actor.ErrTries)
	_, err = in(instructor.Email, instructor.Password, both.Known)
	assert.NoError(t, err, "another account at the same browser")
	clock = clock.Add(6 * time.Minute)
	_, err = in(owner.Email, owner.Password, both.Known)
	assert.NoError(t, err)
}

// Whoever guesses at a PIN waits longer each time, however many try at once, and staff see it;
// the right one ends that.
func TestGuessingAtAPIN(t *testing.T) {
	clock := now
	a := actor.New(demotest.Open(t), func() time.Time { return clock })
	at := func(account int64) person {
		who, err := a.Who(t.Context(), 1, account)
		require.NoError(t, err)
		return atWork(a.For(t.Context(), who))
	}
	const instructor, assistant = 2, 3
	d := at(instructor)
	from := netip.MustParseAddr("192.0.2.9")
	link, err := d.OwnLink(1)
	require.NoError(t, err)
	try := func(pin string) error {
		_, err := a.Enter(t.Context(), link.Token, pin, from, "a phone")
		return err
	}
	require.NoError(t, try("4711"))
	for range 2 {
		assert.ErrorIs(t, try("0000"), actor.ErrSignIn)
	}
	today, err := at(assistant).Today()
	require.NoError(t, err)
	assert.Empty(t, today.WrongPINs, "two are a slip")
	require.NoError(t, try("4711"))

	var looked atomic.Int64
	var wait sync.WaitGroup
	for range 30 {
		wait.Go(func() {
			if errors.Is(try("0000"), actor.ErrSignIn) {
				looked.Add(1)
			}
		})
	}
	wait.Wait()
	assert.EqualValues(t, 5, looked.Load(), "of many at once no more are looked at than of many in a row")
	before := time.Minute
	for range 6 {
		var wait actor.WaitError
		require.ErrorAs(t, try("4711"), &wait)
		assert.Equal(t, before, wait.Until.Sub(clock))
		clock = wait.Until
		assert.ErrorIs(t, try("0000"), actor.ErrSignIn)
		before *= 2
	}
	late := at(instructor)
	today, err = late.Today()
	require.NoError(t, err)
	require.Len(t, today.WrongPINs, 1)
	assert.Equal(t, "Ana Thorne", today.WrongPINs[0].Name)
	assert.Equal(t, 11, today.WrongPINs[0].Tries)
	own, err := late.OwnLink(1)
	require.NoError(t, err)
	require.NotNil(t, own.Wrong)

	clock = clock.Add(25 * time.Hour)
	assert.ErrorIs(t, try("0000"), actor.ErrSignIn, "after a day they are forgotten")
	assert.NoError(t, try("4711"), "and so the right one comes in at once")
	own, err = at(instructor).OwnLink(1)
	require.NoError(t, err)
	assert.Nil(t, own.Wrong)
}

// The links of a student who was taken off the list are gone: of their calendar, and of their
// own page.
func TestLinksOfAStudentWhoWasRemovedAreGone(t *testing.T) {
	d := desks(t)[store.Owner]
	const wren = 14
	feed, err := d.StudentFeed(wren)
	require.NoError(t, err)
	own, err := d.OwnLink(wren)
	require.NoError(t, err)
	_, err = d.App().Reader(t.Context(), feed.Token)
	require.NoError(t, err)
	require.NoError(t, d.CallOff(totes))
	_, err = keeping.UseCases{Actor: d.Actor}.Remove(store.ListedStudent, wren)
	require.NoError(t, err)
	_, err = d.App().Reader(t.Context(), feed.Token)
	assert.ErrorIs(t, err, actor.ErrNotFound)
	_, err = d.App().Door(t.Context(), own.Token)
	assert.ErrorIs(t, err, actor.ErrNotFound)
}
