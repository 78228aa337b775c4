package main

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
)

// A clock that is set an hour on or back is not believed for a while, and then again; one that
// is corrected by seconds is.
func TestAClockThatWasSetIsNotBelieved(t *testing.T) {
	began := time.Date(2026, 12, 1, 10, 0, 0, 0, time.UTC)
	for name, c := range map[string]struct {
		set  time.Duration
		jump time.Duration
	}{
		"not set": {0, 0}, "corrected": {20 * time.Second, 0}, "an hour on": {time.Hour, time.Hour},
		"an hour back": {-time.Hour, -time.Hour},
	} {
		t.Run(name, func(t *testing.T) {
			clock := newSteady(began)
			for since := 30 * time.Second; since < time.Hour; since += 30 * time.Second {
				wall := began.Add(since)
				if since >= 10*time.Minute {
					wall = wall.Add(c.set)
				}
				jump := clock.look(wall, since)
				if since == 10*time.Minute {
					assert.Equal(t, c.jump, jump)
				} else {
					assert.Zero(t, jump, since)
				}
				doubted := c.jump != 0 && since >= 10*time.Minute && since < 10*time.Minute+wary
				assert.Equal(t, !doubted, clock.trusted(since), since)
			}
		})
	}
}
