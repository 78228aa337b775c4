// Package cluster runs a private PostgreSQL server: a data folder of its own,
// on loopback only, for a workshop that has no database server and for tests.
// PostgreSQL refuses to run as root, so a root process starts it as the
// postgres user.
package cluster

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"net"
	"net/url"
	"os"
	"os/exec"
	"os/user"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
	"time"
)

const superuser = "chalkstep"

// A Cluster is a running server.
type Cluster struct {
	bin     string
	data    string
	port    int
	pass    string
	who     *syscall.Credential
	options Options
	// endWatch stops the watcher and waits for it; nil while nobody watches.
	endWatch func()
}

// Options say how a cluster is run.
type Options struct {
	// Throwaway gives up durability for speed: right for tests only.
	Throwaway bool
}

// Start creates the cluster in folder when it is not there yet, starts it on
// a free port of 127.0.0.1, and waits until it answers. A server that an
// earlier process left running in the folder is taken over.
func Start(ctx context.Context, folder string, o Options) (*Cluster, error) {
	bin, err := findBinaries()
	if err != nil {
		return nil, err
	}
	who, err := runAs()
	if err != nil {
		return nil, err
	}
	folder, err = filepath.Abs(folder)
	if err != nil {
		return nil, fmt.Errorf("finding the database folder: %w", err)
	}
	c := &Cluster{bin: bin, who: who, data: filepath.Join(folder, clusterFolder), options: o}
	if err := c.prepare(ctx, folder); err != nil {
		return nil, err
	}
	port, running, err := c.running(ctx)
	if err != nil {
		return nil, err
	}
	if running {
		c.port = port
		return c, c.waitReady(ctx)
	}
	if c.port, err = freePort(); err != nil {
		return nil, err
	}
	if err := c.startOver(ctx); err != nil {
		return nil, err
	}
	return c, c.waitReady(ctx)
}

// URL of a database in the cluster, as a connection string.
func (c *Cluster) URL(database string) string {
	u := url.URL{Scheme: "postgres", User: url.UserPassword(superuser, c.pass),
		Host: net.JoinHostPort("127.0.0.1", strconv.Itoa(c.port)), Path: database, RawQuery: "sslmode=disable"}
	return u.String()
}

// findBinaries looks where Debian puts the server, newest first.
func findBinaries() (string, error) {
	found, _ := filepath.Glob("/usr/lib/postgresql/*/bin/postgres")
	best, version := "", 0
	for _, path := range found {
		n, err := strconv.Atoi(filepath.Base(filepath.Dir(filepath.Dir(path))))
		if err == nil && n >= 15 && n > version {
			best, version = filepath.Dir(path), n
		}
	}
	if best == "" {
		return "", errors.New(
			"PostgreSQL 15 or newer is not installed: install Debian's package postgresql, or set DATABASE_URL to a server " +
				"you have")
	}
	return best, nil
}

// runAs is nil for an ordinary user and the postgres user for root.
func runAs() (*syscall.Credential, error) {
	if os.Geteuid() != 0 {
		return nil, nil
	}
	account, err := user.Lookup("postgres")
	if err != nil {
		return nil, fmt.Errorf("PostgreSQL does not run as root, and there is no postgres user to run it as: %w", err)
	}
	uid, err := strconv.ParseUint(account.Uid, 10, 32)
	if err != nil {
		return nil, fmt.Errorf("reading the postgres user's id: %w", err)
	}
	gid, err := strconv.ParseUint(account.Gid, 10, 32)
	if err != nil {
		return nil, fmt.Errorf("reading the postgres user's group: %w", err)
	}
	return &syscall.Credential{Uid: uint32(uid), Gid: uint32(gid)}, nil
}

// start starts the server on the cluster's port.
func (c *Cluster) start(ctx context.Context) error {
	settings := "-p " + strconv.Itoa(c.port) +
		" -c listen_addresses=127.0.0.1 -c unix_socket_directories='' -c timezone=UTC"
	if c.options.Throwaway {
		settings += " -c fsync=off -c synchronous_commit=off -c full_page_writes=off"
	}
	logFile := filepath.Join(c.data, "server.log")
	if err := c.run(ctx, "pg_ctl", "start", "-D", c.data, "-l", logFile, "-w", "-t", "60", "-o", settings); err != nil {
		text, _ := os.ReadFile(logFile)
		return fmt.Errorf("the database does not start: %w: %s", err, lastLines(text))
	}
	return nil
}

