package cluster_test

import (
	"database/sql"
	"os"
	"os/exec"
	"path/filepath"
	"testing"
	"time"

	_ "github.com/jackc/pgx/v5/stdlib" // the driver of sql.Open below
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/store/cluster"
	"chalkstep/store/storetest"
)

func run(t *testing.T, c *cluster.Cluster, statement string) (n int) {
	t.Helper()
	db, err := sql.Open("pgx", c.URL("postgres"))
	require.NoError(t, err)
	defer db.Close()
	require.NoError(t, db.QueryRow(statement).Scan(&n))
	return n
}

// keepSeven writes something that later starts have to find.
func keepSeven(t *testing.T, c *cluster.Cluster) {
	t.Helper()
	db, err := sql.Open("pgx", c.URL("postgres"))
	require.NoError(t, err)
	defer db.Close()
	_, err = db.Exec("CREATE TABLE kept AS SELECT 7 AS n")
	require.NoError(t, err)
}

func TestAClusterKeepsItsDataAndTakesOverALeftServer(t *testing.T) {
	dir := storetest.Folder(t)
	first, err := cluster.Start(t.Context(), dir, cluster.Options{Throwaway: true})
	require.NoError(t, err)
	assert.Equal(t, 1, run(t, first, "SELECT 1"))

	// The process that started it is gone without stopping it.
	second, err := cluster.Start(t.Context(), dir, cluster.Options{Throwaway: true})
	require.NoError(t, err)
	assert.Equal(t, first.URL("postgres"), second.URL("postgres"), "taken over, not started twice")
	require.NoError(t, second.Stop())

	third, err := cluster.Start(t.Context(), dir, cluster.Options{Throwaway: true})
	require.NoError(t, err)
	assert.Equal(t, 1, run(t, third, "SELECT 1"))
	require.NoError(t, third.Stop())
	_, err = os.Stat(filepath.Join(dir, "postgres", "postmaster.pid"))
	assert.ErrorIs(t, err, os.ErrNotExist)
}

// What is found where the cluster belongs is somebody's: it is never removed.
func TestWhatWasNotMadeHereIsLeftAlone(t *testing.T) {
	t.Run("a folder of that name with anything in it", func(t *testing.T) {
		dir := storetest.Folder(t)
		theirs := filepath.Join(dir, "postgres", "letters", "to-anna.txt")
		require.NoError(t, os.MkdirAll(filepath.Dir(theirs), 0o755))
		require.NoError(t, os.WriteFile(theirs, []byte("dear Anna"), 0o644))
		_, err := cluster.Start(t.Context(), dir, cluster.Options{Throwaway: true})
		assert.ErrorContains(t, err, "holds letters but no PG_VERSION")
		assert.ErrorContains(t, err, "move the folder away")
		kept, err := os.ReadFile(theirs)
		require.NoError(t, err)
		assert.Equal(t, "dear Anna", string(kept))
	})
	t.Run("a cluster that has lost its PG_VERSION", func(t *testing.T) {
		dir := storetest.Folder(t)
		c, err := cluster.Start(t.Context(), dir, cluster.Options{Throwaway: true})
		require.NoError(t, err)
		keepSeven(t, c)
		require.NoError(t, c.Stop())
		version := filepath.Join(dir, "postgres", "PG_VERSION")
		text, err := os.ReadFile(version)
		require.NoError(t, err)
		require.NoError(t, os.Remove(version))
		_, err = cluster.Start(t.Context(), dir, cluster.Options{Throwaway: true})
		assert.ErrorContains(t, err, "more but no PG_VERSION")
		require.NoError(t, os.WriteFile(version, text, 0o644))
		c, err = cluster.Start(t.Context(), dir, cluster.Options{Throwaway: true})
		require.NoError(t, err)
		assert.Equal(t, 7, run(t, c, "SELECT n FROM kept"))
		require.NoError(t, c.Stop())
	})
	t.Run("a cluster whose password is gone", func(t *testing.T) {
		dir := storetest.Folder(t)
		c, err := cluster.Start(t.Context(), dir, cluster.Options{Throwaway: true})
		require.NoError(t, err)
		require.NoError(t, c.Stop())
		require.NoError(t, os.Remove(filepath.Join(dir, "postgres-password")))
		_, err = cluster.Start(t.Context(), dir, cluster.Options{Throwaway: true})
		assert.ErrorContains(t, err, "put that file back")
		assert.FileExists(t, filepath.Join(dir, "postgres", "PG_VERSION"))
	})
}

