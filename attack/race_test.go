//go:build attack

package attack

import (
	"database/sql"
	"fmt"
	"net/http"
	"net/url"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/store"
	"chalkstep/store/storetest"
)

// Fifteen programs that start on one empty database at once all start, and
// the demo is loaded once.
func TestFifteenStartAtOnce(t *testing.T) {
	binary(t)
	address := storetest.URL(t)
	begin := time.Now()
	var wait sync.WaitGroup
	programs := make([]*program, 15)
	for i := range programs {
		wait.Go(func() { programs[i] = run(t, []string{"demo"}, "DATABASE_URL="+address) })
	}
	wait.Wait()
	took := time.Since(begin)
	for _, p := range programs {
		c := signedIn(t, p.base, store.Owner)
		_, page := c.get(t, "/students")
		assert.Contains(t, page, "14 students")
	}
	for _, p := range programs {
		p.stop(t)
	}
	row("15 programs started on an empty database", fmt.Sprintf("all in %v, one demo", took.Round(100*time.Millisecond)),
		"all start")
}

// Two programs serve one workshop; many reach for one slot, one shelf and one
// class at once, and each is had once.
func TestRacesOnTwoPrograms(t *testing.T) {
	address := storetest.URL(t)
	programs := []*program{run(t, []string{"demo"}, "DATABASE_URL="+address),
		run(t, []string{"demo"}, "DATABASE_URL="+address)}
	var people []*client
	for i := range 16 {
		people = append(people, signedIn(t, programs[i%2].base, []store.Role{store.Owner, store.Instructor}[i/2%2]))
	}
	together := func(path, page string, form url.Values) (won int) {
		var lock sync.Mutex
		var wait sync.WaitGroup
		for _, c := range people {
			own := url.Values{"_csrf": {c.token(t, page)}}
			for k, v := range form {
				own[k] = v
			}
			wait.Go(func() {
				status, body, err := c.post(path, own)
				assert.NoError(t, err)
				assert.Less(t, status, http.StatusInternalServerError, "%s: %.200s", path, body)
				lock.Lock()
				defer lock.Unlock()
				if status == http.StatusOK {
					won++
				}
			})
		}
		wait.Wait()
		return won
	}
	const rounds = 16
	winners := 0
	for i := range rounds {
		day := time.Now().AddDate(0, 0, 40+i).Format(time.DateOnly)
		winners += together("/machines/bookings", "/machines/bookings",
			url.Values{"machine": {"4"}, "student": {"Ana Thorne"}, "date": {day}, "from": {"10:00"}, "to": {"11:00"},
				"override": {"The course is planned that far ahead"}})
	}
	row(fmt.Sprintf("%d × 16 people book one slot", rounds), fmt.Sprintf("%d winners", winners), fmt.Sprint(rounds))
	assert.Equal(t, rounds, winners)

	reserved, put := 0, 0
	for range rounds {
		reserved += together("/classes/3/shelf", "/classes/3/shelf", nil)
		put += together("/classes/3/shelf/right", "/classes/3/shelf", nil)
		// What was used is bought again, so that the next round finds it.
		db, err := sql.Open("pgx", address)
		require.NoError(t, err)
		_, err = db.Exec(`INSERT INTO stock_movements (workshop_id, item_id, kind, quantity, moved_by, moved_at)
			SELECT workshop_id, item_id, 'bought', -quantity, 1, now() FROM stock_movements WHERE kind = 'used'
			AND moved_at > now() - interval '1 minute'
			AND id > coalesce((SELECT max(id) FROM stock_movements WHERE kind = 'bought' AND note = ''), 0)`)
		require.NoError(t, err)
		var apart int
		require.NoError(t, db.QueryRow(
			`SELECT count(*) FROM (SELECT item_id, sum(quantity) AS q, sum(reserved) AS r FROM stock_movements
				GROUP BY item_id) s JOIN stock_balances b USING (item_id) WHERE abs(s.q - b.on_hand) > 1e-6
				OR abs(s.r - b.reserved) > 1e-6`).Scan(&apart))
		assert.Zero(t, apart, "balances are the sums of the ledger")
		require.NoError(t, db.Close())
	}
	row(fmt.Sprintf("%d × 16 people reserve and put right one class", rounds),
		fmt.Sprintf("%d reserved, %d put right", reserved, put), fmt.Sprintf("%d, %d", rounds, rounds))
	assert.Equal(t, rounds, reserved)
	assert.Equal(t, rounds, put)

	// What nobody has cut leaves nothing: the kits are cut first.
	owner := people[0]
	token := owner.token(t, "/settings/own")
	for student := 1; student <= 14; student++ {
		_, _, err := owner.post("/classes/3/kits",
			url.Values{"_csrf": {token}, "student": {strconv.Itoa(student)}, "version": {"1"}, "state": {"cut"}})
		require.NoError(t, err)
	}
	kept := together("/classes/3/shelf/offcuts", "/classes/3/shelf",
		url.Values{"material": {"stabilizer;material=tear-away;weight=medium"}})
	row("16 people keep the off-cuts of one class", fmt.Sprintf("%d kept", kept), "1")
	assert.Equal(t, 1, kept)
}

