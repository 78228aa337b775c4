package cluster_test

import (
	"database/sql"
	"os"
	"path/filepath"
	"testing"

	_ "github.com/jackc/pgx/v5/stdlib" // the driver of sql.Open below
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/store/cluster"
)

func folder(t *testing.T) string {
	t.Helper()
	folder, err := os.MkdirTemp("", "chalkstep-cluster-")
	require.NoError(t, err)
	require.NoError(t, os.Chmod(folder, 0o755))
	t.Cleanup(func() { os.RemoveAll(folder) })
	return folder
}

func run(t *testing.T, c *cluster.Cluster, statement string) (n int) {
	t.Helper()
	db, err := sql.Open("pgx", c.URL("postgres"))
	require.NoError(t, err)
	defer db.Close()
	require.NoError(t, db.QueryRow(statement).Scan(&n))
	return n
}

func TestAClusterKeepsItsDataAndTakesOverALeftServer(t *testing.T) {
	dir := folder(t)
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

func TestAHalfMadeClusterIsMadeAgain(t *testing.T) {
	dir := folder(t)
	require.NoError(t, os.MkdirAll(filepath.Join(dir, "postgres", "base"), 0o700))
	c, err := cluster.Start(t.Context(), dir, cluster.Options{Throwaway: true})
	require.NoError(t, err)
	assert.Equal(t, 1, run(t, c, "SELECT 1"))
	require.NoError(t, c.Stop())
}

func TestADatabaseThatDoesNotStartSaysWhy(t *testing.T) {
	dir := folder(t)
	c, err := cluster.Start(t.Context(), dir, cluster.Options{Throwaway: true})
	require.NoError(t, err)
	require.NoError(t, c.Stop())
	settings := filepath.Join(dir, "postgres", "postgresql.conf")
	require.NoError(t, os.WriteFile(settings, []byte("nonsense = on\n"), 0o600))
	_, err = cluster.Start(t.Context(), dir, cluster.Options{Throwaway: true})
	assert.ErrorContains(t, err, "the database does not start")
}
