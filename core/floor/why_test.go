package floor_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/floor"
	"chalkstep/core/floor/floortest"
)

// Two people and one hoop: whoever is second hoops when the first gives it back, and
// the whole day follows from that.
func TestAPlanSaysWhatAStepWaitsFor(t *testing.T) {
	takes := map[string]floor.Choice{"a": {"small"}}
	p := floor.Problem{WindowMinutes: 90, Stations: []floor.Station{{ID: "a"}}, Pools: []floor.Pool{{ID: "small", Count: 1}},
		People: []floor.Person{sewing("ana", takes, 20, "small"), sewing("bo", takes, 20, "small")}}
	r := plan(t, p)
	second := "bo"
	if stepOf(t, r, "ana", "hoop").Start > 0 {
		second = "ana"
	}
	causes := floor.Why(p, r)
	require.Len(t, causes, len(r.Steps))
	for i, s := range r.Steps {
		c := causes[i]
		switch {
		case s.Step == "hoop" && s.Person == second:
			assert.Equal(t, floor.FollowsOther, c.Kind)
			assert.Equal(t, "small", c.Resource)
			assert.Equal(t, "unhoop", c.Step)
			assert.NotEqual(t, second, c.Person)
		case s.Step == "hoop":
			assert.Equal(t, floor.FollowsArrival, c.Kind)
		default:
			assert.Equal(t, floor.FollowsOwn, c.Kind)
		}
		assert.True(t, c.Critical, "one hoop: everything follows from it")
	}
}

// What is critical leads from the beginning of the day to its end without a gap, and
// who waits in it waits for somebody who is critical too.
func TestTheCriticalStepsFillTheDay(t *testing.T) {
	for seed := range uint64(12) {
		p := floortest.Class(10, 4, seed)
		r := plan(t, p)
		critical, latest := 0.0, 0.0
		for i, c := range floor.Why(p, r) {
			if !c.Critical {
				continue
			}
			critical += r.Steps[i].End - r.Steps[i].Start
			latest = max(latest, r.Steps[i].End)
		}
		assert.InDelta(t, r.MakespanMinutes, latest, 1e-6, "seed %d", seed)
		assert.Greater(t, critical, 0.7*r.MakespanMinutes, "seed %d", seed)
		assert.LessOrEqual(t, critical, r.MakespanMinutes*1.5, "seed %d", seed)
	}
}

func TestAPinAndABreakAreCauses(t *testing.T) {
	at := 30.0
	p := floor.Problem{WindowMinutes: 120, Stations: []floor.Station{{ID: "a"}}, Pools: []floor.Pool{{ID: "small", Count: 2}}, Closed: []floor.Span{{From: 52, To: 60}},
		People: []floor.Person{sewing("ana", map[string]floor.Choice{"a": {"small"}}, 20, "small")}}
	p.People[0].Steps[1].At = &at
	r := plan(t, p)
	causes := floor.Why(p, r)
	for i, s := range r.Steps {
		if s.Step == "sew" {
			assert.Equal(t, floor.FollowsPin, causes[i].Kind)
		}
		if s.Step == "hoop" {
			assert.Contains(t, []floor.CauseKind{floor.FollowsArrival, floor.FollowsNext}, causes[i].Kind)
		}
	}
}
