package e2e

import (
	"bytes"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/demo"
	"chalkstep/demo/demotest"
	"chalkstep/store"
)

// A session that ended stays ended, whatever was still running under it.
func TestASessionThatEndedStaysEnded(t *testing.T) {
	base := start(t)
	for range 10 {
		c := signedIn(t, base)
		cookie := ""
		for _, k := range c.http.Jar.Cookies(parsed(t, base)) {
			cookie += k.Name + "=" + k.Value + "; "
		}
		ask := func() *http.Response {
			r, err := http.NewRequest(http.MethodGet, base+"/students", nil)
			require.NoError(t, err)
			r.Header.Set("Cookie", cookie)
			answer, err := http.DefaultTransport.RoundTrip(r)
			require.NoError(t, err)
			_, _ = io.Copy(io.Discard, answer.Body)
			answer.Body.Close()
			return answer
		}
		token := c.token(t, "/")
		var wait sync.WaitGroup
		for range 8 {
			wait.Go(func() { ask() })
		}
		_, page := c.post(t, "/sign-out", url.Values{"_csrf": {token}})
		wait.Wait()
		assert.Contains(t, page, "Sign in")
		answer := ask()
		assert.Equal(t, http.StatusSeeOther, answer.StatusCode)
		assert.True(t, strings.HasPrefix(answer.Header.Get("Location"), "/sign-in"))
	}
}

func parsed(t testing.TB, address string) *url.URL {
	t.Helper()
	u, err := url.Parse(address)
	require.NoError(t, err)
	return u
}

// Nothing is kept of a visitor until they sign in, and a form that is not ours
// does not sign anyone out.
func TestNothingIsKeptOfVisitors(t *testing.T) {
	address := demotest.URL(t)
	writes := 0
	base, _ := serve(t, address, nil, store.OnStatement(func(sql string) {
		if !strings.HasPrefix(sql, "SELECT") && !strings.HasPrefix(sql, "BEGIN") && !strings.HasPrefix(sql, "begin") {
			writes++
		}
	}))
	writes = 0
	for _, path := range []string{"/sign-in", "/", "/healthz", "/readyz", "/classes/3", "/static/app.css", "/nowhere"} {
		for range 5 {
			answer, err := http.Get(base + path)
			require.NoError(t, err)
			answer.Body.Close()
		}
	}
	assert.Zero(t, writes)

	c := signedIn(t, base)
	for _, token := range []string{"", "x", strings.Repeat("A", 43), "%00", strings.Repeat("long", 9000)} {
		status, _ := c.post(t, "/students", url.Values{"_csrf": {token}, "name": {"Mallory"}})
		assert.Contains(t, []int{http.StatusForbidden, http.StatusRequestEntityTooLarge}, status)
	}
	broken, err := http.NewRequest(http.MethodPost, base+"/students", strings.NewReader("--x\r\nbroken"))
	require.NoError(t, err)
	broken.Header.Set("Content-Type", "multipart/form-data; boundary=x")
	answer, err := c.http.Do(broken)
	require.NoError(t, err)
	answer.Body.Close()
	assert.Equal(t, http.StatusForbidden, answer.StatusCode)
	assert.Contains(t, c.get(t, "/students"), "Sign out")
}

