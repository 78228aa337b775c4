package e2e

import (
	"net/http"
	"net/url"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/actor"
	"chalkstep/demo/demotest"
	"chalkstep/store"
	"chalkstep/store/storetest"
	"chalkstep/web"
)

// mostStatements is what a page may ask of the database, its session included.
const mostStatements = 9

// mostPageBytes is how heavy a page may be, however much the workshop holds.
const mostPageBytes = 100_000

// examples are addresses of the routes that a page is not listed for, in the
// demo workshop; what is sent is a file, a picture or a part of a page.
var examples = []string{
	"/healthz", "/readyz", "/sign-in", "/designs/names?design=b", "/designs/2/picture/thumb", "/designs/2/picture/drawing",
	"/designs/2/stops/1", "/designs/2/file", "/designs/2/restart?stop=1", "/designs/5/copies/file?quantity=4",
	"/designs/2/stitches", "/designs/2/density.png", "/designs/2/template?machine=1",
	"/designs/7/pieces.svg?stop=1&offset=1", "/designs/2/charts/1", "/designs/2/stitch-outs/1/photo",
	"/projects/names?project=b",
	"/projects/2/photo", "/projects/4/template?of=L", "/projects/6/layers?what=batting&stop=1",
	"/projects/4/techniques?technique=spray", "/projects/2/threads/try?thread-0-1=%23ffffff", "/projects/2/drawing",
	"/projects/2/place?shape=tote&spot=centre",
	"/projects/2/tests/1/photo", "/classes/picks?find=a",
	"/classes/preview?project=Crab%20hand%20towel&date=2026-12-22&from=10:00&to=12:00&students=1&machines=1",
	"/classes/4/levers?lever=iron%3A1&lever=instructor%3A1", "/classes/3/cut.pdf", "/classes/3/labels.pdf",
	"/classes/3/cards.pdf", "/classes/3/stick/1", "/classes/2/wrap.csv", "/classes/2/wrap.pdf", "/classes/2/wrap/1/photo",
	"/classes/2/stations/1/code.png", heron + "/state", heron + "/restart?x=1&y=2", heron + "/picture/3/1",
	"/station/worker.js", calendar, "/me", "/me/card", "/me/rehearsal?at=9", "/me/picture/3/1", "/me/1.1.1.none",
	"/welcome/nobody", "/students/1/code.png", "/classes/new?like=3", "/stock/buy.csv", "/stock/buy.pdf",
	"/students/names?student=a", "/machines/1/code.png", "/machines/1/cross/pes", "/students/1/marks/1/photo",
}

// heron stands for the link of the phone beside Heron in the class that goes on.
const heron = "/station/heron"

// calendar stands for the link of the calendar of the workshop.
const calendar = "/calendar/workshop"

// streams do not end, and are tested by themselves.
var streams = []string{"/classes/2/news", heron + "/news"}

// What a page takes does not grow with the workshop: it asks the database as
// often, and shows no more than a page holds. Every route that can be opened is
// asked, whether or not it finds something.
func TestPagesDoNotGrowWithTheWorkshop(t *testing.T) {
	paths := slices.Clone(examples)
	for _, page := range pages {
		paths = append(paths, page.path)
	}
	counts := map[string][2]int{}
	for i, size := range []storetest.Size{{}, storetest.Young} {
		var mu sync.Mutex
		var asked []string
		address := demotest.URL(t)
		base, face := serve(t, address, func() {
			if size != (storetest.Size{}) {
				storetest.Grow(t, address, size)
			}
		}, store.OnStatement(func(sql string) {
			mu.Lock()
			defer mu.Unlock()
			asked = append(asked, sql)
		}))
		for _, route := range face.GetRoutes(true) {
			if route.Method == http.MethodGet && !strings.HasPrefix(route.Path, "/static") {
				assert.True(t, slices.ContainsFunc(append(paths, streams...), func(path string) bool {
					return isOf(route.Path, path)
				}), "%s has no example here", route.Path)
			}
		}
		owner, instructor := signedIn(t, base), signedInAs(t, base, store.Instructor)
		for _, c := range []*client{owner, instructor} { // their links are known
			c.get(t, heron)
			c.get(t, calendar)
		}
		for _, path := range paths {
			owner.get(t, path) // what is worked out once is known
			asked = nil
			body := instructor.get(t, path) // whose pages nobody keeps yet
			n := counts[path]
			n[i] = len(asked)
			counts[path] = n
			assert.LessOrEqual(t, n[i], mostStatements, "%s asks\n%s", path, strings.Join(asked, "\n"))
			if strings.HasPrefix(body, "<!") {
				assert.LessOrEqual(t, len(body), mostPageBytes, path)
			}
		}
	}
	for path, n := range counts {
		assert.Equal(t, n[0], n[1], "%s asks more often in a larger workshop", path)
	}
}

