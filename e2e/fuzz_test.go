package e2e

import (
	"bytes"
	"io"
	"mime/multipart"
	"net/http"
	"net/url"
	"regexp"
	"slices"
	"strings"
	"testing"

	"chalkstep/demo/demotest"

	"github.com/gofiber/fiber/v3"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// hostile is what no field is made for.
var hostile = map[string]string{
	"a NUL": "a\x00b", "broken UTF-8": "a\xff\xfeb", "a long text": strings.Repeat("stabilizer ", 2000),
	"a long word": strings.Repeat("x", 5000), "no number": "NaN", "infinity": "Infinity", "an exponent": "1e308",
	"beyond 2³¹": "2147483648", "beyond 2⁶³": "9223372036854775808", "below nothing": "-1", "a fraction": "0.5",
	"a comma": "1,5", "letters after": "700abc", "a formula": "=1+1", "markup": "<script>alert(1)</script>",
	"a direction mark": "\u202eevil", "a quote": `'"; DROP TABLE students; --`, "a line end": "a\r\nSet-Cookie: b=c",
	"an emoji": "🧵", "nothing": "", "a blank": "  ",
}

// A form of a page: where it goes and what it holds.
type form struct {
	path   string
	fields url.Values
	files  bool
}

var (
	formTag   = regexp.MustCompile(`(?s)<form([^>]*)>(.*?)</form>`)
	attribute = regexp.MustCompile(`([\w-]+)="([^"]*)"`)
	fieldTag  = regexp.MustCompile(`<(?:input|select|textarea|button)\b([^>]*)>`)
)

func attributes(tag string) map[string]string {
	all := map[string]string{}
	for _, a := range attribute.FindAllStringSubmatch(tag, -1) {
		all[a[1]] = a[2]
	}
	return all
}

// formsOf finds the forms that a page posts, with the fields in and outside
// of them.
func formsOf(page, path string) []form {
	var all []form
	byID := map[string]int{}
	for _, found := range formTag.FindAllStringSubmatch(page, -1) {
		at := attributes(found[1])
		if !strings.EqualFold(at["method"], "post") {
			continue
		}
		f := form{path: at["action"], fields: url.Values{}, files: strings.Contains(found[1], "multipart")}
		if f.path == "" {
			f.path, _, _ = strings.Cut(path, "?")
		}
		for _, field := range fieldTag.FindAllStringSubmatch(found[2], -1) {
			if a := attributes(field[1]); a["name"] != "" {
				f.fields.Set(a["name"], a["value"])
			}
		}
		byID[at["id"]] = len(all)
		all = append(all, f)
	}
	for _, field := range fieldTag.FindAllStringSubmatch(page, -1) {
		a := attributes(field[1])
		if i, known := byID[a["form"]]; known && a["form"] != "" && a["name"] != "" {
			all[i].fields.Set(a["name"], a["value"])
		}
	}
	return all
}

// pattern makes a path of the router's out of a real one.
func matches(pattern, path string) bool {
	return regexp.MustCompile("^" + regexp.MustCompile(`:[a-z]+`).ReplaceAllString(pattern, "[^/]+") +
		"$").MatchString(path)
}

// formsByRoute finds a form of the demo workshop for every route that takes one; c is its
// owner, who has a student's own page open, too.
func formsByRoute(t *testing.T, face *fiber.App, c *client) (routes []string, forms map[string]form) {
	t.Helper()
	forms = map[string]form{} // one for each route
	for _, r := range face.GetRoutes(true) {
		if r.Method == fiber.MethodPost && !slices.Contains(routes, r.Path) {
			routes = append(routes, r.Path)
		}
	}
	require.Greater(t, len(routes), 30)
	learn := func(path string) {
		for _, f := range formsOf(c.get(t, path), path) {
			for _, r := range routes {
				if old, known := forms[r]; matches(r, f.path) && (!known || len(f.fields) > len(old.fields)) {
					forms[r] = f
				}
			}
		}
	}
	for _, page := range pages {
		learn(page.path)
	}
	own := c.openOwn(t, 1)
	learn("/me")
	forms["/welcome/:token"] = form{path: "/welcome/nobody", fields: url.Values{"password": {"a long one, 9"}}}
	forms["/me/:link"] = form{path: own, fields: url.Values{"pin": {"4711"}}}
	// Forms that no page of the demo shows just now.
	forms["/designs/:id/list"] = form{path: "/designs/2/list", fields: url.Values{}}
	forms["/settings/people/:id/sign-out"] = form{path: "/settings/people/3/sign-out", fields: url.Values{}}
	forms["/settings/own/sign-out"] = form{path: "/settings/own/sign-out", fields: url.Values{}}
	forms["/sign-in"] = form{path: "/sign-in", fields: url.Values{"email": {""}, "password": {""}, "to": {"/"}}}
	forms["/classes/:id/shelf/offcuts"] = form{path: "/classes/3/shelf/offcuts",
		fields: url.Values{"material": {"fabric;material=felt"}}}
	forms["/classes/:id/shelf/right"] = form{path: "/classes/3/shelf/right",
		fields: url.Values{"item": {"1"}, "used": {"1"}}}
	forms["/designs/:id/copies"] = form{path: "/designs/5/copies",
		fields: url.Values{"quantity": {"4"}, "gap": {"8"}, "hoop": {"2"}}}
	forms["/machines/:id/outages/:outage/end"] = form{path: "/machines/1/outages/1/end", fields: url.Values{}}
	forms["/classes/:id/wrap/makeup"] = form{path: "/classes/2/wrap/makeup", fields: url.Values{"slot": {"1@1764500000"}}}
	forms["/machines/bookings/:id/sat"] = form{path: "/machines/bookings/1/sat",
		fields: url.Values{"week": {"2026-11-24"}}}
	forms["/machines/waits/:id/end"] = form{path: "/machines/waits/1/end", fields: url.Values{"week": {"2026-11-24"}}}
	forms["/me/bookings/:id/sat"] = form{path: "/me/bookings/1/sat", fields: url.Values{}}
	forms["/me/waits/:id/end"] = form{path: "/me/waits/1/end", fields: url.Values{}}
	forms["/me/messages/read"] = form{path: "/me/messages/read", fields: url.Values{"up-to": {"1"}}}
	forms["/students/ladder/usual"] = form{path: "/students/ladder/usual", fields: url.Values{"version": {"1"}}}
	forms["/students/:id/phones/:phone/end"] = form{path: "/students/1/phones/1/end", fields: url.Values{}}
	forms["/classes/:id/reinstate"] = form{path: "/classes/3/reinstate", fields: url.Values{}}
	forms["/removed/:kind/:id/back"] = form{path: "/removed/student/1/back", fields: url.Values{}}
	return routes, forms
}

// Whatever is written into whatever field of whatever form, the answer is a
// page that says what is wrong, and never an error of the server's own. The
// routes come from the router, so that a new one cannot be forgotten.
func TestNoFormBreaksTheServer(t *testing.T) {
	base, face := serve(t, demotest.URL(t), nil)
	c := signedIn(t, base)
	routes, forms := formsByRoute(t, face, c)
	token := c.token(t, "/")
	send := func(f form, values url.Values) (int, string) {
		values.Set("_csrf", token)
		answer, err := c.http.PostForm(c.base+f.path, values)
		if f.files {
			answer, err = c.postParts(f.path, values)
		}
		require.NoError(t, err)
		defer answer.Body.Close()
		body, err := io.ReadAll(answer.Body)
		require.NoError(t, err)
		if answer.StatusCode == http.StatusUnprocessableEntity &&
			strings.HasPrefix(answer.Header.Get("Content-Type"), "text/html") {
			assert.Contains(t, string(body), `class="problem`, "%s says what is wrong with %v", f.path, values)
		}
		return answer.StatusCode, string(body)
	}
	for _, r := range routes {
		f, known := forms[r]
		if r == "/sign-out" || r == "/me/leave" {
			continue // it ends the session; it has no field
		}
		if !assert.True(t, known, "no page of the list shows the form of %s", r) {
			continue
		}
		names := []string{}
		for name := range f.fields {
			if name != "_csrf" {
				names = append(names, name)
			}
		}
		slices.Sort(names)
		for what, text := range hostile {
			for _, name := range names {
				values := url.Values{}
				for n, v := range f.fields {
					values[n] = slices.Clone(v)
				}
				values.Set(name, text)
				status, page := send(f, values)
				assert.Less(t, status, http.StatusInternalServerError, "%s with %s in %s", f.path, what, name)
				assert.NotContains(t, page, "<script>alert(1)", "%s with %s in %s", f.path, what, name)
			}
			if len(names) > 0 { // all at once, and every one twice
				values := url.Values{}
				for _, name := range names {
					values[name] = []string{text, text}
				}
				status, _ := send(f, values)
				assert.Less(t, status, http.StatusInternalServerError, "%s with %s in all fields", f.path, what)
			}
		}
		for _, id := range []string{"0", "-1", "abc", "9223372036854775807", "99999999999999999999", "%00", "1;DROP"} {
			path := regexp.MustCompile(`\d+`).ReplaceAllString(f.path, id)
			if path != f.path {
				status, _ := send(form{path: path}, url.Values{})
				assert.Less(t, status, http.StatusInternalServerError, path)
			}
		}
	}
	for _, page := range pages { // the workshop is still there
		answer, err := c.http.Get(base + page.path)
		require.NoError(t, err)
		answer.Body.Close()
		assert.Less(t, answer.StatusCode, http.StatusInternalServerError, page.path)
	}
}

// Addresses are written by hand now and then, and by strangers.
func TestNoAddressBreaksTheServer(t *testing.T) {
	base, face := serve(t, demotest.URL(t), nil)
	c := signedIn(t, base)
	fields := []string{
		"page", "words", "hoop", "stops", "size", "level", "tag", "machine", "turn", "percent", "x", "y", "snap", "quantity",
		"gap", "shape-width", "length", "pitch", "stop", "stitch", "offset",
		"sheet", "as", "design", "project", "find", "students", "stops-from", "cloth-a-x", "to",
	}
	ask := func(path, text string) {
		q := url.Values{}
		for _, name := range fields {
			q.Set(name, text[:min(len(text), 200)])
		}
		answer, err := c.http.Get(c.base + path + "?" + q.Encode())
		require.NoError(t, err, path)
		defer answer.Body.Close()
		assert.Less(t, answer.StatusCode, http.StatusInternalServerError, "%s with %q", path, text)
		if strings.HasPrefix(answer.Header.Get("Content-Type"), "text/event-stream") {
			return // it does not end
		}
		_, err = io.Copy(io.Discard, answer.Body)
		require.NoError(t, err, path)
	}
	for _, r := range face.GetRoutes(true) {
		if r.Method != fiber.MethodGet || strings.HasPrefix(r.Path, "/static") {
			continue
		}
		named := regexp.MustCompile(`:[a-z]+`)
		for _, text := range hostile {
			ask(named.ReplaceAllString(r.Path, "1"), text)
		}
		for _, id := range []string{"0", "-1", "abc", "2147483648", "9223372036854775808", "%00", "%ff", "1%2e5"} {
			if path := named.ReplaceAllString(r.Path, id); path != r.Path {
				ask(path, "")
			}
		}
	}
}

// postParts sends a form as browsers do that has a file field.
func (c *client) postParts(path string, values url.Values) (*http.Response, error) {
	var body bytes.Buffer
	parts := multipart.NewWriter(&body)
	_ = parts.WriteField("_csrf", values.Get("_csrf"))
	for name, all := range values {
		for _, v := range all {
			if name == "photo" || name == "file" {
				file, err := parts.CreateFormFile(name, v)
				if err != nil {
					return nil, err
				}
				_, _ = file.Write([]byte(v))
			} else if name != "_csrf" {
				_ = parts.WriteField(name, v)
			}
		}
	}
	_ = parts.Close()
	return c.http.Post(c.base+path, parts.FormDataContentType(), &body)
}