// A page of another site cannot send our forms, not even with a token.
func TestFormsOfOtherSitesAreRefused(t *testing.T) {
	base := start(t)
	c := signedIn(t, base)
	token := c.token(t, "/students")
	send := func(headers map[string]string, name string) int {
		r, err := http.NewRequest(http.MethodPost, base+"/students",
			strings.NewReader(url.Values{"_csrf": {token}, "name": {name}}.Encode()))
		require.NoError(t, err)
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		for k, v := range headers {
			r.Header.Set(k, v)
		}
		answer, err := c.http.Do(r)
		require.NoError(t, err)
		answer.Body.Close()
		return answer.StatusCode
	}
	for i, headers := range []map[string]string{
		{"Sec-Fetch-Site": "cross-site"}, {"Sec-Fetch-Site": "same-site"}, {"Origin": "https://evil.example"},
		{"Origin": "null"}, {"Origin": base + ".evil.example"},
	} {
		assert.Equal(t, http.StatusForbidden, send(headers, fmt.Sprint("Mallory ", i)), "%v", headers)
	}
	for i, headers := range []map[string]string{{"Sec-Fetch-Site": "same-origin"}, {"Origin": base}, {}} {
		assert.Equal(t, http.StatusOK, send(headers, fmt.Sprint("Friend ", i)), "%v", headers)
	}
	other := signedInAs(t, base, store.Instructor)
	status, _ := other.post(t, "/students", url.Values{"_csrf": {token}, "name": {"Mallory"}})
	assert.Equal(t, http.StatusForbidden, status, "a token is of one session alone")
}

// One browser that guesses locks out neither others behind the same proxy nor
// the person whose e-mail it guesses at, wherever it says it comes from.
func TestGuessingLocksOutNobodyElse(t *testing.T) {
	base := start(t)
	c := newClient(t, base)
	token := c.token(t, "/sign-in")
	for i := range 8 {
		r, err := http.NewRequest(http.MethodPost, base+"/sign-in",
			strings.NewReader(url.Values{"_csrf": {token}, "email": {demo.Logins[0].Email}, "password": {"guess"}}.Encode()))
		require.NoError(t, err)
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		r.Header.Set("X-Forwarded-For", fmt.Sprintf("203.0.113.%d", i)) // from no trusted proxy
		answer, err := c.http.Do(r)
		require.NoError(t, err)
		answer.Body.Close()
		if i < 6 {
			assert.Equal(t, http.StatusUnprocessableEntity, answer.StatusCode)
		} else {
			assert.Equal(t, http.StatusTooManyRequests, answer.StatusCode, "saying to come from elsewhere does not help")
		}
	}
	status, _ := c.post(t, "/sign-in",
		url.Values{"_csrf": {token}, "email": {demo.Logins[1].Email}, "password": {demo.Logins[1].Password}})
	assert.Equal(t, http.StatusOK, status, "others from the same address sign in")
	long := strings.Repeat("very-long-", 20) + "@ferry.example"
	fresh := newClient(t, base)
	status, _ = fresh.post(t, "/sign-in",
		url.Values{"_csrf": {fresh.token(t, "/sign-in")}, "email": {long}, "password": {"guess"}})
	assert.Equal(t, http.StatusUnprocessableEntity, status)
}

// How much a request may bring depends on who sends it where.
func TestBodiesAreLimited(t *testing.T) {
	base := start(t)
	c := signedIn(t, base)
	visitor := newClient(t, base)
	fill := func(n int) string { return strings.Repeat("x", n) }
	for name, s := range map[string]struct {
		who    *client
		path   string
		size   int
		status int
	}{
		"a visitor's sign-in": {visitor, "/sign-in", 17 << 10, http.StatusRequestEntityTooLarge},
		"a visitor's upload":  {visitor, "/designs", 1 << 20, http.StatusRequestEntityTooLarge},
		"a form":              {c, "/students", 600 << 10, http.StatusRequestEntityTooLarge},
		"a photo":             {c, "/projects/2/photo", 9 << 20, http.StatusRequestEntityTooLarge},
		"a file":              {c, "/designs", 40 << 20, http.StatusRequestEntityTooLarge},
		"a small form":        {c, "/students", 300 << 10, http.StatusUnprocessableEntity},
	} {
		values := url.Values{"_csrf": {s.who.token(t, map[bool]string{true: "/", false: "/sign-in"}[s.who == c])},
			"name": {fill(s.size)}}
		status, _ := s.who.post(t, s.path, values)
		assert.Equal(t, s.status, status, name)
	}
	squeezed, err := http.NewRequest(http.MethodPost, base+"/students", bytes.NewReader([]byte("\x1f\x8b")))
	require.NoError(t, err)
	squeezed.Header.Set("Content-Encoding", "gzip")
	answer, err := c.http.Do(squeezed)
	require.NoError(t, err)
	answer.Body.Close()
	assert.Equal(t, http.StatusUnsupportedMediaType, answer.StatusCode)

	// A body that never comes holds nobody else up.
	conn, err := net.Dial("tcp", strings.TrimPrefix(base, "http://"))
	require.NoError(t, err)
	defer conn.Close()
	_, err = fmt.Fprintf(conn, "POST /designs HTTP/1.1\r\nHost: x\r\nContent-Length: 30000000\r\n\r\nab")
	require.NoError(t, err)
	assert.Contains(t, c.get(t, "/students"), "Sign out")
}

