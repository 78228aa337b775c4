package app_test

import (
	"context"
	"fmt"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/actor"
	"chalkstep/store"
)

// What many print at once is drawn once, what differs two at a time, and what is printed again
// is there.
func TestPrintsAreDrawnOnce(t *testing.T) {
	d := desks(t)[store.Instructor].Actor
	var drawn, atOnce, most atomic.Int64
	print := func(ctx context.Context, what string, until <-chan struct{}) ([]byte, error) {
		return actor.Print(ctx, d, what, func() ([]byte, error) {
			drawn.Add(1)
			for n := atOnce.Add(1); ; {
				if was := most.Load(); n <= was || most.CompareAndSwap(was, n) {
					break
				}
			}
			defer atOnce.Add(-1)
			<-until
			return []byte(what), nil
		})
	}
	until := make(chan struct{})
	var all sync.WaitGroup
	for n := range 60 {
		all.Go(func() {
			what := fmt.Sprint("sheet ", n%6)
			data, err := print(t.Context(), what, until)
			assert.NoError(t, err)
			assert.Equal(t, what, string(data))
		})
	}
	require.Eventually(t, func() bool { return atOnce.Load() == 2 }, 20*time.Second, 5*time.Millisecond)
	// Whoever gives up while others draw is not drawn for.
	gone, leave := context.WithCancel(t.Context())
	left := make(chan error)
	go func() {
		_, err := print(gone, "nobody's", until)
		left <- err
	}()
	leave()
	assert.ErrorIs(t, <-left, context.Canceled)
	close(until)
	all.Wait()
	assert.EqualValues(t, 6, drawn.Load())
	assert.EqualValues(t, 2, most.Load())
	_, err := print(t.Context(), "sheet 3", until)
	require.NoError(t, err)
	assert.EqualValues(t, 6, drawn.Load(), "again, it is there")
}

// When whoever began a piece of work leaves, those who wait for it with them get theirs.
func TestTheNextOneGoesOn(t *testing.T) {
	d := desks(t)[store.Instructor].Actor
	first, leave := context.WithCancel(t.Context())
	begun := make(chan bool, 2)
	work := func(ctx context.Context) func() ([]byte, error) {
		return func() ([]byte, error) {
			begun <- true
			if ctx == first {
				<-ctx.Done()
				return nil, fmt.Errorf("drawing: %w", ctx.Err())
			}
			return []byte("drawn"), nil
		}
	}
	var both sync.WaitGroup
	both.Go(func() {
		_, err := actor.Print(first, d.App().For(first, d.Who), "cards", work(first))
		assert.ErrorIs(t, err, context.Canceled)
	})
	<-begun
	both.Go(func() {
		data, err := actor.Print(t.Context(), d, "cards", work(t.Context()))
		assert.NoError(t, err)
		assert.Equal(t, "drawn", string(data))
	})
	leave()
	both.Wait()
}
