package e2e

import (
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"strings"
	"testing"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/actor"
	"chalkstep/core/skill"
	"chalkstep/demo/demotest"
	"chalkstep/store"
)

// neighbours are the people of another workshop of the same installation.
var neighbours = map[store.Role]string{store.Owner: "owner@next.example", store.Instructor: "instructor@next.example",
	store.Assistant: "assistant@next.example"}

const neighbourPassword = "next-door-tide-4"

// moveIn makes another workshop, with its people and one student.
func moveIn(t *testing.T, address string) {
	t.Helper()
	db, err := store.Open(t.Context(), address)
	require.NoError(t, err)
	defer func() { require.NoError(t, db.Close()) }()
	workshop, err := db.CreateWorkshop(t.Context(), "Next door", "Europe/Dublin")
	require.NoError(t, err)
	shop := db.For(t.Context(), workshop.ID)
	hash, err := actor.HashPassword(neighbourPassword)
	require.NoError(t, err)
	for _, role := range store.Roles {
		_, err := shop.AddAccount(store.Person{Email: neighbours[role], Name: "Neighbour", Role: role}, hash)
		require.NoError(t, err)
	}
	_, err = shop.SaveStudent(skill.Student{Name: "Own Neighbour"})
	require.NoError(t, err)
}

// names are those of the demo workshop, none of which anybody next door may read.
func names(t *testing.T, db *pgx.Conn) []string {
	t.Helper()
	rows, err := db.Query(
		t.Context(), `SELECT name FROM students WHERE workshop_id = 1 UNION SELECT name FROM machines WHERE workshop_id = 1
		UNION SELECT name FROM classes WHERE workshop_id = 1 UNION SELECT name FROM projects WHERE workshop_id = 1 UNION
		SELECT name FROM hoops WHERE workshop_id = 1 AND name LIKE '% %'
		UNION SELECT email FROM accounts WHERE workshop_id = 1`)
	require.NoError(t, err)
	all, err := pgx.CollectRows(rows, pgx.RowTo[string])
	require.NoError(t, err)
	require.Greater(t, len(all), 30)
	return all
}

// readable lists which names stand in an answer, but for those that were typed.
func readable(body string, secret []string, typed url.Values) (seen []string) {
	for _, name := range secret {
		written := slices.ContainsFunc(slices.Collect(valuesOf(typed)), func(v string) bool {
			return strings.Contains(v, name)
		})
		if strings.Contains(body, name) && !written {
			seen = append(seen, name)
		}
	}
	return seen
}

func valuesOf(form url.Values) func(func(string) bool) {
	return func(yield func(string) bool) {
		for _, values := range form {
			for _, v := range values {
				if !yield(v) {
					return
				}
			}
		}
	}
}

// Every route of the router, by every role of another workshop, with the ids of this one in
// its address and in its form: nothing of this workshop is read, and nothing is changed.
func TestNothingOfAWorkshopIsReachedFromNextDoor(t *testing.T) {
	address := demotest.URL(t)
	base, face := serve(t, address, func() { moveIn(t, address) })
	db, err := pgx.Connect(t.Context(), address)
	require.NoError(t, err)
	defer db.Close(t.Context())
	secret := names(t, db)
	home := signedIn(t, base)
	routes, forms := formsByRoute(t, face, home)
	paths := slices.Clone(examples)
	for _, page := range pages {
		paths = append(paths, page.path)
	}
	revision := func() (n int64) {
		require.NoError(t, db.QueryRow(t.Context(), "SELECT revision FROM revisions WHERE workshop_id = 1").Scan(&n))
		return n
	}
	before := revision()
	visitors := map[string]*client{}
	for role, email := range neighbours {
		c := newClient(t, base)
		status, page := c.post(t, "/sign-in",
			url.Values{"_csrf": {c.token(t, "/sign-in")}, "email": {email}, "password": {neighbourPassword}})
		require.Equal(t, http.StatusOK, status)
		require.Contains(t, page, "Sign out")
		visitors[string(role)] = c
	}
	var student int
	require.NoError(t, db.QueryRow(t.Context(), "SELECT id FROM students WHERE workshop_id = 2").Scan(&student))
	link := ownLink.FindStringSubmatch(visitors[string(store.Owner)].get(t, fmt.Sprintf("/students/%d/link", student)))
	require.NotNil(t, link)
	phone := newClient(t, base)
	_, page := phone.post(t, link[1], url.Values{"_csrf": {phone.token(t, link[1])}, "pin": {"4711"}})
	require.Contains(t, page, "Your ladder")
	visitors["student"] = phone
	asked := 0
	for role, c := range visitors {
		for _, path := range paths {
			if strings.HasPrefix(path, "/station/") || strings.HasPrefix(path, "/calendar/") {
				continue // whoever has the link reads it: see the tests of links
			}
			status, body := c.ask(t, path)
			assert.Less(t, status, http.StatusInternalServerError, "%s of a %s", path, role)
			assert.Empty(t, readable(body, secret, nil), "%s of a %s", path, role)
			asked++
		}
		token := c.token(t, map[bool]string{true: "/me", false: "/settings/own"}[c == phone])
		for _, route := range routes {
			f, known := forms[route]
			if !known || route == "/sign-out" || route == "/me/leave" || strings.HasPrefix(route, "/station/") ||
				route == "/me/:link" || route == "/sign-in" || route == "/settings/own/sign-out" {
				continue
			}
			values := url.Values{}
			for name, v := range f.fields {
				values[name] = slices.Clone(v)
			}
			values.Set("_csrf", token)
			status, body := c.post(t, f.path, values)
			assert.Less(t, status, http.StatusInternalServerError, "POST %s of a %s", f.path, role)
			assert.Empty(t, readable(body, secret, values), "POST %s of a %s", f.path, role)
			require.Equal(t, before, revision(), "POST %s of a %s changed the workshop", f.path, role)
			asked++
		}
	}
	assert.Greater(t, asked, 4*(len(paths)+len(routes))*9/10)
}

// Every foreign key between what belongs to workshops carries the workshop, so that a row of
// one can name no row of another; the exceptions are checked by who writes them, or hang on
// a row that carries it.
func TestNoRowNamesOneOfAnotherWorkshop(t *testing.T) {
	db, err := pgx.Connect(t.Context(), demotest.URL(t))
	require.NoError(t, err)
	defer db.Close(t.Context())
	rows, err := db.Query(
		t.Context(), `WITH owned AS (SELECT attrelid AS id FROM pg_attribute WHERE attname = 'workshop_id'
			AND NOT attisdropped)
		SELECT c.conrelid::regclass || ' ' || c.conname FROM pg_constraint c WHERE c.contype = 'f'
		AND c.conrelid IN (SELECT id FROM owned) AND c.confrelid IN (SELECT id FROM owned)
			AND c.confrelid <> 'workshops'::regclass
			AND NOT EXISTS (SELECT 1 FROM pg_attribute a WHERE a.attrelid = c.conrelid AND a.attname = 'workshop_id'
			AND a.attnum = ANY (c.conkey))
			-- Another key of the same columns carries it.
			AND NOT EXISTS (SELECT 1 FROM pg_constraint o JOIN pg_attribute a ON a.attrelid = o.conrelid
			AND a.attname = 'workshop_id' AND a.attnum = ANY (o.conkey)
				WHERE o.contype = 'f' AND o.conrelid = c.conrelid AND o.conkey && c.conkey)
		ORDER BY 1`)
	require.NoError(t, err)
	loose, err := pgx.CollectRows(rows, pgx.RowTo[string])
	require.NoError(t, err)
	assert.Empty(t, loose)
}