// A form counts once however often it is sent, and the second answer is the
// first one's page. The next page's form counts again.
func TestAFormCountsOnce(t *testing.T) {
	base := start(t)
	c := signedIn(t, base)
	send := func(path string, form url.Values, times int) (page string) {
		var lock sync.Mutex
		var wait sync.WaitGroup
		for range times {
			wait.Go(func() {
				status, body := c.post(t, path, form)
				lock.Lock()
				defer lock.Unlock()
				assert.Equal(t, http.StatusOK, status, "%s: %s", path, answerOf(body))
				page = body
			})
		}
		wait.Wait()
		return page
	}
	move := url.Values{"_csrf": {c.token(t, "/stock/17")}, "kind": {"bought"}, "quantity": {"5"}}
	send("/stock/17/move", move, 6)
	assert.Contains(t, c.get(t, "/stock/17"), "19 there in all")
	move.Set("_csrf", c.token(t, "/stock/17"))
	send("/stock/17/move", move, 1)
	assert.Contains(t, c.get(t, "/stock/17"), "24 there in all", "once more, on purpose")
	move.Set("quantity", "2")
	send("/stock/17/move", move, 1)
	assert.Contains(t, c.get(t, "/stock/17"), "26 there in all", "the same page with something else in it")

	page := send("/students", url.Values{"_csrf": {c.token(t, "/students")}, "name": {"Nell Starling"}}, 5)
	assert.Contains(t, page, "Next for Nell Starling")
	page = send("/classes/new", url.Values{
		"_csrf": {c.token(t, "/classes/new")}, "name": {"Twice"}, "project": {"Crab hand towel"}, "date": {"2026-12-18"},
		"from": {"10:00"}, "to": {"13:00"}, "instructors": {"1"}, "irons": {"1"},
		"students": {"1"}, "machines": {"1"},
	}, 5)
	assert.Contains(t, page, "Twice")
	assert.Equal(t, 1, strings.Count(c.get(t, "/classes"), ">Twice<"))
	send("/machines/bookings",
		url.Values{"_csrf": {c.token(t, "/machines/bookings")}, "machine": {"4"}, "student": {"Ana Thorne"},
			"date": {"2026-12-01"}, "from": {"10:00"}, "to": {"11:00"}}, 5)
	// An edit that arrives twice is no quarrel of two people.
	edit := url.Values{"_csrf": {c.token(t, "/students/1")}, "name": {"Ana T."}, "version": {"1"}}
	send("/students/1", edit, 4)
}

