//go:build attack

package attack

import (
	"fmt"
	"net/http"
	"net/url"
	"regexp"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/store"
	"chalkstep/store/storetest"
)

var classPath = regexp.MustCompile(`href="/classes/(\d+)/prep"`)

// The step cards of a class of twelve are printed within half a second, and asked for by
// twelve at once they are printed once; what is different waits, and comes.
func TestPrintsAtOnce(t *testing.T) {
	const students, clients = 12, 12
	p := run(t, []string{"demo", "--data", storetest.Folder(t)})
	defer p.stop(t)
	c := signedIn(t, p.base, store.Instructor)
	form := url.Values{
		"_csrf": {c.token(t, "/classes/new")}, "name": {"Twelve at once"}, "project": {"Rope-knot sampler"},
		"date": {time.Now().AddDate(0, 0, 12).Format(time.DateOnly)},
		"from": {"09:00"}, "to": {"17:00"}, "instructors": {"1"}, "irons": {"1"}, "opening": {"15"}, "closing": {"10"},
		"machines": {"1", "2", "3", "4", "5"},
	}
	for id := range students {
		form.Add("students", fmt.Sprint(id+1))
	}
	status, page, err := c.post("/classes/new", form)
	require.NoError(t, err)
	require.Equal(t, http.StatusOK, status)
	found := classPath.FindStringSubmatch(page)
	require.NotNil(t, found, "%.2000s", page)
	cards := "/classes/" + found[1] + "/cards.pdf"
	status, _ = c.get(t, "/classes/"+found[1]+"/cards") // the plan is made
	require.Equal(t, http.StatusOK, status)

	begin := time.Now()
	status, _ = c.get(t, cards)
	first := time.Since(begin)
	assert.Equal(t, http.StatusOK, status)
	begin = time.Now()
	status, _ = c.get(t, cards)
	second := time.Since(begin)
	assert.Equal(t, http.StatusOK, status)
	row("step cards of a class of twelve",
		fmt.Sprintf("%v, again %v", first.Round(time.Millisecond), second.Round(time.Millisecond)), "500 ms, less again")
	assert.Less(t, first, 500*time.Millisecond)

	paths := []string{cards + "?sheet=Letter"}
	for _, id := range []string{"2", "3", "4"} {
		for _, sheet := range []string{"A4", "Letter"} {
			paths = append(paths, "/classes/"+id+"/cards.pdf?sheet="+sheet)
		}
	}
	statuses := map[int]int{}
	var lock sync.Mutex
	var wait sync.WaitGroup
	begin = time.Now()
	for n := range clients * len(paths) {
		wait.Go(func() {
			status, _ := c.get(t, paths[n%len(paths)])
			lock.Lock()
			defer lock.Unlock()
			statuses[status]++
		})
	}
	wait.Wait()
	row(fmt.Sprintf("%d prints of %d kinds at once", clients*len(paths), len(paths)),
		fmt.Sprintf("%v, all in %v", statuses, time.Since(begin).Round(10*time.Millisecond)), "all come")
	assert.Equal(t, map[int]int{http.StatusOK: clients * len(paths)}, statuses)
}
