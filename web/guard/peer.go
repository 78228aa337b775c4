package guard

import (
	"net"
	"syscall"
	"time"

	"golang.org/x/sys/unix"
)

// A Peer is the other end of a connection. The zero Peer never leaves.
type Peer struct {
	conn net.Conn
	raw  syscall.RawConn
}

// PeerOf looks at the other end of a connection.
func PeerOf(conn net.Conn) Peer {
	if c, ok := conn.(syscall.Conn); ok {
		if raw, err := c.SyscallConn(); err == nil {
			return Peer{conn, raw}
		}
	}
	return Peer{conn: conn}
}

// Left tells whether the other end has closed the connection. It peeks: a
// connection that is closed has nothing more to read, which is another thing
// than nothing to read yet.
func (p Peer) Left() bool {
	if p.raw == nil {
		return false
	}
	closed := false
	err := p.raw.Control(func(fd uintptr) {
		var one [1]byte
		n, _, err := syscall.Recvfrom(int(fd), one[:], syscall.MSG_PEEK|syscall.MSG_DONTWAIT)
		closed = n == 0 && err == nil || err == syscall.ECONNRESET
	})
	return closed || err != nil
}

// GiveUpAfter ends the connection once what was sent has not arrived for so
// long: the other end may be gone without a word.
func (p Peer) GiveUpAfter(silence time.Duration) {
	if p.raw == nil {
		return
	}
	_ = p.raw.Control(func(fd uintptr) {
		_ = unix.SetsockoptInt(int(fd), unix.IPPROTO_TCP, unix.TCP_USER_TIMEOUT, int(silence.Milliseconds()))
	})
}

// WriteWithin sets by when what is written next has to be on its way.
func (p Peer) WriteWithin(d time.Duration) {
	if p.conn != nil {
		_ = p.conn.SetWriteDeadline(time.Now().Add(d))
	}
}
