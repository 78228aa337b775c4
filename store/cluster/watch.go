package cluster

import (
	"context"
	"fmt"
	"log/slog"
	"os"
	"strings"
	"syscall"
	"time"
)

// lookEvery is how often the watcher looks whether the server lives.
const lookEvery = 250 * time.Millisecond

// Watch starts the server again, on the same port, whenever it is gone, until
// [Cluster.Stop]. A server that is only slow is left alone.
func (c *Cluster) Watch() {
	ctx, cancel := context.WithCancel(context.Background())
	done := make(chan struct{})
	c.endWatch = func() {
		cancel()
		<-done
	}
	go func() {
		defer close(done)
		c.watch(ctx)
	}()
}

func (c *Cluster) watch(ctx context.Context) {
	ticker := time.NewTicker(lookEvery)
	defer ticker.Stop()
	down, tries := time.Time{}, 0
	for {
		select {
		case <-ctx.Done():
			return
		case <-ticker.C:
		}
		if c.lives() {
			continue
		}
		if tries == 0 {
			down = time.Now()
			slog.Error("the database is gone: starting it again")
		}
		// Processes of the old server may still be ending: then this fails,
		// and the next look tries once more.
		err := c.start(ctx)
		switch {
		case ctx.Err() != nil:
			return
		case err == nil:
			slog.Info("the database is back", "down", time.Since(down).Round(time.Millisecond), "tries", tries+1)
			tries = 0
			continue
		case tries%40 == 0:
			slog.Error("starting the database again", "error", err)
		}
		tries++
	}
}

// lives tells whether the server's own process is there and works. One that
// was killed, and that no parent has asked after yet, does not. The note may
// be older than the machine's last start, and its number another program's.
func (c *Cluster) lives() bool {
	p, noted := c.readPostmaster()
	if !noted {
		return false
	}
	name, state := process(p.pid)
	return strings.HasPrefix(name, "postgres") && state != "Z" && state != "X"
}

// process reads the name and the state of a process, as proc(5) tells them;
// both are empty where there is none.
func process(pid int) (name, state string) {
	text, err := os.ReadFile(fmt.Sprintf("/proc/%d/stat", pid))
	if err != nil {
		return "", ""
	}
	before, after, ok := strings.Cut(string(text), ") ")
	if !ok {
		return "", ""
	}
	_, name, _ = strings.Cut(before, "(")
	state, _, _ = strings.Cut(after, " ")
	return name, state
}

// Pid is the process id of the server, 0 while it is down.
func (c *Cluster) Pid() int {
	p, _ := c.readPostmaster()
	return p.pid
}

// owner is the user id a file belongs to.
func owner(info os.FileInfo) uint32 {
	if stat, ok := info.Sys().(*syscall.Stat_t); ok {
		return stat.Uid
	}
	return uint32(os.Geteuid())
}
