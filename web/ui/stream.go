package ui

import (
	"bufio"
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"strings"
	"sync"
	"time"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/actor"
	"chalkstep/web/guard"
)

// Streams are the pages that are being kept up to date by server-sent events.
type Streams struct {
	closing chan struct{}
	once    sync.Once

	mu sync.Mutex
	// open streams by what opened them, and all together.
	open map[string]int
	all  int
}

// NewStreams makes room for them.
func NewStreams() *Streams { return &Streams{closing: make(chan struct{}), open: map[string]int{}} }

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
	// lookAfter is how often it is looked whether the browser is still there.
	lookAfter = time.Second
	// sentWithin is how long a browser may leave what it is sent lying, or the
	// network may take to say that it arrived.
	sentWithin = 4 * time.Second
	// partPatience is how long making a part may take.
	partPatience = 10 * time.Second
	// comeBackMS is how soon a browser comes back whose stream ended.
	comeBackMS = 1000
)

// Errors of too many streams, with words of their own.
var (
	// ErrLinkFull means that one link is open on too many screens.
	ErrLinkFull = errors.New("the link is open on too many screens")
	// ErrStreamsFull means that this process keeps too many pages up to date.
	ErrStreamsFull = errors.New("too many pages are kept up to date")
)

// An Opener is what opens a stream, of which so many may be open at a time.
type Opener struct {
	name string
	most int
}

// ByLink opens streams with the link of a phone beside a machine. A class has a
// few phones at each; the rest are somebody's script.
func ByLink(link string) Opener { return Opener{"link " + link, 40} }

// ByAccount opens streams for somebody signed in: one account may be on every
// board of a large room.
func ByAccount(id int64) Opener { return Opener{fmt.Sprint("account ", id), 400} }

func (s *Streams) enter(o Opener) error {
	s.mu.Lock()
	defer s.mu.Unlock()
	switch {
	case s.all >= mostStreams:
		return ErrStreamsFull
	case s.open[o.name] >= o.most:
		return ErrLinkFull
	}
	s.open[o.name]++
	s.all++
	return nil
}

func (s *Streams) leave(o Opener) {
	s.mu.Lock()
	defer s.mu.Unlock()
	s.all--
	if s.open[o.name]--; s.open[o.name] == 0 {
		delete(s.open, o.name)
	}
}

// Carry puts the streams where handlers find them.
func (s *Streams) Carry(c fiber.Ctx) error {
	c.Locals(streamsKey, s)
	return c.Next()
}

const streamType = "text/event-stream"

// IsStream tells whether a request is answered with a stream: it packs itself, and whoever
// looks at its body waits for its end. The handler of its route has said so by then, however
// the address was spelt.
func IsStream(c fiber.Ctx) bool { return c.GetRespHeader(fiber.HeaderContentType) == streamType }

// A Part makes a part of a page as it is now, with the number of the last news in it.
type Part func(context.Context) (html []byte, seq int64, err error)

// Stream sends a part of a page at once, and anew whenever it has changed: when news come,
// and as the clock goes on. In between it shows that it is there. A part that may not be
// seen any more ends it; one that cannot be made just now is left out, so that the page
// knows that its news are old. It ends soon after the browser has gone, with a word or
// without. It is refused as [ErrLinkFull] or [ErrStreamsFull] where too many are open.
func Stream(c fiber.Ctx, a *actor.App, classID int64, by Opener, part Part) error {
	s, ok := c.Locals(streamsKey).(*Streams)
	if !ok {
		return errors.New("no streams are carried")
	}
	if err := s.enter(by); err != nil {
		return err
	}
	told, done := a.News(classID)
	c.Set(fiber.HeaderContentType, streamType)
	c.Set(fiber.HeaderCacheControl, "no-store")
	c.Set("X-Accel-Buffering", "no") // a proxy passes each event on at once
	zipped := strings.Contains(c.Get(fiber.HeaderAcceptEncoding), "gzip")
	if zipped {
		c.Set(fiber.HeaderContentEncoding, "gzip")
	}
	c.RequestCtx().SetConnectionClose() // what is set on it is for this stream alone
	peer := guard.PeerOf(c.RequestCtx().Conn())
	peer.GiveUpAfter(sentWithin)
	return c.SendStreamWriter(func(w *bufio.Writer) {
		defer s.leave(by)
		defer done()
		s.send(newLine(w, zipped, peer), told, part)
	})
}

// A line is a stream to a browser, packed where it can unpack: what a part repeats of the
// one before costs next to nothing.
type line struct {
	io.Writer
	out  *bufio.Writer
	peer guard.Peer
}

func newLine(w *bufio.Writer, zipped bool, peer guard.Peer) line {
	l := line{w, w, peer}
	if zipped {
		l.Writer = &packed{out: w}
	}
	return l
}

// event sends a text on at once.
func (l line) event(text string) error {
	l.peer.WriteWithin(sentWithin)
	if _, err := io.WriteString(l, text); err != nil {
		return err
	}
	return l.out.Flush()
}

func (s *Streams) send(w line, told <-chan struct{}, part Part) {
	ctx, gone := context.WithCancel(context.Background())
	defer gone()
	go watch(ctx, w.peer, s.closing, gone)
	var last []byte
	if w.event(fmt.Sprintf("retry: %d\n\n", comeBackMS)) != nil {
		return
	}
	for {
		making, made := context.WithTimeout(ctx, partPatience)
		html, seq, err := part(making)
		made()
		over := errors.Is(err, actor.ErrNotFound) || errors.Is(err, actor.ErrMayNot)
		var text string
		switch {
		case over:
			text = "event: over\ndata:\n\n"
		case err != nil:
			text = ": not now\n\n"
		case bytes.Equal(html, last):
			text = "event: pulse\ndata:\n\n"
		default:
			last = html
			text = fmt.Sprintf("id: %d\nevent: part\ndata: %s\n\n", seq, strings.ReplaceAll(string(html), "\n", "\ndata: "))
		}
		if w.event(text) != nil || over {
			return
		}
		select {
		case <-told:
		case <-time.After(beat):
		case <-ctx.Done():
			return
		}
	}
}

// watch ends a stream when the browser has gone, or everything ends.
func watch(ctx context.Context, peer guard.Peer, closing <-chan struct{}, gone func()) {
	defer gone()
	for !peer.Left() {
		select {
		case <-ctx.Done():
			return
		case <-closing:
			return
		case <-time.After(lookAfter):
		}
	}
}

// RenderPart makes a part of a page outside of a request.
func RenderPart(views fiber.Views, name string, p P, data fiber.Map) ([]byte, error) {
	all := fiber.Map{"P": p, "Version": version, "Problems": (*Refused)(nil)}
	for k, v := range data {
		all[k] = v
	}
	var out bytes.Buffer
	if err := views.Render(&out, name, all); err != nil {
		return nil, fmt.Errorf("showing %s: %w", name, err)
	}
	return bytes.TrimSpace(out.Bytes()), nil
}
