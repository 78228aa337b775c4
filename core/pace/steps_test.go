package pace_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/pace"
	"chalkstep/core/recipe"
	"chalkstep/core/skill"
	"chalkstep/core/stitch"
)

func stepsFor(t *testing.T, fabric recipe.Fabric, roles ...stitch.Role) []pace.Step {
	t.Helper()
	r, err := recipe.For(recipe.Request{Fabric: fabric, WidthMM: 60, HeightMM: 60, Stitches: 1000,
		HoopMM: [2]float64{100, 100}})
	require.NoError(t, err)
	return pace.Defaults().StepsFor(pace.Making{Fabric: fabric, Recipe: r, Roles: roles})
}

func byKey(steps []pace.Step, key pace.StepKey) pace.Step {
	for _, s := range steps {
		if s.Key == key {
			return s
		}
	}
	return pace.Step{}
}

// Every project goes from the bare blank to the sign-off, and each kind of
// blank has its own way into the hoop.
func TestEachBlankHasItsWayIntoTheHoop(t *testing.T) {
	for name, c := range map[string]struct {
		fabric  recipe.Fabric
		hoop    string
		minutes float64
		skill   skill.Key
	}{
		"a woven is hooped":        {recipe.WovenCotton, "Hoop the blank", 5, skill.HoopWoven},
		"a knit takes longer":      {recipe.Jersey, "Hoop the blank", 10, skill.HoopKnit},
		"felt is floated":          {recipe.Felt, "Hoop the stabilizer and float the blank on it", 5, skill.HoopWoven},
		"pile has a topper to lay": {recipe.Terry, "Hoop the blank", 5, skill.HoopWoven},
	} {
		t.Run(name, func(t *testing.T) {
			steps := stepsFor(t, c.fabric, stitch.Fill)
			assert.Equal(t, pace.StepMark, steps[0].Key)
			assert.Equal(t, pace.StepSignOff, steps[len(steps)-1].Key)
			assert.True(t, steps[len(steps)-1].Instructor, "signing off takes an instructor")
			hoop := byKey(steps, pace.StepHoop)
			assert.Equal(t, c.hoop, hoop.Title.String())
			assert.Equal(t, c.minutes, hoop.Minutes)
			assert.Equal(t, []skill.Key{c.skill}, hoop.Skills)
			assert.NotEmpty(t, byKey(steps, pace.StepLoad).Cautions, "the caution stands at the step it belongs to")
		})
	}
	assert.Contains(t, byKey(stepsFor(t, recipe.Terry), pace.StepLoad).Skills, skill.Topper)
	pieces := byKey(stepsFor(t, recipe.Linen, stitch.Placement, stitch.TackDown, stitch.Cover), pace.StepSew)
	assert.Contains(t, pieces.Title.String(), "laying and trimming the pieces")
	assert.Contains(t, pieces.Skills, skill.Applique)
}

func TestFurtherHoopingsAndWorkHaveKeysOfTheirOwn(t *testing.T) {
	first := stepsFor(t, recipe.Canvas, stitch.Fill)
	again := pace.AnotherHooping(2, "the back", first, pace.Making{Roles: []stitch.Role{stitch.Placement}}, nil)
	var keys []pace.StepKey
	for _, s := range again {
		keys = append(keys, s.Key)
		assert.Contains(t, s.Title.String(), ": the back")
		base, hooping := s.Key.Base()
		assert.Equal(t, 2, hooping)
		assert.Equal(t, byKey(first, base).Where, s.Where)
	}
	assert.Equal(t, []pace.StepKey{"hoop-2", "load-2", "sew-2", "unhoop-2"}, keys)
	assert.Contains(t, again[2].Skills, skill.Applique)

	for _, key := range []pace.StepKey{"hoop", "sign-off", "clean-up", "work:3", "iron:2"} {
		base, hooping := key.Base()
		assert.Equal(t, key, base, "no hooping in the key")
		assert.Equal(t, 1, hooping)
	}
	for n := 1; n < 12; n++ {
		base, hooping := pace.StepSew.In(n).Base()
		assert.Equal(t, pace.StepSew, base)
		assert.Equal(t, n, hooping)
	}
	bind, press := pace.Work(1, "Bind the edge", 25, false, true), pace.Work(2, "Press the binding", 4, true, false)
	assert.False(t, bind.Iron)
	assert.True(t, bind.Instructor)
	assert.True(t, press.Iron)
	assert.Contains(t, press.Cautions[0].String(), "The iron is hot")
	assert.True(t, byKey(stepsFor(t, recipe.Linen), pace.StepPress).Iron)
}

func TestNeedsAreListedOnce(t *testing.T) {
	steps := stepsFor(t, recipe.Jersey, stitch.Fill)
	needs := pace.Needs(append(steps, steps...))
	seen := map[skill.Key]bool{}
	for _, key := range needs {
		assert.False(t, seen[key], key)
		seen[key] = true
		_, known := skill.Usual.ByKey(key)
		assert.True(t, known, key)
	}
	assert.Contains(t, needs, skill.HoopKnit)
}
