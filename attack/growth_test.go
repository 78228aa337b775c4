//go:build attack

package attack

import (
	"fmt"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/actor"
	"chalkstep/demo"
	"chalkstep/store"
	"chalkstep/store/storetest"
	"chalkstep/web"
)

// grown are the pages that could grow with a workshop.
var grown = []string{
	"/", "/classes", "/classes?page=2", "/classes/2/run", "/classes/2/big", "/classes/2/stations", "/classes/2/wrap",
	"/classes/4/wrap", "/classes/3", "/classes/4", "/classes/60", "/classes/4/levers", "/classes/3/prep",
	"/classes/3/edit",
	"/classes/new", "/classes/3/shelf", "/classes/3/kits", "/classes/3/roster", "/classes/3/cards", "/classes/3/cards/1",
	"/classes/3/inspect/1", "/classes/picks?find=thorne",
	"/projects", "/projects?page=3", "/projects/2", "/projects/2/edit", "/projects/new", "/projects/6", "/projects/4/how",
	"/projects/2/threads", "/recipes", "/recipes/techniques", "/recipes/techniques/1",
	"/stock", "/stock?page=3", "/stock?words=wall", "/stock/2", "/stock/new", "/stock/buy", "/settings",
	"/settings/people", "/settings/own", "/settings/learned", "/settings/bookings", "/settings/changes", "/removed",
	"/designs", "/designs?page=9&words=buoy", "/designs/2", "/designs/7", "/designs/2/placing?machine=1",
	"/designs/7/pieces", "/designs/5/border", "/designs/5/copies?quantity=30", "/designs/names?design=buoy",
	"/machines", "/machines/1", "/machines/1/hoops/2", "/machines/1/sheet", "/machines/room", "/machines/new",
	"/machines/bookings", "/machines/bookings?page=5", "/machines/calendars", "/machines/messages", "/hoops/1",
	"/hoops/new",
	"/students", "/students?page=20", "/students?words=vale", "/students/1", "/students/1/link", "/students/matrix",
	"/students/matrix?class=3", "/students/next", "/students/next?class=3", "/students/ladder?step=names",
	"/students/roster", "/students/names?student=an",
}

// After years of use every page answers in under 100 ms in the middle of its
// tries and weighs under 100 kB, made anew each time.
func TestGrowth(t *testing.T) {
	const bar, most = 100 * time.Millisecond, 100_000
	address := storetest.URL(t)
	db, err := store.Open(t.Context(), address)
	require.NoError(t, err)
	t.Cleanup(func() { db.Close() })
	_, err = demo.Load(t.Context(), db, time.Now())
	require.NoError(t, err)
	storetest.Grow(t, address, storetest.Grown)
	minute := time.Now()
	face, err := web.New(web.Config{App: actor.New(db, func() time.Time {
		minute = minute.Add(31 * time.Second) // no page is kept for the next request
		return minute
	})})
	require.NoError(t, err)
	base := listen(t, face)
	c := signedIn(t, base, store.Owner)
	slowest, heaviest := time.Duration(0), 0
	slow, heavy := "", ""
	for _, path := range grown {
		c.get(t, path)
		var took []time.Duration
		bytes := 0
		for range 9 {
			begin := time.Now()
			status, page := c.get(t, path)
			took = append(took, time.Since(begin))
			assert.Equal(t, 200, status, path)
			bytes = len(page)
		}
		slices.Sort(took)
		middle := took[len(took)/2]
		assert.Less(t, middle, bar, path)
		if middle > slowest {
			slowest, slow = middle, path
		}
		if bytes > heaviest {
			heaviest, heavy = bytes, path
		}
	}
	row(fmt.Sprintf("%d pages of a workshop with 2,000 students, 50,000 marks, 100,000 bookings, 500 designs, 200 classes",
		len(grown)), fmt.Sprintf("slowest %v (%s), heaviest %d kB (%s)", slowest.Round(100*time.Microsecond), slow,
		heaviest/1000, heavy), "100 ms, 100 kB")
	assert.Less(t, heaviest, most)
}
