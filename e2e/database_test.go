package e2e

import (
	"context"
	"database/sql"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
	"testing"
	"time"

	"chalkstep/store/storetest"

	_ "github.com/jackc/pgx/v5/stdlib" // the driver of sql.Open below
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// postmaster finds the private database of a data folder: its process and its
// address.
func postmaster(t *testing.T, folder string) (pid int, address string) {
	t.Helper()
	text, err := os.ReadFile(filepath.Join(folder, "postgres", "postmaster.pid"))
	require.NoError(t, err)
	lines := strings.Split(string(text), "\n")
	pid, err = strconv.Atoi(lines[0])
	require.NoError(t, err)
	password, err := os.ReadFile(filepath.Join(folder, "postgres-password"))
	require.NoError(t, err)
	return pid, fmt.Sprintf("postgres://chalkstep:%s@127.0.0.1:%s/postgres?sslmode=disable",
		strings.TrimSpace(string(password)), strings.TrimSpace(lines[3]))
}

// status asks for a page and gives its status and its text. A page that does
// not answer, although it could, ends the test.
func (c *client) status(t *testing.T, path string) (int, string) {
	t.Helper()
	ctx, cancel := context.WithTimeout(t.Context(), patience)
	defer cancel()
	request, err := http.NewRequestWithContext(ctx, http.MethodGet, c.base+path, nil)
	require.NoError(t, err)
	answer, err := c.http.Do(request)
	require.NoError(t, err, "%s does not answer", path)
	defer answer.Body.Close()
	body, err := io.ReadAll(answer.Body)
	require.NoError(t, err)
	return answer.StatusCode, string(body)
}

// The private database is killed, and comes back; it freezes, and goes on.
// Meanwhile pages say so, those that do not need it are there, and nobody is
// signed out.
func TestTheDatabaseGoesAndComesBack(t *testing.T) {
	path, folder := binary(t), storetest.Folder(t)
	p := run(t, path, folder, "--patience", "3s")
	defer p.stop(t)
	c := signedIn(t, p.base)
	visitor := newClient(t, p.base)

	pid, _ := postmaster(t, folder)
	require.NoError(t, syscall.Kill(pid, syscall.SIGKILL))
	sawDown, saidSo := false, false
	require.Eventually(t, func() bool {
		ready, _ := visitor.status(t, "/readyz")
		status, page := c.status(t, "/students")
		sawDown = sawDown || ready == http.StatusServiceUnavailable || status == http.StatusServiceUnavailable
		if status == http.StatusServiceUnavailable {
			saidSo = true
			assert.Equal(t, "The database does not answer just now.", answerOf(page))
		} else {
			assert.Equal(t, http.StatusOK, status)
		}
		return sawDown && ready == http.StatusOK && status == http.StatusOK
	}, time.Minute, 50*time.Millisecond)
	assert.True(t, saidSo)
	assert.Contains(t, c.get(t, "/students"), "Sign out", "the session is still there")

	pid, _ = postmaster(t, folder)
	frozen := append(children(t, pid), pid)
	for _, one := range frozen {
		require.NoError(t, syscall.Kill(one, syscall.SIGSTOP))
	}
	for path, want := range map[string]int{"/healthz": 200, "/static/app.css": 200, "/sign-in": 200, "/readyz": 503} {
		status, _ := visitor.status(t, path)
		assert.Equal(t, want, status, path)
	}
	status, page := c.status(t, "/students")
	assert.Equal(t, http.StatusServiceUnavailable, status)
	assert.NotEmpty(t, answerOf(page))
	for _, one := range frozen {
		_ = syscall.Kill(one, syscall.SIGCONT)
	}
	require.Eventually(t, func() bool {
		status, _ := c.status(t, "/students")
		return status == http.StatusOK
	}, time.Minute, 100*time.Millisecond)
	assert.NotContains(t, p.said(), "goroutine ", "a line for each, and no stack")
}

// children of a process, as the system lists them.
func children(t *testing.T, pid int) []int {
	t.Helper()
	text, err := os.ReadFile(fmt.Sprintf("/proc/%d/task/%d/children", pid, pid))
	require.NoError(t, err)
	var all []int
	for _, word := range strings.Fields(string(text)) {
		n, err := strconv.Atoi(word)
		require.NoError(t, err)
		all = append(all, n)
	}
	return all
}

// A form that is being worked on when the program is asked to stop is finished.
func TestAFormIsFinishedBeforeStopping(t *testing.T) {
	path, folder := binary(t), storetest.Folder(t)
	p := run(t, path, folder)
	c := signedIn(t, p.base)
	_, address := postmaster(t, folder)
	db, err := sql.Open("pgx", address)
	require.NoError(t, err)
	held, err := db.Begin()
	require.NoError(t, err)
	_, err = held.Exec("LOCK TABLE students IN ACCESS EXCLUSIVE MODE")
	require.NoError(t, err)
	form := url.Values{"_csrf": {c.token(t, "/stock/1")}, "name": {"Nell Starling"}}
	status := make(chan int, 1)
	go func() {
		n, _ := c.postNoFollow("/students", form)
		status <- n
	}()
	waitsForLock := func() bool {
		n := 0
		require.NoError(t, db.QueryRow("SELECT count(*) FROM pg_locks WHERE NOT granted").Scan(&n))
		return n > 0
	}
	require.Eventually(t, waitsForLock, patience, 20*time.Millisecond)
	require.NoError(t, p.cmd.Process.Signal(os.Interrupt))
	time.Sleep(500 * time.Millisecond) // it is stopping, and waits
	require.NoError(t, held.Rollback())
	assert.Equal(t, http.StatusSeeOther, <-status)
	require.NoError(t, db.Close())
	require.NoError(t, p.cmd.Wait())

	again := run(t, path, folder)
	defer again.stop(t)
	assert.Contains(t, signedIn(t, again.base).get(t, "/students"), "Nell Starling")
}

// postNoFollow sends a form and does not go where the answer leads.
func (c *client) postNoFollow(path string, form url.Values) (int, error) {
	still := *c.http
	still.CheckRedirect = func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }
	answer, err := still.PostForm(c.base+path, form)
	if err != nil {
		return 0, err
	}
	defer answer.Body.Close()
	return answer.StatusCode, nil
}
