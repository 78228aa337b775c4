package main

import (
	"context"
	"log/slog"
	"time"

	"chalkstep/app/actor"
	"chalkstep/app/bookings"
)

// keep frees what nobody came to, and gives it to whoever waits. After the clock
// of this machine was set, it waits a while: by a wrong clock everybody is late.
func keep(ctx context.Context, a *actor.App) {
	const every = 30 * time.Second
	ticker := time.NewTicker(every)
	defer ticker.Stop()
	clock := newSteady(time.Now())
	for {
		select {
		case <-ctx.Done():
			return
		case <-ticker.C:
		}
		now := time.Now()
		since := now.Sub(clock.began) // by the counter that nobody sets
		if jump := clock.look(now.Round(0), since); jump != 0 {
			slog.Warn("the clock of this machine was set: no machine is given up for a while", "by", jump.Round(time.Second),
				"for", wary)
		}
		if !clock.trusted(since) {
			continue
		}
		if err := bookings.Keep(ctx, a); err != nil && ctx.Err() == nil {
			slog.Warn("freeing and filling machines", "error", err)
		}
	}
}

const (
	// leastJump of the clock is more than it is ever corrected by in half a minute.
	leastJump = time.Minute
	// wary is how long a clock that was set is not believed: whoever set it
	// wrongly has noticed by then.
	wary = 20 * time.Minute
)

// A steady clock notices when that on the wall was set, by a counter beside it.
type steady struct {
	began time.Time
	// ahead is how far the wall is ahead of the counter, doubtful until when by
	// the counter it is not believed.
	ahead    time.Duration
	doubtful time.Duration
}

func newSteady(now time.Time) *steady { return &steady{began: now} }

// look compares the wall with the counter since the beginning, and gives how far
// the wall was set since it last looked, 0 where it was not.
func (s *steady) look(wall time.Time, since time.Duration) (jump time.Duration) {
	ahead := wall.Sub(s.began.Round(0)) - since
	jump, s.ahead = ahead-s.ahead, ahead
	if jump.Abs() < leastJump {
		return 0
	}
	s.doubtful = since + wary
	return jump
}

// trusted tells whether the wall is believed.
func (s *steady) trusted(since time.Duration) bool { return since >= s.doubtful }
