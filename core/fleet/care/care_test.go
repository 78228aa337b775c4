package care_test

import (
	"math/rand/v2"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"chalkstep/core/fleet/care"
)

func TestWhatIsDue(t *testing.T) {
	now := time.Date(2026, 11, 24, 12, 0, 0, 0, time.UTC)
	ago := func(days int) *care.Done { return &care.Done{At: now.AddDate(0, 0, -days)} }
	never := care.Rules{}
	for name, c := range map[string]struct {
		state care.State
		rules care.Rules
		says  string
	}{
		"a needle of seven hours": {care.State{Kind: care.Needle, Last: ago(90), Minutes: 7 * 60}, care.Defaults(),
			""},
		"a needle of eight hours": {care.State{Kind: care.Needle, Last: ago(2), Minutes: 8 * 60}, care.Defaults(),
			"8.0 sewn since, of 8 hours"},
		"a needle that struck": {care.State{Kind: care.Needle, Last: ago(2), Minutes: 5, Struck: now},
			care.Defaults(), "struck"},
		"a strike is nothing to lint": {care.State{Kind: care.Lint, Last: ago(2), Minutes: 5, Struck: now},
			care.Defaults(), ""},
		"lint of nine hours": {care.State{Kind: care.Lint, Minutes: 9 * 60}, care.Defaults(),
			"9.0 sewn since"},
		"nobody knows of a service": {care.State{Kind: care.Service}, care.Defaults(), ""},
		"a service a year ago": {care.State{Kind: care.Service, Last: ago(366)}, care.Defaults(),
			"the last was on"},
		"a service in summer": {care.State{Kind: care.Service, Last: ago(120), Minutes: 900 * 60},
			care.Defaults(), ""},
		"where nothing comes round: needle":  {care.State{Kind: care.Needle, Minutes: 1e6}, never, ""},
		"where nothing comes round: service": {care.State{Kind: care.Service}, never, ""},
	} {
		t.Run(name, func(t *testing.T) {
			due := c.state.Due(c.rules, now)
			assert.Equal(t, c.says == "", due.Silent())
			assert.Contains(t, due.String(), c.says)
		})
	}
}

// The chance is that of a table: 9 of 12 heads of a fair coin or more is 299/4096.
func TestTheChanceOfSoManyBreaks(t *testing.T) {
	trouble := care.TroubleOf(1, map[int64]care.Tally{1: {9, 50_000}, 2: {3, 50_000}})
	assert.InDelta(t, 299.0/4096, trouble.Chance, 1e-12)
	assert.False(t, trouble.StandsOut(), "seven in a hundred is not rare")
	trouble = care.TroubleOf(1, map[int64]care.Tally{1: {18, 50_000}, 2: {6, 50_000}, 3: {}})
	assert.Equal(t, 2, trouble.Machines, "one that never sewed is not compared")
	assert.True(t, trouble.StandsOut())
	assert.Equal(t, "18 breaks in 50,000 stitches, 3.6 in 10,000; the others 1.2. Were it like the others, so many "+
		"would come by chance 1 time in 88 (exact test of two Poisson rates, 2 machines compared)", trouble.Say().String())
	assert.InDelta(t, 1.0, care.TroubleOf(2, map[int64]care.Tally{2: {50, 1000}}).Chance, 0, "alone it is like itself")
	assert.Equal(t, "50 breaks in 1,000 stitches, 500.0 in 10,000",
		care.TroubleOf(2, map[int64]care.Tally{2: {50, 1000}}).Say().String())
	assert.False(t, care.TroubleOf(2, map[int64]care.Tally{1: {18, 50_000}, 2: {0, 50_000}}).StandsOut(),
		"the good one is not warned of")
}

// Rooms in which all machines are alike are warned of one time in twenty at most, whatever
// their size; one that is four times worse is found nearly always.
func TestFalseAlarmsAreRare(t *testing.T) {
	rng := rand.New(rand.NewPCG(11, 26))
	sew := func(perTenThousand float64) care.Tally {
		tally := care.Tally{Stitches: 80_000}
		for range tally.Stitches / 10 {
			if rng.Float64() < perTenThousand/1000 {
				tally.Breaks++
			}
		}
		return tally
	}
	const rooms, machines = 300, 6
	alarms, found := 0, 0
	for range rooms {
		tallies := map[int64]care.Tally{}
		for id := range int64(machines) {
			tallies[id] = sew(2)
		}
		for id := range int64(machines) {
			if care.TroubleOf(id, tallies).StandsOut() {
				alarms++
			}
		}
		tallies[0] = sew(8)
		if care.TroubleOf(0, tallies).StandsOut() {
			found++
		}
	}
	assert.Less(t, alarms, rooms*7/100, "five in a hundred, and what so few rooms may be off by")
	assert.Greater(t, found, rooms*95/100)
}