// Two who put one class right at the same time, each with a form of their own,
// do so once; what another class has spoken for stays.
func TestAClassIsPutRightOnce(t *testing.T) {
	base := start(t)
	people := []*client{signedIn(t, base), signedInAs(t, base, store.Instructor), signedIn(t, base)}
	for _, class := range []string{"3", "4"} {
		status, _ := people[0].post(t, "/classes/"+class+"/shelf",
			url.Values{"_csrf": {people[0].token(t, "/classes/"+class+"/shelf")}})
		require.Equal(t, http.StatusOK, status)
	}
	before := withoutToken(people[0].get(t, "/stock"))
	together := func(path string) map[int]int {
		statuses := map[int]int{}
		var lock sync.Mutex
		var wait sync.WaitGroup
		for i := range 6 {
			c := people[i%len(people)]
			form := url.Values{"_csrf": {c.token(t, "/classes/3/shelf")}}
			wait.Go(func() {
				status, _ := c.post(t, path, form)
				lock.Lock()
				defer lock.Unlock()
				statuses[status]++
			})
		}
		wait.Wait()
		return statuses
	}
	assert.Equal(t, map[int]int{http.StatusUnprocessableEntity: 6}, together("/classes/3/shelf"),
		"all is reserved already")
	assert.Equal(t, before, withoutToken(people[0].get(t, "/stock")))
	assert.Equal(t, map[int]int{http.StatusOK: 1, http.StatusUnprocessableEntity: 5}, together("/classes/3/shelf/right"))
	assert.Equal(t, map[int]int{http.StatusOK: 1, http.StatusUnprocessableEntity: 5}, together("/classes/4/shelf/right"),
		"the other class has all of its own")
}

// withoutToken is a page without what differs each time.
func withoutToken(page string) string { return tokenField.ReplaceAllString(page, "") }

// answerOf is the first thing that a page says.
func answerOf(page string) string {
	_, rest, _ := strings.Cut(page, "<h1>")
	text, _, _ := strings.Cut(rest, "</h1>")
	return text
}

// HEAD is answered like GET, and pages are kept by nobody on the way.
func TestHeadersOfPages(t *testing.T) {
	base := start(t)
	c := signedIn(t, base)
	for _, path := range []string{"/", "/classes/3", "/designs", "/healthz", "/static/app.css", "/designs/2/picture/thumb",
		"/nowhere"} {
		get, err := c.http.Get(base + path)
		require.NoError(t, err)
		_, err = io.Copy(io.Discard, get.Body)
		require.NoError(t, err)
		get.Body.Close()
		head, err := c.http.Head(base + path)
		require.NoError(t, err)
		head.Body.Close()
		assert.Equal(t, get.StatusCode, head.StatusCode, path)
		assert.Equal(t, get.Header.Get("Content-Type"), head.Header.Get("Content-Type"), path)
		assert.Equal(t, get.Header.Get("Cache-Control"), head.Header.Get("Cache-Control"), path)
		if strings.HasPrefix(get.Header.Get("Content-Type"), "text/html") {
			assert.Equal(t, "no-store", get.Header.Get("Cache-Control"), path)
		}
	}
}

