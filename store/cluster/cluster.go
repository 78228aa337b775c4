// Package cluster runs a private PostgreSQL server: a data folder of its own,
// on loopback only, for a workshop that has no database server and for tests.
// PostgreSQL refuses to run as root, so a root process starts it as the
// postgres user.
package cluster

import (
	"bytes"
	"context"
	"crypto/rand"
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
	bin  string
	data string
	port int
	pass string
	who  *syscall.Credential
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
	c := &Cluster{bin: bin, who: who, data: filepath.Join(folder, "postgres")}
	if err := c.prepare(ctx, folder, o); err != nil {
		return nil, err
	}
	if port, running := c.running(ctx); running {
		c.port = port
		return c, c.waitReady(ctx)
	}
	if c.port, err = freePort(); err != nil {
		return nil, err
	}
	if err := c.start(ctx, o); err != nil {
		return nil, err
	}
	return c, c.waitReady(ctx)
}

// URL of a database in the cluster, as a connection string.
func (c *Cluster) URL(database string) string {
	u := url.URL{Scheme: "postgres", User: url.UserPassword(superuser, c.pass), Host: net.JoinHostPort("127.0.0.1", strconv.Itoa(c.port)), Path: database, RawQuery: "sslmode=disable"}
	return u.String()
}

// Stop ends the server in order and waits for it.
func (c *Cluster) Stop() error {
	ctx, cancel := context.WithTimeout(context.Background(), 30*time.Second)
	defer cancel()
	if err := c.run(ctx, "pg_ctl", "stop", "-D", c.data, "-m", "fast", "-w", "-t", "25"); err != nil {
		return fmt.Errorf("stopping the database: %w", err)
	}
	return nil
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
		return "", errors.New("PostgreSQL 15 or newer is not installed: install Debian's package postgresql, or set DATABASE_URL to a server you have")
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

// prepare makes the folder and, the first time, the cluster in it.
func (c *Cluster) prepare(ctx context.Context, folder string, o Options) error {
	if err := os.MkdirAll(folder, 0o755); err != nil {
		return fmt.Errorf("making the data folder: %w", err)
	}
	if c.who != nil && !c.canEnter(ctx, folder) {
		if err := c.moveOut(folder); err != nil {
			return err
		}
	}
	passwordFile := filepath.Join(folder, "postgres-password")
	if _, err := os.Stat(filepath.Join(c.data, "PG_VERSION")); err == nil {
		pass, err := os.ReadFile(passwordFile)
		if err != nil {
			return fmt.Errorf("reading the database password beside its folder: %w", err)
		}
		c.pass = strings.TrimSpace(string(pass))
		return nil
	}
	// A cluster half made when the power went is made again.
	if err := os.RemoveAll(c.data); err != nil {
		return fmt.Errorf("clearing an unfinished database folder: %w", err)
	}
	if err := os.MkdirAll(c.data, 0o700); err != nil {
		return fmt.Errorf("making the database folder: %w", err)
	}
	if c.who != nil {
		if err := os.Chown(c.data, int(c.who.Uid), int(c.who.Gid)); err != nil {
			return fmt.Errorf("giving the database folder to the postgres user: %w", err)
		}
	}
	c.pass = rand.Text()
	if err := os.WriteFile(passwordFile, []byte(c.pass+"\n"), 0o600); err != nil {
		return fmt.Errorf("keeping the database password: %w", err)
	}
	return c.initialise(ctx, o)
}

// canEnter tells whether the postgres user can reach the folder at all.
func (c *Cluster) canEnter(ctx context.Context, folder string) bool {
	cmd := c.command(ctx, "/usr/bin/test", "-x", folder)
	return cmd.Run() == nil
}

// moveOut puts the cluster where the postgres user can reach it, when the
// project lies in a folder closed to it, as root's home is.
func (c *Cluster) moveOut(folder string) error {
	name := strings.Trim(strings.ReplaceAll(folder, string(filepath.Separator), "-"), "-")
	home := filepath.Join("/var/lib/chalkstep", name)
	if err := os.MkdirAll(home, 0o755); err != nil {
		return fmt.Errorf("the postgres user cannot enter %s, and making %s failed: %w", folder, home, err)
	}
	c.data = filepath.Join(home, "postgres")
	note := "The postgres user cannot enter this folder, so the database lies in\n" + c.data + "\n"
	if err := os.WriteFile(filepath.Join(folder, "DATABASE-IS-ELSEWHERE.txt"), []byte(note), 0o644); err != nil {
		return fmt.Errorf("noting where the database lies: %w", err)
	}
	return nil
}

// initialise creates the cluster. The password reaches initdb in a file of
// its own, as the postgres user may not read one of root's.
func (c *Cluster) initialise(ctx context.Context, o Options) error {
	passwordFile := filepath.Join(filepath.Dir(c.data), "initial-password")
	if err := os.WriteFile(passwordFile, []byte(c.pass+"\n"), 0o600); err != nil {
		return fmt.Errorf("handing over the database password: %w", err)
	}
	defer os.Remove(passwordFile)
	if c.who != nil {
		if err := os.Chown(passwordFile, int(c.who.Uid), int(c.who.Gid)); err != nil {
			return fmt.Errorf("handing over the database password: %w", err)
		}
	}
	args := []string{"-D", c.data, "-U", superuser, "--auth=scram-sha-256", "--pwfile=" + passwordFile, "--encoding=UTF8", "--locale=C.UTF-8"}
	if o.Throwaway {
		args = append(args, "--no-sync")
	}
	if out, err := c.command(ctx, filepath.Join(c.bin, "initdb"), args...).CombinedOutput(); err != nil {
		return fmt.Errorf("creating the database: %w: %s", err, lastLines(out))
	}
	return nil
}

func (c *Cluster) start(ctx context.Context, o Options) error {
	settings := "-p " + strconv.Itoa(c.port) + " -c listen_addresses=127.0.0.1 -c unix_socket_directories='' -c timezone=UTC"
	if o.Throwaway {
		settings += " -c fsync=off -c synchronous_commit=off -c full_page_writes=off"
	}
	logFile := filepath.Join(c.data, "server.log")
	if err := c.run(ctx, "pg_ctl", "start", "-D", c.data, "-l", logFile, "-w", "-t", "60", "-o", settings); err != nil {
		text, _ := os.ReadFile(logFile)
		return fmt.Errorf("the database does not start: %w: %s", err, lastLines(text))
	}
	return nil
}

// running finds the port of a server that already runs in the folder.
func (c *Cluster) running(ctx context.Context) (int, bool) {
	if c.run(ctx, "pg_ctl", "status", "-D", c.data) != nil {
		return 0, false
	}
	const portLine = 3
	pid, err := os.ReadFile(filepath.Join(c.data, "postmaster.pid"))
	if err != nil {
		return 0, false
	}
	lines := strings.Split(string(pid), "\n")
	if len(lines) <= portLine {
		return 0, false
	}
	port, err := strconv.Atoi(strings.TrimSpace(lines[portLine]))
	return port, err == nil
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
