package e2e

import (
	"bufio"
	"context"
	"fmt"
	"math/rand/v2"
	"net"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/stitch"
	_ "chalkstep/core/stitch/exp" // formats of the demo's files
	_ "chalkstep/core/stitch/pes"
	"chalkstep/core/stitch/stitchtest"
	"chalkstep/store/storetest"
)

// programs is where the program is built, once.
var programs = filepath.Join(os.TempDir(), fmt.Sprint("chalkstep-e2e-", os.Getpid()))

var built = sync.OnceValues(func() ([]byte, error) {
	return exec.Command("go", "build", "-o", filepath.Join(programs, "chalkstep"), "../cmd/chalkstep").CombinedOutput()
})

// binary builds the program as it ships.
func binary(t *testing.T) string {
	t.Helper()
	out, err := built()
	require.NoError(t, err, string(out))
	return filepath.Join(programs, "chalkstep")
}

// A program is a running chalkstep demo.
type program struct {
	cmd  *exec.Cmd
	base string
	log  string
}

// said is what it has logged so far.
func (p *program) said() string {
	text, _ := os.ReadFile(p.log)
	return string(text)
}

// run starts the program and waits until it is ready.
func run(t *testing.T, path, folder string, flags ...string) *program {
	t.Helper()
	cmd := exec.Command(path, append([]string{"demo", "--data", folder, "--address", freeAddress(t)}, flags...)...)
	// The settings of whoever runs the tests do not reach the program.
	cmd.Env = append(os.Environ(), "DATABASE_URL=")
	out, err := cmd.StdoutPipe()
	require.NoError(t, err)
	log, err := os.Create(filepath.Join(t.TempDir(), "log"))
	require.NoError(t, err)
	defer log.Close()
	cmd.Stderr = log
	require.NoError(t, cmd.Start())
	p := &program{cmd: cmd, log: log.Name()}
	lines := bufio.NewScanner(out)
	for lines.Scan() {
		if _, address, found := strings.Cut(lines.Text(), "Chalk Step is at "); found {
			p.base = address
			break
		}
	}
	require.NotEmpty(t, p.base, "the program did not start: %s", p.said())
	go func() {
		for lines.Scan() {
		}
	}()
	return p
}

func freeAddress(t *testing.T) string {
	t.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	defer l.Close()
	return l.Addr().String()
}

// stop ends the program as Ctrl-C does.
func (p *program) stop(t *testing.T) {
	t.Helper()
	require.NoError(t, p.cmd.Process.Signal(os.Interrupt))
	require.NoError(t, p.cmd.Wait(), "stopping is not an error")
}

var laterStops = regexp.MustCompile(`stops-from=(\d+)">Later stops`)

