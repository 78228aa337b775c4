//go:build attack

package attack

import (
	"context"
	"fmt"
	"io"
	"math/rand/v2"
	"net"
	"net/http"
	"net/url"
	"regexp"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/live/phone"
	"chalkstep/device/machine"
	"chalkstep/e2e/livetest"
	"chalkstep/store"
	"chalkstep/store/storetest"
)

var stationLink = regexp.MustCompile(`href="(/station/[^"]+)"`)

// benches is the link of the phone at the benches of the class that goes on.
func benches(t *testing.T, c *client) string {
	t.Helper()
	_, page := c.get(t, "/classes/2/stations")
	links := stationLink.FindAllStringSubmatch(page, -1)
	require.NotEmpty(t, links)
	return links[len(links)-1][1]
}

// pressed sends a press once; ok tells that the server said it has it.
func pressed(c *http.Client, link, id string, student int64) (ok bool) {
	refused, err := machine.Station{Link: link, HTTP: c}.Press(context.Background(),
		phone.Press{ID: id, Kind: "hand-up", Student: student, Reason: "question"})
	return err == nil && refused == ""
}

// stateOf is what the link of a station says.
func stateOf(t *testing.T, link string) phone.State {
	t.Helper()
	state, err := machine.Station{Link: link, HTTP: http.DefaultClient}.State(t.Context())
	require.NoError(t, err)
	return state
}

// seqOf is the last event of the class that goes on.
func seqOf(t *testing.T, link string) int64 {
	t.Helper()
	return stateOf(t, link).Seq
}

// atBenches are the students there.
func atBenches(t *testing.T, link string) []int64 {
	t.Helper()
	var ids []int64
	for _, p := range stateOf(t, link).People {
		if p.Presence == "here" {
			ids = append(ids, p.Student)
		}
	}
	require.NotEmpty(t, ids)
	return ids
}

// Sixty phones and five boards on one class, on two programs: how soon an event shows on
// every board.
func TestSixtyPhonesAndFiveBoards(t *testing.T) {
	const phones, boards, events = 60, 5, 300
	address := storetest.URL(t)
	programs := []*program{run(t, []string{"demo"}, "DATABASE_URL="+address),
		run(t, []string{"demo"}, "DATABASE_URL="+address)}
	staff := signedIn(t, programs[0].base, store.Instructor)
	link := benches(t, staff)
	students := atBenches(t, programs[0].base+link)
	ctx, stop := context.WithCancel(t.Context())
	var following sync.WaitGroup
	defer following.Wait()
	defer stop()
	for i := range phones {
		following.Go(func() {
			livetest.Follow(ctx, &http.Client{}, programs[i%2].base+link+"/news", func(livetest.Told) {})
		})
	}
	type arrival struct {
		seq int64
		at  time.Time
	}
	arrived := make([][]arrival, boards)
	var lock sync.Mutex
	for i := range boards {
		c := signedIn(t, programs[i%2].base, store.Instructor)
		c.http.Timeout = 0
		following.Go(func() {
			livetest.Follow(ctx, c.http, programs[i%2].base+"/classes/2/news", func(part livetest.Told) {
				lock.Lock()
				defer lock.Unlock()
				arrived[i] = append(arrived[i], arrival{part.Seq, time.Now()})
			})
		})
	}
	time.Sleep(2 * time.Second) // all are there
	before := seqOf(t, programs[0].base+link)
	sent := make([]time.Time, events)
	for n := range events {
		sent[n] = time.Now()
		require.True(t, pressed(http.DefaultClient, programs[n%2].base+link, fmt.Sprintf("late-%d", n),
			students[n%len(students)]))
		time.Sleep(time.Until(sent[n].Add(200 * time.Millisecond))) // a busy room
	}
	time.Sleep(2 * time.Second)
	lock.Lock()
	defer lock.Unlock()
	var took []time.Duration
	for i := range boards {
		for n := range events {
			at := slices.IndexFunc(arrived[i], func(a arrival) bool { return a.seq >= before+int64(n)+1 })
			require.GreaterOrEqual(t, at, 0, "event %d on board %d", n, i)
			took = append(took, arrived[i][at].at.Sub(sent[n]))
		}
	}
	slices.Sort(took)
	p99 := took[len(took)*99/100]
	row("60 phones, 5 boards, 2 programs: an event on every board",
		fmt.Sprintf("median %v, p99 %v, worst %v", took[len(took)/2].Round(time.Millisecond), p99.Round(time.Millisecond),
			took[len(took)-1].Round(time.Millisecond)), "p99 300ms")
	assert.Less(t, p99, 300*time.Millisecond)
}

