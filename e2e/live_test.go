package e2e

import (
	"bytes"
	"compress/gzip"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"regexp"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/actor"
	"chalkstep/demo/demotest"
	"chalkstep/device/machine"
	"chalkstep/e2e/livetest"
	"chalkstep/store"
	"chalkstep/web"
)

// twoProcesses serve one database, as two copies of the application do.
func twoProcesses(t testing.TB, now func() time.Time) (one, two string, db *store.Store) {
	address := demotest.URL(t)
	for i := range 2 {
		s, err := store.Open(t.Context(), address)
		require.NoError(t, err)
		base, _ := listen(t, s, web.Config{App: actor.New(s, now)})
		if i == 0 {
			one, db = base, s
		} else {
			two = base
		}
	}
	return one, two, db
}

// benchLink is the link of the phone at the benches.
func benchLink(t testing.TB, c *client) string {
	t.Helper()
	page := c.get(t, "/classes/2/stations")
	_, rest, found := strings.Cut(page, "<h2>The benches</h2>")
	require.True(t, found)
	_, rest, _ = strings.Cut(rest, `href="`)
	link, _, _ := strings.Cut(rest, `"`)
	return link
}

// Phones press while their connections are cut at random, some presses are sent twice, and
// to either process: none is lost, none counts twice, and every board comes to the same.
func TestNothingIsLostOrDoubled(t *testing.T) {
	const phones, presses, boards = 12, 12, 4
	one, two, db := twoProcesses(t, nowClock)
	bases := []string{one, two}
	staff := signedIn(t, one)
	link := benchLink(t, staff)
	ctx, stop := context.WithCancel(t.Context())
	defer stop()
	all := make([]*livetest.Board, boards)
	var followers sync.WaitGroup
	for i := range boards {
		all[i] = &livetest.Board{}
		c := signedInAs(t, bases[i%2], store.Instructor)
		followers.Go(func() { livetest.Follow(ctx, c.http, bases[i%2]+"/classes/2/news", all[i].Take) })
	}
	w := db.For(t.Context(), 1)
	before, err := w.Events(2)
	require.NoError(t, err)

	var pressing sync.WaitGroup
	for phone := range phones {
		pressing.Go(func() {
			rng := rand.New(rand.NewPCG(7, uint64(phone)))
			students := []int64{1, 5, 7}
			for n := range presses {
				body := fmt.Sprintf(`{"presses":[{"id":"%d-%d","kind":"hand-up","student":%d,"reason":"question"}]}`, phone, n,
					students[rng.IntN(len(students))])
				for sent := false; !sent; {
					sent = send(t.Context(), bases[rng.IntN(2)]+link, body, rng)
				}
				if rng.IntN(4) == 0 { // a phone that did not hear that it arrived
					send(t.Context(), bases[rng.IntN(2)]+link, body, rng)
				}
			}
		})
	}
	pressing.Wait()
	events, err := w.Events(2)
	require.NoError(t, err)
	require.Len(t, events, len(before)+phones*presses)
	senders := map[string]bool{}
	for i, e := range events {
		assert.EqualValues(t, i+1, e.Seq, "the log has no gap")
		if i >= len(before) {
			assert.False(t, senders[e.Sender], "one press, one event")
			senders[e.Sender] = true
		}
	}
	last := events[len(events)-1].Seq
	for i, b := range all {
		require.Eventually(t, func() bool { return b.Seen().Seq == last }, patience, 20*time.Millisecond,
			"board %d is at %d of %d", i, b.Seen().Seq, last)
		assert.Equal(t, all[0].Seen().HTML, b.Seen().HTML, "every board shows the same")
	}
	stop()
	followers.Wait()
	for i, b := range all {
		assert.IsNonDecreasing(t, b.Seqs(), "board %d goes on in the order of the log", i)
	}
}

// send presses once, over a connection that may be cut before the answer is there; it is
// true when the server said that it has it.
func send(ctx context.Context, link, body string, rng *rand.Rand) bool {
	if rng.IntN(3) == 0 {
		cut, cancel := context.WithTimeout(ctx, time.Duration(rng.IntN(12))*time.Millisecond)
		defer cancel()
		ctx = cut
	}
	request, err := http.NewRequestWithContext(ctx, http.MethodPost, link+"/press", strings.NewReader(body))
	if err != nil {
		return false
	}
	request.Header.Set("Content-Type", "application/json")
	answer, err := http.DefaultClient.Do(request)
	if err != nil {
		return false
	}
	defer answer.Body.Close()
	var said struct{ Pressed []struct{ Refused string } }
	return answer.StatusCode == http.StatusOK && json.NewDecoder(answer.Body).Decode(&said) == nil &&
		len(said.Pressed) == 1 && said.Pressed[0].Refused == ""
}

