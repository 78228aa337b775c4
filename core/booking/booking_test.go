package booking_test

import (
	"fmt"
	"math/rand/v2"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/booking"
)

func zone(t testing.TB, name string) *time.Location {
	z, err := time.LoadLocation(name)
	require.NoError(t, err)
	return z
}

// span reads "2026-11-24 10:00 12:30" by the clock of a zone.
func span(t testing.TB, z *time.Location, text string) booking.Span {
	from, err := time.ParseInLocation("2006-01-02 15:04", text[:16], z)
	require.NoError(t, err)
	to, err := time.ParseInLocation("2006-01-02 15:04", text[:11]+text[17:], z)
	require.NoError(t, err)
	return booking.Span{From: from, To: to}
}

func TestRulesOfAHouse(t *testing.T) {
	z := zone(t, "Europe/Dublin")
	r := booking.Defaults()
	r.Hours[time.Sunday] = booking.Opening{}
	r.Closed = []booking.Closure{{Day: "2026-12-08", Why: "a holiday"}}
	now := time.Date(2026, 11, 24, 14, 20, 0, 0, z) // a Tuesday
	taken := []booking.Span{span(t, z, "2026-11-25 12:00 14:00")}
	for _, c := range []struct {
		name, when string
		week       float64
		want       []booking.Rule
		says       string
	}{
		{"as it should be", "2026-11-25 10:00 11:45", 0, nil, ""},
		{"before it opens", "2026-11-25 08:30 10:00", 0, []booking.Rule{booking.RuleHours}, "open from 09:00 to 21:00"},
		{"on a Sunday", "2026-11-29 10:00 11:00", 0, []booking.Rule{booking.RuleHours}, "closed on"},
		{"on a holiday", "2026-12-08 10:00 11:00", 0, []booking.Rule{booking.RuleHours}, "a holiday"},
		{"a quarter of an hour", "2026-11-25 10:00 10:15", 0, []booking.Rule{booking.RuleLeast}, "at least 30 minutes"},
		{"all morning", "2026-11-26 09:00 12:15", 0, []booking.Rule{booking.RuleMost}, "at most 3 h 00"},
		{"five weeks ahead", "2026-12-29 10:00 11:00", 0, []booking.Rule{booking.RuleAhead}, "28 days ahead"},
		{"the seventh hour of a week", "2026-11-25 10:00 11:00", 330, []booking.Rule{booking.RuleWeek}, "5 h 30 of that one"},
		{"on the heels of another", "2026-11-25 14:05 15:00", 0, []booking.Rule{booking.RuleGap}, "10 minutes"},
		{"with the gap between", "2026-11-25 14:10 15:00", 0, nil, ""},
		{"several at once", "2026-11-29 10:00 14:00", 330,
			[]booking.Rule{booking.RuleHours, booking.RuleMost, booking.RuleWeek}, "closed"},
	} {
		t.Run(c.name, func(t *testing.T) {
			var rules []booking.Rule
			text := ""
			for _, b := range r.Check(span(t, z, c.when), c.week, taken, now, z) {
				rules = append(rules, b.Rule)
				text += b.Why.String() + "; "
			}
			assert.Equal(t, c.want, rules)
			assert.Contains(t, text, c.says)
		})
	}
	none := booking.Rules{Hours: r.Hours}
	assert.Empty(t, none.Check(span(t, z, "2027-11-25 10:00 20:00"), 5000, taken, now, z), "0 is no limit")
}

