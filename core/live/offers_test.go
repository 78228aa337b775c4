package live_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/classday/classdaytest"
	"chalkstep/core/live"
	"chalkstep/core/pace"
)

// Whoever will not finish is offered another machine, where that helps: pressed, they are
// done when it said.
func TestWhoeverIsLateIsOfferedAnotherMachine(t *testing.T) {
	class := classdaytest.Class()
	class.Machines[1] = classdaytest.Gull()
	class.Machines[1].ID, class.Machines[1].Name = tern, "Tern"
	class.EndsAt = class.StartsAt.Add(70 * time.Minute)
	l := begun(t, class)
	home := map[string]int64{}
	for _, s := range l.state().Standings {
		home[s.Name], _ = l.state().MachineOf(s.StudentID)
	}
	// Everybody is seated at one machine, by hand.
	for _, s := range l.state().Standings {
		if home[s.Name] != gull {
			l.add(1, live.Event{Kind: live.Seated, StudentID: s.StudentID, MachineID: gull})
		}
	}
	for _, id := range []int64{ann, ben, cat} {
		l.until(t, 20, id, pace.StepHoop)
	}
	s := l.state()
	now := l.plan.At(20)
	f := s.Forecast(now)
	require.NotEmpty(t, f.Late(s))
	offers := s.Offers(now, f)
	require.NotEmpty(t, offers)
	o := offers[0]
	require.NotEmpty(t, o.Moves)
	for _, m := range o.Moves {
		assert.EqualValues(t, tern, m.MachineID)
	}
	assert.Equal(t, f.Finish, o.Was)
	assert.True(t, o.Done.Before(f.Finish))
	after := s
	for _, e := range s.Written(live.Event{Kind: live.Rearranged, At: now, Moves: o.Moves}) {
		after = l.add(20, e)
	}
	g := after.Forecast(now)
	assert.WithinDuration(t, o.Done, g.Finish, time.Second)
	assert.Equal(t, o.Late, len(g.Late(after)))

	calm := begun(t, classdaytest.Class())
	f = calm.state().Forecast(calm.plan.At(1))
	assert.Empty(t, calm.state().Offers(calm.plan.At(1), f), "nobody is late")
}