// Killing the program while files are being added leaves every design whole
// or absent, and the next start works.
func TestKilledInTheMiddleOfAnUpload(t *testing.T) {
	path, folder := binary(t), storetest.Folder(t)
	data := func(seed uint64) []byte {
		encoded, err := stitch.Encode("x.dst", stitchtest.Random(rand.New(rand.NewPCG(seed, 1)), 30_000, 60))
		require.NoError(t, err)
		return encoded
	}
	sent := uint64(0)
	for round := range 3 {
		p := run(t, path, folder)
		c := signedIn(t, p.base)
		token := c.token(t, "/designs")
		ctx, cancel := context.WithCancel(t.Context())
		stopped, through := make(chan struct{}), make(chan struct{}, 1)
		go func() {
			defer close(stopped)
			for ctx.Err() == nil {
				sent++
				if _, err := c.upload(token, "flood-"+strconv.FormatUint(sent, 10)+".dst", data(sent)); err != nil {
					return
				}
				select {
				case through <- struct{}{}:
				default:
				}
			}
		}()
		select { // one got through, however slow the machine is
		case <-through:
		case <-stopped:
		}
		time.Sleep(time.Duration(20+70*round) * time.Millisecond) // a different moment each round
		require.NoError(t, p.cmd.Process.Kill())
		_ = p.cmd.Wait()
		cancel()
		<-stopped
	}

	p := run(t, path, folder)
	defer p.stop(t)
	c := signedIn(t, p.base)
	links := regexp.MustCompile(`href="/designs/(\d+)"`).FindAllStringSubmatch(c.get(t, "/designs"), -1)
	assert.Greater(t, len(links), 7, "some uploads got through")
	for _, link := range links {
		page := c.get(t, "/designs/"+link[1])
		stops := regexp.MustCompile(`stitches in (\d+) stops?`).FindStringSubmatch(page)
		require.NotNil(t, stops, link[1])
		rows, err := strconv.Atoi(stops[1])
		require.NoError(t, err)
		shown := 0
		for later := laterStops.FindStringSubmatch(page); ; later = laterStops.FindStringSubmatch(page) {
			shown += strings.Count(page, `name="sews"`)
			if later == nil {
				break
			}
			page = c.get(t, "/designs/"+link[1]+"?stops-from="+later[1])
		}
		assert.Equal(t, rows, shown, "design %s has all its stops", link[1])
		file := []byte(c.get(t, "/designs/"+link[1]+"/file"))
		for _, format := range stitch.Names() {
			if _, _, err = stitch.Decode("x."+format, file); err == nil {
				break
			}
		}
		assert.NoError(t, err, "design %s has all its bytes", link[1])
	}
}

// What was there is there after a restart; a taken port and a taken folder
// are said in plain words.
func TestStartingAndStopping(t *testing.T) {
	path, folder := binary(t), storetest.Folder(t)
	p := run(t, path, folder)
	c := signedIn(t, p.base)
	status, _ := c.post(t, "/students", map[string][]string{"_csrf": {c.token(t, "/students")}, "name": {"Nell Starling"}})
	require.Equal(t, http.StatusOK, status)

	address := strings.TrimPrefix(p.base, "http://")
	out, err := exec.Command(path, "demo", "--data", folder, "--address", address).CombinedOutput()
	assert.Error(t, err)
	assert.Contains(t, string(out), "another program already listens on "+address)
	out, err = exec.Command(path, "demo", "--data", folder, "--address", freeAddress(t)).CombinedOutput()
	assert.Error(t, err)
	assert.Contains(t, string(out), "another Chalk Step already runs from the data folder")

	p.stop(t)
	pid, err := os.ReadFile(filepath.Join(folder, "postgres", "postmaster.pid"))
	assert.ErrorIs(t, err, os.ErrNotExist, "the database stopped too: %s", pid)

	again := run(t, path, folder)
	defer again.stop(t)
	assert.Contains(t, signedIn(t, again.base).get(t, "/students"), "Nell Starling")
	assert.NotErrorIs(t, again.cmd.Process.Signal(syscall.Signal(0)), os.ErrProcessDone)
}

// Browsers open connections to spare. Stopping waits for what was asked, not
// for what never was.
func TestStoppingWaitsForNobodyWhoAsksNothing(t *testing.T) {
	path := binary(t)
	for name, c := range map[string]struct {
		sends string
		log   string
	}{
		"a connection to spare":        {"", ""},
		"half a question, and no more": {"GET /designs HT", "without some connections"},
	} {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			p := run(t, path, storetest.Folder(t), "--patience", "1s")
			conn, err := net.Dial("tcp", strings.TrimPrefix(p.base, "http://"))
			require.NoError(t, err)
			defer conn.Close()
			_, err = conn.Write([]byte(c.sends))
			require.NoError(t, err)
			signedIn(t, p.base) // by when the server has seen the one before
			p.stop(t)
			if c.log == "" {
				assert.NotContains(t, p.said(), "stopping")
			} else {
				assert.Contains(t, p.said(), c.log)
			}
		})
	}
}
