package project_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/design"
	"chalkstep/core/fleet"
	"chalkstep/core/hoop"
	"chalkstep/core/kit"
	"chalkstep/core/pace"
	"chalkstep/core/policy"
	"chalkstep/core/project"
	"chalkstep/core/recipe"
	"chalkstep/core/skill"
	"chalkstep/core/stitch"
	"chalkstep/core/supply"
)

// mat is built up in the hoop: batting and cotton at the start, a linen ring
// after its line, a backing from below before the last stop, bound off the
// machine.
func mat() project.Project {
	ring := design.Design{ID: 7, Name: "Ring", WidthMM: 100, HeightMM: 100, Stitches: 4000}
	for i, role := range []stitch.Role{stitch.Placement, stitch.TackDown, stitch.Cover, stitch.Satin} {
		ring.Stops = append(ring.Stops,
			design.Stop{Stop: stitch.Stop{N: i + 1, Role: role, Stitches: 1000, ThreadMM: 2000,
				Bounds: stitch.Bounds{Left: -50, Right: 50, Bottom: -50, Top: 50}}})
	}
	return project.Project{
		ID: 6, Name: "Mat", InHoop: true, Fabric: recipe.WovenCotton,
		Blank: project.Blank{Name: "mat", WidthMM: 150, HeightMM: 150}, Hoopings: []project.Hooping{{Design: ring}},
		Layers: []project.Layer{
			{As: kit.Batting}, {As: kit.Background, Fabric: recipe.WovenCotton},
			{As: kit.PieceLayer, Fabric: recipe.Linen, BeforeStop: 2},
			{As: kit.Backing, Fabric: recipe.WovenCotton, Under: true, BeforeStop: 4}, {As: kit.Binding, Fabric: recipe.Linen},
		},
	}
}

func metre(supply.Key) float64 { return 1000 }

// Layers lie over the stops, each with what is cut for it and how it is held.
func TestLayersLieOverTheStops(t *testing.T) {
	lying := mat().Lying(metre, recipe.Rules{})
	require.Len(t, lying, 5)
	for i, want := range []struct {
		before  int
		held    string
		size    [2]float64
		trimmed bool
	}{
		{1, "on top, tape all sides it could flap", [2]float64{200, 200}, true},
		{1, "on top, tape all sides it could flap", [2]float64{200, 200}, false},
		{2, "on top, tape all sides it could flap", [2]float64{124, 124}, true},
		{4, "from below, tape the corners", [2]float64{200, 200}, false},
		{0, "round the edge, off the machine: join mid-side, mitre, never pulled", [2]float64{732, 63}, false},
	} {
		assert.Equal(t, want.before, lying[i].Before, i)
		assert.Equal(t, want.held, lying[i].Held.String())
		assert.Equal(t, want.size, lying[i].Piece.SizeMM, lying[i].As)
		assert.Equal(t, want.trimmed, lying[i].Trimmed, lying[i].As)
	}
	assert.False(t, mat().Lying(metre, recipe.Rules{Applique: "pre-cut"})[2].Trimmed, "what was cut before is not trimmed")
}

// Nothing is hooped but stabilizer, and nothing marked; the layers take hands,
// minutes, and a step of the ladder of their own.
func TestBuiltInTheHoop(t *testing.T) {
	rules := policy.Defaults()
	steps, err := mat().Steps(rules)
	require.NoError(t, err)
	var keys []pace.StepKey
	titles := map[pace.StepKey]string{}
	for _, s := range steps {
		keys = append(keys, s.Key)
		titles[s.Key] = s.Title.String()
	}
	assert.NotContains(t, keys, pace.StepMark)
	assert.Equal(t, "Hoop the stabilizer alone", titles[pace.StepHoop])
	assert.Equal(t, "Sew stop by stop, laying and trimming the layers", titles[pace.StepSew])
	assert.Contains(t, pace.Needs(steps), skill.LayersInHoop)
	assert.Contains(t, pace.Needs(steps), skill.Applique)

	machine := pace.Machine{TopSpeedSPM: 700, ChangeSeconds: 60, Needles: 1, AutoTrim: true}
	bare := rules.Pace.StitchOut(machine, mat().Design().Pacing(), 1)
	built := rules.Pace.StitchOut(machine, mat().Pacing(0), 1)
	assert.InDelta(t, 3+4, bare.Handling, 1e-9, "the ring is laid and trimmed")
	assert.InDelta(t, bare.Handling+3*3+4, built.Handling, 1e-9,
		"batting, cotton and backing are laid too, and the batting trimmed")
	assert.Equal(t, 2+3+1, mat().Hands(recipe.Rules{}))

	room1 := []fleet.Machine{
		{ID: 1, Name: "Gull", Formats: []string{"dst"}, TopSpeedSPM: 700, Needles: 1,
			Hoops: []fleet.Held{{Hoop: fleet.Hoop{ID: 1, Name: "Small", Field: hoop.Field{WidthMM: 130, HeightMM: 130},
				Count: 1}}}}}
	assert.Contains(t, project.Put(mat(), room1, rules).NoHoop.String(), "has to fit into it",
		"the ring would, the mat does not")
	room1[0].Hoops[0].WidthMM, room1[0].Hoops[0].HeightMM = 150, 150
	assert.True(t, project.Put(mat(), room1, rules).NoHoop.Silent())

	_, recipeErr := mat().Recipe(0, hoop.Field{WidthMM: 200, HeightMM: 200}, rules)
	require.NoError(t, recipeErr)
	assert.Empty(t, mat().BlankItem().Key.Kind, "there is no blank in the bag")
	assert.Len(t, mat().Laid(1), 2)
}