// killDatabase kills the private database of a folder.
func killDatabase(t *testing.T, dir string) {
	t.Helper()
	require.Eventually(t, func() bool { // it may be about to start again
		pid, _ := postmaster(dir)
		return pid > 1 && syscall.Kill(pid, syscall.SIGKILL) == nil
	}, time.Minute, 20*time.Millisecond)
}

// postmaster is the process and the port of the private database of a folder, 0 while it is
// down.
func postmaster(dir string) (pid, port int) {
	text, err := os.ReadFile(filepath.Join(dir, "postgres", "postmaster.pid"))
	lines := strings.Split(string(text), "\n")
	if err != nil || len(lines) < 4 {
		return 0, 0
	}
	pid, _ = strconv.Atoi(strings.TrimSpace(lines[0]))
	port, _ = strconv.Atoi(strings.TrimSpace(lines[3]))
	return pid, port
}

// databaseOf opens the private database of a folder.
func databaseOf(t *testing.T, dir string) *sql.DB {
	t.Helper()
	password, err := os.ReadFile(filepath.Join(dir, "postgres-password"))
	require.NoError(t, err)
	_, port := postmaster(dir)
	db, err := sql.Open("pgx",
		fmt.Sprintf("postgres://chalkstep:%s@127.0.0.1:%d/postgres?sslmode=disable", strings.TrimSpace(string(password)),
			port))
	require.NoError(t, err)
	t.Cleanup(func() { _ = db.Close() })
	return db
}

// Writes that were acknowledged are there after the program and its database
// are killed, again and again.
func TestAcknowledgedWritesSurviveKills(t *testing.T) {
	dir := storetest.Folder(t)
	written := map[string]bool{}
	var lock sync.Mutex
	for round := range 4 {
		p := run(t, []string{"demo", "--data", dir})
		c := signedIn(t, p.base, store.Owner)
		token := c.token(t, "/settings/own")
		var stop atomic.Bool
		var wait sync.WaitGroup
		for worker := range 4 {
			wait.Go(func() {
				for i := 0; !stop.Load(); i++ {
					name := fmt.Sprintf("Round %d worker %d student %d", round, worker, i)
					status, _, err := c.post("/students", url.Values{"_csrf": {token}, "name": {name}})
					if err != nil || status != http.StatusOK {
						return
					}
					lock.Lock()
					written[name] = true
					lock.Unlock()
				}
			})
		}
		time.Sleep(1500 * time.Millisecond)
		stop.Store(round%2 == 0)
		require.NoError(t, p.cmd.Process.Kill())
		killDatabase(t, dir)
		<-p.done
		stop.Store(true)
		wait.Wait()
	}
	p := run(t, []string{"demo", "--data", dir})
	defer p.stop(t)
	c := signedIn(t, p.base, store.Owner)
	lost := 0
	for name := range written {
		_, page := c.get(t, "/students?words="+url.QueryEscape(name))
		if !strings.Contains(page, ">"+name+"<") {
			lost++
		}
	}
	row("acknowledged writes after four kills of program and database",
		fmt.Sprintf("%d written, %d lost", len(written), lost), "0 lost")
	assert.Zero(t, lost)
	assert.Greater(t, len(written), 100)
}
