//go:build attack

package attack

import (
	"bytes"
	"cmp"
	"database/sql"
	"fmt"
	"net"
	"net/url"
	"os"
	"regexp"
	"runtime"
	"runtime/pprof"
	"slices"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/gofiber/fiber/v3"
	_ "github.com/jackc/pgx/v5/stdlib"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/valyala/fasthttp"

	"chalkstep/app/actor"
	"chalkstep/demo"
	"chalkstep/store"
	"chalkstep/store/storetest"
	"chalkstep/web"
)

// the driver of the bare page's query

// mixed are the pages people open most.
var mixed = []string{"/", "/classes/3", "/classes/3/prep", "/designs/2", "/students/1"}

// A loaded is what came of asking for pages as fast as they are given.
type loaded struct {
	perSecond float64
	p50, p99  time.Duration
	bytes     int
}

// load asks for paths at so many connections for a time.
func load(t *testing.T, base, cookie string, paths []string, connections int, length time.Duration) loaded {
	t.Helper()
	c := &fasthttp.Client{MaxConnsPerHost: connections, ReadTimeout: time.Minute}
	var done, size atomic.Int64
	var lock sync.Mutex
	var took []time.Duration
	var wait sync.WaitGroup
	until := time.Now().Add(length)
	for k := range connections {
		wait.Go(func() {
			var own []time.Duration
			req, res := fasthttp.AcquireRequest(), fasthttp.AcquireResponse()
			for i := k; time.Now().Before(until); i++ {
				req.Reset()
				req.SetRequestURI(base + paths[i%len(paths)])
				req.Header.Set("Cookie", cookie)
				begin := time.Now()
				if err := c.Do(req, res); err != nil || res.StatusCode() != fasthttp.StatusOK {
					assert.NoError(t, err)
					assert.Equal(t, fasthttp.StatusOK, res.StatusCode(), "%s: %s", paths[i%len(paths)],
						regexp.MustCompile("<h1>.*</h1>").Find(res.Body()))
					return
				}
				own = append(own, time.Since(begin))
				size.Add(int64(len(res.Body())))
				done.Add(1)
			}
			lock.Lock()
			took = append(took, own...)
			lock.Unlock()
		})
	}
	wait.Wait()
	require.NotEmpty(t, took)
	slices.Sort(took)
	return loaded{float64(done.Load()) / length.Seconds(), took[len(took)/2], took[len(took)*99/100],
		int(size.Load() / done.Load())}
}

// listen serves an application until the test ends.
func listen(t *testing.T, f *fiber.App) string {
	t.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	done := make(chan error, 1)
	go func() { done <- f.Listener(l, fiber.ListenConfig{DisableStartupMessage: true}) }()
	t.Cleanup(func() {
		require.NoError(t, f.ShutdownWithTimeout(10*time.Second))
		require.NoError(t, <-done)
	})
	return "http://" + l.Addr().String()
}

// Mixed pages cost at most eight times a bare page of the same bytes with one
// query, both measured in turns in one run.
func TestLoad(t *testing.T) {
	const connections, bar, rounds, each = 50, 8.0, 3, 4 * time.Second
	address := storetest.URL(t)
	db, err := store.Open(t.Context(), address)
	require.NoError(t, err)
	t.Cleanup(func() { db.Close() })
	_, err = demo.Load(t.Context(), db, time.Now())
	require.NoError(t, err)
	face, err := web.New(web.Config{App: actor.New(db, time.Now)})
	require.NoError(t, err)
	pages := listen(t, face)
	c := signedIn(t, pages, store.Owner)
	cookie := ""
	for _, k := range c.http.Jar.Cookies(mustParse(pages)) {
		cookie += k.Name + "=" + k.Value + "; "
	}
	bytesOfAll := load(t, pages, cookie, mixed, connections, 2*time.Second).bytes // and warm

	pool, err := sql.Open("pgx", address)
	require.NoError(t, err)
	t.Cleanup(func() { pool.Close() })
	pool.SetMaxOpenConns(16)
	pool.SetMaxIdleConns(16)
	bare := fiber.New()
	body := bytes.Repeat([]byte("x"), bytesOfAll)
	bare.Get("/", func(c fiber.Ctx) error {
		var name string
		if err := pool.QueryRowContext(c.Context(), "SELECT name FROM students WHERE id = $1", 1).Scan(&name); err != nil {
			return err
		}
		return c.Send(body)
	})
	barePage := listen(t, bare)

	if file := os.Getenv("CPU_PROFILE"); file != "" {
		f, err := os.Create(file)
		require.NoError(t, err)
		require.NoError(t, pprof.StartCPUProfile(f))
		load(t, pages, cookie, mixed, connections, each)
		pprof.StopCPUProfile()
	}
	var ours, theirs []loaded
	var heaps []float64
	for range rounds {
		ours = append(ours, load(t, pages, cookie, mixed, connections, each))
		theirs = append(theirs, load(t, barePage, "", []string{"/"}, connections, each))
		heaps = append(heaps, heap())
	}
	us, them := middle(ours), middle(theirs)
	ratio := them.perSecond / us.perSecond
	row("mixed pages at 50 connections",
		fmt.Sprintf("%.0f a second, p50 %v, p99 %v; bare page of %d bytes %.0f a second: %.1f ×", us.perSecond,
			us.p50.Round(time.Millisecond), us.p99.Round(time.Millisecond), us.bytes, them.perSecond, ratio), "8 ×, p99 500 ms")
	assert.LessOrEqual(t, ratio, bar)
	assert.Less(t, us.p99, 500*time.Millisecond)
	row("memory after each round of it", fmt.Sprintf("%.1f MB", heaps), "10 % more")
	assert.LessOrEqual(t, heaps[rounds-1], heaps[0]*1.1)

	// Whatever is written makes every page of the workshop anew.
	writing := make(chan struct{})
	var written sync.WaitGroup
	written.Go(func() {
		token := c.token(t, "/settings/own")
		for i := 0; ; i++ {
			select {
			case <-writing:
				return
			case <-time.After(500 * time.Millisecond):
				status, _, err := c.post("/students", url.Values{"_csrf": {token}, "name": {fmt.Sprintf("Visitor %d", i)}})
				assert.NoError(t, err)
				assert.Equal(t, fiber.StatusOK, status)
			}
		}
	})
	live := load(t, pages, cookie, mixed, connections, each)
	close(writing)
	written.Wait()
	row("the same while something is written twice a second",
		fmt.Sprintf("%.0f a second, p50 %v, p99 %v", live.perSecond, live.p50.Round(time.Millisecond),
			live.p99.Round(time.Millisecond)), "p99 500 ms")
	assert.Less(t, live.p99, 500*time.Millisecond)
}

// middle is the round in the middle.
func middle(all []loaded) loaded {
	slices.SortFunc(all, func(a, b loaded) int { return cmp.Compare(a.perSecond, b.perSecond) })
	return all[len(all)/2]
}

// heap is the memory in use, in MB, when what is not is given back.
func heap() float64 {
	runtime.GC()
	var m runtime.MemStats
	runtime.ReadMemStats(&m)
	return float64(m.HeapAlloc) / 1e6
}
