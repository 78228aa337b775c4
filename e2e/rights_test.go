package e2e

import (
	"net/http"
	"net/url"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/demo/demotest"
	"chalkstep/store"
)

// open are the routes for whoever is there, signed in or not. The phones of the machines come by
// their links, and have a test of their own; so have students at their own pages, below /me.
var open = []string{
	"/healthz", "/readyz", "/sign-in", "/sign-out", "/station/worker.js", "/station/:token", "/station/:token/news",
	"/station/:token/state", "/station/:token/press", "/station/:token/restart",
	"/station/:token/picture/:design/:n", "/calendar/:file", "/welcome/:token",
}

// Every route of the router names what it needs: somebody of a role that nobody
// has spoken for is refused at each, reading or writing.
func TestARoleThatNobodyKnowsIsRefusedEverywhere(t *testing.T) {
	address := demotest.URL(t)
	base, face := serve(t, address, nil)
	guest := signedInAs(t, base, store.Assistant)
	db, err := pgx.Connect(t.Context(), address)
	require.NoError(t, err)
	defer db.Close(t.Context())
	for _, change := range []string{"ALTER TABLE accounts DROP CONSTRAINT accounts_role_check",
		"UPDATE accounts SET role = 'guest' WHERE role = 'assistant'"} {
		_, err := db.Exec(t.Context(), change)
		require.NoError(t, err)
	}
	token := guest.token(t, "/no-such-page")
	parameter := regexp.MustCompile(`:\w+`)
	refused := 0
	for _, route := range face.GetRoutes(true) {
		if route.Method != http.MethodGet && route.Method != http.MethodPost || strings.HasPrefix(route.Path, "/static") ||
			isOpen(route.Path) {
			continue
		}
		path := parameter.ReplaceAllString(route.Path, "1")
		var status int
		var body string
		if route.Method == http.MethodGet {
			status, body = guest.ask(t, path)
		} else {
			status, body = guest.post(t, path, url.Values{"_csrf": {token}})
		}
		assert.Contains(t, []int{http.StatusForbidden, http.StatusUnprocessableEntity}, status, "%s %s", route.Method,
			route.Path)
		assert.Contains(t, body, "may not", "%s %s", route.Method, route.Path)
		refused++
	}
	assert.Greater(t, refused, 80)
}

func isOpen(path string) bool {
	return slices.Contains(open, path) || path == "/me" || strings.HasPrefix(path, "/me/")
}
