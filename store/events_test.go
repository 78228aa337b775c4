package store_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/run"
	"chalkstep/store"
	"chalkstep/store/storetest"
)

// What happened in a class is written down in order, once, and only by its workshop.
func TestTheLogOfAClass(t *testing.T) {
	s := storetest.Open(t)
	w, f := shop(t, s, "one")
	other, _ := shop(t, s, "two")
	log := []run.Event{
		{Seq: 1, Kind: run.Started, At: morning},
		{Seq: 2, Kind: run.Here, At: morning, StudentID: 7},
		{Seq: 3, Kind: run.HandUp, At: morning, StudentID: 7, Reason: run.Nest},
		{Seq: 4, Kind: run.Undone, At: morning, Undoes: 3},
	}
	for _, e := range log {
		require.NoError(t, w.AddEvent(f.class, e, f.person))
	}
	read, err := w.Events(f.class)
	require.NoError(t, err)
	require.Len(t, read, len(log))
	for i, e := range read {
		assert.Equal(t, "Ola", e.By)
		assert.True(t, e.At.Equal(log[i].At))
		e.By, e.At = "", log[i].At
		assert.Equal(t, log[i], e)
	}
	for name, e := range map[string]run.Event{
		"a place in the log that is taken": {Seq: 4, Kind: run.Here, StudentID: 7},
		"a kind there is not":              {Seq: 5, Kind: "sang", StudentID: 7},
		"nobody is here":                   {Seq: 5, Kind: run.Here},
		"done with no step":                {Seq: 5, Kind: run.Done, StudentID: 7},
		"taken back twice":                 {Seq: 5, Kind: run.Undone, Undoes: 3},
		"taken back before it was":         {Seq: 5, Kind: run.Undone, Undoes: 6},
	} {
		e.At = morning
		assert.Error(t, w.AddEvent(f.class, e, f.person), name)
	}
	assert.Error(t, other.AddEvent(f.class, run.Event{Seq: 5, Kind: run.Here, At: morning, StudentID: 7}, f.person), "another workshop's class")
	none, err := other.Events(f.class)
	require.NoError(t, err)
	assert.Empty(t, none)
	assert.ErrorIs(t, w.DeleteClass(f.class), store.ErrInUse)
}
