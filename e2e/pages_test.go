package e2e

import (
	"os"
	"testing"

	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// pages are all there are, by the name of their picture where they have one.
var pages = []struct {
	path, picture string
	phone         bool
}{
	{"/", "today", false},
	{"/classes", "", false},
	{"/classes/2/run", "board", false},
	{"/classes/4/run", "", false},
	{"/classes/2/big", "", false},
	{"/classes/2/stations", "", false},
	{heron, "station", true},
	{"/classes/2/wrap", "", false},
	{"/classes/4/wrap", "", false},
	{"/classes/3", "plan", false},
	{"/classes/4", "plan-over", false},
	{"/classes/4/levers", "levers", false},
	{"/classes/4/edit", "class-form", false},
	{"/classes/3/prep", "prep", false},
	{"/classes/3/edit", "", false},
	{"/classes/new", "", false},
	{"/classes/3/shelf", "shelf", false},
	{"/classes/3/kits", "", false},
	{"/classes/3/roster", "", false},
	{"/classes/3/cards", "", false},
	{"/classes/3/cards/1", "step-card", true},
	{"/projects", "", false},
	{"/projects/2", "project", false},
	{"/projects/2/edit", "", false},
	{"/projects/new", "", false},
	{"/projects/6", "layers", false},
	{"/projects/4/how", "ways", false},
	{"/projects/2/threads", "", false},
	{"/recipes", "", false},
	{"/recipes/techniques", "", false},
	{"/recipes/techniques/1", "", false},
	{"/stock", "stock", false},
	{"/stock/2", "", false},
	{"/stock/new", "", false},
	{"/stock/buy", "", false},
	{"/settings", "", false},
	{"/removed", "", false},
	{"/settings/people", "", false},
	{"/settings/own", "", false},
	{"/settings/learned", "", false},
	{"/classes/1/wrap", "", false},
	{"/classes/2/inspect/1", "", false},
	{"/designs", "", false},
	{"/designs/2", "design", false},
	{"/designs/7", "", false},
	{"/designs/5/copies?quantity=30&shape-width=52&shape-height=52&round=yes", "", false},
	{"/designs/2/placing?machine=1", "placing", false},
	{"/designs/7/placing?machine=5&percent=95", "", false},
	{"/designs/5/border", "", false},
	{"/designs/5/align?cloth-a-x=-24&cloth-a-y=3&cloth-b-x=16&cloth-b-y=7" +
		"&design-a-x=-20.3&design-a-y=0&design-b-x=20.3&design-b-y=0", "", false},
	{"/designs/7/pieces", "", false},
	{"/machines", "", false},
	{"/machines/1", "", false},
	{"/machines/1/hoops/2", "", false},
	{"/machines/1/sheet", "", false},
	{"/machines/room", "", false},
	{"/machines/new", "", false},
	{"/machines/bookings", "week", false},
	{"/machines/calendars", "", false},
	{"/machines/messages", "", false},
	{"/settings/bookings", "", false},
	{"/settings/changes", "", false},
	{"/hoops/1", "", false},
	{"/hoops/new", "", false},
	{"/students", "", false},
	{"/students/1", "student", false},
	{"/students/matrix", "matrix", false},
	{"/students/next", "", false},
	{"/students/next?class=3", "", false},
	{"/students/matrix?class=3", "", false},
	{"/students/roster", "", false},
	{"/students/ladder?step=names", "", false},
	{"/students/1/link", "", false},
	{"/no-such-page", "", false},
}

// accessible looks at the page that is open as one who cannot see it well.
func (v *visitor) accessible(what string) {
	v.t.Helper()
	axe, err := os.ReadFile("../node_modules/axe-core/axe.min.js")
	require.NoError(v.t, err)
	_, err = proto.RuntimeEvaluate{Expression: string(axe)}.Call(v.page)
	require.NoError(v.t, err)
	found, err := v.page.Eval(
		`() => axe.run().then(r => r.violations.map(v => v.id + ": " + v.help + " — " + v.nodes.map(n => n.html).slice(0,
			3).join(" | ")))`)
	require.NoError(v.t, err)
	for _, violation := range found.Value.Arr() {
		assert.Fail(v.t, violation.String(), what)
	}
}

// axe finds no violation on any page, in the light look and the dark.
func TestEveryPageIsAccessible(t *testing.T) {
	v := visit(t, start(t))
	check := func(path string) {
		for what, dark := range map[string]bool{path: false, path + " in the dark": true} {
			v.dark(dark)
			v.open(path)
			v.accessible(what)
		}
	}
	check("/sign-in")
	v.dark(false)
	v.signIn("owner")
	for _, page := range pages {
		check(page.path)
	}
}

// The README's pictures are made from the demo workshop.
func TestPictures(t *testing.T) {
	v := visit(t, start(t))
	v.signIn("owner")
	for _, page := range pages {
		if page.picture == "" {
			continue
		}
		v.size(1280, 800)
		if page.phone {
			v.size(390, 844)
		}
		v.open(page.path)
		if page.picture == "class-form" {
			v.sees("#class-preview", "holds it up")
		}
		v.picture(page.picture)
	}
}

// Nothing spills out of a phone's width on the card that is read there.
func TestTheStepCardFitsAPhone(t *testing.T) {
	v := visit(t, start(t))
	v.signIn("owner")
	v.size(390, 844)
	for _, path := range []string{"/classes/3/cards/1", "/classes/4/cards/14", "/"} {
		v.open(path)
		width, err := v.page.Eval(`() => document.documentElement.scrollWidth`)
		require.NoError(t, err)
		assert.LessOrEqual(t, width.Value.Int(), 390, path)
	}
}

// The first load moves at most 250 kB with fonts, later pages at most 40 kB.
func TestPagesAreLight(t *testing.T) {
	v := visit(t, start(t))
	// A page tells itself what it moved: what another before it is still loading is not its own.
	load := func(path string) float64 {
		v.open(path)
		moved, err := v.page.Eval(`() => ["navigation", "resource"].flatMap(type => performance.getEntriesByType(type))
			.reduce((sum, entry) => sum + entry.transferSize, 0)`)
		require.NoError(t, err)
		return moved.Value.Num() / 1000
	}
	first := load("/sign-in")
	assert.Less(t, first, 250.0)
	v.signIn("owner")
	_ = load("/")
	most, heaviest := 0.0, ""
	v.open(heron) // its link is known
	for _, page := range pages {
		kB := load(page.path)
		assert.Less(t, kB, 40.0, page.path)
		if kB > most {
			most, heaviest = kB, page.path
		}
	}
	t.Logf("first load %.0f kB, heaviest later page %.1f kB (%s)", first, most, heaviest)
}
