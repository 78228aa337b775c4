package kit_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/kit"
	"chalkstep/core/recipe"
	"chalkstep/core/stitch"
)

func class(students int) kit.Request {
	return kit.Request{
		Students: students,
		Blank:    "canvas tote",
		Cuts: []kit.Cut{{Hoop: "medium", Students: students, Recipe: recipe.Recipe{
			Under: []recipe.Layer{{What: "tear-away", Weight: "medium", Sheets: 2, How: "hooped", CutMM: [2]float64{180, 230}}},
			Over:  &recipe.Topper{What: recipe.Film, CutMM: [2]float64{180, 230}},
		}}},
		Needle:  recipe.Needle{Size: "90/14", Point: "embroidery"},
		Stops:   []stitch.Stop{{N: 1, ThreadMM: 10_000, Trims: 2}, {N: 2, ThreadMM: 4_000}, {N: 3, ThreadMM: 1_000, Trims: 1}},
		Threads: []string{"#204060", "#f0f0f0", "#204060"},
		Machines: []kit.Share{
			{Machine: "Heron", BobbinStyle: "low", BobbinMetres: 60, Pieces: 6},
			{Machine: "Kettle", BobbinStyle: "tall", BobbinMetres: 20, Pieces: 5},
			{Machine: "Wharf", BobbinStyle: "tall", BobbinMetres: 5, Pieces: 1},
		},
	}
}

func TestSetsAreStudentsTestAndSpares(t *testing.T) {
	for students, sets := range map[int]int{1: 3, 6: 8, 7: 10, 12: 15} {
		assert.Equal(t, sets, kit.Defaults().For(class(students)).Sets, "%d students", students)
	}
	assert.Equal(t, "7 students + 1 test + 2 spares (1 for every 6) = 10 sets", kit.Defaults().For(class(7)).SetsWorking)
}

func TestQuantitiesFollowTheirFormulas(t *testing.T) {
	k := kit.Defaults().For(class(8)) // 11 sets
	require.Len(t, k.Stabilizer, 2)
	assert.Equal(t, "22 sheets", k.Stabilizer[0].Quantity())
	assert.Equal(t, "medium tear-away, cut 180 × 230 mm", k.Stabilizer[0].What)
	assert.Equal(t, "11 sheets", k.Stabilizer[1].Quantity())
	assert.Equal(t, 33, k.Sheets())

	require.Len(t, k.Thread, 2, "stops 1 and 3 share a colour")
	assert.InDelta(t, 11*(10_000*1.35+3*40+1_000*1.35+2*40), k.Thread[0].Count, 1e-6)
	assert.InDelta(t, 11*(4_000*1.35+40), k.Thread[1].Count, 1e-6)
	assert.Equal(t, "5 needles", k.Needles[0].Quantity()+" "+k.Needles[0].What[:7], "3 machines and 8 ÷ 4 spares")
	assert.Equal(t, "11", k.Blanks[0].Quantity())
}

func TestBobbinsAreCountedByStyleAndNotRunOutInsideAPiece(t *testing.T) {
	// One piece takes 0.35 × 20.49 m = 7.2 m: eight to a bobbin of 60 m, two
	// to one of 20 m, and two bobbins of 5 m to a piece.
	k := kit.Defaults().For(class(8))
	require.Len(t, k.Bobbins, 2)
	assert.Equal(t, "bobbins, low 1", k.Bobbins[0].What+" "+k.Bobbins[0].Quantity())
	assert.Equal(t, 6, k.BobbinCount())
	assert.Equal(t, "bobbins, tall 5", k.Bobbins[1].What+" "+k.Bobbins[1].Quantity())
}

func TestEveryLineShowsItsWorking(t *testing.T) {
	k := kit.Defaults().For(class(9))
	lines := slices.Concat(k.Needles, k.Blanks, k.Stabilizer, k.Thread, k.Bobbins)
	for _, line := range lines {
		assert.NotEmpty(t, line.Working, line.What)
		assert.NotEmpty(t, line.Quantity(), line.What)
	}
}

func TestTestsAndSparesAreCutForTheHoopMostStudentsUse(t *testing.T) {
	r := class(8)
	small := r.Cuts[0]
	small.Hoop, small.Students = "small", 3
	small.Recipe.Over = nil
	r.Cuts[0].Students = 5
	k := kit.Defaults().For(kit.Request{Students: 8, Cuts: []kit.Cut{small, r.Cuts[0]}})
	require.Len(t, k.Stabilizer, 3)
	assert.Equal(t, "6 sheets", k.Stabilizer[0].Quantity(), "3 students, two sheets each")
	assert.Equal(t, "16 sheets", k.Stabilizer[1].Quantity(), "5 students, a test and 2 spares, two sheets each")
	assert.Contains(t, k.Stabilizer[1].Working[0], "= 8 sets")
}
