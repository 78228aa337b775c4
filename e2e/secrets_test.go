package e2e

import (
	"net/http"
	"net/url"
	"os"
	"regexp"
	"strings"
	"sync"
	"sync/atomic"
	"syscall"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/store"
	"chalkstep/store/storetest"
)

var inviteLink = regexp.MustCompile(`value="http://[^/"]+(/welcome/[^"]+)"`)

// While the database is away every kind of link is asked for, and the log says what was asked
// without giving any of them away, nor what was typed.
func TestTheLogKeepsSecrets(t *testing.T) {
	path, folder := binary(t), storetest.Folder(t)
	p := run(t, path, folder, "--patience", "1s", "--log", "debug")
	defer p.stop(t)
	c := signedInAs(t, p.base, store.Owner)
	phone, feed := c.address(t, heron), c.address(t, calendar)
	own := c.openOwn(t, 1)
	status, page := c.post(t, "/settings/people",
		url.Values{"_csrf": {c.token(t, "/settings/people")}, "name": {"Nell Starling"}, "email": {"nell@ferry.example"},
			"role": {"assistant"}})
	require.Equal(t, http.StatusOK, status)
	invite := inviteLink.FindStringSubmatch(page)
	require.NotNil(t, invite, "%.3000s", answerOf(page))
	token := c.token(t, "/students")
	session := c.cookies(t)

	pid, _ := postmaster(t, folder)
	frozen := append(children(t, pid), pid)
	for _, one := range frozen {
		require.NoError(t, syscall.Kill(one, syscall.SIGSTOP))
	}
	var failed atomic.Int64
	var asking sync.WaitGroup
	nobody := newClient(t, p.base)
	ask := func(c *client, method, path string, form url.Values) {
		request, err := http.NewRequestWithContext(t.Context(), method, p.base+path, strings.NewReader(form.Encode()))
		require.NoError(t, err)
		request.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		asking.Go(func() {
			answer, err := c.http.Do(request)
			if !assert.NoError(t, err) {
				return
			}
			answer.Body.Close()
			if answer.StatusCode >= http.StatusInternalServerError {
				failed.Add(1)
			}
		})
	}
	typed := "a word that nobody is to read"
	for _, path := range []string{phone, phone + "/news", phone + "/state", phone + "/restart?x=1&y=1",
		phone + "/picture/3/1", feed, own, invite[1], "/me", "/classes/2/run", "/students?words=" + url.QueryEscape(typed)} {
		ask(c, http.MethodGet, path, nil)
		ask(nobody, http.MethodGet, path, nil)
	}
	for path, form := range map[string]url.Values{
		phone + "/press": {"kind": {"hand-up"}}, own: {"_csrf": {token}, "pin": {"8341834183"}},
		invite[1]:   {"_csrf": {token}, "password": {typed}},
		"/sign-in":  {"_csrf": {token}, "email": {"nell@ferry.example"}, "password": {typed}},
		"/students": {"_csrf": {token}, "name": {typed}},
	} {
		ask(c, http.MethodPost, path, form)
		ask(nobody, http.MethodPost, path, form)
	}
	asking.Wait()
	for _, one := range frozen {
		_ = syscall.Kill(one, syscall.SIGCONT)
	}
	assert.Greater(t, failed.Load(), int64(20))
	log := p.said()
	database, err := os.ReadFile(folder + "/postgres/server.log")
	require.NoError(t, err)
	log += string(database)
	for what, secret := range map[string]string{"a phone's link": phone, "a calendar's": feed, "a student's": own,
		"an invitation's": invite[1]} {
		_, secret, _ = strings.Cut(strings.TrimPrefix(secret, "/"), "/")
		assert.NotContains(t, log, strings.TrimSuffix(secret, ".ics"), what)
	}
	for _, cookie := range strings.Split(session, "; ") {
		_, value, _ := strings.Cut(cookie, "=")
		assert.NotContains(t, log, value)
	}
	assert.NotContains(t, log, typed)
	assert.NotContains(t, log, "8341834183")
	for _, route := range []string{"/station/:token/press", "/station/:token/news", "/calendar/:file", "/me/:link",
		"/welcome/:token", "/students"} {
		assert.Contains(t, log, "route="+route+" status=503")
	}
}