// A board's page weighs less than 40 kB, and what it is sent with each event less than 2 kB.
func TestABoardIsLight(t *testing.T) {
	base := start(t)
	c := signedInAs(t, base, store.Instructor)
	assert.Less(t, len(c.get(t, "/classes/2/run")), 40_000)
	link := c.address(t, heron)
	request, err := http.NewRequestWithContext(t.Context(), http.MethodGet, base+"/classes/2/news", nil)
	require.NoError(t, err)
	request.Header.Set("Accept-Encoding", "gzip") // and so it is not unpacked on the way
	answer, err := c.http.Do(request)
	require.NoError(t, err)
	defer answer.Body.Close()
	require.Equal(t, "gzip", answer.Header.Get("Content-Encoding"))
	var moved atomic.Int64
	unpacked, err := gzip.NewReader(counted{answer.Body, &moved})
	require.NoError(t, err)
	parts := make(chan livetest.Told, 100)
	go livetest.ReadEvents(unpacked, func(part livetest.Told) { parts <- part })
	first := <-parts
	require.Contains(t, first.HTML, "Noor Haddad")
	whole := moved.Load()
	const events = 20
	rng := rand.New(rand.NewPCG(1, 1))
	for n := range events {
		kind := []string{"settled", "hand-up"}[n%2]
		for !send(t.Context(), base+link,
			fmt.Sprintf(`{"presses":[{"id":"light-%d","kind":"%s","student":9,"reason":"nest"}]}`, n, kind), rng) {
			continue
		}
		for seq := first.Seq + int64(n) + 1; ; {
			if part := <-parts; part.Seq >= seq {
				break
			}
		}
	}
	each := (moved.Load() - whole) / events
	t.Logf("the first part %d bytes, %d bytes for each event", whole, each)
	assert.Less(t, each, int64(2000))
}

// counted counts what is read.
type counted struct {
	io.Reader
	n *atomic.Int64
}

func (c counted) Read(b []byte) (int, error) {
	n, err := c.Reader.Read(b)
	c.n.Add(int64(n))
	return n, err
}

// A class is run from the first hello to the report with simulated machines, breaks and slow
// hands, while a machine fails, a line is cut and a student leaves.
func TestAClassIsPlayed(t *testing.T) {
	db, err := store.Open(t.Context(), demotest.URL(t))
	require.NoError(t, err)
	class, err := db.For(t.Context(), 1).Class(3)
	require.NoError(t, err)
	began := time.Now()
	moving := func() time.Time { return class.StartsAt.Add(time.Since(began)) }
	base, _ := listen(t, db, web.Config{App: actor.New(db, moving)})
	staff := signedInAs(t, base, store.Instructor)
	press := func(form map[string][]string) {
		t.Helper()
		form["_csrf"] = []string{staff.token(t, "/classes/3/run")}
		status, page := staff.post(t, "/classes/3/run", form)
		require.Equal(t, http.StatusOK, status, page)
	}
	press(map[string][]string{"press": {"started 0 - 0"}})
	press(map[string][]string{"what": {"clocked"}, "speed": {"900"}})
	watch := visit(t, base)
	watch.signIn(store.Assistant)
	watch.open("/classes/3/run")
	watch.sees("#board", "A rehearsal: the clock goes 900 times as fast.")
	page := staff.get(t, "/classes/3/stations")
	room := machine.Room{BreaksPerHour: 4, SlowShare: 0.3, Seed: 3, HTTP: &http.Client{}}
	for _, part := range strings.Split(page, `href="/station/`)[1:] {
		token, _, _ := strings.Cut(part, `"`)
		room.Links = append(room.Links, base+"/station/"+token)
	}
	require.Len(t, room.Links, len(class.Machines)+1)
	var said bytes.Buffer
	happened := make(chan bool, 1)
	room.Say = func(text string) {
		said.WriteString(text + "\n")
		if strings.Contains(text, "done load") { // the first sits
			select {
			case happened <- true:
			default:
			}
		}
	}
	ctx, cancel := context.WithTimeout(t.Context(), 6*patience)
	defer cancel()
	played := make(chan error, 1)
	go func() { played <- room.Play(ctx) }()
	<-happened
	watch.offline(true)
	// What is hooped for Kettle goes on Heron as well: a hoop that goes on nothing else would wait.
	press(map[string][]string{"what": {"failed"}, "machine": {strconv.FormatInt(class.Machines[1].ID, 10)}})
	leaves := class.Places[len(class.Places)-1].ID
	press(map[string][]string{"what": {"gone"}, "student": {strconv.FormatInt(leaves, 10)}})
	watch.offline(false)
	offer := regexp.MustCompile(`rearranged 0 [0-9.-]+ \d+`)
	for goesOn := true; goesOn; { // whoever was to sit there sits where it is offered
		select {
		case err := <-played:
			require.NoError(t, err, said.String())
			goesOn = false
		case <-time.After(100 * time.Millisecond):
			if offered := offer.FindString(staff.get(t, "/classes/3/run")); offered != "" {
				staff.post(t, "/classes/3/run",
					map[string][]string{"_csrf": {staff.token(t, "/classes/3/run")}, "press": {offered}})
			}
		}
	}
	watch.sees("#board", "out of order since")
	watch.sees("#board h1", "It ended at ") // all are done
	watch.open("/classes/3/wrap")
	watch.sees("h1", "7 of 8 students finished")
	assert.Contains(t, said.String(), "done sign-off")
}
