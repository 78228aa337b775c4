//go:build attack

package attack

import (
	"bytes"
	"fmt"
	"io"
	"math/rand/v2"
	"mime/multipart"
	"net"
	"net/http"
	"net/url"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/photo/phototest"
	"chalkstep/core/stitch"
	_ "chalkstep/core/stitch/dst"
	"chalkstep/demo"
	"chalkstep/store"
	"chalkstep/store/storetest"
)

// the format of the heavy designs

// peak watches the memory of a program while something is done to it.
func (p *program) peak(t *testing.T, do func()) (before, most float64) {
	t.Helper()
	before = p.memory(t)
	done := make(chan struct{})
	go func() {
		defer close(done)
		do()
	}()
	for {
		most = max(most, p.memory(t))
		select {
		case <-done:
			return before, most
		case <-time.After(20 * time.Millisecond):
		}
	}
}

// Unfinished bodies hold next to nothing, whoever sends them.
func TestUnfinishedBodies(t *testing.T) {
	p := run(t, []string{"demo", "--data", storetest.Folder(t)})
	defer p.stop(t)
	c := signedIn(t, p.base, store.Owner)
	cookie := ""
	for _, k := range c.http.Jar.Cookies(mustParse(p.base)) {
		cookie += k.Name + "=" + k.Value + "; "
	}
	for who, header := range map[string]string{"visitors": "", "those signed in": "Cookie: " + cookie + "\r\n"} {
		before, most := p.peak(t, func() {
			var conns []net.Conn
			part := bytes.Repeat([]byte("x"), 1<<20)
			var wait sync.WaitGroup
			for range 40 {
				conn, err := net.Dial("tcp", strings.TrimPrefix(p.base, "http://"))
				require.NoError(t, err)
				conns = append(conns, conn)
				_, err = fmt.Fprintf(conn,
					"POST /designs HTTP/1.1\r\nHost: x\r\n%sContent-Type: multipart/form-data; boundary=b\r\nContent-Length: "+
						"%d\r\n\r\n", header, 32<<20)
				require.NoError(t, err)
				wait.Go(func() {
					_ = conn.SetWriteDeadline(time.Now().Add(3 * time.Second))
					for range 31 { // all but the end
						if _, err := conn.Write(part); err != nil {
							return
						}
					}
				})
			}
			wait.Wait()
			// Others are served meanwhile.
			for range 20 {
				begin := time.Now()
				status, _ := newClient(p.base).get(t, "/sign-in")
				assert.Equal(t, http.StatusOK, status)
				assert.Less(t, time.Since(begin), 2*time.Second)
			}
			for _, conn := range conns {
				conn.Close()
			}
		})
		row("40 unfinished 32 MB bodies of "+who, fmt.Sprintf("%.0f MB, %.0f before", most, before), "300 MB more")
		assert.Less(t, most-before, 300.0)
	}
}

// Many who sign in at once wait for each other instead of taking memory.
func TestSignInsAtOnce(t *testing.T) {
	p := run(t, []string{"demo", "--data", storetest.Folder(t)})
	defer p.stop(t)
	statuses := map[int]int{}
	var took []time.Duration
	before, most := p.peak(t, func() {
		var lock sync.Mutex
		var wait sync.WaitGroup
		for range 40 {
			wait.Go(func() {
				c := newClient(p.base)
				l := demo.Logins[1]
				form := url.Values{"_csrf": {c.token(t, "/sign-in")}, "email": {l.Email}, "password": {l.Password}}
				begin := time.Now()
				status, _, err := c.post("/sign-in", form)
				assert.NoError(t, err)
				lock.Lock()
				defer lock.Unlock()
				statuses[status]++
				took = append(took, time.Since(begin))
			})
		}
		wait.Wait()
	})
	slowest := time.Duration(0)
	for _, d := range took {
		slowest = max(slowest, d)
	}
	row("40 sign-ins at once",
		fmt.Sprintf("%.0f MB, %.0f before; the last after %v; %v", most, before, slowest.Round(10*time.Millisecond),
			statuses), "300 MB more, all in")
	assert.Less(t, most-before, 300.0)
	assert.Equal(t, map[int]int{http.StatusOK: 40}, statuses)
}

// Requests without a session leave nothing behind.
func TestVisitorsLeaveNoRows(t *testing.T) {
	p := run(t, []string{"demo", "--data", storetest.Folder(t)})
	defer p.stop(t)
	before, most := p.peak(t, func() {
		var wait sync.WaitGroup
		for range 8 {
			wait.Go(func() {
				client := &http.Client{}
				for range 1000 {
					answer, err := client.Get(p.base + "/sign-in")
					if assert.NoError(t, err) {
						answer.Body.Close()
					}
				}
			})
		}
		wait.Wait()
	})
	row("8,000 pages to visitors", fmt.Sprintf("%.0f MB, %.0f before", most, before), "100 MB more")
	assert.Less(t, most-before, 100.0)
}