// A start that ended in the middle of making the cluster leaves something
// beside its place; the next start makes a new one and leaves that alone.
func TestAHalfMadeClusterIsNotInTheWay(t *testing.T) {
	dir := storetest.Folder(t)
	left := filepath.Join(dir, "postgres-being-made-1", "base")
	require.NoError(t, os.MkdirAll(left, 0o700))
	require.NoError(t, os.MkdirAll(filepath.Join(dir, "postgres"), 0o755), "an empty folder is no hindrance")
	require.NoError(t, os.WriteFile(filepath.Join(dir, "postgres-password"), []byte("kept-before\n"), 0o600))
	c, err := cluster.Start(t.Context(), dir, cluster.Options{Throwaway: true})
	require.NoError(t, err)
	assert.Contains(t, c.URL("postgres"), "kept-before")
	assert.Equal(t, 1, run(t, c, "SELECT 1"))
	require.NoError(t, c.Stop())
	assert.DirExists(t, left)
}

// A plain copy keeps neither owner nor modes; it starts all the same.
func TestACopiedFolderStarts(t *testing.T) {
	dir := storetest.Folder(t)
	c, err := cluster.Start(t.Context(), dir, cluster.Options{Throwaway: true})
	require.NoError(t, err)
	keepSeven(t, c)
	torn := storetest.Folder(t)
	require.NoError(t, exec.Command("cp", "-r", dir+"/.", torn).Run())
	_, err = cluster.Start(t.Context(), torn, cluster.Options{Throwaway: true})
	assert.ErrorContains(t, err, "while it was running")
	assert.Equal(t, 7, run(t, c, "SELECT n FROM kept"), "the one it was copied from runs on")
	require.NoError(t, c.Stop())

	whole := storetest.Folder(t)
	require.NoError(t, exec.Command("cp", "-r", dir+"/.", whole).Run())
	require.NoError(t, os.Chmod(filepath.Join(whole, "postgres"), 0o755))
	second, err := cluster.Start(t.Context(), whole, cluster.Options{Throwaway: true})
	require.NoError(t, err)
	assert.Equal(t, 7, run(t, second, "SELECT n FROM kept"))
	require.NoError(t, second.Stop())
}

// A note that came along with a copy says where the database stayed behind.
func TestACopyWithoutItsDatabaseSaysSo(t *testing.T) {
	dir := storetest.Folder(t)
	note := "The postgres user cannot enter this folder, so the database lies " +
		"in\n/var/lib/chalkstep/home-old-data/postgres\n"
	require.NoError(t, os.WriteFile(filepath.Join(dir, "DATABASE-IS-ELSEWHERE.txt"), []byte(note), 0o644))
	_, err := cluster.Start(t.Context(), dir, cluster.Options{Throwaway: true})
	assert.ErrorContains(t, err, "lies in /var/lib/chalkstep/home-old-data/postgres")
	assert.ErrorContains(t, err, "was not copied with it")
	assert.NoDirExists(t, filepath.Join(dir, "postgres"))
}

// A server that is killed comes back on its port, with its data.
func TestAKilledServerIsStartedAgain(t *testing.T) {
	c, err := cluster.Start(t.Context(), storetest.Folder(t), cluster.Options{})
	require.NoError(t, err)
	c.Watch()
	defer func() { require.NoError(t, c.Stop()) }()
	keepSeven(t, c)
	for range 2 {
		process, err := os.FindProcess(c.Pid())
		require.NoError(t, err)
		require.NoError(t, process.Kill())
		require.Eventually(t, func() bool {
			db, err := sql.Open("pgx", c.URL("postgres"))
			require.NoError(t, err)
			defer db.Close()
			n := 0
			return db.QueryRow("SELECT n FROM kept").Scan(&n) == nil && n == 7
		}, time.Minute, 100*time.Millisecond)
	}
}

func TestADatabaseThatDoesNotStartSaysWhy(t *testing.T) {
	dir := storetest.Folder(t)
	c, err := cluster.Start(t.Context(), dir, cluster.Options{Throwaway: true})
	require.NoError(t, err)
	require.NoError(t, c.Stop())
	settings := filepath.Join(dir, "postgres", "postgresql.conf")
	require.NoError(t, os.WriteFile(settings, []byte("nonsense = on\n"), 0o600))
	_, err = cluster.Start(t.Context(), dir, cluster.Options{Throwaway: true})
	assert.ErrorContains(t, err, "the database does not start")
}
