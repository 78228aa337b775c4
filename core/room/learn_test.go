package room_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"chalkstep/core/house"
	"chalkstep/core/pace"
	"chalkstep/core/room"
)

// What one machine's runs tell of its pace is its own; what they tell of thread
// is everyone's.
func TestLearningFromLoggedRuns(t *testing.T) {
	rules := house.Defaults()
	slow := room.Logged{Runs: pace.Runs{Count: 20, TookMinutes: 400, SaidMinutes: 300}, Thread: pace.Drawn{PathMM: 200_000, RealMM: 400_000, Ends: 40}}
	machines := []room.Machine{{Name: "Heron", Logged: slow}, {Name: "Kettle"}}
	learned := room.Learn(machines, rules)
	assert.Less(t, machines[0].Pace, rules.Pace.MixedPace, "it takes longer than was said")
	assert.Positive(t, machines[0].Pace)
	assert.Zero(t, machines[1].Pace, "nobody logged a run of Kettle")
	assert.Greater(t, learned.Kit.DrawFactor, rules.Kit.DrawFactor)
	assert.Equal(t, house.Defaults(), rules, "what it was learned from stays")
}

func TestABookingSaysWhoHasTheMachine(t *testing.T) {
	zone := time.FixedZone("ferry", 3600)
	start := time.Date(2026, 11, 25, 9, 0, 0, 0, time.UTC)
	for want, b := range map[string]room.Booking{
		"Heron is booked 10:00–11:30 for Ada.":              {Student: &room.Named{Name: "Ada"}},
		"Heron is booked 10:00–11:30 for the class Badges.": {Class: &room.Named{Name: "Badges"}},
	} {
		b.Machine, b.StartsAt, b.EndsAt = room.Named{Name: "Heron"}, start, start.Add(90*time.Minute)
		assert.Equal(t, want, b.Taken(zone))
	}
	ada := room.Booking{Machine: room.Named{Name: "Heron"}, Student: &room.Named{Name: "Ada"}, StartsAt: start, EndsAt: start.Add(time.Hour)}
	assert.Equal(t, "Ada has Heron 10:00–11:00.", ada.Busy(zone))
	ada.Class = &room.Named{Name: "Badges"}
	assert.Equal(t, "Ada is in the class Badges 10:00–11:00.", ada.Busy(zone))
}
