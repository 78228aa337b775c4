// Package demotest gives tests the demo workshop, as it stands one Tuesday
// afternoon: loaded once for all tests of a package, and copied for each.
package demotest

import (
	"testing"
	"time"

	"chalkstep/demo"
	"chalkstep/store"
	"chalkstep/store/storetest"
)

// Now is when the demo workshop was loaded.
var Now = time.Date(2026, 11, 24, 14, 20, 0, 0, time.UTC)

// URL makes a database with the demo workshop and returns its connection
// string.
func URL(t testing.TB) string {
	t.Helper()
	return storetest.URLLike(t, "demo", func(s *store.Store) error {
		_, err := demo.Load(t.Context(), s, Now)
		return err
	})
}

// Open makes a database with the demo workshop and opens it.
func Open(t testing.TB) *store.Store {
	t.Helper()
	return storetest.On(t, URL(t))
}
