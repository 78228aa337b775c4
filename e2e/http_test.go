package e2e

import (
	"bytes"
	"fmt"
	"io"
	"mime/multipart"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/demo"
	"chalkstep/store"
)

// A client speaks HTTP without a browser, for what a person cannot see.
type client struct {
	base string
	http *http.Client
	// links are the secret ones by what stands for them, once they are known.
	links map[string]string
}

func newClient(t testing.TB, base string) *client {
	t.Helper()
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	return &client{base: base, http: &http.Client{Jar: jar}}
}

// get reads a page.
func (c *client) get(t testing.TB, path string) string {
	t.Helper()
	status, body := c.ask(t, path)
	require.Less(t, status, http.StatusInternalServerError, path)
	return body
}

// ask returns the status of a page and the page.
func (c *client) ask(t testing.TB, path string) (int, string) {
	t.Helper()
	answer, err := c.http.Get(c.base + c.address(t, path))
	require.NoError(t, err)
	defer answer.Body.Close()
	body, err := io.ReadAll(answer.Body)
	require.NoError(t, err)
	return answer.StatusCode, string(body)
}

// secrets are links that are not known before, with the pages that list them: of the phone
// beside Heron, and of the calendar of the workshop.
var secrets = map[string]struct {
	page string
	link *regexp.Regexp
}{
	heron:    {"/classes/2/stations", regexp.MustCompile(`<h2>Heron</h2>[^§]*?href="(/station/[^"]+)"`)},
	calendar: {"/machines/calendars", regexp.MustCompile(`href="(/calendar/[^"]+)"`)},
}

// address puts a secret link where an address stands for it.
func (c *client) address(t testing.TB, path string) string {
	t.Helper()
	for placeholder, secret := range secrets {
		rest, is := strings.CutPrefix(path, placeholder)
		if !is {
			continue
		}
		if c.links[placeholder] == "" {
			found := secret.link.FindStringSubmatch(c.get(t, secret.page))
			require.NotNil(t, found)
			if c.links == nil {
				c.links = map[string]string{}
			}
			c.links[placeholder] = found[1]
		}
		return c.links[placeholder] + rest
	}
	return path
}

var tokenField = regexp.MustCompile(`name="_csrf" value="([^"]+)"`)

// token finds the form token on a page.
func (c *client) token(t testing.TB, path string) string {
	t.Helper()
	found := tokenField.FindStringSubmatch(c.get(t, path))
	require.NotNil(t, found, "no form token on %s", path)
	return found[1]
}

// post sends a form and returns the status and the page that follows.
func (c *client) post(t testing.TB, path string, form url.Values) (int, string) {
	t.Helper()
	answer, err := c.http.PostForm(c.base+path, form)
	require.NoError(t, err)
	defer answer.Body.Close()
	body, err := io.ReadAll(answer.Body)
	require.NoError(t, err)
	return answer.StatusCode, string(body)
}

// upload sends a stitch file; the error is of the connection.
func (c *client) upload(token, name string, data []byte) (int, error) {
	var body bytes.Buffer
	form := multipart.NewWriter(&body)
	_ = form.WriteField("_csrf", token)
	part, err := form.CreateFormFile("file", name)
	if err != nil {
		return 0, err
	}
	_, _ = part.Write(data)
	_ = form.Close()
	answer, err := c.http.Post(c.base+"/designs", form.FormDataContentType(), &body)
	if err != nil {
		return 0, err
	}
	defer answer.Body.Close()
	_, err = io.Copy(io.Discard, answer.Body)
	return answer.StatusCode, err
}

func signedIn(t testing.TB, base string) *client {
	t.Helper()
	return signedInAs(t, base, store.Owner)
}

// signedInAs is one of the demo's people.
func signedInAs(t testing.TB, base string, role store.Role) *client {
	t.Helper()
	c := newClient(t, base)
	for _, l := range demo.Logins {
		if l.Role == role {
			status, page := c.post(t, "/sign-in",
				url.Values{"_csrf": {c.token(t, "/sign-in")}, "email": {l.Email}, "password": {l.Password}})
			require.Equal(t, http.StatusOK, status)
			require.Contains(t, page, "Sign out")
		}
	}
	return c
}

