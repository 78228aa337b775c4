//go:build attack

// Package attack does to the application what an hour of strangers did: races,
// kills, floods, years of growth and load. It prints what it measured as one
// table, and fails where something does not hold. Run it with make attack.
package attack

import (
	"fmt"
	"io"
	"net"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"testing"
	"text/tabwriter"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/demo"
	"chalkstep/store"
	"chalkstep/store/storetest"
)

var table = tabwriter.NewWriter(os.Stdout, 0, 4, 2, ' ', 0)

// row is a line of the table.
func row(what, figure, bar string) { fmt.Fprintf(table, "%s\t%s\t%s\n", what, figure, bar) }

func TestMain(m *testing.M) {
	fmt.Fprintln(table, "attacked\tmeasured\tbar")
	storetest.Then = func() { table.Flush() }
	storetest.Main(m)
}

// binary builds the program as it ships, once.
func binary(t *testing.T) string {
	t.Helper()
	path := filepath.Join(os.TempDir(), "chalkstep-attacked")
	out, err := exec.Command("go", "build", "-o", path, "../cmd/chalkstep").CombinedOutput()
	require.NoError(t, err, string(out))
	return path
}

// A program is a running chalkstep.
type program struct {
	cmd  *exec.Cmd
	base string
	log  string
	done chan error
}

// run starts the program and waits until it is ready.
func run(t *testing.T, args []string, env ...string) *program {
	t.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	address := l.Addr().String()
	require.NoError(t, l.Close())
	log := filepath.Join(t.TempDir(), "log")
	file, err := os.Create(log)
	require.NoError(t, err)
	defer file.Close()
	cmd := exec.Command(binary(t), append(args, "--address", address)...)
	cmd.Env = append(append(os.Environ(), "DATABASE_URL="), env...)
	cmd.Stdout, cmd.Stderr = file, file
	require.NoError(t, cmd.Start())
	p := &program{cmd: cmd, base: "http://" + address, log: log, done: make(chan error, 1)}
	go func() { p.done <- cmd.Wait() }()
	t.Cleanup(func() { _ = cmd.Process.Kill() })
	ready := func() bool {
		answer, err := http.Get(p.base + "/readyz")
		if err != nil {
			return false
		}
		answer.Body.Close()
		return answer.StatusCode == http.StatusOK
	}
	if !assert.Eventually(t, ready, 2*time.Minute, 100*time.Millisecond) {
		t.Fatalf("the program does not start: %s", p.said())
	}
	return p
}

func (p *program) said() string {
	text, _ := os.ReadFile(p.log)
	return string(text)
}

// memory of the program in MB, as the system counts it.
func (p *program) memory(t *testing.T) float64 {
	t.Helper()
	text, err := os.ReadFile(fmt.Sprintf("/proc/%d/status", p.cmd.Process.Pid))
	require.NoError(t, err)
	found := regexp.MustCompile(`VmRSS:\s+(\d+) kB`).FindSubmatch(text)
	require.NotNil(t, found)
	kB, err := strconv.ParseFloat(string(found[1]), 64)
	require.NoError(t, err)
	return kB / 1000
}

// stop asks the program to end and waits for it.
func (p *program) stop(t *testing.T) {
	t.Helper()
	require.NoError(t, p.cmd.Process.Signal(os.Interrupt))
	require.NoError(t, <-p.done)
}

// A client is a browser without its window.
type client struct {
	base string
	http *http.Client
}

func newClient(base string) *client {
	jar, _ := cookiejar.New(nil)
	return &client{base, &http.Client{Jar: jar, Timeout: 2 * time.Minute}}
}

func (c *client) get(t testing.TB, path string) (int, string) {
	t.Helper()
	answer, err := c.http.Get(c.base + path)
	require.NoError(t, err)
	defer answer.Body.Close()
	body, err := io.ReadAll(answer.Body)
	require.NoError(t, err)
	return answer.StatusCode, string(body)
}

var tokenField = regexp.MustCompile(`name="_csrf" value="([^"]+)"`)

// token finds the form token on a page.
func (c *client) token(t testing.TB, path string) string {
	t.Helper()
	_, page := c.get(t, path)
	found := tokenField.FindStringSubmatch(page)
	require.NotNil(t, found, "no form token on %s", path)
	return found[1]
}

// post sends a form and returns the status of what follows.
func (c *client) post(path string, form url.Values) (int, string, error) {
	answer, err := c.http.PostForm(c.base+path, form)
	if err != nil {
		return 0, "", err
	}
	defer answer.Body.Close()
	body, err := io.ReadAll(answer.Body)
	return answer.StatusCode, string(body), err
}

// signedIn is a client of one of the demo's people.
func signedIn(t testing.TB, base string, role store.Role) *client {
	t.Helper()
	c := newClient(base)
	for _, l := range demo.Logins {
		if l.Role != role {
			continue
		}
		status, page, err := c.post("/sign-in",
			url.Values{"_csrf": {c.token(t, "/sign-in")}, "email": {l.Email}, "password": {l.Password}})
		require.NoError(t, err)
		require.Equal(t, http.StatusOK, status)
		require.Contains(t, page, "Sign out")
	}
	return c
}

func mustParse(address string) *url.URL {
	u, err := url.Parse(address)
	if err != nil {
		panic(err)
	}
	return u
}
