package e2e

import (
	"fmt"
	"html"
	"math/rand/v2"
	"net/url"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/actor"
	"chalkstep/core/live"
	"chalkstep/demo/demotest"
	"chalkstep/store"
	"chalkstep/web"
)

// A running class is looked at by staff, by a student and by the phones, by a clock of its own.
type running struct {
	staff, own *client
	minute     *float64
	// phones are the links of the stations by machine.
	phones map[string]string
}

// badgesAt runs the badges of the demo, which begin at ten, by a clock in minutes from then.
func badgesAt(t *testing.T, minute float64) running {
	t.Helper()
	db, err := store.Open(t.Context(), demotest.URL(t))
	require.NoError(t, err)
	r := running{minute: &minute, phones: map[string]string{}}
	clock := func() time.Time {
		return time.Date(2026, 11, 28, 10, 0, 0, 0, time.UTC).Add(time.Duration(*r.minute * float64(time.Minute)))
	}
	base, _ := listen(t, db, web.Config{App: actor.New(db, clock)})
	r.staff, r.own = signedInAs(t, base, store.Instructor), signedInAs(t, base, store.Instructor)
	r.own.openOwn(t, 1)
	for _, found := range phoneLink.FindAllStringSubmatch(r.staff.get(t, "/classes/3/stations"), -1) {
		r.phones[found[1]] = found[2]
	}
	require.Len(t, r.phones, 5, "four machines and the benches")
	return r
}

var (
	phoneLink  = regexp.MustCompile(`(?s)<section class="sheet">\s*<h2>([^<]+)</h2>.*?href="(/station/[^"]+)"`)
	scripts    = regexp.MustCompile(`(?s)<script.*?</script>`)
	anyTag     = regexp.MustCompile(`<[^>]+>`)
	white      = regexp.MustCompile(`\s+`)
	boardSeq   = regexp.MustCompile(`data-seq="(\d+)"`)
	boardPress = regexp.MustCompile(`name="press"\s+value="([^"]+)"`)
	heading    = regexp.MustCompile(`(?s)<h1[^>]*>(.*?)</h1>`)
)

// words are what stands on a page.
func words(page string) string {
	if at := strings.Index(page, "<main"); at >= 0 {
		page = page[at:]
	}
	return strings.TrimSpace(html.UnescapeString(white.ReplaceAllString(anyTag.ReplaceAllString(
		scripts.ReplaceAllString(page, " "), " "), " ")))
}

// press presses a button of the board at a minute.
func (r running) press(t *testing.T, minute float64, what string) int {
	t.Helper()
	*r.minute = minute
	seq := "0"
	if found := boardSeq.FindStringSubmatch(r.staff.get(t, "/classes/3/run")); found != nil {
		seq = found[1]
	}
	status, _ := r.staff.post(t, "/classes/3/run",
		url.Values{"_csrf": {r.staff.token(t, "/classes/3/run")}, "press": {what + " " + seq}})
	return status
}

// At four moments of a class that began early, or late, no two pages differ: when all are done, who is where,
// who is next, and what is out of order. What was planned stays as it was planned.
func TestNoTwoPagesDiffer(t *testing.T) {
	for name, began := range map[string]float64{"early": -6, "late": 9} {
		t.Run(name, func(t *testing.T) {
			r := badgesAt(t, began)
			plan := heading.FindString(r.staff.get(t, "/classes/3"))
			look := func(outcome string) {
				t.Helper()
				board := words(r.staff.get(t, "/classes/3/run"))
				said := words(heading.FindString(r.staff.get(t, "/classes/3/run")))
				require.Regexp(t, outcome, said)
				for _, path := range []string{"/classes/3", "/classes/3/roster"} {
					assert.Contains(t, words(r.staff.get(t, path)), said, path)
				}
				today, list := words(r.staff.get(t, "/")), words(r.staff.get(t, "/classes"))
				if ended, over := strings.CutPrefix(said, "It ended at "); over {
					assert.Contains(t, today, "Buoy badges, first felt ended at "+ended)
					assert.Contains(t, list, "ended "+strings.TrimSuffix(ended, "."))
				} else {
					assert.Contains(t, today, "Buoy badges, first felt is running. "+said)
					assert.Contains(t, list, "runs now")
				}
				assert.Equal(t, plan, heading.FindString(r.staff.get(t, "/classes/3")), "planned is planned")
				r.sameNext(t, board)
				r.sameDone(t)
			}
			assert.Equal(t, 200, r.press(t, began, "started 0 -"))
			for _, id := range []int{1, 2, 3, 4, 5, 13} {
				r.press(t, began+1, fmt.Sprintf("here %d -", id))
			}
			late := regexp.MustCompile(`id="here-(\d+)"`).FindStringSubmatch(r.staff.get(t, "/classes/3/run"))
			require.NotNil(t, late, "somebody is not here yet")
			status, _ := r.staff.post(t, "/classes/3/run", url.Values{"_csrf": {r.staff.token(t, "/classes/3/run")},
				"what": {"late"}, "student": {late[1]}, "minutes": {"25"}})
			require.Equal(t, 200, status)
			*r.minute = began + 12
			assert.Contains(t, words(r.staff.get(t, "/classes/3/roster")), "comes at")
			look("^Everyone finishes by|will not finish by")
			r.press(t, began+27, "all-done 0 -")
			*r.minute = began + 30
			look("^Everyone finishes by|will not finish by")
			r.press(t, began+35, "failed 1 -")
			*r.minute = began + 40
			look("cannot go on")
			big, phone := words(r.staff.get(t, "/classes/3/big")), words(r.own.get(t, r.phones["Heron"]))
			for where, text := range map[string]string{"big": big, "phone": phone,
				"today": words(r.staff.get(t, "/")), "board": words(r.staff.get(t, "/classes/3/run"))} {
				assert.Contains(t, text, "out of order", where)
			}
			r.press(t, began+80, "ended 0 -")
			*r.minute = began + 85
			look("^It ended at")
			assert.Contains(t, words(r.own.get(t, r.phones["Kettle"])), "The class ended at")
			assert.Contains(t, words(r.staff.get(t, "/classes/3/big")), "We ended at")
		})
	}
}

