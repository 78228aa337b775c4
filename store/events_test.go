package store_test

import (
	"context"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/live"
	"chalkstep/store"
	"chalkstep/store/storetest"
)

// What happens in a class is told to every process; one that comes to listen is told to
// look at everything.
func TestWhatHappensIsTold(t *testing.T) {
	url := storetest.URL(t)
	one, err := store.Open(t.Context(), url)
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, one.Close()) })
	two, err := store.Open(t.Context(), url)
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, two.Close()) })
	ctx, stop := context.WithCancel(t.Context())
	told, ended := make(chan int64, 8), make(chan error, 1)
	go func() { ended <- two.Listen(ctx, func(classID int64) { told <- classID }) }()
	assert.Zero(t, <-told)
	w, f := shop(t, one, "one")
	require.NoError(t, w.AddEvent(f.class, live.Event{Seq: 1, Kind: live.Started, At: morning}, f.person))
	assert.Equal(t, f.class, <-told)
	stop()
	assert.ErrorIs(t, <-ended, context.Canceled)
}

// What happened in a class is written down in order, once, and only by its workshop.
func TestTheLogOfAClass(t *testing.T) {
	s := storetest.Open(t)
	w, f := shop(t, s, "one")
	other, _ := shop(t, s, "two")
	log := []live.Event{
		{Seq: 1, Kind: live.Started, At: morning},
		{Seq: 2, Kind: live.Here, At: morning, StudentID: 7},
		{Seq: 3, Kind: live.HandUp, At: morning, StudentID: 7, Reason: live.Nest},
		{Seq: 4, Kind: live.Undone, At: morning, Undoes: 3},
		{Seq: 5, Kind: live.StopDone, At: morning, NotedAt: morning.Add(7 * time.Minute), StudentID: 7, Step: "sew", Stop: 2,
			Sender: "a", StationID: 99},
		{Seq: 6, Kind: live.Seated, At: morning, StudentID: 7, MachineID: 3},
		{Seq: 7, Kind: live.Failed, At: morning, MachineID: 3},
		{Seq: 8, Kind: live.Late, At: morning, StudentID: 7, Until: morning.Add(time.Hour)},
		{Seq: 9, Kind: live.Noted, At: morning, Text: "the iron trips the fuse"},
		{Seq: 10, Kind: live.Clocked, At: morning, Speed: 60},
	}
	for _, e := range log {
		require.NoError(t, w.AddEvent(f.class, e, f.person))
	}
	read, err := w.Events(f.class)
	require.NoError(t, err)
	require.Len(t, read, len(log))
	for i, e := range read {
		assert.Equal(t, "Ola", e.By)
		want := log[i]
		if want.NotedAt.IsZero() {
			want.NotedAt = want.At
		}
		assert.True(t, e.At.Equal(want.At) && e.NotedAt.Equal(want.NotedAt) && e.Until.Equal(want.Until))
		log[i].NotedAt = e.NotedAt
		e.By, e.At, e.Until = "", want.At, want.Until
		assert.Equal(t, log[i], e)
	}
	for name, e := range map[string]live.Event{
		"a place in the log that is taken": {Seq: 10, Kind: live.Here, StudentID: 7},
		"a kind there is not":              {Seq: 11, Kind: "sang", StudentID: 7},
		"nobody is here":                   {Seq: 11, Kind: live.Here},
		"done with no step":                {Seq: 11, Kind: live.Done, StudentID: 7},
		"taken back twice":                 {Seq: 11, Kind: live.Undone, Undoes: 3},
		"taken back before it was":         {Seq: 11, Kind: live.Undone, Undoes: 12},
		"sent before":                      {Seq: 11, Kind: live.Here, StudentID: 8, Sender: "a"},
		"seated nowhere":                   {Seq: 11, Kind: live.Seated, StudentID: 7},
		"a note of nothing":                {Seq: 11, Kind: live.Noted, StudentID: 7},
		"late for ever":                    {Seq: 11, Kind: live.Late, StudentID: 7},
		"a stop that is none":              {Seq: 11, Kind: live.StopDone, StudentID: 7, Step: "sew"},
		"a clock that stands":              {Seq: 11, Kind: live.Clocked},
	} {
		e.At = morning
		assert.Error(t, w.AddEvent(f.class, e, f.person), name)
	}
	assert.Error(t, other.AddEvent(f.class, live.Event{Seq: 11, Kind: live.Here, At: morning, StudentID: 7}, f.person),
		"another workshop's class")
	none, err := other.Events(f.class)
	require.NoError(t, err)
	assert.Empty(t, none)
	assert.ErrorIs(t, w.DeleteClass(f.class), store.ErrInUse)
}
