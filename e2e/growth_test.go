package e2e

import (
	"net/http"
	"net/url"
	"strings"
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/desk"
	"chalkstep/core/crew"
	"chalkstep/demo/demotest"
	"chalkstep/store"
	"chalkstep/store/storetest"
	"chalkstep/web"
)

// mostStatements is what a page may ask of the database, its session included.
const mostStatements = 10

// mostPageBytes is how heavy a page may be, however much the workshop holds.
const mostPageBytes = 100_000

// What a page takes does not grow with the workshop: it asks the database as
// often, and shows no more than a page holds.
func TestPagesDoNotGrowWithTheWorkshop(t *testing.T) {
	counts := map[string][2]int{}
	for i, size := range []storetest.Size{{}, storetest.Young} {
		var statements atomic.Int64
		address := demotest.URL(t)
		base, _ := serve(t, address, func() {
			if size != (storetest.Size{}) {
				storetest.Grow(t, address, size)
			}
		}, store.OnStatement(func(string) { statements.Add(1) }))
		owner, instructor := signedIn(t, base), signedInAs(t, base, crew.Instructor)
		for _, page := range pages {
			owner.get(t, page.path) // what is worked out once is known
			statements.Store(0)
			body := instructor.get(t, page.path) // whose pages nobody keeps yet
			n := counts[page.path]
			n[i] = int(statements.Load())
			counts[page.path] = n
			assert.LessOrEqual(t, n[i], mostStatements, page.path)
			assert.LessOrEqual(t, len(body), mostPageBytes, page.path)
		}
	}
	for path, n := range counts {
		assert.LessOrEqual(t, n[1], n[0]+2, "%s asks more often in a larger workshop", path)
	}
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
	base, _ := listen(t, db, web.Config{App: desk.New(db, nowClock)})
	other, err := store.Open(t.Context(), address, store.OnStatement(func(sql string) {
		if isKeepingAPlan(sql) {
			kept.Add(1)
		}
	}))
	require.NoError(t, err)
	second, _ := listen(t, other, web.Config{App: desk.New(other, nowClock)})
	people := []*client{signedIn(t, base), signedInAs(t, base, crew.Instructor), signedIn(t, second), signedInAs(t, second, crew.Instructor)}
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
