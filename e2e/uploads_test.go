package e2e

import (
	"bufio"
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"io"
	"math/rand/v2"
	"mime/multipart"
	"net"
	"net/http"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/stitch"
	"chalkstep/demo/motif"
	"chalkstep/store"
)

// cookies of a client, as a header has them.
func (c *client) cookies(t testing.TB) string {
	t.Helper()
	var all []string
	for _, k := range c.http.Jar.Cookies(parsed(t, c.base)) {
		all = append(all, k.Name+"="+k.Value)
	}
	return strings.Join(all, "; ")
}

// uploading sends the head of a large upload to an address and the first bytes of its body.
func uploading(t *testing.T, c *client, path string, size int) net.Conn {
	t.Helper()
	conn, err := net.Dial("tcp", strings.TrimPrefix(c.base, "http://"))
	require.NoError(t, err)
	t.Cleanup(func() { _ = conn.Close() })
	_, err = fmt.Fprintf(conn,
		"POST %s HTTP/1.1\r\nHost: x\r\nCookie: %s\r\nContent-Type: multipart/form-data; boundary=b\r\nContent-Length: "+
			"%d\r\n\r\n--b\r\n", path, c.cookies(t), size)
	require.NoError(t, err)
	return conn
}

// Bodies that come as slowly as they may keep nobody out: not those of an assistant, who may
// not send a design at all, and not those of one person, who has one place.
func TestSlowUploadsKeepNobodyOut(t *testing.T) {
	base := start(t)
	assistant, instructor, owner := signedInAs(t, base, store.Assistant), signedInAs(t, base, store.Instructor),
		signedInAs(t, base, store.Owner)
	done := make(chan struct{})
	var slow sync.WaitGroup
	for _, c := range []*client{assistant, assistant, assistant, assistant, instructor, instructor, instructor,
		instructor} {
		conn := uploading(t, c, "/designs", 30<<20)
		slow.Go(func() {
			for { // in a quarter of an hour it would be there
				select {
				case <-done:
					return
				case <-time.After(100 * time.Millisecond):
				}
				if _, err := conn.Write(bytes.Repeat([]byte("x"), 3<<10)); err != nil {
					return
				}
			}
		})
	}
	crab := motif.Crab()
	crab.Pattern.Moves = append(crab.Pattern.Moves, stitch.Move{X: 1, Y: 1})
	data, err := stitch.Encode("slow.dst", crab.Pattern)
	require.NoError(t, err)
	data = append(data, make([]byte, 600<<10)...) // what stands behind the end is not looked at
	status, err := owner.upload(owner.token(t, "/designs"), "slow.dst", data)
	assert.NoError(t, err)
	assert.Equal(t, http.StatusOK, status)
	close(done)
	slow.Wait()
}

// A body that comes more slowly than the slowest line is cut, in words.
func TestABodyThatCrawlsIsCut(t *testing.T) {
	base := start(t)
	conn := uploading(t, signedInAs(t, base, store.Instructor), "/designs", 30<<20)
	stop := make(chan bool)
	go func() {
		for { // about a kilobyte a second
			if _, err := conn.Write(bytes.Repeat([]byte("x"), 100)); err != nil {
				return
			}
			select {
			case <-stop:
				return
			case <-time.After(100 * time.Millisecond):
			}
		}
	}()
	require.NoError(t, conn.SetReadDeadline(time.Now().Add(patience)))
	answer, err := http.ReadResponse(bufio.NewReader(conn), nil)
	close(stop)
	require.NoError(t, err)
	page, err := io.ReadAll(answer.Body)
	require.NoError(t, err)
	assert.Equal(t, http.StatusRequestTimeout, answer.StatusCode)
	assert.Contains(t, string(page), "That came too slowly and was given up.")
}

// Wherever a form takes a photo, one that is as heavy as photos may be arrives.
func TestHeavyPhotosArriveWhereFormsTakeThem(t *testing.T) {
	img := image.NewRGBA(image.Rect(0, 0, 1300, 1000))
	rng := rand.New(rand.NewPCG(1, 2))
	for i := range img.Pix {
		img.Pix[i] = byte(rng.Uint32())
	}
	img.Set(0, 0, color.White)
	var photo bytes.Buffer
	require.NoError(t, png.Encode(&photo, img))
	require.Greater(t, photo.Len(), 4<<20)
	base := start(t)
	c := signedInAs(t, base, store.Instructor)
	token := c.token(t, "/projects/2")
	for _, path := range []string{"/projects/2/photo", "/projects/2/tests", "/designs/2/stitch-outs",
		"/classes/2/wrap/1/photo", "/students/marks"} {
		var body bytes.Buffer
		form := multipart.NewWriter(&body)
		_ = form.WriteField("_csrf", token)
		part, err := form.CreateFormFile("photo", "piece.png")
		require.NoError(t, err)
		_, _ = part.Write(photo.Bytes())
		require.NoError(t, form.Close())
		answer, err := c.http.Post(base+path, form.FormDataContentType(), &body)
		require.NoError(t, err)
		page, err := io.ReadAll(answer.Body)
		answer.Body.Close()
		require.NoError(t, err)
		assert.NotEqual(t, http.StatusRequestEntityTooLarge, answer.StatusCode, path)
		assert.Less(t, answer.StatusCode, http.StatusInternalServerError, "%s: %.300s", path, page)
	}
}
