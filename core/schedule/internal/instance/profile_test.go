package instance

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/schedule"
)

// A profile answers as a plain count over every minute would.
func TestAProfileAgreesWithCountingMinutes(t *testing.T) {
	const day = 60
	for seed := range uint64(200) {
		rng := rand.New(rand.NewPCG(seed, 2))
		var p Profile
		p.reset()
		var use [day]int
		for range 12 {
			start := rng.IntN(day - 1)
			end := start + 1 + rng.IntN(day-start-1)
			units := 1 + rng.IntN(2)
			p.Add(schedule.Tick(start), schedule.Tick(end), units)
			for m := start; m < end; m++ {
				use[m] += units
			}
		}
		for range 40 {
			start, units, capacity := rng.IntN(day-1), 1+rng.IntN(2), 3+rng.IntN(6)
			end := start + 1 + rng.IntN(day-start-1)
			blockedAt := -1
			for m := start; m < end && blockedAt < 0; m++ {
				if use[m]+units > capacity {
					blockedAt = m
				}
			}
			free, blocked := p.Conflict(schedule.Tick(start), schedule.Tick(end), units, capacity)
			require.Equal(t, blockedAt >= 0, blocked, "seed %d, %d to %d", seed, start, end)
			if blocked && units <= capacity && free < day {
				assert.LessOrEqual(t, use[free]+units, capacity, "free where the last blocked stretch ends")
				assert.Greater(t, int(free), blockedAt)
			}
		}
		for range 40 {
			start, length, units, capacity := rng.IntN(day-1), 1+rng.IntN(12), 1+rng.IntN(2), 1+rng.IntN(8)
			room := schedule.Never // where as many are never free
			for from := start; from <= day && room == schedule.Never && units <= capacity; from++ {
				blocked := false
				for m := from; m < min(day, from+length); m++ {
					blocked = blocked || use[m]+units > capacity
				}
				if !blocked {
					room = schedule.Tick(from)
				}
			}
			assert.Equal(t, room, p.Room(schedule.Tick(start), schedule.Tick(length), units, capacity),
				"seed %d, from %d for %d", seed, start, length)
		}
	}
}

func TestAStretchOfNoLengthUsesNothing(t *testing.T) {
	var p Profile
	p.reset()
	p.Add(5, 5, 3)
	_, blocked := p.Conflict(0, 10, 1, 1)
	assert.False(t, blocked)
}

func TestBlocksEndWhereNothingIsHeld(t *testing.T) {
	minutes := schedule.Minutes(1)
	s, err := Compile(schedule.Problem{
		Machines: []schedule.Machine{{ID: "m"}}, Resources: []schedule.Resource{{ID: "hoop", Count: 1}},
		Jobs: []schedule.Job{{ID: "ana", Operations: []schedule.Operation{
			{ID: "mark", Minutes: minutes},
			{ID: "hoop", Minutes: minutes, Take: []string{"hoop"}},
			{ID: "load", On: map[string]float64{"m": 1}, KeepMachine: true},
			{ID: "sew", On: map[string]float64{"m": 2}},
			{ID: "unhoop", Minutes: minutes, Release: []string{"hoop"}},
			{ID: "press", Minutes: minutes},
		}}},
	})
	require.NoError(t, err)
	var cuts [][2]int
	for _, b := range s.Jobs[0].Blocks {
		cuts = append(cuts, [2]int{b.From, b.To})
	}
	assert.Equal(t, [][2]int{{0, 1}, {1, 5}, {5, 6}}, cuts)
	assert.Len(t, s.Jobs[0].Blocks[1].Chains, 1, "load and sew share one station")
}
