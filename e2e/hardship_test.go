package e2e

import (
	"errors"
	"net/http"
	"net/url"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/actor"
	"chalkstep/demo/demotest"
	"chalkstep/store"
	"chalkstep/web"
)

// While the disk is full everything can be read, what cannot be saved is said, and nothing has
// to be pressed or started again once there is room.
func TestTheDiskIsFull(t *testing.T) {
	var full atomic.Bool
	base, _ := serve(t, demotest.URL(t), nil, store.WhileRoom(func() error {
		if full.Load() {
			return errors.New("nothing is free")
		}
		return nil
	}))
	c := signedInAs(t, base, store.Instructor)
	visitor := newClient(t, base)
	token := c.token(t, "/students")
	add := func(name string) (int, string) {
		return c.post(t, "/students", url.Values{"_csrf": {token}, "name": {name}})
	}
	full.Store(true)
	for _, page := range pages {
		status, body := c.ask(t, page.path)
		assert.Less(t, status, http.StatusInternalServerError, "%s: %s", page.path, answerOf(body))
	}
	status, page := c.ask(t, "/classes/4?plan=anew")
	assert.Equal(t, http.StatusOK, status)
	assert.Contains(t, page, "finish")
	status, page = add("Nell Starling")
	assert.Equal(t, http.StatusServiceUnavailable, status)
	assert.Equal(t, "The disk of this server is full, so nothing can be saved.", answerOf(page))
	ready, body := visitor.ask(t, "/readyz")
	assert.Equal(t, http.StatusServiceUnavailable, ready)
	assert.Equal(t, "the disk is full\n", body)
	live, _ := visitor.ask(t, "/healthz")
	assert.Equal(t, http.StatusOK, live)

	full.Store(false)
	status, _ = add("Nell Starling")
	assert.Equal(t, http.StatusOK, status)
	ready, _ = visitor.ask(t, "/readyz")
	assert.Equal(t, http.StatusOK, ready)
	assert.Equal(t, 1, strings.Count(c.get(t, "/students?words=Nell"), ">Nell Starling<"))
}

// A database that takes two seconds for each statement is waited for as long as requests may
// take, which is said in words; pages that need nothing of it are there, and so is everything
// afterwards.
func TestTheDatabaseIsSlow(t *testing.T) {
	var slow atomic.Bool
	db, err := store.Open(t.Context(), demotest.URL(t), store.OnStatement(func(string) {
		if slow.Load() {
			time.Sleep(2 * time.Second)
		}
	}))
	require.NoError(t, err)
	base, _ := listen(t, db, web.Config{App: actor.New(db, nowClock), Patience: 3 * time.Second})
	c := signedInAs(t, base, store.Instructor)
	token := c.token(t, "/students")
	slow.Store(true)
	status, page := c.ask(t, "/classes/3")
	assert.Equal(t, http.StatusServiceUnavailable, status)
	assert.Regexp(t, "^(That took too long and was given up|The database does not answer just now)", answerOf(page))
	status, page = c.post(t, "/students", url.Values{"_csrf": {token}, "name": {"Nell Starling"}})
	assert.Equal(t, http.StatusServiceUnavailable, status)
	assert.Contains(t, page, "Nothing was changed")
	for _, path := range []string{"/healthz", "/static/app.css"} {
		status, _ := newClient(t, base).ask(t, path)
		assert.Equal(t, http.StatusOK, status, path)
	}
	slow.Store(false)
	require.Eventually(t, func() bool {
		status, _ := c.ask(t, "/classes/2/run")
		return status == http.StatusOK
	}, patience, 50*time.Millisecond)
	assert.NotContains(t, c.get(t, "/students?words=Nell"), ">Nell Starling<", "what was given up was not done")
}
