package e2e

import (
	"net/http"
	"net/url"
	"testing"

	"github.com/stretchr/testify/assert"

	"chalkstep/store"
)

// Somebody calls the wrong class off, sees it, and takes it back: it has the plan it had.
func TestAClassIsCalledOffByMistake(t *testing.T) {
	v := visit(t, start(t))
	v.signIn(store.Instructor)
	v.open("/classes/3/edit")
	v.confirm("cancel")
	v.sees(".answer", "The class was called off. Its machines and what it has reserved are held for a minute")
	v.open("/classes")
	v.sees("main", "Buoy badges, first felt called off")
	v.open("/classes/3")
	v.enter(".answer button.main")
	v.sees(".answer", "Everyone finishes by 12:28")
}

// A class that is over offers no change, and what is sent all the same is refused in words.
func TestAClassThatIsOverIsNotChanged(t *testing.T) {
	base := start(t)
	c := signedInAs(t, base, store.Owner)
	page := c.get(t, "/classes/1")
	assert.NotContains(t, page, "/classes/1/edit")
	token := c.token(t, "/classes/3/edit")
	for _, path := range []string{"/classes/1/cancel", "/classes/1/reinstate", "/classes/1/delete", "/classes/1/roster"} {
		status, page := c.post(t, path,
			url.Values{"_csrf": {token}, "student": {"2"}, "attendance": {"absent"}, "version": {"1"}})
		assert.Equal(t, http.StatusUnprocessableEntity, status, path)
		assert.Regexp(t, "The class is over, so it stays as it was|cannot be deleted", page, path)
	}
	status, page := c.ask(t, "/classes/1/edit")
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, page, "The class is over, so it stays as it was.")
}
