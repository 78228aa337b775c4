package guard

import (
	"context"
	"net"
	"syscall"
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
	go watch(c.RequestCtx().Conn(), done, cancel)
	return c.Next()
}

// lookAfter is how long a request is worked on before it is looked whether
// anybody still waits for it; most are done by then.
const lookAfter = 300 * time.Millisecond

// watch looks now and then whether the other end of a connection has gone.
func watch(conn net.Conn, done <-chan struct{}, gone func()) {
	tcp, ok := conn.(syscall.Conn)
	if !ok {
		return
	}
	raw, err := tcp.SyscallConn()
	if err != nil {
		return
	}
	for {
		select {
		case <-done:
			return
		case <-time.After(lookAfter):
		}
		if left(raw) {
			gone()
			return
		}
	}
}

// left peeks at a connection: one that is closed has nothing more to read,
// which is another thing than nothing to read yet.
func left(raw syscall.RawConn) bool {
	closed := false
	err := raw.Control(func(fd uintptr) {
		var one [1]byte
		n, _, err := syscall.Recvfrom(int(fd), one[:], syscall.MSG_PEEK|syscall.MSG_DONTWAIT)
		closed = n == 0 && err == nil
	})
	return closed || err != nil
}
