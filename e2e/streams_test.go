package e2e

import (
	"bufio"
	"context"
	"fmt"
	"io"
	"net"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/store"
)

// A stream is one by its route: spelt another way, an address is no page, packed or not.
func TestAnAddressIsSpeltOneWay(t *testing.T) {
	base := start(t)
	c := signedInAs(t, base, store.Instructor)
	link := c.address(t, heron)
	for _, path := range []string{
		link + "/NEWS", link + "/News", link + "/news/", link + "/news//", link + "//news", link + "/%6eews",
		link + "/./news/", "/STATION" + strings.TrimPrefix(link, "/station") + "/news",
		"/classes/2/NEWS", "/classes/2/news/", "/Classes/2/news", "/classes/2/news/x",
	} {
		for _, packing := range []string{"gzip", "br", "deflate, gzip;q=1.0", "identity"} {
			ctx, cancel := context.WithTimeout(t.Context(), patience)
			request, err := http.NewRequestWithContext(ctx, http.MethodGet, base+path, nil)
			require.NoError(t, err)
			request.Header.Set("Accept-Encoding", packing)
			answer, err := c.http.Do(request)
			require.NoError(t, err, path)
			_, _ = io.Copy(io.Discard, answer.Body)
			answer.Body.Close()
			assert.Equal(t, http.StatusNotFound, answer.StatusCode, "%s as %s", path, packing)
			assert.NoError(t, ctx.Err(), "%s as %s ends", path, packing)
			cancel()
		}
	}
}

// opened asks for a stream over a connection of its own, by hand, and waits for the answer;
// it stays open until it is closed.
func opened(t *testing.T, base, path, cookie string) (net.Conn, *http.Response) {
	t.Helper()
	conn, err := net.Dial("tcp", strings.TrimPrefix(base, "http://"))
	require.NoError(t, err)
	_, err = fmt.Fprintf(conn, "GET %s HTTP/1.1\r\nHost: x\r\nCookie: %s\r\nAccept-Encoding: gzip\r\n\r\n", path, cookie)
	require.NoError(t, err)
	require.NoError(t, conn.SetReadDeadline(time.Now().Add(patience)))
	answer, err := http.ReadResponse(bufio.NewReader(conn), nil)
	require.NoError(t, err)
	return conn, answer
}

// One link opens forty streams and no more, with words of its own, and takes nothing from
// others; who leaves makes room, with the connection closed or cut.
func TestALinkHasRoomForFortyScreens(t *testing.T) {
	const most = 40
	base := start(t)
	c := signedInAs(t, base, store.Instructor)
	link := c.address(t, heron)
	var conns []net.Conn
	open := func() {
		for len(conns) < most {
			conn, answer := opened(t, base, link+"/news", "")
			if answer.StatusCode != http.StatusOK { // those who left are not missed yet
				conn.Close()
				continue
			}
			conns = append(conns, conn)
		}
	}
	open()
	conn, answer := opened(t, base, link+"/news", "")
	assert.Equal(t, http.StatusTooManyRequests, answer.StatusCode)
	conn.Close()
	_, page := c.ask(t, link+"/news")
	assert.Contains(t, page, "This is open on too many screens already.")
	status, _ := c.ask(t, link)
	assert.Equal(t, http.StatusOK, status, "the page itself is there")
	cookie := ""
	for _, k := range c.http.Jar.Cookies(parsed(t, base)) {
		cookie += k.Name + "=" + k.Value + "; "
	}
	board, answer := opened(t, base, "/classes/2/news", cookie)
	assert.Equal(t, http.StatusOK, answer.StatusCode, "and so are boards")
	defer board.Close()
	for i, conn := range conns {
		if i%2 == 0 { // cut: a reset instead of a goodbye
			require.NoError(t, conn.(*net.TCPConn).SetLinger(0))
		}
		conn.Close()
	}
	conns = nil
	for range most + 1 { // asked for its head alone, a stream is none
		answer, err := http.Head(base + link + "/news")
		require.NoError(t, err)
		answer.Body.Close()
	}
	require.Eventually(t, func() bool {
		conn, answer := opened(t, base, link+"/news", "")
		conn.Close()
		return answer.StatusCode == http.StatusOK
	}, patience, 100*time.Millisecond)
	open()
	for _, conn := range conns {
		conn.Close()
	}
}
