// Package storetest gives tests a real PostgreSQL: one throw-away server for
// each test binary, and an empty, migrated database for each test.
package storetest

import (
	"compress/gzip"
	"context"
	"database/sql"
	"errors"
	"fmt"
	"io"
	"os"
	"sync"
	"sync/atomic"
	"testing"

	_ "github.com/jackc/pgx/v5/stdlib" // the driver of sql.Open below

	"chalkstep/store"
	"chalkstep/store/cluster"
)

var (
	running   *cluster.Cluster
	databases atomic.Int64
)

// Then is done after the tests of a package, before the program ends.
var Then = func() {}

// Main starts the server, runs the tests and stops it. Call it from TestMain.
func Main(m *testing.M) {
	folder, err := os.MkdirTemp("", "chalkstep-test-")
	if err != nil {
		panic(err)
	}
	// The server runs as another user when the tests run as root.
	if err := os.Chmod(folder, 0o755); err != nil {
		panic(err)
	}
	running, err = cluster.Start(context.Background(), folder, cluster.Options{Throwaway: true})
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
	code := m.Run()
	Then()
	if err := running.Stop(); err != nil {
		fmt.Fprintln(os.Stderr, err)
		code = 1
	}
	if err := os.RemoveAll(folder); err != nil {
		fmt.Fprintln(os.Stderr, err)
	}
	os.Exit(code)
}

// Folder is one the database's own user can enter.
func Folder(t testing.TB) string {
	t.Helper()
	folder, err := os.MkdirTemp("", "chalkstep-test-")
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { os.RemoveAll(folder) })
	if err := os.Chmod(folder, 0o755); err != nil {
		t.Fatal(err)
	}
	return folder
}

// URL makes an empty database and returns its connection string.
func URL(t testing.TB) string {
	t.Helper()
	return running.URL(create(t, ""))
}

// Open makes an empty database with the tables in place.
func Open(t testing.TB) *store.Store {
	t.Helper()
	return On(t, URLLike(t, "tables", func(*store.Store) error { return nil }))
}

// URLLike makes a database and returns its connection string. The first of a
// name is filled and then copied, so that filling takes its time once for all
// tests of a package.
func URLLike(t testing.TB, name string, fill func(*store.Store) error) string {
	t.Helper()
	filling.Lock()
	defer filling.Unlock()
	if filled[name] == "" {
		first := create(t, "")
		s, err := store.Open(t.Context(), running.URL(first))
		if err != nil {
			t.Fatal(err)
		}
		if err = errors.Join(fill(s), s.Close()); err != nil {
			t.Fatal(fmt.Errorf("filling the database %q: %w", name, err))
		}
		filled[name] = first
	}
	return running.URL(create(t, filled[name]))
}

var (
	filling sync.Mutex
	// filled names the database that those of a name are copied from.
	filled = map[string]string{}
)

// create makes a database like another, an empty one for none, and returns
// its name.
func create(t testing.TB, like string) string {
	t.Helper()
	admin, err := sql.Open("pgx", running.URL("postgres"))
	if err != nil {
		t.Fatal(err)
	}
	defer admin.Close()
	name := fmt.Sprintf("test_%d", databases.Add(1))
	statement := "CREATE DATABASE " + name
	if like != "" {
		statement += " TEMPLATE " + like
	}
	if _, err := admin.Exec(statement); err != nil {
		t.Fatal(err)
	}
	return name
}

// On opens a database for a test.
func On(t testing.TB, url string) *store.Store {
	t.Helper()
	s, err := store.Open(t.Context(), url)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { s.Close() })
	return s
}

// OpenAt makes a database from a dump, brings its tables up to date, and opens
// it. change is run before that, on the tables as the dump has them.
func OpenAt(t testing.TB, dump, change string) *store.Store {
	t.Helper()
	packed, err := os.Open(dump)
	if err != nil {
		t.Fatal(err)
	}
	defer packed.Close()
	text, err := gzip.NewReader(packed)
	if err != nil {
		t.Fatal(err)
	}
	statements, err := io.ReadAll(text)
	if err != nil {
		t.Fatal(err)
	}
	url := URL(t)
	db, err := sql.Open("pgx", url)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	for _, s := range []string{string(statements), change} {
		if _, err := db.Exec(s); err != nil {
			t.Fatal(err)
		}
	}
	return On(t, url)
}
