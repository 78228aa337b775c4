package e2e

import (
	"fmt"
	"net/http"
	"net/url"
	"regexp"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/actor"
	"chalkstep/demo"
	"chalkstep/demo/demotest"
	"chalkstep/store"
	"chalkstep/web"
)

// The class that goes on now is run from two browsers: what one notes, the other sees
// by itself; what was noted meanwhile is told, and the last is taken back.
func TestAClassIsRun(t *testing.T) {
	base := start(t)
	v := visit(t, base)
	v.signIn(demo.Logins[1].Role)
	v.open("/classes/2/run")
	v.sees("#board h1", "Go to")
	v.sees("#board h1", "thread broke, 2 minutes ago")
	other := visit(t, base)
	other.signIn(demo.Logins[2].Role)
	other.open("/classes/2/run")
	other.sees("#board h1", "thread broke")

	v.hit(`.hands button[id^="settled"]`)
	v.sees("#board h1", "finish")
	other.sees("#board h1", "finish")

	stale := signedInAs(t, base, demo.Logins[1].Role)
	token := stale.token(t, "/classes/2/run")
	button := "#" + v.attribute(`.tile button[id^="done"]`, "id")
	label := v.attribute(button, "aria-label")
	value := v.attribute(button, "value")
	v.hit(button)
	v.sees("#board", "Last: Noor Haddad is done with stop 2.")
	assert.NotEqual(t, label, v.attribute(button, "aria-label"), "they are at the next step")
	status, page := stale.post(t, "/classes/2/run", url.Values{"_csrf": {token}, "press": {value}})
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, page, "That stop is not what they sew: somebody noted it just now.")

	v.hit("#undo")
	v.waitForAttribute(button, "aria-label", label)
	other.waitForAttribute(button, "aria-label", label)

	v.choose(`select[name="student"]`, "Noor Haddad")
	v.choose(`select[name="what"]`, "hand up: smoke")
	v.hit("#happens button")
	v.sees("#board h1", "smoke or a burning smell, just now")
	v.sees(".caution", "Switch the machine off")
	other.sees("#board h1", "smoke")

	// One key each, of whoever is pointed at.
	v.tap(`[data-student="1"]`)
	v.press('h')
	v.sees(".hands", "Ana Thorne, the bench")
	v.tap(`[data-student="1"]`)
	v.press('t')
	v.keys(`#happens input[name="text"]`, "hoops well")
	v.press(input.Enter)
	v.sees("#board", "Ana Thorne: hoops well")
	other.sees("#board", "Ana Thorne: hoops well")
	v.tap(`[data-student="1"]`)
	v.press('s')
	v.sees("#board", "Ana Thorne's hand was settled")
	v.choose(`select[name="what"]`, "a machine is out")
	v.choose(`select[name="machine"]`, "Pigeon")
	v.hit("#happens button")
	other.sees("#board", "out of order since")

	// The room reads who is where, and nothing of what was said of anybody.
	other.open("/classes/2/big")
	other.sees(".big h1", "We end at 16:45")
	other.sees(".big", "Noor Haddad")
	assert.NotContains(t, other.words(".big"), "smoke")

	// Somebody leaves, and the class is summed up.
	v.choose(`select[name="student"]`, "Noor Haddad")
	v.choose(`select[name="what"]`, "leaves")
	v.hit("#happens button")
	v.sees("#board", "Left")
	v.open("/classes/2/wrap")
	v.sees("h1", "0 of 4 students finished, 4 have something to finish.")
	v.sees("main", "thread broke at")
	v.sees("main", "smoke or a burning smell")

	// Whose visit is over is asked to sign in again, and comes back to the board.
	other.open("/classes/2/run")
	_, err := other.page.Eval(
		`() => fetch("/sign-out", {method: "POST",
			body: new URLSearchParams(new FormData(document.querySelector(".who form")))}).then(() => true)`)
	require.NoError(t, err)
	other.find("#email")
	assert.Contains(t, other.path(), "to=%2Fclasses%2F2%2Frun")

	// A class that is not yet can be looked at, and not started.
	v.open("/classes/4/run")
	v.sees("#board", "It can be started on")
}

// Whatever happened in a class, its board, its big view, its wrap-up and its phones stand: they say who
// cannot go on, and the last entry can be taken back.
func TestABoardOnWhichNobodyCanGoOnStands(t *testing.T) {
	db, err := store.Open(t.Context(), demotest.URL(t))
	require.NoError(t, err)
	base, _ := listen(t, db, web.Config{App: actor.New(db, nowClock)})
	c := signedInAs(t, base, store.Instructor)
	class, err := db.For(t.Context(), 1).Class(2)
	require.NoError(t, err)
	for _, m := range class.Machines {
		status, page := c.post(t, "/classes/2/run", url.Values{"_csrf": {c.token(t, "/classes/2/run")}, "what": {"failed"},
			"machine": {fmt.Sprint(m.ID)}})
		require.Equal(t, http.StatusOK, status, answerOf(page))
	}
	board := c.get(t, "/classes/2/run")
	assert.Contains(t, board, "cannot go on.")
	assert.Contains(t, board, "has no machine that does the rest until")
	assert.Contains(t, c.get(t, "/classes/2/big"), "out of order")
	for _, path := range []string{"/classes/2/run", "/classes/2/big", "/classes/2/wrap", "/classes/2/wrap.csv",
		"/classes/2", heron, heron + "/state", "/"} {
		status, page := c.ask(t, path)
		assert.Equal(t, http.StatusOK, status, "%s: %s", path, answerOf(page))
	}
	undo := regexp.MustCompile(`name="press"\s+value="(undone [^"]+)"`).FindStringSubmatch(board)
	require.NotNil(t, undo, "the last entry can be taken back")
	status, page := c.post(t, "/classes/2/run", url.Values{"_csrf": {c.token(t, "/classes/2/run")}, "press": {undo[1]}})
	assert.Equal(t, http.StatusOK, status, answerOf(page))
	assert.NotContains(t, page, undo[1], "it was taken back")
}
