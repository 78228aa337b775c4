//go:build attack

package attack

import (
	"bufio"
	"fmt"
	"io"
	"net"
	"net/http"
	"os"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/store"
	"chalkstep/store/storetest"
)

// descriptors a program has open.
func (p *program) descriptors(t *testing.T) int {
	t.Helper()
	all, err := os.ReadDir(fmt.Sprintf("/proc/%d/fd", p.cmd.Process.Pid))
	require.NoError(t, err)
	return len(all)
}

// cookies of a client, as a header has them.
func (c *client) cookies() string {
	var all []string
	for _, k := range c.http.Jar.Cookies(mustParse(c.base)) {
		all = append(all, k.Name+"="+k.Value)
	}
	return strings.Join(all, "; ")
}

// asked asks for something over a connection of its own, by hand.
func asked(base, path, header string) (net.Conn, int, error) {
	conn, err := net.Dial("tcp", strings.TrimPrefix(base, "http://"))
	if err != nil {
		return nil, 0, err
	}
	_, err = fmt.Fprintf(conn, "GET %s HTTP/1.1\r\nHost: x\r\n%s\r\n\r\n", path, header)
	if err != nil {
		return conn, 0, err
	}
	_ = conn.SetReadDeadline(time.Now().Add(time.Minute))
	answer, err := http.ReadResponse(bufio.NewReader(conn), nil)
	if err != nil {
		return conn, 0, err
	}
	return conn, answer.StatusCode, nil
}

// Three thousand streams in all spellings whose clients go at once, one in three without a
// word and one in three having read nothing, leave nothing behind, and keep nobody out.
func TestThreeThousandStreams(t *testing.T) {
	p := run(t, []string{"demo", "--data", storetest.Folder(t)})
	defer p.stop(t)
	staff := signedIn(t, p.base, store.Instructor)
	link := benches(t, staff)
	for range 20 {
		staff.get(t, "/classes/2/run")
	}
	time.Sleep(3 * time.Second)
	files, memory := p.descriptors(t), p.memory(t)
	paths := []string{link + "/news", link + "/NEWS", link + "/news/", link + "/News", link + "/%6Eews", "/classes/2/news",
		"/classes/2/NEWS", "/classes/2/news?view=big"}
	packing := []string{"gzip", "br", "gzip, deflate, br, zstd", "identity"}
	header := "Cookie: " + staff.cookies() + "\r\nAccept-Encoding: "
	var wait sync.WaitGroup
	places := make(chan bool, 300)
	for i := range 3000 {
		places <- true
		wait.Go(func() {
			defer func() { <-places }()
			conn, err := net.Dial("tcp", strings.TrimPrefix(p.base, "http://"))
			if !assert.NoError(t, err) {
				return
			}
			_, _ = fmt.Fprintf(conn, "GET %s HTTP/1.1\r\nHost: x\r\n%s%s\r\n\r\n", paths[i%len(paths)], header,
				packing[i/len(paths)%len(packing)])
			switch i % 3 {
			case 0:
				_ = conn.(*net.TCPConn).SetLinger(0)
			case 1:
				_ = conn.SetReadDeadline(time.Now().Add(time.Second))
				_, _ = io.CopyN(io.Discard, conn, 512)
			}
			_ = conn.Close()
		})
	}
	wait.Wait()
	// Others are kept up to date meanwhile.
	require.Eventually(t, func() bool {
		conn, status, err := asked(p.base, "/classes/2/news", header+"gzip")
		if conn != nil {
			conn.Close()
		}
		return err == nil && status == http.StatusOK
	}, 10*time.Second, 50*time.Millisecond)
	time.Sleep(30 * time.Second)
	filesAfter, memoryAfter := p.descriptors(t), p.memory(t)
	row("3,000 streams in all spellings, clients gone, after 30 s",
		fmt.Sprintf("%d descriptors, %d before; %.0f MB, %.0f before", filesAfter, files, memoryAfter, memory),
		"those of before, 50 MB more")
	assert.LessOrEqual(t, filesAfter, files+2)
	assert.Less(t, memoryAfter-memory, 50.0)
}

// Three hundred boards and forty phones behind one address are all kept up to date, and one
// board more is refused to whoever has forty at one link.
func TestThreeHundredBoards(t *testing.T) {
	p := run(t, []string{"demo", "--data", storetest.Folder(t)})
	defer p.stop(t)
	staff := signedIn(t, p.base, store.Instructor)
	link := benches(t, staff)
	header := "Cookie: " + staff.cookies() + "\r\nAccept-Encoding: gzip"
	before := p.memory(t)
	var all []net.Conn
	for i := range 340 {
		path := "/classes/2/news"
		if i >= 300 {
			path = link + "/news"
		}
		conn, status, err := asked(p.base, path, header)
		require.NoError(t, err)
		require.Equal(t, http.StatusOK, status, "%d", i)
		all = append(all, conn)
	}
	most := p.memory(t)
	_, status, err := asked(p.base, link+"/news", header)
	require.NoError(t, err)
	assert.Equal(t, http.StatusTooManyRequests, status)
	row("300 boards and 40 phones on one link",
		fmt.Sprintf("%.0f MB, %.0f before; one phone more: %d", most, before, status), "100 MB more, 429")
	assert.Less(t, most-before, 100.0)
	for _, conn := range all {
		conn.Close()
	}
}
