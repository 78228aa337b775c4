package kit_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/kit"
	"chalkstep/core/say"
	"chalkstep/core/stitch"
	"chalkstep/core/supply"
)

// Two kits for one class add up line by line, with both workings.
func TestKitsAddUp(t *testing.T) {
	size := [2]float64{150, 150}
	tear := supply.Sheet(supply.TearAway, supply.Medium)
	a := kit.Kit{
		Sets: 8, SetsWorking: []say.Text{say.T("8 sets")},
		Cuts:    []kit.Line{{Key: tear, SizeMM: size, Count: 1, Unit: kit.SheetUnit, Working: []say.Text{say.T("a")}}},
		Thread:  []kit.Line{{Key: navy, Count: 12_000, Unit: kit.ThreadMM}},
		Bobbins: []kit.Line{{Key: supply.Bobbins("low"), Count: 2}},
	}
	b := kit.Kit{
		Sets: 2, SetsWorking: []say.Text{say.T("2 sets")},
		Cuts: []kit.Line{{Key: tear, SizeMM: size, Count: 2, Unit: kit.SheetUnit, Working: []say.Text{say.T("b")}},
			{Key: tear, SizeMM: [2]float64{180, 230}, Count: 1}},
		Thread: []kit.Line{{Key: navy, Count: 3_000, Unit: kit.ThreadMM}, {Key: white, Count: 500, Unit: kit.ThreadMM}},
	}
	k := kit.Merge(a, b)
	assert.Equal(t, 10, k.Sets)
	assert.Equal(t, "[8 sets 2 sets]", fmt.Sprint(k.SetsWorking))
	require.Len(t, k.Cuts, 2)
	assert.InDelta(t, 3, k.Cuts[0].Count, 1e-9)
	assert.Equal(t, "[a b]", fmt.Sprint(k.Cuts[0].Working))
	require.Len(t, k.Thread, 2)
	assert.InDelta(t, 15_000, k.Thread[0].Count, 1e-9)
	assert.Equal(t, "15.0 m", k.Thread[0].Quantity().String())
	assert.InDelta(t, 1, a.Cuts[0].Count, 1e-9, "the first kit stays as it was")
}

// A machine goes on with its bobbin, in whatever hoop or for whatever project the next piece is sewn: bobbins are
// counted by machine and style.
func TestBobbinsAreCountedByMachine(t *testing.T) {
	f := kit.Defaults()
	sewn := []stitch.Stop{{N: 1, ThreadMM: 10_000}}
	eachMM := f.BobbinMM(sewn)
	threads := []supply.Key{{Kind: supply.Thread, Fibre: supply.Polyester}}
	seat := func(machine, hoop string, students int) kit.Seat {
		return kit.Seat{Machine: machine, Bobbin: supply.Bobbins("low, clear"), BobbinMetres: 10.5 * eachMM / 1000,
			Students: students, Hoopings: []kit.Hooping{{Hoop: hoop, Stops: sewn, Threads: threads}}}
	}
	bobbins := func(requests ...kit.Request) int { return f.For(requests...).BobbinCount() }
	f.Tests, f.StudentsPerSpare = 0, 1000 // one spare, at the seat with most students
	assert.Equal(t, 1, bobbins(kit.Request{Seats: []kit.Seat{seat("Heron", "medium", 5), seat("Heron", "magnetic", 4)}}),
		"nine students and a spare, in two hoops, on one bobbin")
	assert.Equal(t, 2, bobbins(kit.Request{Seats: []kit.Seat{seat("Heron", "medium", 5), seat("Kettle", "medium", 4)}}))
	one := kit.Request{Seats: []kit.Seat{seat("Heron", "medium", 3)}}
	other := kit.Request{Seats: []kit.Seat{seat("Heron", "small", 4)}}
	assert.Equal(t, 1, bobbins(one, other), "two projects at one machine")
	long := kit.Request{Seats: []kit.Seat{seat("Heron", "medium", 1)}}
	long.Seats[0].Hoopings[0].Stops = []stitch.Stop{{N: 1, ThreadMM: 260_000}}
	assert.Equal(t, 2*3, bobbins(long), "a student and a spare, each of two and a half bobbins, swapped between stops")
}
