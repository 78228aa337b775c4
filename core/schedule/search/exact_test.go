package search_test

import (
	"fmt"
	"maps"
	"math/rand/v2"
	"os"
	"slices"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/schedule"
	"chalkstep/core/schedule/scheduletest"
	"chalkstep/core/schedule/search"
)

// smallDay is a day of up to four people at up to three machines in whole minutes, with hoops, hands, an assistant,
// breaks and outages.
func smallDay(rng *rand.Rand) schedule.Problem {
	p := schedule.Problem{WindowMinutes: 60, Resources: []schedule.Resource{{ID: "ins", Count: 1},
		{ID: "as", Count: rng.IntN(2)}, {ID: "small", Count: 1 + rng.IntN(2)}, {ID: "large", Count: 1}}}
	for m := range 1 + rng.IntN(3) {
		p.Machines = append(p.Machines, schedule.Machine{ID: fmt.Sprint("m", m)})
	}
	span := func() []schedule.Interval {
		from := rng.IntN(8)
		return []schedule.Interval{{From: float64(from), To: float64(from + 1 + rng.IntN(5))}}
	}
	switch rng.IntN(6) {
	case 0:
		p.Closed = span()
	case 1:
		p.Machines[rng.IntN(len(p.Machines))].Unavailable = span()
	case 2:
		p.Resources[0].Unavailable = span()
	}
	minutes := func() *float64 { return schedule.Minutes(float64(1 + rng.IntN(5))) }
	on := func() map[string]float64 {
		may := map[string]float64{p.Machines[0].ID: float64(1 + rng.IntN(6))}
		for _, m := range p.Machines[1:] {
			if rng.IntN(3) > 0 {
				may[m.ID] = float64(1 + rng.IntN(6))
			}
		}
		return may
	}
	for i := range 2 + rng.IntN(3) {
		job := schedule.Job{ID: fmt.Sprint("p", i), Ready: float64(rng.IntN(3))}
		hoop := schedule.Operation{ID: "hoop", Minutes: minutes()}
		load := schedule.Operation{ID: "load", On: on(), KeepMachine: rng.IntN(2) == 0}
		sew := schedule.Operation{ID: "sew", On: maps.Clone(load.On), SameMachine: rng.IntN(3) == 0}
		end := schedule.Operation{ID: "end", Minutes: minutes()}
		switch rng.IntN(4) {
		case 0:
			hoop.NeedsOneOf = []string{"ins", "as"}
		case 1:
			hoop.Needs = map[string]int{"ins": 1}
		}
		switch rng.IntN(4) {
		case 0:
			load.Needs = map[string]int{"ins": 1}
		case 1:
			end.NeedsOneOf = []string{"as", "ins"}
		}
		switch rng.IntN(3) {
		case 0:
			hoop.Take, end.Release = []string{"small"}, []string{"small"}
		case 1:
			hoop.TakeFor, end.Release = map[string]schedule.Choice{}, []string{"large", "small"}
			for _, m := range p.Machines {
				hoop.TakeFor[m.ID] = []schedule.Choice{{"small"}, {"large"}, {"large", "small"}}[rng.IntN(3)]
			}
			named := map[string]bool{}
			for _, choice := range hoop.TakeFor {
				for _, pool := range choice {
					named[pool] = true
				}
			}
			end.Release = slices.Sorted(maps.Keys(named))
		}
		job.Operations = []schedule.Operation{{ID: "mark", Minutes: minutes()}, hoop, load, sew, end}
		p.Jobs = append(p.Jobs, job)
	}
	return p
}

// A minuteByMinute is somebody in an exhaustive search: what they are at and for how long still, the machine they have
// or chose, and the hoop they hold.
type minuteByMinute struct {
	next, left    int
	machine, hoop string
	with          string
}

// shortest goes through everything that could be begun at each minute, and gives when all are done at the
// soonest, if that is before a limit; else the limit.
func shortest(p schedule.Problem, limit int) int {
	first := make([]minuteByMinute, len(p.Jobs))
	now := map[string][]minuteByMinute{"": first}
	for minute := range limit {
		then := map[string][]minuteByMinute{}
		for _, people := range now {
			done := true
			for i, one := range people {
				done = done && one.next == len(p.Jobs[i].Operations)
			}
			if done {
				return minute
			}
			if !allowed(p, people, minute) { // something went that they use
				continue
			}
			begins(p, people, minute, 0, func(after []minuteByMinute) {
				if next := passes(p, after); hopeful(p, next, minute+1, limit) {
					then[fmt.Sprint(next)] = next
				}
			})
		}
		now = then
	}
	return limit
}

