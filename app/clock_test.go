package app_test

import (
	"fmt"
	"math/rand/v2"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/actor"
	"chalkstep/app/bookings"
	applive "chalkstep/app/live"
	"chalkstep/store"
)

// While a class runs the clock of the server jumps an hour on and back again, now and then:
// every press that was accepted is in the log once, every page answers, nothing is booked
// twice, and no step becomes longer by it.
func TestTheClockJumpsDuringAClass(t *testing.T) {
	d := desks(t)[store.Instructor]
	rng := rand.New(rand.NewPCG(5, 6))
	_, links, err := d.Stations(towels)
	require.NoError(t, err)
	phones := make([]actor.Who, len(links))
	for i, link := range links {
		phones[i], err = d.App().Station(t.Context(), link.Token)
		require.NoError(t, err)
	}
	before, err := d.Workshop.Events(towels)
	require.NoError(t, err)
	accepted := map[string]bool{}
	minute, jump := 0.0, time.Duration(0)
	for n := range 150 {
		minute += rng.Float64()
		if rng.IntN(10) == 0 {
			jump = []time.Duration{-time.Hour, 0, time.Hour}[rng.IntN(3)]
		}
		at := d.after(time.Duration(minute*float64(time.Minute)) + jump)
		page, err := at.Run(towels)
		require.NoError(t, err)
		for _, s := range page.Standings {
			if step, more := s.Step(); more && len(s.Stops) == 0 {
				assert.LessOrEqual(t, s.LeftMinutes(at.Now), step.End-step.Start+1e-9, "%s, %s", s.Name, step.Operation)
			}
		}
		_, err = at.Wrap(towels)
		require.NoError(t, err)
		phone := d.App().For(t.Context(), phones[rng.IntN(len(phones))])
		phone.Now = at.Now
		station := actor.As[applive.UseCases](phone)
		_, err = station.Station()
		require.NoError(t, err)
		s := page.Standings[rng.IntN(len(page.Standings))]
		press := applive.Press{ID: fmt.Sprint("jump-", n), Ago: time.Duration(rng.IntN(90)) * time.Minute,
			HappenInput: applive.HappenInput{StudentID: s.StudentID}}
		step, more := s.Step()
		switch kind := rng.IntN(4); {
		case kind == 0 && more:
			press.Kind, press.Step = "done", step.Operation
		case kind == 1:
			press.Kind, press.Reason = "hand-up", "question"
		case kind == 2:
			press.Kind = "settled"
		default:
			press.Kind = "going"
		}
		for range 2 { // sent again, as after a lost answer
			done, err := station.Press([]applive.Press{press})
			require.NoError(t, err)
			sender := phone.Who.Place.Sender(press.ID)
			accepted[sender] = accepted[sender] || done[0].Refused == ""
		}
	}
	events, err := d.Workshop.Events(towels)
	require.NoError(t, err)
	noted := map[string]int{}
	for i, e := range events {
		assert.EqualValues(t, i+1, e.Seq)
		if i >= len(before) {
			noted[e.Sender]++
		}
	}
	got := 0
	for id, yes := range accepted {
		if yes {
			got++
			assert.Equal(t, 1, noted[id], id)
		}
	}
	assert.Greater(t, got, 20)

	// A machine is given once, whatever the clock shows.
	won := 0
	for _, jump := range []time.Duration{0, time.Hour, -time.Hour, 0} {
		if d.after(jump).Book(bookings.BookingInput{MachineID: lantern, Care: true, Date: "2026-12-09", From: "10:00",
			To: "11:00"}) == nil {
			won++
		}
	}
	assert.Equal(t, 1, won)
}
