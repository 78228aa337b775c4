package live_test

import (
	"fmt"
	"math/rand/v2"
	"os"
	"slices"
	"strconv"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"chalkstep/core/classday"
	"chalkstep/core/classday/classdaytest"
	"chalkstep/core/fleet"
	"chalkstep/core/live"
	"chalkstep/core/pace"
	"chalkstep/core/policy"
	"chalkstep/core/schedule/search"
	"chalkstep/core/skill"
)

// sequences are played by a run of the tests; SEQUENCES says how many instead.
const sequences = 300

// Whatever is noted, in whatever order, by whatever clock: there is a state, nobody has a machine that
// somebody else has or that is out of order, everybody who is there has something to do or is done, and
// the rest of the day is forecast or it is said why not.
func TestAnySequenceOfEvents(t *testing.T) {
	n := sequences
	if text := os.Getenv("SEQUENCES"); text != "" {
		var err error
		n, err = strconv.Atoi(text)
		require.NoError(t, err)
	}
	const classes = 100
	for c := range uint64(min(n, classes)) {
		t.Run(fmt.Sprint(c), func(t *testing.T) {
			t.Parallel()
			plan, newcomer := anyClass(t, c)
			seen := map[live.Kind]int{}
			for seed := c; seed < uint64(n); seed += classes {
				sequence(t, plan, newcomer, seed, seen)
			}
			require.Greater(t, len(seen), 8, "%v", seen)
		})
	}
}

// anyClass is a random class that was planned without the last of its roster.
func anyClass(t *testing.T, seed uint64) (plan classday.Plan, newcomer int64) {
	t.Helper()
	rng := rand.New(rand.NewPCG(seed, 77))
	all := rooms()
	names := make([]string, 0, len(all))
	for name := range all {
		names = append(names, name)
	}
	slices.Sort(names)
	class := all[names[rng.IntN(len(names))]]
	class.Places = nil
	people := 2 + rng.IntN(7)
	for i := range int64(people) {
		s := classdaytest.Practised(i+1, fmt.Sprintf("Student %d", i+1))
		if rng.IntN(3) == 0 {
			s = skill.Student{ID: i + 1, Name: s.Name, FirstTimer: true}
		}
		places := classdaytest.Places(s)
		if rng.IntN(5) == 0 {
			places[0].Attendance, places[0].LateMinutes = classday.Late, 10+rng.IntN(40)
		}
		class.Places = append(class.Places, places...)
	}
	if rng.IntN(3) == 0 {
		class.BreakAt, class.BreakMinutes = 30+rng.IntN(60), 15
	}
	class.OpeningMinutes, class.ClosingMinutes = 5*rng.IntN(3), 5*rng.IntN(3)
	class.EndsAt = class.StartsAt.Add(time.Duration(2+rng.IntN(4)) * time.Hour)
	everybody := classday.Open(class, fleet.Learn(class.Machines, policy.Defaults()))
	class.Places = class.Places[:people-1]
	day := classday.Open(class, fleet.Learn(class.Machines, policy.Defaults()))
	require.True(t, day.Why.Silent(), day.Why.String())
	result, err := search.Solve(day.Problem, search.Options{Iterations: 200, Seed: 1})
	require.NoError(t, err)
	plan = everybody.Take(result)
	plan.Begun = true
	return plan, int64(people)
}

// sequence notes whatever chance has for a class of a plan.
func sequence(t *testing.T, plan classday.Plan, newcomer int64, seed uint64, seen map[live.Kind]int) {
	t.Helper()
	rng := rand.New(rand.NewPCG(seed, 78))
	l, minute := &log{plan: plan}, 40*rng.Float64()-20
	note := func(e live.Event) {
		at := minute
		if rng.IntN(10) == 0 { // a phone that had no connection
			at -= 10 * rng.Float64()
		}
		if _, written := l.press(at, e); written > 0 {
			seen[e.Kind]++
		}
	}
	note(live.Event{Kind: live.Started})
	if rng.IntN(2) == 0 {
		note(live.Event{Kind: live.AllHere})
	}
	for n := range 30 {
		minute += 6 * rng.Float64()
		if rng.IntN(12) == 0 {
			minute += 60 * rng.Float64()
		}
		s := l.state().Until(l.plan.At(minute))
		note(anyEvent(rng, s, l.plan.At(minute), newcomer))
		s = l.state().Until(l.plan.At(minute))
		isWhole(t, s)
		if n%10 == 9 {
			holds(t, plan, s, l.plan.At(minute))
		}
	}
}

// anyEvent is any that might fit, and some that do not.
func anyEvent(rng *rand.Rand, s live.State, now time.Time, newcomer int64) live.Event {
	kinds := live.Kinds()
	kinds = append(kinds, live.Done, live.Done, live.Done, live.RowDone, live.RowDone, live.StopDone,
		live.StopDone, live.Here, live.Here)
	e := live.Event{Kind: kinds[rng.IntN(len(kinds))], StudentID: 1 + rng.Int64N(newcomer),
		WithID:    1 + rng.Int64N(newcomer),
		MachineID: 1 + rng.Int64N(2), Reason: live.Reasons[rng.IntN(len(live.Reasons))], Text: "1-2", Speed: 2,
		Until: now.Add(time.Duration(rng.IntN(60)) * time.Minute)}
	if at, there := s.Standing(e.StudentID); there {
		if step, more := at.Step(); more {
			e.Step = pace.StepKey(step.Operation)
		}
		if at.Stop < len(at.Stops) {
			e.Stop = at.Stops[at.Stop].N
		}
	}
	switch {
	case e.Kind == live.Undone && s.Last != nil && s.Last.Kind != live.Started:
		e.Undoes = s.Last.Seq
	case e.Kind == live.Ended && rng.IntN(8) > 0:
		e.Kind = live.Here
	case e.Kind == live.Rearranged:
		if offers := s.Offers(now, s.Forecast(now)); len(offers) > 0 {
			e.Moves = offers[0].Moves
		}
	}
	return e
}

// isWhole checks a state: each machine has one at most, and who is there is at something or done.
func isWhole(t *testing.T, s live.State) {
	t.Helper()
	having := map[string]string{}
	for _, at := range s.Standings {
		step, more := at.Step()
		if !more || !at.Begun {
			continue
		}
		require.Equal(t, live.Present, at.Presence, "%s is at something and not there", at.Name)
		if step.Machine == "" {
			continue
		}
		require.NotContains(t, s.Out, step.Machine, "%s at a machine that is out", at.Name)
		require.Empty(t, having[step.Machine], "%s and %s at one machine", having[step.Machine], at.Name)
		having[step.Machine] = at.Name
	}
}