// startOver starts the server. Where one before it was killed, its processes
// may still be ending, and the new one refuses to start beside them: then it
// is tried again for a while.
func (c *Cluster) startOver(ctx context.Context) error {
	const patience = 30 * time.Second
	_, killed := c.readPostmaster()
	for begin := time.Now(); ; {
		err := c.start(ctx)
		if err == nil || !killed || time.Since(begin) > patience {
			return err
		}
		select {
		case <-ctx.Done():
			return err
		case <-time.After(lookEvery):
		}
	}
}

// postmaster is what a running server writes down of itself.
type postmaster struct {
	pid, port int
	data      string
}

// readPostmaster reads the note of a server in the folder; ok is false where
// there is none.
func (c *Cluster) readPostmaster() (p postmaster, ok bool) {
	const pidLine, dataLine, portLine = 0, 1, 3
	text, err := os.ReadFile(filepath.Join(c.data, "postmaster.pid"))
	if err != nil {
		return p, false
	}
	lines := strings.Split(string(text), "\n")
	if len(lines) <= portLine {
		return p, false
	}
	p.data = strings.TrimSpace(lines[dataLine])
	p.pid, err = strconv.Atoi(strings.TrimSpace(lines[pidLine]))
	if err != nil {
		return p, false
	}
	p.port, err = strconv.Atoi(strings.TrimSpace(lines[portLine]))
	return p, err == nil
}

// running finds the port of a server that already runs in the folder. A note
// that came along when somebody copied the folder of a running server names
// the folder it was copied from: that server is not ours to take, and what
// was copied under its hands may be torn. One that came along when a folder
// was moved after a power cut speaks of nothing that runs.
func (c *Cluster) running(ctx context.Context) (port int, running bool, err error) {
	p, noted := c.readPostmaster()
	if !noted {
		return 0, false, nil
	}
	if origin := (&Cluster{data: p.data}); p.data != c.data && origin.lives() {
		return 0, false, fmt.Errorf(
			"the database in %s was copied from %s while it was running, so the copy may be torn: stop Chalk Step there, "+
				"copy its data folder again, and start from the new copy", c.data, p.data)
	}
	if p.data != c.data || !c.lives() {
		return 0, false, nil
	}
	return p.port, true, nil
}

func (c *Cluster) waitReady(ctx context.Context) error {
	if err := c.run(ctx, "pg_isready", "-h", "127.0.0.1", "-p", strconv.Itoa(c.port), "-t", "30"); err != nil {
		return fmt.Errorf("the database does not answer: %w", err)
	}
	return nil
}

func (c *Cluster) run(ctx context.Context, program string, args ...string) error {
	// Output goes to a file, not a pipe: the server that pg_ctl leaves behind
	// would hold the pipe open.
	var out bytes.Buffer
	cmd := c.command(ctx, filepath.Join(c.bin, program), args...)
	if program != "pg_ctl" || args[0] != "start" {
		cmd.Stdout, cmd.Stderr = &out, &out
	}
	if err := cmd.Run(); err != nil {
		return fmt.Errorf("%s: %w: %s", program, err, lastLines(out.Bytes()))
	}
	return nil
}

// command runs a program as the cluster's user, away from the terminal's
// interrupt key, which is meant for the application alone.
func (c *Cluster) command(ctx context.Context, path string, args ...string) *exec.Cmd {
	cmd := exec.CommandContext(ctx, path, args...)
	cmd.Dir = "/"
	cmd.SysProcAttr = &syscall.SysProcAttr{Credential: c.who, Setpgid: true}
	return cmd
}

func freePort() (int, error) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return 0, fmt.Errorf("finding a free port: %w", err)
	}
	defer l.Close()
	return l.Addr().(*net.TCPAddr).Port, nil
}

func lastLines(text []byte) string {
	lines := strings.Split(strings.TrimSpace(string(text)), "\n")
	return strings.Join(lines[max(0, len(lines)-3):], " / ")
}
