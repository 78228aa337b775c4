package live

import "time"

// A Clock is that of a class: that on the wall, or from a moment on one that goes faster,
// for a rehearsal.
type Clock struct {
	// From is what it showed when it was set at NotedAt by the wall.
	From, NotedAt time.Time
	Speed         float64
}

// How fast the clock of a class may go.
const (
	slowest = 1
	fastest = 3600
)

// Of is what it shows when the clock on the wall shows a time.
func (c Clock) Of(wall time.Time) time.Time {
	if c.Speed == 0 {
		return wall
	}
	return c.From.Add(time.Duration(float64(wall.Sub(c.NotedAt)) * c.Speed))
}

// Rehearses tells that it is not that on the wall.
func (c Clock) Rehearses() bool { return c.Speed > 1 }