var freeNext = regexp.MustCompile(`(Heron|Kettle|Pigeon|Wharf) free; ([A-Z][a-z]+ [A-Z][a-z]+) at (\d\d:\d\d)`)

// sameNext compares who is next at a free machine on the board, the wall and the phone beside it.
func (r running) sameNext(t *testing.T, board string) {
	t.Helper()
	big := words(r.staff.get(t, "/classes/3/big"))
	for _, found := range freeNext.FindAllStringSubmatch(board, -1) {
		machine, who, at := found[1], found[2], found[3]
		assert.Contains(t, big, machine+" free Next "+at+" "+who)
		assert.Contains(t, words(r.own.get(t, r.phones[machine])),
			fmt.Sprintf("%s is free: %s is next, at %s.", machine, who, at))
	}
}

// sameDone compares when Ana is done on the board and on her own page.
func (r running) sameDone(t *testing.T) {
	t.Helper()
	_, tile, there := strings.Cut(r.staff.get(t, "/classes/3/run"), `data-student="1"`)
	require.True(t, there)
	tile, _, _ = strings.Cut(tile, "data-student=")
	mine := words(r.own.get(t, "/me"))
	if found := regexp.MustCompile(`>done (\d\d:\d\d)<`).FindStringSubmatch(tile); found != nil {
		assert.Contains(t, mine, "You are done at "+found[1]+", as it goes.")
	} else {
		assert.NotContains(t, mine, "as it goes.", "the board does not know either")
	}
}

// Whatever is pressed, typed or said by phone in a class that runs, every page of it answers, and says the same.
func TestWhateverIsPressedEveryPageStands(t *testing.T) {
	for seed := range uint64(2) {
		t.Run(fmt.Sprint(seed), func(t *testing.T) {
			rng := rand.New(rand.NewPCG(seed, 5))
			r := badgesAt(t, -10+25*rng.Float64())
			r.press(t, *r.minute, "started 0 -")
			for range 60 {
				*r.minute += 4 * rng.Float64()
				r.anything(t, rng)
				said := words(heading.FindString(r.staff.get(t, "/classes/3/run")))
				for _, path := range []string{"/", "/classes", "/classes/3", "/classes/3/roster", "/classes/3/big",
					"/classes/3/wrap", "/classes/3/prep", "/students/1", "/machines/1"} {
					page := words(r.staff.get(t, path))
					if path == "/classes/3/roster" && !strings.HasPrefix(said, "Go to ") {
						require.Contains(t, page, said)
					}
				}
				r.own.get(t, "/me")
				for _, phone := range r.phones {
					r.own.get(t, phone)
				}
			}
		})
	}
}

// anything is a press of the board, a note beside it, a line of the roster, or a press of a phone.
func (r running) anything(t *testing.T, rng *rand.Rand) {
	t.Helper()
	page := r.staff.get(t, "/classes/3/run")
	buttons := boardPress.FindAllStringSubmatch(page, -1)
	token := r.staff.token(t, "/classes/3/run")
	one := func(n int) string { return fmt.Sprint(1 + rng.IntN(n)) }
	form, path := url.Values{"_csrf": {token}}, "/classes/3/run"
	switch n := rng.IntN(10); {
	case n < 5 && len(buttons) > 0:
		press := html.UnescapeString(buttons[rng.IntN(len(buttons))][1])
		if strings.HasPrefix(press, "ended") && rng.IntN(3) > 0 {
			return
		}
		form.Set("press", press)
	case n < 7:
		choices := live.Choices()
		form.Set("what", string(choices[rng.IntN(len(choices))].Kind))
		form.Set("student", one(14))
		form.Set("machine", one(5))
		form.Set("with", one(14))
		form.Set("minutes", one(60))
		form.Set("text", "looked at")
	case n < 8:
		path = "/classes/3/roster"
		form.Set("student", one(14))
		form.Set("attendance", []string{"expected", "late", "absent"}[rng.IntN(3)])
		form.Set("late", one(90))
		form.Set("version", one(3))
	default:
		machines := []string{"Heron", "Kettle", "Pigeon", "Wharf"}
		path = r.phones[machines[rng.IntN(4)]] + "/press"
		form = url.Values{"id": {fmt.Sprint(rng.Uint64())}, "student": {one(14)}, "step": {"load"}, "stop": {"1"},
			"kind":   {[]string{"done", "row-done", "hand-up", "going", "settled", "seated", "stop-done"}[rng.IntN(7)]},
			"reason": {string(live.Reasons[rng.IntN(len(live.Reasons))])}}
	}
	status, _ := r.staff.post(t, path, form)
	require.Less(t, status, 500, "%s %v", path, form)
}