// The days on which clocks change are as long as they are, in both hemispheres: the house
// opens by the clock on the wall.
func TestOpeningOverClockChanges(t *testing.T) {
	r := booking.Defaults()
	for day := range r.Hours {
		r.Hours[day] = booking.Opening{From: 0, To: 24 * 60}
	}
	for _, c := range []struct {
		zone, day string
		hours     float64
	}{
		{"Europe/Dublin", "2026-03-29", 23}, {"Europe/Dublin", "2026-10-25", 25}, {"Europe/Dublin", "2026-06-01", 24},
		{"Australia/Sydney", "2026-04-05", 25}, {"Australia/Sydney", "2026-10-04", 23},
		{"America/New_York", "2026-03-08", 23},
	} {
		z := zone(t, c.zone)
		day, err := time.ParseInLocation(time.DateOnly, c.day, z)
		require.NoError(t, err)
		open, ok := r.OpenOn(day.Add(12*time.Hour), z)
		require.True(t, ok)
		assert.InDelta(t, c.hours, open.Length().Hours(), 1e-9, "%s in %s", c.day, c.zone)
		week := booking.Week(open.From, z)
		assert.Equal(t, time.Monday, week.From.Weekday())
		assert.InDelta(t, 168+c.hours-24, week.Length().Hours(), 1e-9)
	}
	// From nine to nine is twelve hours all the same.
	z := zone(t, "Australia/Sydney")
	open, _ := booking.Defaults().OpenOn(time.Date(2026, 10, 4, 12, 0, 0, 0, z), z)
	assert.Equal(t, "09:00", open.From.In(z).Format("15:04"))
	assert.Equal(t, "21:00", open.To.In(z).Format("15:04"))
}

// Free is what a look at every minute says.
func TestFreeMinuteByMinute(t *testing.T) {
	for seed := range uint64(40) {
		rng := rand.New(rand.NewPCG(seed, 6))
		z := zone(t, []string{"Europe/Dublin", "Australia/Sydney", "UTC"}[rng.IntN(3)])
		r := booking.Defaults()
		r.GapMinutes, r.LeastMinutes = rng.IntN(3)*10, 30
		r.Hours[rng.IntN(7)] = booking.Opening{}
		from := time.Date(2026, []time.Month{3, 4, 10}[rng.IntN(3)], 1+rng.IntN(28), rng.IntN(24), 0, 0, 0, z)
		within := booking.Span{From: from, To: from.Add(4 * 24 * time.Hour)}
		var taken []booking.Span
		for range rng.IntN(12) {
			at := from.Add(time.Duration(rng.IntN(4*24*60)) * time.Minute)
			taken = append(taken, booking.Span{From: at, To: at.Add(time.Duration(15+rng.IntN(600)) * time.Minute)})
		}
		free := r.Free(within, taken, z)
		gap := time.Duration(r.GapMinutes) * time.Minute
		isFree := func(at time.Time) bool {
			open, ok := r.OpenOn(at, z)
			if !ok || at.Before(open.From) || !at.Before(open.To) {
				return false
			}
			for _, b := range taken {
				if !at.Before(b.From.Add(-gap)) && at.Before(b.To.Add(gap)) {
					return false
				}
			}
			return true
		}
		run := 0 // minutes that were free until now
		for at := within.From; at.Before(within.To); at = at.Add(time.Minute) {
			told := false
			for _, f := range free {
				told = told || !at.Before(f.From) && at.Before(f.To)
			}
			if told {
				require.True(t, isFree(at), "seed %d: %v is not free", seed, at)
			}
			if !isFree(at) {
				run = 0
				continue
			}
			if run++; run >= r.LeastMinutes {
				require.True(t, told, "seed %d: %v is free", seed, at)
			}
		}
	}
}

