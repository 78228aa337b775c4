package kit_test

import (
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/kit"
	"chalkstep/core/recipe"
	"chalkstep/core/stitch"
	"chalkstep/core/supply"
)

var (
	navy  = supply.Spool(supply.Polyester, stitch.RGB{R: 0x20, G: 0x40, B: 0x60})
	white = supply.Spool(supply.Polyester, stitch.RGB{R: 0xf0, G: 0xf0, B: 0xf0})
	tote  = supply.Named(supply.Blank, "Canvas tote")
	pin   = supply.Named(supply.Part, "Badge pin")
)

// hooping is a design of three stops in two colours, in a medium hoop.
func hooping() kit.Hooping {
	return kit.Hooping{
		Hoop: "Medium",
		Recipe: recipe.Recipe{
			Under: []recipe.Layer{
				{What: recipe.TearAway, Weight: supply.Medium, Sheets: 2, How: recipe.Hooped, CutMM: [2]float64{180, 230}}},
			Over:   &recipe.Topper{What: recipe.Film, CutMM: [2]float64{180, 230}},
			Needle: recipe.Needle{Size: "90/14", Point: "embroidery"},
		},
		Stops: []stitch.Stop{{N: 1, ThreadMM: 10_000, Trims: 2}, {N: 2, ThreadMM: 4_000},
			{N: 3, ThreadMM: 1_000, Trims: 1}},
		Threads: []supply.Key{navy, white, navy},
	}
}

func seat(machine, style string, metres float64, students int) kit.Seat {
	return kit.Seat{Machine: machine, Bobbin: supply.Bobbins(style), BobbinMetres: metres, Students: students,
		Hoopings: []kit.Hooping{hooping()}}
}

// class is students at one machine.
func class(students int) kit.Request {
	return kit.Request{Seats: []kit.Seat{seat("Heron", "low, clear", 60, students)},
		Blank: kit.Item{Key: tote, SizeMM: [2]float64{380, 420}, Count: 1, Name: "Canvas tote"}}
}

// room is eight students at three unlike machines.
func room() kit.Request {
	r := class(5)
	r.Seats = append(r.Seats, seat("Kettle", "tall, steel", 20, 2), seat("Wharf", "tall, steel", 5, 1))
	return r
}

func TestSetsAreStudentsTestAndSpares(t *testing.T) {
	for students, sets := range map[int]int{1: 3, 6: 8, 7: 10, 12: 15} {
		assert.Equal(t, sets, kit.Defaults().For(class(students)).Sets, "%d students", students)
	}
	assert.Equal(t, "[7 students + 1 test + 2 spares (1 for every 6) = 10 sets]",
		fmt.Sprint(kit.Defaults().For(class(7)).SetsWorking))
}

func TestQuantitiesFollowTheirFormulas(t *testing.T) {
	r := room()
	r.Parts = []kit.Item{{Key: pin, Count: 6}}
	k := kit.Defaults().For(r) // 8 students, a test and 2 spares: 11 sets
	require.Len(t, k.Cuts, 2)
	assert.Equal(t, "22 sheets", k.Cuts[0].Quantity().String())
	assert.Equal(t, "medium tear-away, cut 180 × 230 mm", k.Cuts[0].Say().String())
	assert.Equal(t, "11 sheets", k.Cuts[1].Quantity().String())
	assert.Equal(t, 33, k.Sheets())
	require.Len(t, k.Thread, 2, "stops 1 and 3 share a colour")
	assert.Equal(t, navy, k.Thread[0].Key)
	assert.InDelta(t, 11*(10_000*1.35+3*40+1_000*1.35+2*40), k.Thread[0].Count, 1e-6)
	assert.InDelta(t, 11*(4_000*1.35+40), k.Thread[1].Count, 1e-6)
	require.Len(t, k.Needles, 1)
	assert.Equal(t, "5 needles 90/14 embroidery", k.Needles[0].Quantity().String()+" "+k.Needles[0].Say().String(),
		"3 machines and 8 ÷ 4 spares")
	assert.Equal(t, "11", k.Blanks[0].Quantity().String())
	assert.Equal(t, "66", k.Parts[0].Quantity().String(), "spare sets are whole sets")
}

// One piece takes 0.35 × 20.49 m = 7.2 m of bobbin thread: eight to a bobbin
// of 60 m, two to one of 20 m, and two bobbins of 5 m to a piece.
func TestBobbinsAreCountedByStyleAndNotRunOutInsideAPiece(t *testing.T) {
	k := kit.Defaults().For(room())
	require.Len(t, k.Bobbins, 2)
	assert.Equal(t, supply.Bobbins("low, clear"), k.Bobbins[0].Key)
	assert.Equal(t, "1", k.Bobbins[0].Quantity().String(), "8 pieces at Heron: 5 students, a test and 2 spares")
	assert.Equal(t, "3", k.Bobbins[1].Quantity().String(), "one for Kettle's two pieces, two for Wharf's one")
	assert.Equal(t, 4, k.BobbinCount())
}

