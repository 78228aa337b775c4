package search_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/schedule"
	"chalkstep/core/schedule/scheduletest"
)

// Two people and one hoop: whoever is second hoops when the first gives it back, and
// the whole day follows from that.
func TestAPlanSaysWhatAStepWaitsFor(t *testing.T) {
	takes := map[string]schedule.Choice{"a": {"small"}}
	p := schedule.Problem{WindowMinutes: 90, Machines: []schedule.Machine{{ID: "a"}},
		Resources: []schedule.Resource{{ID: "small", Count: 1}},
		Jobs:      []schedule.Job{sewing("ana", takes, 20, "small"), sewing("bo", takes, 20, "small")}}
	r := plan(t, p)
	second := "bo"
	if assignmentOf(t, r, "ana", "hoop").Start > 0 {
		second = "ana"
	}
	causes := schedule.Why(p, r)
	require.Len(t, causes, len(r.Assignments))
	for i, s := range r.Assignments {
		c := causes[i]
		switch {
		case s.Operation == "hoop" && s.Job == second:
			assert.Equal(t, schedule.FollowsOther, c.Kind)
			assert.Equal(t, "small", c.Resource)
			assert.Equal(t, "unhoop", c.Operation)
			assert.NotEqual(t, second, c.Job)
		case s.Operation == "hoop":
			assert.Equal(t, schedule.FollowsArrival, c.Kind)
		default:
			assert.Equal(t, schedule.FollowsOwn, c.Kind)
		}
		assert.True(t, c.Critical, "one hoop: everything follows from it")
	}
}

// What is critical leads from the beginning of the day to its end without a gap, and
// who waits in it waits for somebody who is critical too.
func TestTheCriticalStepsFillTheDay(t *testing.T) {
	for seed := range uint64(12) {
		p := scheduletest.Class(10, 4, seed)
		r := plan(t, p)
		critical, latest := 0.0, 0.0
		for i, c := range schedule.Why(p, r) {
			if !c.Critical {
				continue
			}
			critical += r.Assignments[i].End - r.Assignments[i].Start
			latest = max(latest, r.Assignments[i].End)
		}
		assert.InDelta(t, r.MakespanMinutes, latest, 1e-6, "seed %d", seed)
		assert.Greater(t, critical, 0.7*r.MakespanMinutes, "seed %d", seed)
		assert.LessOrEqual(t, critical, r.MakespanMinutes*1.5, "seed %d", seed)
	}
}

func TestAPinAndABreakAreCauses(t *testing.T) {
	at := 30.0
	p := schedule.Problem{WindowMinutes: 120, Machines: []schedule.Machine{{ID: "a"}},
		Resources: []schedule.Resource{{ID: "small", Count: 2}}, Closed: []schedule.Interval{{From: 52, To: 60}},
		Jobs: []schedule.Job{sewing("ana", map[string]schedule.Choice{"a": {"small"}}, 20, "small")}}
	p.Jobs[0].Operations[1].At = &at
	r := plan(t, p)
	causes := schedule.Why(p, r)
	for i, s := range r.Assignments {
		if s.Operation == "sew" {
			assert.Equal(t, schedule.FollowsPin, causes[i].Kind)
		}
		if s.Operation == "hoop" {
			assert.Contains(t, []schedule.CauseKind{schedule.FollowsArrival, schedule.FollowsNext}, causes[i].Kind)
		}
	}
}