// A thousand events of sixty clients, whose connections are cut at random, to two programs:
// none is lost, none counts twice, and every board comes to the same.
func TestAThousandEventsOfSixtyClients(t *testing.T) {
	const clients, each, boards = 60, 17, 5
	address := storetest.URL(t)
	programs := []*program{run(t, []string{"demo"}, "DATABASE_URL="+address),
		run(t, []string{"demo"}, "DATABASE_URL="+address)}
	link := benches(t, signedIn(t, programs[0].base, store.Instructor))
	students := atBenches(t, programs[0].base+link)
	before := seqOf(t, programs[0].base+link)
	ctx, stop := context.WithCancel(t.Context())
	var following sync.WaitGroup
	defer following.Wait()
	defer stop()
	all := make([]*livetest.Board, boards)
	for i := range boards {
		all[i] = &livetest.Board{}
		c := signedIn(t, programs[i%2].base, store.Instructor)
		c.http.Timeout = 0
		following.Go(func() { livetest.Follow(ctx, c.http, programs[i%2].base+"/classes/2/news", all[i].Take) })
	}
	began := time.Now()
	var pressing sync.WaitGroup
	for n := range clients {
		pressing.Go(func() {
			for i := range each {
				id := fmt.Sprintf("many-%d-%d", n, i)
				for try := 0; ; try++ {
					c := http.DefaultClient
					if (n+i+try)%3 == 0 { // cut before the answer, now and then before it is asked
						c = &http.Client{Timeout: time.Duration(1+(n*i)%40) * time.Millisecond}
					}
					if pressed(c, programs[(n+i+try)%2].base+link, id, students[n%len(students)]) {
						break
					}
				}
			}
		})
	}
	pressing.Wait()
	took := time.Since(began)
	last := seqOf(t, programs[1].base+link)
	require.EqualValues(t, before+clients*each, last, "each counts once")
	for i, b := range all {
		require.Eventually(t, func() bool { return b.Seen().Seq == last }, 30*time.Second, 20*time.Millisecond, "board %d", i)
		assert.IsNonDecreasing(t, b.Seqs())
	}
	row(fmt.Sprintf("%d events of %d clients, cut at random", clients*each, clients),
		fmt.Sprintf("all once, in %v", took.Round(100*time.Millisecond)), "none lost or doubled")
}

// forward passes connections on to whichever program runs now, so that those who come back
// find it where it was.
func forward(t *testing.T, to *atomic.Value) string {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	t.Cleanup(func() { _ = l.Close() })
	go func() {
		for {
			in, err := l.Accept()
			if err != nil {
				return
			}
			go func() {
				defer in.Close()
				out, err := net.Dial("tcp", to.Load().(string))
				if err != nil {
					return
				}
				defer out.Close()
				go func() {
					_, _ = io.Copy(out, in)
					_ = out.Close()
				}()
				_, _ = io.Copy(in, out)
			}()
		}
	}()
	return "http://" + l.Addr().String()
}