func TestEveryLineShowsItsWorking(t *testing.T) {
	k := kit.Defaults().For(room())
	for _, line := range slices.Concat(k.Needles, k.Blanks, k.Cuts, k.Thread, k.Bobbins) {
		assert.NotEmpty(t, line.Working, line.Say())
		assert.NotEmpty(t, line.Quantity().String(), line.Say())
		assert.NotContains(t, fmt.Sprint(line.Working, line.Say()), "%!")
	}
}

// Tests and spares are made ready where most students sit, in everything alike:
// sheets, bobbins and thread.
func TestTestsAndSparesAreMadeReadyWhereMostStudentsSit(t *testing.T) {
	small := seat("Pigeon", "low, clear", 60, 3)
	small.Hoopings[0].Recipe.Over = nil
	small.Hoopings[0].Recipe.Under = []recipe.Layer{
		{What: recipe.TearAway, Weight: supply.Medium, Sheets: 2, How: recipe.Hooped, CutMM: [2]float64{150, 150}}}
	k := kit.Defaults().For(kit.Request{Seats: []kit.Seat{small, seat("Heron", "low, clear", 60, 5)}})
	require.Len(t, k.Cuts, 3)
	assert.Equal(t, "6 sheets", k.Cuts[0].Quantity().String(), "3 students, two sheets each")
	assert.Equal(t, "16 sheets", k.Cuts[1].Quantity().String(), "5 students, a test and 2 spares, two sheets each")
	assert.Contains(t, fmt.Sprint(k.Cuts[1].Working), "= 8 sets")
}

// What the bags of everyone hold, with tests and spares, is what is brought.
func TestBagsAddUpToTheKit(t *testing.T) {
	r := room()
	r.Layers = kit.Pieces([]kit.Layer{{As: kit.Backing, Fabric: recipe.Canvas}},
		kit.Layout{FinishedMM: [2]float64{200, 200}}, wide(1000))
	r.Parts = []kit.Item{{Key: pin, Count: 6}}
	k := kit.Defaults().For(r)
	held := map[kit.ItemID]int{}
	for i, s := range r.Seats {
		sets := s.Students
		if i == 0 {
			sets += k.Sets - 8
		}
		for _, item := range kit.Bag(r, s) {
			held[item.ID()] += item.Count * sets
		}
	}
	for _, line := range slices.Concat(k.Cuts, k.Blanks, k.Parts) {
		id := kit.Item{As: line.As, Key: line.Key, SizeMM: line.SizeMM}.ID()
		assert.InDelta(t, line.Count, held[id], 1e-9, id)
		delete(held, id)
	}
	assert.Len(t, held, 1, "the step card is printed, not brought")
}

// A line of a bag is known by its key, its size and what it is laid as, in any
// units and whatever it is called.
func TestItemsHaveIDs(t *testing.T) {
	for id, item := range map[kit.ItemID]kit.Item{
		"@180x230:stabilizer;material=tear-away;weight=medium": {Key: supply.Sheet(supply.TearAway, supply.Medium),
			SizeMM: [2]float64{180, 230}, Count: 2},
		"backing@270x270.5:fabric;material=linen": {As: kit.Backing, Key: supply.Cloth("linen"),
			SizeMM: [2]float64{270, 270.5}},
		"@:part;name=badge+pin": {Key: pin, Count: 6, Name: "Badge pin"},
		"@:step-card":           {Key: supply.Key{Kind: supply.StepCard}},
	} {
		assert.Equal(t, id, item.ID())
	}
	assert.Equal(t, "6 × Badge pin", kit.Item{Key: pin, Count: 6, Name: "Badge pin"}.Whole().String())
	assert.Equal(t, "backing of linen, 270 × 270 mm",
		kit.Item{As: kit.Backing, Key: supply.Cloth("linen"), SizeMM: [2]float64{270, 270}, Count: 1}.Whole().String())
}

// Snips for jumps are on every list, one for two students; what a technique asks for too is not brought twice.
func TestSnipsAreOnEveryList(t *testing.T) {
	snips := func(r kit.Request) float64 {
		count, lines := 0.0, 0
		for _, line := range kit.Defaults().For(r).Tools {
			if line.Key == supply.Snips {
				count, lines = line.Count, lines+1
			}
		}
		assert.Equal(t, 1, lines)
		return count
	}
	assert.Equal(t, 3.0, snips(class(5)))
	r := class(5)
	r.Shared = []kit.Shared{{Key: supply.Snips, Students: 1}}
	assert.Equal(t, 5.0, snips(r), "one each, for who has much to snip")
}
