//go:build attack

package attack

import (
	"fmt"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/desk"
	"chalkstep/core/crew"
	"chalkstep/demo"
	"chalkstep/store"
	"chalkstep/store/storetest"
	"chalkstep/web"
)

// grown are the pages that could grow with a workshop.
var grown = []string{
	"/", "/classes", "/classes?page=2", "/classes/3", "/classes/4", "/classes/60", "/classes/3/prep", "/classes/3/edit", "/classes/new", "/classes/3/shelf", "/classes/3/kits", "/classes/3/roster", "/classes/3/cards",
	"/classes/3/cards/1", "/projects", "/projects?page=3", "/projects/2", "/projects/2/edit", "/projects/new", "/stock", "/stock?page=3", "/stock?words=wall", "/stock/2", "/stock/buy", "/settings", "/settings/people", "/designs", "/designs?page=9&words=buoy",
	"/designs/2", "/designs/7", "/designs/2/placing?machine=1", "/machines", "/machines/1", "/machines/bookings", "/machines/bookings?page=5", "/students", "/students?page=20", "/students?words=vale", "/students/1",
	"/students/matrix", "/students/next", "/students/next?class=3", "/students/ladder", "/machines/1/sheet", "/machines/messages", "/classes/3/inspect/1", "/settings/changes",
	"/designs/names?design=buoy", "/students/names?student=an", "/classes/picks?find=thorne",
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
	face, err := web.New(web.Config{App: desk.New(db, func() time.Time {
		minute = minute.Add(31 * time.Second) // no page is kept for the next request
		return minute
	})})
	require.NoError(t, err)
	base := listen(t, face)
	c := signedIn(t, base, crew.Owner)
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
		if middle := took[len(took)/2]; middle > slowest {
			slowest, slow = middle, path
		}
		if bytes > heaviest {
			heaviest, heavy = bytes, path
		}
	}
	row(fmt.Sprintf("%d pages of a workshop with 2,000 students, 50,000 marks, 100,000 bookings, 500 designs, 200 classes", len(grown)), fmt.Sprintf("slowest %v (%s), heaviest %d kB (%s)", slowest.Round(100*time.Microsecond), slow, heaviest/1000, heavy), "100 ms, 100 kB")
	assert.Less(t, slowest, bar)
	assert.Less(t, heaviest, most)
}