func TestFormsWithoutTheirTokenAreRefused(t *testing.T) {
	base := start(t)
	c := signedIn(t, base)
	status, page := c.post(t, "/students", url.Values{"name": {"Mallory"}})
	assert.Equal(t, http.StatusForbidden, status)
	assert.Contains(t, page, "This form is too old to be sent.")
	assert.NotContains(t, c.get(t, "/students"), "Mallory")
}

func TestSigningInIsLimited(t *testing.T) {
	base := start(t)
	c := newClient(t, base)
	token := c.token(t, "/sign-in")
	try := func(email, password string) int {
		status, _ := c.post(t, "/sign-in", url.Values{"_csrf": {token}, "email": {email}, "password": {password}})
		return status
	}
	for range 6 {
		assert.Equal(t, http.StatusUnprocessableEntity, try("owner@ferry.example", "guess"))
	}
	assert.Equal(t, http.StatusTooManyRequests, try("owner@ferry.example", demo.Logins[0].Password),
		"even the right one has to wait")
	assert.Equal(t, http.StatusUnprocessableEntity, try("assistant@ferry.example", "guess"), "others are not locked out")
}

func TestEveryPageAsksForSigningInAndAllowsNothingInline(t *testing.T) {
	base := start(t)
	for _, page := range pages {
		if page.path == heron {
			continue // it is opened by its link alone
		}
		answer, err := newClient(t, base).http.Get(base + page.path)
		require.NoError(t, err)
		body, err := io.ReadAll(answer.Body)
		answer.Body.Close()
		require.NoError(t, err)
		assert.Equal(t, "/sign-in", answer.Request.URL.Path, page.path)
		policy := answer.Header.Get("Content-Security-Policy")
		assert.Contains(t, policy, "script-src 'self';")
		assert.NotContains(t, policy, "unsafe")
		assert.NotRegexp(t, `<script(?:[^>]*[^/])?>[^<]|\son\w+=|\sstyle=`, string(body))
	}
	for _, path := range []string{"/healthz", "/readyz"} {
		answer, err := http.Get(base + path)
		require.NoError(t, err)
		answer.Body.Close()
		assert.Equal(t, http.StatusOK, answer.StatusCode)
	}
}

func TestSigningOutEndsTheSession(t *testing.T) {
	base := start(t)
	c := signedIn(t, base)
	_, page := c.post(t, "/sign-out", url.Values{"_csrf": {c.token(t, "/")}})
	assert.Contains(t, page, "Sign in")
	assert.NotContains(t, c.get(t, "/classes"), "Buoy badges")
}

func TestTheOriginalFileComesBackByteForByte(t *testing.T) {
	base := start(t)
	c := signedIn(t, base)
	original := c.get(t, "/designs/3/file")
	assert.NotEmpty(t, original)
	converted := c.get(t, "/designs/3/file?as=dst")
	assert.True(t, strings.HasPrefix(converted, "LA:"), "the crab is an .exp, converted on the way")
	status, _ := c.post(t, "/designs/3/file?as=pdf", nil)
	assert.NotEqual(t, http.StatusOK, status)
}

var ownLink = regexp.MustCompile(`value="http://[^/"]+(/me/[^"]+)"`)

// openOwn opens the own page of a student beside that of the staff, and gives its link.
func (c *client) openOwn(t testing.TB, studentID int) string {
	t.Helper()
	found := ownLink.FindStringSubmatch(c.get(t, fmt.Sprintf("/students/%d/link", studentID)))
	require.NotNil(t, found)
	_, page := c.post(t, found[1], url.Values{"_csrf": {c.token(t, found[1])}, "pin": {"4711"}})
	require.Contains(t, page, "Your ladder")
	return found[1]
}