// isOf tells whether an address is one of a route.
func isOf(route, address string) bool {
	path, _, _ := strings.Cut(address, "?")
	want, have := strings.Split(route, "/"), strings.Split(path, "/")
	return slices.EqualFunc(want, have, func(w, h string) bool {
		return w == h || strings.HasPrefix(w, ":") && h != "" && h != "new" && h != "names"
	})
}

// Many who ask for one plan at once have it worked out once, and a page that
// nothing has changed under is not made again.
func TestPlansAndPagesAreMadeOnce(t *testing.T) {
	address := demotest.URL(t)
	var kept, statements atomic.Int64
	db, err := store.Open(t.Context(), address, store.OnStatement(func(sql string) {
		statements.Add(1)
		if isKeepingAPlan(sql) {
			kept.Add(1)
		}
	}))
	require.NoError(t, err)
	base, _ := listen(t, db, web.Config{App: actor.New(db, nowClock)})
	other, err := store.Open(t.Context(), address, store.OnStatement(func(sql string) {
		if isKeepingAPlan(sql) {
			kept.Add(1)
		}
	}))
	require.NoError(t, err)
	second, _ := listen(t, other, web.Config{App: actor.New(other, nowClock)})
	people := []*client{signedIn(t, base), signedInAs(t, base, store.Instructor), signedIn(t, second),
		signedInAs(t, second, store.Instructor)}
	// Another machine's speed makes the plan another one.
	status, _ := people[0].post(t, "/machines/1", machineForm(t, people[0], "790"))
	require.Equal(t, http.StatusOK, status)
	kept.Store(0)
	done := make(chan bool)
	for i := range 40 {
		go func() {
			people[i%len(people)].get(t, "/classes/4")
			done <- true
		}()
	}
	for range 40 {
		<-done
	}
	assert.EqualValues(t, 1, kept.Load(), "worked out once, by whichever copy came first")

	statements.Store(0)
	before := withoutToken(people[0].get(t, "/classes/4"))
	assert.EqualValues(t, 1, statements.Load(), "whose session it is, and at what revision")
	status, _ = people[1].post(t, "/machines/1", machineForm(t, people[1], "640"))
	require.Equal(t, http.StatusOK, status)
	assert.NotEqual(t, before, withoutToken(people[0].get(t, "/classes/4")), "a change of anybody's shows at once")
}

func isKeepingAPlan(sql string) bool { return strings.HasPrefix(sql, `INSERT INTO "class_plans"`) }

// machineForm is the form of the machine Heron with another top speed.
func machineForm(t *testing.T, c *client, speed string) url.Values {
	t.Helper()
	f := formsOf(c.get(t, "/machines/1"), "/machines/1")
	for _, form := range f {
		if form.path != "/machines/1" {
			continue
		}
		form.fields.Set("formats", "dst")
		form.fields.Set("hoops", "2")
		form.fields.Set("top_speed_spm", speed)
		return form.fields
	}
	require.Fail(t, "the machine has no form")
	return nil
}
