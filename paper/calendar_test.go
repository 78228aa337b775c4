package paper_test

import (
	"bytes"
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"
	"time"

	"github.com/emersion/go-ical"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/booking"
	"chalkstep/paper"
)

// What a calendar says is read back by another program's reader, over the changes of
// clocks in both hemispheres, whatever is written in names.
func TestACalendarIsReadBack(t *testing.T) {
	rng := rand.New(rand.NewPCG(4, 4))
	now := time.Date(2026, 3, 1, 12, 0, 0, 0, time.UTC)
	names := []string{"Ana Thorne", "Bo; Lindqvist, the younger", "a\\b\nBEGIN:VEVENT", "Žofie Čapková",
		strings.Repeat("very long ", 30), "🧵", ""}
	var entries []booking.Entry
	for i := range 200 {
		zone, err := time.LoadLocation([]string{"Europe/Dublin", "Australia/Sydney", "America/New_York"}[i%3])
		require.NoError(t, err)
		from := time.Date(2026, time.Month(1+rng.IntN(12)), 1+rng.IntN(28), rng.IntN(24), 15*rng.IntN(4), 0, 0, zone)
		entries = append(entries, booking.Entry{
			ID: int64(i + 1), Class: i%4 == 0, Name: names[i%len(names)], Machines: "Heron", Version: 1 + i%5,
			Cancelled: i%8 == 0 &&
				i%4 == 0, Span: booking.Span{From: from, To: from.Add(time.Duration(30+rng.IntN(150)) * time.Minute)},
		})
	}
	data := paper.Calendar("Slack Tide, the terminal", "https://class.example.org", 7, entries, now)
	for n, line := range bytes.Split(data, []byte("\r\n")) {
		require.LessOrEqual(t, len(line), 75, "line %d is folded", n)
	}
	cal, err := ical.NewDecoder(bytes.NewReader(data)).Decode()
	require.NoError(t, err)
	events := cal.Events()
	require.Len(t, events, len(entries))
	seen := map[string]bool{}
	for i, e := range entries {
		from, err := events[i].DateTimeStart(time.UTC)
		require.NoError(t, err)
		to, err := events[i].DateTimeEnd(time.UTC)
		require.NoError(t, err)
		assert.True(t, from.Equal(e.From) && to.Equal(e.To), "%v–%v, not %v–%v", from, to, e.From, e.To)
		text := func(name string) string {
			s, err := events[i].Props.Text(name)
			require.NoError(t, err)
			return s
		}
		want := e.Name
		switch {
		case !e.Class && e.Name == "":
			want = "Heron: care"
		case !e.Class:
			want = "Heron: " + e.Name
		}
		assert.Equal(t, want, text(ical.PropSummary))
		uid := text(ical.PropUID)
		assert.False(t, seen[uid], "%s is there twice", uid)
		seen[uid] = true
		status := "CONFIRMED"
		if e.Cancelled {
			status = "CANCELLED"
		}
		assert.Equal(t, status, text(ical.PropStatus))
		assert.Equal(t, fmt.Sprint(e.Version-1), events[i].Props.Get(ical.PropSequence).Value)
	}
	empty, err := ical.NewDecoder(bytes.NewReader(paper.Calendar("Nothing yet", "", 1, nil, now))).Decode()
	require.NoError(t, err)
	assert.Empty(t, empty.Events())
}
