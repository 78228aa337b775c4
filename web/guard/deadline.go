package guard

import (
	"context"
	"time"

	"github.com/gofiber/fiber/v3"
)

// Deadline ends the work on a request after the set time, or when whoever
// asked has gone.
func (g *Guard) Deadline(c fiber.Ctx) error {
	ctx, cancel := context.WithTimeout(c.Context(), g.cfg.Patience)
	defer cancel()
	c.SetContext(ctx)
	done := make(chan struct{})
	defer close(done)
	go watch(PeerOf(c.RequestCtx().Conn()), done, cancel)
	return c.Next()
}

// lookAfter is how long a request is worked on before it is looked whether
// anybody still waits for it; most are done by then.
const lookAfter = 300 * time.Millisecond

// watch looks now and then whether the other end of a connection has gone.
func watch(peer Peer, done <-chan struct{}, gone func()) {
	for {
		select {
		case <-done:
			return
		case <-time.After(lookAfter):
		}
		if peer.Left() {
			gone()
			return
		}
	}
}
