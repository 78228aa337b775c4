package cluster

import (
	"context"
	"fmt"
	"log/slog"
	"os"
	"strconv"
	"strings"
	"syscall"
	"time"
)

// How long a server may take to stop in order, and to go once it was ended.
const (
	stopPatience = 25 * time.Second
	endPatience  = 5 * time.Second
)

// Stop ends the watching and the server, in order, and waits for both. A server that does not
// stop, because its disk or the whole machine stands still, is ended: everything it was told
// to keep is in its log, from which the next start goes on.
func (c *Cluster) Stop() error {
	if c.endWatch != nil {
		c.endWatch()
	}
	p, _ := c.readPostmaster()
	all := append(children(p.pid), p.pid)
	seconds := strconv.Itoa(int(stopPatience.Seconds()))
	ctx, cancel := context.WithTimeout(context.Background(), stopPatience+endPatience)
	defer cancel()
	err := c.run(ctx, "pg_ctl", "stop", "-D", c.data, "-m", "fast", "-w", "-t", seconds)
	if err == nil || !c.lives() {
		return err
	}
	slog.Warn("the database does not stop, so it is ended: the next start goes on from its log", "error", err)
	for _, pid := range append(all, children(p.pid)...) {
		if name, _ := process(pid); pid > 1 && strings.HasPrefix(name, "postgres") {
			_ = syscall.Kill(pid, syscall.SIGKILL)
		}
	}
	for end := time.Now().Add(endPatience); c.lives(); time.Sleep(lookEvery) {
		if time.Now().After(end) {
			return fmt.Errorf("ending the database: process %d is still there", p.pid)
		}
	}
	return nil
}

// children of a process, as proc(5) lists them.
func children(pid int) []int {
	text, err := os.ReadFile(fmt.Sprintf("/proc/%d/task/%d/children", pid, pid))
	if err != nil {
		return nil
	}
	var all []int
	for _, word := range strings.Fields(string(text)) {
		if n, err := strconv.Atoi(word); err == nil {
			all = append(all, n)
		}
	}
	return all
}