// heavy is a design as large as files may be.
func heavy(stitches, stops int) *stitch.Pattern {
	rng := rand.New(rand.NewPCG(15, 15))
	p := &stitch.Pattern{}
	var x, y int32
	for i := range stitches {
		if i > 0 && i%(stitches/stops) == 0 {
			p.Moves = append(p.Moves, stitch.Move{X: x, Y: y, Kind: stitch.Change})
		}
		x, y = max(-900, min(900, x+rng.Int32N(121)-60)), max(-900, min(900, y+rng.Int32N(121)-60))
		p.Moves = append(p.Moves, stitch.Move{X: x, Y: y})
	}
	return p
}

// The heaviest designs are added in seconds, and make no page heavy.
func TestHeavyDesigns(t *testing.T) {
	p := run(t, []string{"demo", "--data", storetest.Folder(t)})
	defer p.stop(t)
	c := signedIn(t, p.base, store.Owner)
	for name, pattern := range map[string]*stitch.Pattern{"two million stitches": heavy(1_990_000, 30),
		"9,999 stops": heavy(200_000, 9_990)} {
		data, err := stitch.Encode("x.dst", pattern)
		require.NoError(t, err)
		var body bytes.Buffer
		form := multipart.NewWriter(&body)
		_ = form.WriteField("_csrf", c.token(t, "/designs"))
		part, err := form.CreateFormFile("file", strings.ReplaceAll(name, " ", "-")+".dst")
		require.NoError(t, err)
		_, _ = part.Write(data)
		require.NoError(t, form.Close())
		begin := time.Now()
		answer, err := c.http.Post(p.base+"/designs", form.FormDataContentType(), &body)
		require.NoError(t, err)
		answer.Body.Close()
		require.Equal(t, http.StatusOK, answer.StatusCode)
		added := time.Since(begin)
		path := answer.Request.URL.Path
		begin = time.Now()
		_, page := c.get(t, path)
		shown := time.Since(begin)
		_, drawing := c.get(t, path+"/picture/drawing")
		_, thumb := c.get(t, path+"/picture/thumb")
		row("a design of "+name,
			fmt.Sprintf("added in %v, page %d kB in %v, drawing %d kB, thumb %.1f kB", added.Round(10*time.Millisecond),
				len(page)/1000, shown.Round(time.Millisecond), len(drawing)/1000, float64(len(thumb))/1000),
			"10 s, 100 kB, 150 kB, 6 kB")
		assert.Less(t, added, 10*time.Second)
		assert.LessOrEqual(t, len(page), 100_000)
		assert.LessOrEqual(t, len(drawing), 150_000)
		assert.LessOrEqual(t, len(thumb), 6_000)
	}
	_, list := c.get(t, "/designs")
	row("the list of designs with them", fmt.Sprintf("%d kB", len(list)/1000), "100 kB")
	assert.LessOrEqual(t, len(list), 100_000)
}

// Small files of large pictures are refused in words at once; the largest that is taken is
// made within seconds, with others beside it.
func TestMonstrousPhotos(t *testing.T) {
	p := run(t, []string{"demo", "--data", storetest.Folder(t)})
	defer p.stop(t)
	c := signedIn(t, p.base, store.Owner)
	token := c.token(t, "/projects/2")
	send := func(data []byte) (status int, page string) {
		var body bytes.Buffer
		form := multipart.NewWriter(&body)
		_ = form.WriteField("_csrf", token)
		part, err := form.CreateFormFile("photo", "photo.png")
		require.NoError(t, err)
		_, _ = part.Write(data)
		require.NoError(t, form.Close())
		answer, err := c.http.Post(p.base+"/projects/2/photo", form.FormDataContentType(), &body)
		require.NoError(t, err)
		defer answer.Body.Close()
		text, err := io.ReadAll(answer.Body)
		require.NoError(t, err)
		return answer.StatusCode, string(text)
	}
	for _, m := range []struct {
		name   string
		data   []byte
		status int
		words  string
	}{
		{"20,000,000 × 1", phototest.PNG(20_000_000, 1, 0, 8, false), http.StatusUnprocessableEntity, "too many pixels"},
		{"50,000,000 × 1", phototest.PNG(50_000_000, 1, 0, 8, false), http.StatusUnprocessableEntity, "too many pixels"},
		{"16,000 × 100", phototest.PNG(16_000, 100, 0, 8, false), http.StatusUnprocessableEntity, "ten times as long"},
		{"in 100,000 passes", phototest.JPEG(3700, 3750, 100_000, true), http.StatusUnprocessableEntity,
			"takes too long to open"},
		{"5,900 × 5,900", phototest.PNG(5900, 5900, 6, 8, false), http.StatusOK, ""},
	} {
		begin := time.Now()
		var status int
		var page string
		before, most := p.peak(t, func() { status, page = send(m.data) })
		took := time.Since(begin)
		row(fmt.Sprintf("a photo %s, %d kB", m.name, len(m.data)/1000),
			fmt.Sprintf("%d in %v, %.0f MB, %.0f before", status, took.Round(10*time.Millisecond), most, before),
			"10 s, 300 MB more")
		assert.Equal(t, m.status, status)
		assert.Contains(t, page, m.words)
		assert.Less(t, took, 10*time.Second)
		assert.Less(t, most-before, 300.0)
	}
}
