package floor_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/floor"
	"chalkstep/core/floor/floortest"
)

// A changed plan is decoded from where it begins to differ, and comes out as from the
// start.
func TestWhatIsResumedIsWhatIsDecoded(t *testing.T) {
	planned := 0
	for seed := range uint64(60) {
		p := floortest.Random(rand.New(rand.NewPCG(seed, 31)))
		if seed%6 == 0 {
			p = floortest.Generated(seed)
		}
		if _, err := floor.Plan(p, floor.Options{Iterations: 1}); err != nil {
			continue
		}
		planned++
		different, err := floor.Resumed(p, seed, 200)
		require.NoError(t, err)
		require.Zero(t, different, "seed %d", seed)
	}
	assert.Greater(t, planned, 40)
}

// Turns are put in order by time, before 0 as after it, and by person where times are the
// same; nobody is lost however far away a time is.
func TestTurnsInOrder(t *testing.T) {
	const far = math.MaxInt64
	for name, c := range map[string]struct {
		times []int64
		order []int
	}{
		"as they are":    {[]int64{0, 5, 9}, []int{0, 1, 2}},
		"the other way":  {[]int64{9, 5, 0}, []int{2, 1, 0}},
		"before 0":       {[]int64{-1, -7, 3, 0}, []int{1, 0, 3, 2}},
		"the same":       {[]int64{4, 4, -4, -4}, []int{2, 3, 0, 1}},
		"as far as goes": {[]int64{far, 1, -far, 0, -far, far}, []int{2, 4, 3, 1, 0, 5}},
	} {
		t.Run(name, func(t *testing.T) { assert.Equal(t, c.order, floor.InOrder(c.times)) })
	}
}

// What is placed from the end of the day is a plan too, for a day at whose beginning
// nobody is late.
func TestADayPlacedFromItsEndKeepsTheRules(t *testing.T) {
	mirrored := 0
	for seed := range uint64(80) {
		p := floortest.Random(rand.New(rand.NewPCG(seed, 37)))
		if seed%4 == 0 {
			p = floortest.Generated(seed)
		}
		for i := range p.People {
			p.People[i].Ready = 0
		}
		r, ok, err := floor.Mirrored(p)
		if err != nil || !ok {
			continue
		}
		mirrored++
		require.NoError(t, floortest.Check(p, r), "seed %d", seed)
	}
	assert.Greater(t, mirrored, 40)
}
