package fleet_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"chalkstep/core/fleet"
	"chalkstep/core/pace"
	"chalkstep/core/policy"
)

// What one machine's runs tell of its pace is its own; what they tell of thread
// is everyone's.
func TestLearningFromLoggedRuns(t *testing.T) {
	rules := policy.Defaults()
	slow := fleet.Logged{Runs: pace.Runs{Count: 20, TookMinutes: 400, SaidMinutes: 300},
		Thread: pace.Drawn{PathMM: 200_000, RealMM: 400_000, Ends: 40}}
	machines := []fleet.Machine{{Name: "Heron", Logged: slow}, {Name: "Kettle"}}
	learned := fleet.Learn(machines, rules)
	assert.Less(t, machines[0].Pace, rules.Pace.MixedPace, "it takes longer than was said")
	assert.Positive(t, machines[0].Pace)
	assert.Zero(t, machines[1].Pace, "nobody logged a run of Kettle")
	assert.Greater(t, learned.Kit.DrawFactor, rules.Kit.DrawFactor)
	assert.Equal(t, policy.Defaults(), rules, "what it was learned from stays")
}

func TestABookingSaysWhoHasTheMachine(t *testing.T) {
	zone := time.FixedZone("ferry", 3600)
	start := time.Date(2026, 11, 25, 9, 0, 0, 0, time.UTC)
	for want, b := range map[string]fleet.Booking{
		"Heron is booked 10:00–11:30 for Ada.":              {Student: &fleet.Named{Name: "Ada"}},
		"Heron is booked 10:00–11:30 for the class Badges.": {Class: &fleet.Named{Name: "Badges"}},
	} {
		b.Machine, b.StartsAt, b.EndsAt = fleet.Named{Name: "Heron"}, start, start.Add(90*time.Minute)
		assert.Equal(t, want, b.Taken(zone))
	}
	ada := fleet.Booking{Machine: fleet.Named{Name: "Heron"}, Student: &fleet.Named{Name: "Ada"}, StartsAt: start,
		EndsAt: start.Add(time.Hour)}
	assert.Equal(t, "Ada has Heron 10:00–11:00.", ada.Busy(zone))
	ada.Class = &fleet.Named{Name: "Badges"}
	assert.Equal(t, "Ada is in the class Badges 10:00–11:00.", ada.Busy(zone))
}