func TestTheBestTimes(t *testing.T) {
	z := zone(t, "Europe/Dublin")
	r := booking.Defaults()
	now := time.Date(2026, 11, 24, 14, 20, 0, 0, z)
	w := booking.Want{
		Machines: []booking.Machine{
			{ID: 1, Name: "Heron", Minutes: 40, Taken: []booking.Span{span(t, z, "2026-11-24 14:00 20:00")}},
			{ID: 2, Name: "Kettle", Minutes: 25, Taken: []booking.Span{span(t, z, "2026-11-24 16:00 17:00")}},
			{ID: 3, Name: "Wharf", Minutes: 25, Accompanied: true},
			{ID: 4, Name: "Slow", Minutes: 500},
		},
		Within: booking.Span{From: now, To: now.AddDate(0, 0, 7)}, Now: now, Zone: z,
	}
	slots := r.Slots(w, 4)
	require.Len(t, slots, 4)
	at := func(s booking.Slot) string {
		return fmt.Sprintf("%s %s–%s", s.Machine.Name, s.From.In(z).Format("02 15:04"), s.To.In(z).Format("15:04"))
	}
	assert.Equal(t, "Kettle 24 14:30–15:15", at(slots[0]), "alone before accompanied")
	assert.Equal(t, "Wharf 24 14:30–15:15", at(slots[1]))
	assert.Equal(t, "Kettle 25 09:00–09:45", at(slots[2]), "what ends sooner first")
	assert.Equal(t, "Wharf 25 09:00–09:45", at(slots[3]))
	assert.Contains(t, slots[1].Why[len(slots[1].Why)-1].String(), "has to stay")

	w.Elsewhere = []booking.Span{span(t, z, "2026-11-24 14:00 15:30")}
	assert.Equal(t, "Wharf 24 15:30–16:15", at(r.Slots(w, 1)[0]), "after their class; Kettle is soon taken")
	teaching := span(t, z, "2026-11-24 15:00 18:00")
	w.Staffed = func(s booking.Span) bool { return !s.Meets(teaching) }
	assert.Equal(t, "Kettle 24 17:15–18:00", at(r.Slots(w, 1)[0]), "nobody can stay at Wharf before six")
	w.Staffed = nil
	w.BookedMinutes = map[time.Time]float64{booking.Week(now, z).From: 350}
	assert.Equal(t, "Kettle 30 09:00–09:45", at(r.Slots(w, 1)[0]), "the week is full: the next begins on Monday")
	w.Within.To = now.AddDate(0, 0, 2)
	assert.Empty(t, r.Slots(w, 5))
	assert.Equal(t, 30*time.Minute, r.Length(3))
	assert.Equal(t, time.Hour, r.Length(45))
	assert.Equal(t, 75*time.Minute, r.Length(46))
}

// Whatever is taken: a slot keeps the rules, and is nobody else's.
func TestSlotsKeepTheRules(t *testing.T) {
	for seed := range uint64(60) {
		rng := rand.New(rand.NewPCG(seed, 12))
		w := crowded(rng, 4, 3, 60)
		r := booking.Defaults()
		for _, s := range r.Slots(w, 10) {
			broken := r.Check(s.Span, w.BookedMinutes[booking.Week(s.From, w.Zone).From], s.Machine.Taken, w.Now, w.Zone)
			require.Empty(t, broken, "seed %d: %v", seed, s.Span)
			for _, t2 := range append(s.Machine.Taken, w.Elsewhere...) {
				require.False(t, s.Meets(t2), "seed %d", seed)
			}
			require.False(t, s.From.Before(w.Now))
			require.GreaterOrEqual(t, s.Length().Minutes(), s.Machine.Minutes)
		}
	}
}

// crowded is a want at so many machines over so many weeks, which are taken so often in all.
func crowded(rng *rand.Rand, machines, weeks, bookings int) booking.Want {
	now := time.Date(2026, 10, 20, 9, 5, 0, 0, time.UTC)
	w := booking.Want{Within: booking.Span{From: now, To: now.AddDate(0, 0, 7*weeks)}, Now: now, Zone: time.UTC,
		BookedMinutes: map[time.Time]float64{booking.Week(now, time.UTC).From: float64(rng.IntN(400))}}
	for i := range machines {
		w.Machines = append(w.Machines,
			booking.Machine{ID: int64(i + 1), Name: fmt.Sprint("Machine ", i+1), Minutes: 10 + 90*rng.Float64()})
	}
	for range bookings {
		m := &w.Machines[rng.IntN(machines)]
		at := now.Truncate(24 * time.Hour).Add(time.Duration(rng.IntN(7*weeks))*24*time.Hour +
			time.Duration(9*4+rng.IntN(44))*15*time.Minute)
		m.Taken = append(m.Taken, booking.Span{From: at, To: at.Add(time.Duration(1+rng.IntN(8)) * 15 * time.Minute)})
	}
	w.Elsewhere = []booking.Span{{From: now.Add(time.Hour), To: now.Add(4 * time.Hour)}}
	return w
}

// Slots over 12 machines, 8 weeks and 2,000 bookings: the bar is 50 ms.
func BenchmarkSlots(b *testing.B) {
	w := crowded(rand.New(rand.NewPCG(1, 1)), 12, 8, 2000)
	r := booking.Defaults()
	r.AheadDays, r.WeekMinutes = 60, 0
	b.ResetTimer()
	for b.Loop() {
		if len(r.Slots(w, 8)) == 0 {
			b.Fatal("nothing was found")
		}
	}
}
