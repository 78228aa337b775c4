package guard

import (
	"context"
	"errors"
	"fmt"
	"io"
	"net"
	"os"
	"sync"
	"time"

	"github.com/gofiber/fiber/v3"
	"golang.org/x/sync/semaphore"

	"chalkstep/app/actor"
)

// How much a request may bring, and how slowly.
const (
	// visitorBytes before somebody has signed in.
	visitorBytes = 16 << 10
	// formBytes of a form of our own pages.
	formBytes = 512 << 10
	// heldAtOnce bytes of large bodies are held in memory at a time, one body of
	// each person; others wait.
	heldAtOnce = 4 * 33 << 20
	// slowest is how many bytes a second a body comes at, once bodyGrace is over:
	// a poor telephone line is faster.
	slowest   = 16 << 10
	bodyGrace = 5 * time.Second
)

// An Upload is a place where files may be sent to.
type Upload struct {
	// Route is the pattern of its address, Needs what somebody has to be allowed
	// to do to send anything there.
	Route     string
	Needs     actor.Permission
	MostBytes int
}

// Routing is how the router compares addresses with patterns.
var Routing = fiber.Config{StrictRouting: true, CaseSensitive: true}

// Body reads what a request brings, after it is known who sends it: little
// from a visitor, a form from those who are signed in, and files where they may
// send files. What is not read is let go by, so that the answer arrives. What
// comes too slowly is cut.
func (g *Guard) Body(uploads ...Upload) fiber.Handler {
	return func(c fiber.Ctx) error {
		body := c.Request().BodyStream()
		if body == nil {
			return c.Next()
		}
		stream := &paced{Reader: body, conn: c.RequestCtx().Conn(), began: time.Now()}
		who, signedIn := Who(c)
		most := visitorBytes
		if signedIn {
			most = formBytes
		}
		for _, u := range uploads {
			if !signedIn || !fiber.RoutePatternMatch(c.Path(), u.Route, Routing) {
				continue
			}
			if err := who.Need(u.Needs); err != nil {
				pass(stream)
				return err
			}
			most = u.MostBytes
		}
		if len(c.Request().Header.Peek(fiber.HeaderContentEncoding)) > 0 {
			pass(stream)
			return fiber.NewError(fiber.StatusUnsupportedMediaType, "a request is not taken in compressed")
		}
		claimed := c.Request().Header.ContentLength()
		if claimed > most {
			pass(stream)
			return fiber.ErrRequestEntityTooLarge
		}
		if claimed > formBytes || claimed < 0 && most > formBytes {
			size := claimed
			if size < 0 {
				size = most
			}
			ctx, cancel := context.WithTimeout(c.Context(), g.cfg.Patience)
			leave, err := g.bodies.enter(ctx, who.AccountID, int64(size))
			cancel()
			if err != nil {
				return fmt.Errorf("waiting for other uploads: %w", err)
			}
			defer leave()
			stream.began = time.Now()
		}
		data, err := io.ReadAll(io.LimitReader(stream, int64(most)+1))
		switch {
		case errors.Is(err, os.ErrDeadlineExceeded):
			c.RequestCtx().SetConnectionClose() // the rest of it is not waited for
			return fiber.NewError(fiber.StatusRequestTimeout, "the request came too slowly")
		case err != nil:
			return fiber.NewError(fiber.StatusBadRequest, "the request ended before it was whole")
		case len(data) > most:
			pass(stream)
			return fiber.ErrRequestEntityTooLarge
		}
		c.Request().SetBodyRaw(data)
		return c.Next()
	}
}

// mostPassed bytes are let go by before the connection is given up.
const mostPassed = 64 << 20

// pass lets a body go by without keeping it: a connection that is cut while
// the browser still sends shows its own error instead of our answer.
func pass(stream io.Reader) { _, _ = io.CopyN(io.Discard, stream, mostPassed) }

// A paced body is cut when it has come more slowly than the slowest that is
// waited for, counted from when it began.
type paced struct {
	io.Reader
	conn  net.Conn
	began time.Time
	n     int64
}

// Read implements [io.Reader].
func (p *paced) Read(b []byte) (int, error) {
	due := p.began.Add(bodyGrace + time.Duration(p.n)*time.Second/slowest)
	if err := p.conn.SetReadDeadline(due); err != nil {
		return 0, err
	}
	n, err := p.Reader.Read(b)
	p.n += int64(n)
	return n, err
}

// bodies are the places in which large bodies are held.
type bodies struct {
	all *semaphore.Weighted
	mu  sync.Mutex
	of  map[int64]*ownPlace
}

// An ownPlace is the one of a person; waiting counts who holds or wants it.
type ownPlace struct {
	one     *semaphore.Weighted
	waiting int
}

func newBodies() *bodies {
	return &bodies{all: semaphore.NewWeighted(heldAtOnce), of: map[int64]*ownPlace{}}
}

// enter waits for a place for so many bytes of a person's, until the context ends.
func (b *bodies) enter(ctx context.Context, accountID, size int64) (leave func(), err error) {
	b.mu.Lock()
	own := b.of[accountID]
	if own == nil {
		own = &ownPlace{one: semaphore.NewWeighted(1)}
		b.of[accountID] = own
	}
	own.waiting++
	b.mu.Unlock()
	done := func() {
		b.mu.Lock()
		defer b.mu.Unlock()
		if own.waiting--; own.waiting == 0 {
			delete(b.of, accountID)
		}
	}
	if err := own.one.Acquire(ctx, 1); err != nil {
		done()
		return nil, err
	}
	if err := b.all.Acquire(ctx, size); err != nil {
		own.one.Release(1)
		done()
		return nil, err
	}
	return func() {
		b.all.Release(size)
		own.one.Release(1)
		done()
	}, nil
}
