package floor

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A profile answers as a plain count over every minute would.
func TestAProfileAgreesWithCountingMinutes(t *testing.T) {
	const day = 60
	for seed := range uint64(200) {
		rng := rand.New(rand.NewPCG(seed, 2))
		var p profile
		p.reset()
		var use [day]int
		for range 12 {
			start := rng.IntN(day - 1)
			end := start + 1 + rng.IntN(day-start-1)
			units := 1 + rng.IntN(2)
			p.add(tick(start), tick(end), units)
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
			free, blocked := p.conflict(tick(start), tick(end), units, capacity)
			require.Equal(t, blockedAt >= 0, blocked, "seed %d, %d to %d", seed, start, end)
			if blocked && units <= capacity && free < day {
				assert.LessOrEqual(t, use[free]+units, capacity, "free where the last blocked stretch ends")
				assert.Greater(t, int(free), blockedAt)
			}
		}
		for range 40 {
			start, length, units, capacity := rng.IntN(day-1), 1+rng.IntN(12), 1+rng.IntN(2), 1+rng.IntN(8)
			room := never // where as many are never free
			for from := start; from <= day && room == never && units <= capacity; from++ {
				blocked := false
				for m := from; m < min(day, from+length); m++ {
					blocked = blocked || use[m]+units > capacity
				}
				if !blocked {
					room = tick(from)
				}
			}
			assert.Equal(t, room, p.room(tick(start), tick(length), units, capacity), "seed %d, from %d for %d", seed, start, length)
		}
	}
}

func TestAStretchOfNoLengthUsesNothing(t *testing.T) {
	var p profile
	p.reset()
	p.add(5, 5, 3)
	_, blocked := p.conflict(0, 10, 1, 1)
	assert.False(t, blocked)
}

func TestBlocksEndWhereNothingIsHeld(t *testing.T) {
	minutes := Minutes(1)
	s, err := compile(Problem{
		Stations: []Station{{ID: "m"}}, Pools: []Pool{{ID: "hoop", Count: 1}},
		People: []Person{{ID: "ana", Steps: []Step{
			{ID: "mark", Minutes: minutes},
			{ID: "hoop", Minutes: minutes, Take: []string{"hoop"}},
			{ID: "load", On: map[string]float64{"m": 1}, Keep: true},
			{ID: "sew", On: map[string]float64{"m": 2}},
			{ID: "unhoop", Minutes: minutes, Release: []string{"hoop"}},
			{ID: "press", Minutes: minutes},
		}}},
	})
	require.NoError(t, err)
	var cuts [][2]int
	for _, b := range s.people[0].blocks {
		cuts = append(cuts, [2]int{b.from, b.to})
	}
	assert.Equal(t, [][2]int{{0, 1}, {1, 5}, {5, 6}}, cuts)
	assert.Len(t, s.people[0].blocks[1].chains, 1, "load and sew share one station")
}
