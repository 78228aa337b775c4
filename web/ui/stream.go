package ui

import (
	"bufio"
	"bytes"
	"compress/gzip"
	"context"
	"errors"
	"fmt"
	"io"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/desk"
)

// Streams are the pages that are being kept up to date by server-sent events.
type Streams struct {
	closing chan struct{}
	once    sync.Once
	open    atomic.Int64
}

// NewStreams makes room for them.
func NewStreams() *Streams { return &Streams{closing: make(chan struct{})} }

// End ends them, and is not called Close, as that is done with what a request carries when
// it is over: browsers come back by themselves, to this process or another.
func (s *Streams) End() error {
	s.once.Do(func() { close(s.closing) })
	return nil
}

const (
	streamsKey = "ui: streams"
	// mostStreams are open at a time in one process.
	mostStreams = 2000
	// beat is how often a page is looked at although nothing was heard: the clock goes on.
	beat = 5 * time.Second
	// partPatience is how long making a part may take.
	partPatience = 10 * time.Second
	// comeBackMS is how soon a browser comes back whose stream ended.
	comeBackMS = 1000
)

// Carry puts the streams where handlers find them.
func (s *Streams) Carry(c fiber.Ctx) error {
	c.Locals(streamsKey, s)
	return c.Next()
}

// IsStream tells a request for a stream: it packs itself, as whoever packs whole answers
// would wait for its end.
func IsStream(c fiber.Ctx) bool { return strings.HasSuffix(c.Path(), "/news") }

// A Part makes a part of a page as it is now, with the number of the last news in it.
type Part func(context.Context) (html []byte, seq int64, err error)

// Stream sends a part of a page at once, and anew whenever it has changed: when news come,
// and as the clock goes on. In between it shows that it is there. A part that may not be
// seen any more ends it; one that cannot be made just now is left out, so that the page
// knows that its news are old.
func Stream(c fiber.Ctx, a *desk.App, classID int64, part Part) error {
	s, ok := c.Locals(streamsKey).(*Streams)
	if !ok {
		return errors.New("no streams are carried")
	}
	if s.open.Add(1) > mostStreams {
		s.open.Add(-1)
		return fmt.Errorf("%w: too many pages are kept up to date", desk.ErrBusy)
	}
	told, done := a.News(classID)
	c.Set(fiber.HeaderContentType, "text/event-stream")
	c.Set(fiber.HeaderCacheControl, "no-store")
	c.Set("X-Accel-Buffering", "no") // a proxy passes each event on at once
	packed := strings.Contains(c.Get(fiber.HeaderAcceptEncoding), "gzip")
	if packed {
		c.Set(fiber.HeaderContentEncoding, "gzip")
	}
	return c.SendStreamWriter(func(w *bufio.Writer) {
		defer s.open.Add(-1)
		defer done()
		s.send(newLine(w, packed), told, part)
	})
}

// A line is a stream to a browser, packed where it can unpack: what a part repeats of the
// one before costs next to nothing.
type line struct {
	io.Writer
	flushes []interface{ Flush() error }
}

func newLine(w *bufio.Writer, packed bool) line {
	if !packed {
		return line{w, []interface{ Flush() error }{w}}
	}
	zipped := gzip.NewWriter(w)
	return line{zipped, []interface{ Flush() error }{zipped, w}}
}

// Flush sends what was written on.
func (l line) Flush() error {
	for _, f := range l.flushes {
		if err := f.Flush(); err != nil {
			return err
		}
	}
	return nil
}

func (s *Streams) send(w line, told <-chan struct{}, part Part) {
	var last []byte
	_, _ = fmt.Fprintf(w, "retry: %d\n\n", comeBackMS)
	for {
		ctx, cancel := context.WithTimeout(context.Background(), partPatience)
		html, seq, err := part(ctx)
		cancel()
		switch {
		case errors.Is(err, desk.ErrNotFound), errors.Is(err, desk.ErrMayNot):
			_, _ = io.WriteString(w, "event: over\ndata:\n\n")
			_ = w.Flush()
			return
		case err != nil:
			_, _ = io.WriteString(w, ": not now\n\n")
		case bytes.Equal(html, last):
			_, _ = io.WriteString(w, "event: pulse\ndata:\n\n")
		default:
			last = html
			_, _ = fmt.Fprintf(w, "id: %d\nevent: part\ndata: %s\n\n", seq, strings.ReplaceAll(string(html), "\n", "\ndata: "))
		}
		if w.Flush() != nil {
			return
		}
		select {
		case <-told:
		case <-time.After(beat):
		case <-s.closing:
			return
		}
	}
}

// RenderPart makes a part of a page outside of a request.
func RenderPart(views fiber.Views, name string, p P, data fiber.Map) ([]byte, error) {
	all := fiber.Map{"P": p, "Version": version, "Problems": desk.Problems{}}
	for k, v := range data {
		all[k] = v
	}
	var out bytes.Buffer
	if err := views.Render(&out, name, all); err != nil {
		return nil, fmt.Errorf("showing %s: %w", name, err)
	}
	return bytes.TrimSpace(out.Bytes()), nil
}