// begins goes through all that can be begun at a minute by the ith and those after.
func begins(p schedule.Problem, people []minuteByMinute, minute, i int, do func([]minuteByMinute)) {
	if i == len(people) {
		do(people)
		return
	}
	begins(p, people, minute, i+1, do) // they wait, or are at something
	one, job := people[i], p.Jobs[i]
	if one.left > 0 || one.next == len(job.Operations) || float64(minute) < job.Ready {
		return
	}
	op := job.Operations[one.next]
	try := func(changed minuteByMinute, length float64) {
		if changed.left = int(length); meets(p.Closed, minute, changed.left) {
			return
		}
		after := slices.Clone(people)
		after[i] = changed
		if allowed(p, after, minute) {
			begins(p, after, minute, i+1, do)
		}
	}
	withs := []string{""}
	if len(op.NeedsOneOf) > 0 {
		withs = op.NeedsOneOf
	}
	for _, with := range withs {
		one.with = with
		switch {
		case len(op.TakeFor) > 0:
			for machine := range job.Operations[one.next+1].On {
				for _, pool := range op.TakeFor[machine] {
					chosen := one
					chosen.machine, chosen.hoop = machine, pool
					try(chosen, *op.Minutes)
				}
			}
		case len(op.On) > 0:
			for machine, length := range op.On {
				if one.machine != "" && one.machine != machine {
					continue
				}
				chosen := one
				chosen.machine = machine
				try(chosen, length)
			}
		default:
			chosen := one
			if len(op.Take) > 0 {
				chosen.hoop = op.Take[0]
			}
			try(chosen, *op.Minutes)
		}
	}
}

// meets tells whether what lasts so long meets a stretch in which nobody does anything.
func meets(closed []schedule.Interval, minute, length int) bool {
	return slices.ContainsFunc(closed, func(c schedule.Interval) bool {
		return float64(minute) < c.To && float64(minute+length) > c.From
	})
}

// allowed tells whether there is enough of everything in a minute.
func allowed(p schedule.Problem, people []minuteByMinute, minute int) bool {
	used := map[string]int{}
	for i, one := range people {
		ops := p.Jobs[i].Operations
		if one.hoop != "" {
			used[one.hoop]++
		}
		if one.left > 0 {
			op := ops[one.next]
			for pool, units := range op.Needs {
				used[pool] += units
			}
			if one.with != "" {
				used[one.with]++
			}
			if len(op.On) > 0 {
				used[one.machine]++
			}
		} else if one.next > 0 && one.next < len(ops) && ops[one.next-1].KeepMachine {
			used[one.machine]++
		}
	}
	out := func(spans []schedule.Interval, all int) int {
		for _, span := range spans {
			if float64(minute) >= span.From && float64(minute) < span.To {
				return all
			}
		}
		return 0
	}
	for _, m := range p.Machines {
		if used[m.ID] > 0 && used[m.ID]+out(m.Unavailable, 1) > 1 {
			return false
		}
	}
	for _, r := range p.Resources {
		if used[r.ID] > 0 && used[r.ID]+out(r.Unavailable, r.Count) > r.Count {
			return false
		}
	}
	return true
}

// passes is what a minute later is.
func passes(p schedule.Problem, people []minuteByMinute) []minuteByMinute {
	after := slices.Clone(people)
	for i := range after {
		one := &after[i]
		if one.left == 0 {
			continue
		}
		if one.left--; one.left > 0 {
			continue
		}
		ops := p.Jobs[i].Operations
		done := ops[one.next]
		one.next++
		one.with = ""
		if slices.Contains(done.Release, one.hoop) {
			one.hoop = ""
		}
		// The machine of what is done next is only that one where it is kept, or wanted again.
		if len(done.On) > 0 && !done.KeepMachine && (one.next == len(ops) || !ops[one.next].SameMachine) {
			one.machine = ""
		}
	}
	return after
}

// hopeful tells whether everybody could be done before a limit with nobody else there.
func hopeful(p schedule.Problem, people []minuteByMinute, minute, limit int) bool {
	for i, one := range people {
		left := max(minute, int(p.Jobs[i].Ready)) + one.left
		k := one.next
		if one.left > 0 {
			k++
		}
		for ; k < len(p.Jobs[i].Operations); k++ {
			op := p.Jobs[i].Operations[k]
			if op.Minutes != nil {
				left += int(*op.Minutes)
			} else {
				left += int(slices.Min(slices.Collect(maps.Values(op.On))))
			}
		}
		if left >= limit {
			return false
		}
	}
	return true
}

// Days of up to four people at up to three machines are planned as short as they can be: no search of every minute
// finds a shorter one. SMALL_DAYS says how many are looked at.
func TestSmallDaysAreOptimal(t *testing.T) {
	days := uint64(40)
	if text := os.Getenv("SMALL_DAYS"); text != "" {
		var err error
		days, err = strconv.ParseUint(text, 10, 32)
		require.NoError(t, err)
	}
	for seed := range days {
		p := smallDay(rand.New(rand.NewPCG(seed, 34)))
		r, err := search.Solve(p, search.Options{Iterations: 40, Seed: 1})
		require.NoError(t, err)
		require.NoError(t, scheduletest.Check(p, r), "day %d", seed)
		best := shortest(p, int(r.MakespanMinutes+0.5))
		assert.InDelta(t, best, r.MakespanMinutes, 1e-6, "day %d", seed)
		assert.InDelta(t, best, r.LowerBoundMinutes, 1e-6, "day %d is known to be the shortest", seed)
	}
}