// People are the owner's to add and remove, and whoever was removed is out at
// once.
func TestPeopleComeAndGo(t *testing.T) {
	base := start(t)
	owner := signedIn(t, base)
	add := url.Values{"_csrf": {owner.token(t, "/settings/people")}, "name": {"Rui"}, "email": {"rui@ferry.example"},
		"role": {"instructor"}, "password": {"short"}}
	status, page := owner.post(t, "/settings/people", add)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, page, "at least 10 characters")
	assert.Contains(t, page, `value="rui@ferry.example"`)
	assert.NotContains(t, page, `value="short"`, "a password is never shown again")
	add.Set("password", "slack-tide-9")
	status, page = owner.post(t, "/settings/people", add)
	assert.Equal(t, http.StatusOK, status)
	assert.Contains(t, page, "4 people may sign in.")

	rui := newClient(t, base)
	status, page = rui.post(t, "/sign-in",
		url.Values{"_csrf": {rui.token(t, "/sign-in")}, "email": {"Rui@Ferry.example"}, "password": {"slack-tide-9"}})
	require.Equal(t, http.StatusOK, status)
	require.Contains(t, page, "Sign out")
	for path, form := range map[string]url.Values{"/settings/people": {"name": {"x"}}, "/settings/people/1/remove": {},
		"/settings/people/1/password": {"password": {"taken-over-1"}}, "/settings/people/1/sign-out": {}} {
		form.Set("_csrf", rui.token(t, "/settings/own"))
		status, _ := rui.post(t, path, form)
		assert.Equal(t, http.StatusForbidden, status, path)
	}
	change := url.Values{"_csrf": {rui.token(t, "/settings/own")}, "old": {"wrong-password"}, "new": {"high-tide-99"}}
	status, page = rui.post(t, "/settings/own/password", change)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, page, "That is not your password.")
	second := newClient(t, base)
	_, _ = second.post(t, "/sign-in",
		url.Values{"_csrf": {second.token(t, "/sign-in")}, "email": {"rui@ferry.example"}, "password": {"slack-tide-9"}})
	assert.Contains(t, second.get(t, "/students"), "Sign out")
	change.Set("old", "slack-tide-9")
	status, _ = rui.post(t, "/settings/own/password", change)
	assert.Equal(t, http.StatusOK, status)
	assert.NotContains(t, second.get(t, "/students"), "Sign out", "signed out everywhere else")
	assert.Contains(t, rui.get(t, "/students"), "Sign out")

	// Whoever has forgotten a password chooses another by a link of the owner's.
	status, page = owner.post(t, "/settings/people/4/invite", url.Values{"_csrf": {owner.token(t, "/settings/people")}})
	require.Equal(t, http.StatusOK, status)
	link := regexp.MustCompile(`/welcome/\w+`).FindString(page)
	require.NotEmpty(t, link)
	visitor := newClient(t, base)
	assert.Contains(t, visitor.get(t, link), "Rui, choose your password.")
	_, page = visitor.post(t, link, url.Values{"_csrf": {visitor.token(t, link)}, "password": {"short"}})
	assert.Contains(t, page, "at least 10 characters")
	_, page = visitor.post(t, link, url.Values{"_csrf": {visitor.token(t, link)}, "password": {"neap-tide-77"}})
	assert.Contains(t, page, "Sign in")
	assert.NotContains(t, rui.get(t, "/students"), "Sign out", "what was open is closed")
	status, _ = visitor.ask(t, link)
	assert.Equal(t, http.StatusNotFound, status, "it works once")
	_, page = rui.post(t, "/sign-in",
		url.Values{"_csrf": {rui.token(t, "/sign-in")}, "email": {"rui@ferry.example"}, "password": {"neap-tide-77"}})
	require.Contains(t, page, "Sign out")

	status, page = owner.post(t, "/settings/people/4/remove", url.Values{"_csrf": {owner.token(t, "/settings/people")}})
	assert.Equal(t, http.StatusOK, status)
	assert.Contains(t, page, "3 people may sign in.")
	assert.NotContains(t, rui.get(t, "/students"), "Sign out")
	status, page = owner.post(t, "/settings/people/1/remove", url.Values{"_csrf": {owner.token(t, "/settings/people")}})
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, page, "You cannot remove yourself")
}

// Somebody in the room guesses at the owner's password until nobody gets in from there; the
// owner does, at the browser they know.
func TestTheRoomDoesNotShutTheOwnerOut(t *testing.T) {
	base := start(t)
	known := signedIn(t, base)
	status, _ := known.post(t, "/sign-out", url.Values{"_csrf": {known.token(t, "/")}})
	require.Equal(t, http.StatusOK, status)
	try := func(c *client, password string) int {
		status, _ := c.post(t, "/sign-in",
			url.Values{"_csrf": {c.token(t, "/sign-in")}, "email": {demo.Logins[0].Email}, "password": {password}})
		return status
	}
	guest := newClient(t, base)
	for range 8 {
		try(guest, "guess")
	}
	assert.Equal(t, http.StatusTooManyRequests, try(newClient(t, base), demo.Logins[0].Password))
	assert.Equal(t, http.StatusOK, try(known, demo.Logins[0].Password))
}
