//go:build attack

package attack

import (
	"fmt"
	"net/http"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/store"
	"chalkstep/store/storetest"
)

// A disk of 400 MB fills up to the last byte while a class runs: what is there is read, what
// cannot be saved is said, and it goes on by itself once there is room. What was acknowledged
// is there.
func TestTheDiskFillsUp(t *testing.T) {
	dir := storetest.Folder(t)
	if out, err := exec.Command("mount", "-t", "tmpfs", "-o", "size=400m", "tmpfs", dir).CombinedOutput(); err != nil {
		t.Skipf("a small disk cannot be mounted here: %v: %s", err, out)
	}
	t.Cleanup(func() { _ = exec.Command("umount", dir).Run() })
	p := run(t, []string{"demo", "--data", filepath.Join(dir, "data")})
	c := signedIn(t, p.base, store.Instructor)
	token := c.token(t, "/students")
	acknowledged := 0
	add := func() (int, string) {
		status, page, err := c.post("/students", url.Values{"_csrf": {token}, "name": {fmt.Sprint("Student ", acknowledged)}})
		require.NoError(t, err)
		if status == http.StatusOK {
			acknowledged++
		}
		return status, page
	}
	for range 20 {
		status, _ := add()
		require.Equal(t, http.StatusOK, status)
	}
	require.ErrorIs(t, fill(filepath.Join(dir, "ballast")), syscall.ENOSPC)
	refused := 0
	begin := time.Now()
	for time.Since(begin) < 20*time.Second {
		status, page := add()
		assert.Equal(t, http.StatusServiceUnavailable, status)
		assert.Contains(t, page, "The disk of this server is full")
		refused++
		for _, path := range []string{"/", "/classes/2/run", "/classes/3", "/classes/4/levers", "/students", "/stock"} {
			status, _ := c.get(t, path)
			assert.Equal(t, http.StatusOK, status, path)
		}
		status, _ = newClient(p.base).get(t, "/readyz")
		assert.Equal(t, http.StatusServiceUnavailable, status)
		time.Sleep(200 * time.Millisecond)
	}
	require.NoError(t, os.Remove(filepath.Join(dir, "ballast")))
	room := time.Now()
	require.Eventually(t, func() bool { status, _ := add(); return status == http.StatusOK }, time.Minute,
		50*time.Millisecond)
	again := time.Since(room)
	status, _ := newClient(p.base).get(t, "/readyz")
	assert.Equal(t, http.StatusOK, status)
	_, list := c.get(t, "/students?words=Student")
	assert.Contains(t, list, fmt.Sprint(acknowledged))
	row("a disk full to the last byte for 20 s",
		fmt.Sprintf("%d saves refused in words, pages read, saving again %v after there was room", refused,
			again.Round(10*time.Millisecond)), "no page fails")
	p.stop(t)
}

// fill writes until the disk is full.
func fill(path string) error {
	file, err := os.Create(path)
	if err != nil {
		return err
	}
	defer file.Close()
	for block := make([]byte, 1<<20); ; {
		n, err := file.Write(block)
		if err != nil && n == 0 && len(block) == 1 {
			return err
		}
		if err != nil {
			block = block[:max(1, len(block)/2)]
		}
	}
}

// A database that stands still is said in words, and the program that is stopped meanwhile
// ends cleanly; the next start has everything.
func TestStoppedWhileTheDatabaseStandsStill(t *testing.T) {
	dir := storetest.Folder(t)
	p := run(t, []string{"demo", "--data", dir, "--patience", "3s"})
	c := signedIn(t, p.base, store.Instructor)
	status, _, err := c.post("/students", url.Values{"_csrf": {c.token(t, "/students")}, "name": {"Nell Starling"}})
	require.NoError(t, err)
	require.Equal(t, http.StatusOK, status)
	pid, _ := postmaster(dir)
	require.Positive(t, pid)
	for _, one := range append(childrenOf(t, pid), pid) {
		require.NoError(t, syscall.Kill(one, syscall.SIGSTOP))
	}
	status, page := c.get(t, "/students")
	assert.Equal(t, http.StatusServiceUnavailable, status)
	assert.Contains(t, page, "The database does not answer just now.")
	begin := time.Now()
	p.stop(t)
	took := time.Since(begin)
	assert.NotContains(t, p.said(), "goroutine ")
	assert.Contains(t, p.said(), "the next start goes on from its log")
	again := run(t, []string{"demo", "--data", dir})
	_, list := signedIn(t, again.base, store.Instructor).get(t, "/students?words=Nell")
	assert.Contains(t, list, "Nell Starling")
	again.stop(t)
	row("stopped while the database stands still", fmt.Sprintf("ended in %v, and started again", took.Round(time.Second)),
		"45 s, all there")
	assert.Less(t, took, 45*time.Second)
}

func childrenOf(t *testing.T, pid int) (all []int) {
	t.Helper()
	text, err := os.ReadFile(fmt.Sprintf("/proc/%d/task/%d/children", pid, pid))
	require.NoError(t, err)
	for _, word := range strings.Fields(string(text)) {
		var n int
		_, err := fmt.Sscan(word, &n)
		require.NoError(t, err)
		all = append(all, n)
	}
	return all
}