// The program and its database are killed at sixty random moments while a class runs and
// others write beside it: nothing that was acknowledged is lost, nothing counts twice, the log
// has no gap, and boards and phones go on by themselves.
func TestARunningClassSurvivesKills(t *testing.T) {
	const kills, phones, writers = 60, 6, 3
	dir := storetest.Folder(t)
	var address atomic.Value
	begin := func() *program {
		p := run(t, []string{"demo", "--data", dir})
		address.Store(strings.TrimPrefix(p.base, "http://"))
		return p
	}
	p := begin()
	base := forward(t, &address)
	staff := signedIn(t, base, store.Instructor)
	staff.http.Timeout = 0
	link := base + benches(t, staff)
	students := atBenches(t, link)
	before := seqOf(t, link)
	ctx, stop := context.WithCancel(t.Context())
	var following sync.WaitGroup
	defer following.Wait()
	defer stop()
	board := &livetest.Board{}
	following.Go(func() { livetest.Follow(ctx, staff.http, base+"/classes/2/news", board.Take) })

	var over atomic.Bool
	var acknowledged, written atomic.Int64
	var pressing sync.WaitGroup
	for n := range phones {
		pressing.Go(func() {
			c := &http.Client{Timeout: 5 * time.Second}
			for i := 0; !over.Load(); i++ {
				for !pressed(c, link, fmt.Sprintf("killed-%d-%d", n, i), students[n%len(students)]) {
					time.Sleep(30 * time.Millisecond)
				}
				acknowledged.Add(1)
				time.Sleep(60 * time.Millisecond)
			}
		})
	}
	// Each writer sends a form again until it is told that it arrived: a student, a movement of
	// the shelf, a booking.
	names := make([][]string, writers)
	moved := make([]int, writers)
	for n := range writers {
		writer := signedIn(t, base, store.Owner)
		token := writer.token(t, "/students")
		writer.http.Timeout = 5 * time.Second
		pressing.Go(func() {
			send := func(path string, form url.Values) bool {
				form.Set("_csrf", token)
				for !over.Load() {
					status, page, err := writer.post(path, form)
					switch {
					case err == nil && status == http.StatusOK:
						written.Add(1)
						return true
					case err == nil && status == http.StatusUnprocessableEntity && strings.Contains(page, "there already"):
						written.Add(1)
						return true // it had arrived, and its form was not known any more
					}
					time.Sleep(30 * time.Millisecond)
				}
				return false
			}
			for i := 0; !over.Load(); i++ {
				name := fmt.Sprintf("Killed %d %d", n, i)
				if send("/students", url.Values{"name": {name}}) {
					names[n] = append(names[n], name)
				}
				if send("/stock/1/move", url.Values{"kind": {"bought"}, "quantity": {"1"}, "note": {name}}) {
					moved[n]++
				}
			}
		})
	}
	rng := rand.New(rand.NewPCG(60, 60))
	for kill := range kills {
		was := acknowledged.Load()
		require.Eventually(t, func() bool { return acknowledged.Load() >= was+phones }, 2*time.Minute, 10*time.Millisecond,
			"phones go on after %d kills", kill)
		time.Sleep(time.Duration(rng.IntN(400)) * time.Millisecond)
		if rng.IntN(2) == 0 {
			require.NoError(t, p.cmd.Process.Kill())
			<-p.done
			p = begin()
			continue
		}
		killDatabase(t, dir)
	}
	over.Store(true)
	pressing.Wait() // each sends until it is told that it arrived
	last := seqOf(t, link)
	assert.Equal(t, before+acknowledged.Load(), last, "every press once")
	require.Eventually(t, func() bool { return board.Seen().Seq == last }, time.Minute, 20*time.Millisecond,
		"the board goes on by itself")
	db := databaseOf(t, dir)
	var gaps, twins int
	require.NoError(t, db.QueryRow("SELECT max(seq) - count(*) FROM class_events WHERE class_id = 2").Scan(&gaps))
	require.NoError(t, db.QueryRow(
		"SELECT count(*) - count(DISTINCT sender) FROM class_events WHERE class_id = 2 AND sender <> ''").Scan(&twins))
	assert.Zero(t, gaps, "the log has no gap")
	assert.Zero(t, twins, "no press is there twice")
	for n := range writers {
		for _, name := range names[n] {
			var there, notes int
			require.NoError(t, db.QueryRow("SELECT count(*) FROM students WHERE name = $1", name).Scan(&there))
			require.NoError(t, db.QueryRow("SELECT count(*) FROM stock_movements WHERE note = $1", name).Scan(&notes))
			assert.Equal(t, 1, there, name)
			assert.LessOrEqual(t, notes, 1, name)
		}
		var all int
		require.NoError(t, db.QueryRow("SELECT count(*) FROM stock_movements WHERE note LIKE $1",
			fmt.Sprintf("Killed %d %%", n)).Scan(&all))
		assert.GreaterOrEqual(t, all, moved[n])
	}
	row(fmt.Sprintf("%d kills of program and database under mixed writes", kills),
		fmt.Sprintf("%d presses and %d forms acknowledged, %d presses there", acknowledged.Load(), written.Load(),
			last-before), "none lost or doubled, no gap")
	stop()
	p.stop(t)
}
