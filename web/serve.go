package web

import (
	"fmt"
	"net"
	"sync"
	"syscall"
	"time"

	"github.com/gofiber/fiber/v3"
)

// Serve answers on a listener until the face is shut down. That waits for what
// was asked, and not for connections that browsers open to spare and ask
// nothing over.
func Serve(f *fiber.App, l net.Listener) error {
	w := &watched{Listener: l, silent: map[net.Conn]bool{}}
	f.Hooks().OnPreShutdown(w.letGo)
	return f.Listener(w, fiber.ListenConfig{DisableStartupMessage: true})
}

// A watched listener knows which of its connections have not said a word.
type watched struct {
	net.Listener
	mu       sync.Mutex
	silent   map[net.Conn]bool
	stopping bool
	closed   error
}

// Accept implements [net.Listener].
func (w *watched) Accept() (net.Conn, error) {
	c, err := w.Listener.Accept()
	if err != nil {
		return nil, err
	}
	w.mu.Lock()
	defer w.mu.Unlock()
	if w.stopping {
		_ = c.Close() // the client finds out at once, and asks elsewhere
	} else {
		w.silent[c] = true
	}
	return &spoken{Conn: c, of: w}, nil
}

// letGo ends the silent ones, a moment later for what is on its way. It closes
// the listener too: the server does so only once it has begun to accept.
func (w *watched) letGo() error {
	const onItsWay = 100 * time.Millisecond
	err := w.Close()
	w.mu.Lock()
	defer w.mu.Unlock()
	for c := range w.silent {
		_ = c.SetReadDeadline(time.Now().Add(onItsWay))
	}
	return err
}

// Close implements [net.Listener]; closed again, it says what it said.
func (w *watched) Close() error {
	w.mu.Lock()
	defer w.mu.Unlock()
	if !w.stopping {
		w.stopping, w.closed = true, w.Listener.Close()
	}
	return w.closed
}

func (w *watched) forget(c net.Conn) {
	w.mu.Lock()
	defer w.mu.Unlock()
	delete(w.silent, c)
}

// A spoken connection tells its listener when it has said something, or ends.
type spoken struct {
	net.Conn
	of    *watched
	begun bool
}

// Read implements [net.Conn]. One goroutine at a time reads.
func (s *spoken) Read(b []byte) (int, error) {
	n, err := s.Conn.Read(b)
	if n > 0 && !s.begun {
		s.begun = true
		s.of.forget(s.Conn)
	}
	return n, err
}

// SyscallConn implements [syscall.Conn], so that it can be looked whether the
// other end is still there.
func (s *spoken) SyscallConn() (syscall.RawConn, error) {
	c, ok := s.Conn.(syscall.Conn)
	if !ok {
		return nil, fmt.Errorf("reaching below a connection: %T has nothing there", s.Conn)
	}
	return c.SyscallConn()
}

// Close implements [net.Conn].
func (s *spoken) Close() error {
	s.of.forget(s.Conn)
	return s.Conn.Close()
}
