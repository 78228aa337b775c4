package e2e

import (
	"fmt"
	"net/url"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var (
	phoneForm  = regexp.MustCompile(`(?s)<form method="post" action="(/station/[^"]+/press)"[^>]*>(.*?)</form>`)
	phoneField = regexp.MustCompile(`name="([^"]+)"\s+value="([^"]*)"`)
)

// pressOn presses the first button of a phone that says a kind of thing of a student, false where there is none.
func (r running) pressOn(t *testing.T, machine, student string, kinds ...string) bool {
	t.Helper()
	for _, form := range phoneForm.FindAllStringSubmatch(r.own.get(t, r.phones[machine]), -1) {
		fields := url.Values{}
		for _, field := range phoneField.FindAllStringSubmatch(form[2], -1) {
			fields.Set(field[1], field[2])
		}
		for _, kind := range kinds {
			if fields.Get("kind") == kind && fields.Get("student") == student {
				status, page := r.own.post(t, form[1], fields)
				require.Equal(t, 200, status, "%s: %s", fields, words(page))
				return true
			}
		}
	}
	return false
}

// On a phone a student presses three times, and once a stop: hooped and ready, loaded, and ready to show. What is
// looked at together is the instructor's. At the board one press is enough for a table.
func TestThreePressesAndOneAStop(t *testing.T) {
	r := badgesAt(t, 0)
	require.Equal(t, 200, r.press(t, 0, "started 0 -"))
	require.Equal(t, 200, r.press(t, 0, "all-here 0 -"))
	const bo, stops = "2", 4
	presses, minute := 0, 29.0
	press := func(machine string, kinds ...string) {
		t.Helper()
		*r.minute = minute
		require.True(t, r.pressOn(t, machine, bo, kinds...), "%s at %s", kinds, machine)
		presses++
		minute += 6
	}
	press("The benches", "row-done")
	assert.Contains(t, words(r.own.get(t, r.phones["Heron"])), "Heron · Bo Lindqvist",
		"he sits where he is planned, unasked")
	press("Heron", "done")
	for range stops - 1 {
		press("Heron", "stop-done")
	}
	press("Heron", "done")
	press("The benches", "row-done")
	assert.Equal(t, 3+stops, presses)
	board := words(r.staff.get(t, "/classes/3/run"))
	assert.Contains(t, board, "Inspect together and sign off")

	// One press of the board, and one that takes it back.
	waiting := strings.Count(board, "Hooped and ready")
	require.Positive(t, waiting)
	require.Equal(t, 200, r.press(t, minute, "all-done 0 -"))
	after := words(r.staff.get(t, "/classes/3/run"))
	assert.Less(t, strings.Count(after, "Hooped and ready"), waiting)
	last := regexp.MustCompile(`value="(undone \d+ -) \d+"`).FindStringSubmatch(r.staff.get(t, "/classes/3/run"))
	require.NotNil(t, last)
	require.Equal(t, 200, r.press(t, minute, last[1]))
	assert.Equal(t, waiting, strings.Count(words(r.staff.get(t, "/classes/3/run")), "Hooped and ready"))
}

// A class of eight is wrapped up with one press where everything is as the log has it, and two that say something else:
// whoever did not come is named, with the least to make up for, and one press books it and tells them.
func TestAClassOfEightIsWrappedUpInTwelvePresses(t *testing.T) {
	r := badgesAt(t, 0)
	r.press(t, 0, "started 0 -")
	for _, id := range []int{1, 2, 3, 4, 5, 7} {
		r.press(t, 1, fmt.Sprintf("here %d -", id))
	}
	r.press(t, 27, "all-done 0 -")
	r.press(t, 60, "ended 0 -")
	*r.minute = 61
	page := r.staff.get(t, "/classes/3/wrap")
	said := words(heading.FindString(page))
	assert.Regexp(t, `did not come\.$`, said)
	form := url.Values{"_csrf": {r.staff.token(t, "/classes/3/wrap")}}
	for _, tick := range regexp.MustCompile(`name="mark" value="([^"]+)" checked`).FindAllStringSubmatch(page, -1) {
		form.Add("mark", tick[1])
		level := regexp.MustCompile(`(?s)<select name="level ` + tick[1] + `".*?value="([a-z]+)" selected`).
			FindStringSubmatch(page)
		require.NotNil(t, level)
		form.Set("level "+tick[1], level[1])
	}
	require.NotEmpty(t, form["mark"])
	for _, student := range regexp.MustCompile(`name="student" value="(\d+)"`).FindAllStringSubmatch(page, -1) {
		form.Add("student", student[1])
		form.Set("version-"+student[1], "0")
	}
	require.Len(t, form["student"], 8)
	form.Set("note-1", "hoops well")
	status, _ := r.staff.post(t, "/classes/3/wrap", form)
	require.Equal(t, 200, status)
	after := r.staff.get(t, "/classes/3/wrap")
	assert.Contains(t, after, "It is wrapped up.")
	assert.Contains(t, after, `value="hoops well"`)
	assert.NotContains(t, after, `name="mark"`, "all are given")
	form.Set("_csrf", r.staff.token(t, "/classes/3/wrap"))
	status, _ = r.staff.post(t, "/classes/3/wrap", form)
	assert.Equal(t, 422, status, "a second one is told that it was saved")

	slot := regexp.MustCompile(`value="(1@\d+)"`).FindStringSubmatch(after)
	require.NotNil(t, slot, "a time for Ana")
	booking := url.Values{"_csrf": {form.Get("_csrf")}, "slot": {slot[1]}}
	status, _ = r.staff.post(t, "/classes/3/wrap/makeup", booking)
	require.Equal(t, 200, status)
	assert.Contains(t, words(r.staff.get(t, "/classes/3/wrap")), "To finish: ")
	assert.Contains(t, words(r.own.get(t, "/me")), "A time to finish is yours: ")
	booking.Set("_csrf", r.staff.token(t, "/classes/3/wrap"))
	status, _ = r.staff.post(t, "/classes/3/wrap/makeup", booking)
	assert.Equal(t, 422, status, "once")
}
