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
	r, err := recipe.For(recipe.Request{Fabric: fabric, WidthMM: 60, HeightMM: 60, Stitches: 1000, HoopMM: [2]float64{100, 100}})
	require.NoError(t, err)
	return pace.Defaults().StepsFor(fabric, r, roles)
}

func byKey(steps []pace.Step, key string) pace.Step {
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
		skill   string
	}{
		"a woven is hooped":        {recipe.WovenCotton, "Hoop the blank", 5, skill.HoopWoven},
		"a knit takes longer":      {recipe.Jersey, "Hoop the blank", 10, skill.HoopKnit},
		"felt is floated":          {recipe.Felt, "Hoop the stabilizer and float the blank on it", 5, skill.HoopWoven},
		"pile has a topper to lay": {recipe.Terry, "Hoop the blank", 5, skill.HoopWoven},
	} {
		t.Run(name, func(t *testing.T) {
			steps := stepsFor(t, c.fabric, stitch.Fill)
			assert.Equal(t, "mark", steps[0].Key)
			assert.Equal(t, pace.StepSignOff, steps[len(steps)-1].Key)
			assert.True(t, steps[len(steps)-1].Instructor, "signing off takes an instructor")
			hoop := byKey(steps, pace.StepHoop)
			assert.Equal(t, c.hoop, hoop.Title)
			assert.Equal(t, c.minutes, hoop.Minutes)
			assert.Equal(t, []string{c.skill}, hoop.Skills)
			assert.NotEmpty(t, byKey(steps, pace.StepLoad).Caution, "the caution stands at the step it belongs to")
		})
	}
	assert.Contains(t, byKey(stepsFor(t, recipe.Terry), pace.StepLoad).Skills, skill.Topper)
	pieces := byKey(stepsFor(t, recipe.Linen, stitch.Placement, stitch.TackDown, stitch.Cover), pace.StepSew)
	assert.Contains(t, pieces.Title, "laying and trimming the pieces")
	assert.Contains(t, pieces.Skills, skill.Applique)
}

func TestFurtherHoopingsAndWorkHaveKeysOfTheirOwn(t *testing.T) {
	first := stepsFor(t, recipe.Canvas, stitch.Fill)
	again := pace.AnotherHooping(2, "the back", first, []stitch.Role{stitch.Placement})
	var keys []string
	for _, s := range again {
		keys = append(keys, s.Key)
		assert.Contains(t, s.Title, ": the back")
		base, hooping := pace.Base(s.Key)
		assert.Equal(t, 2, hooping)
		assert.Equal(t, byKey(first, base).Where, s.Where)
	}
	assert.Equal(t, []string{"hoop-2", "load-2", "sew-2", "unhoop-2"}, keys)
	assert.Contains(t, again[2].Skills, skill.Applique)

	for _, key := range []string{"hoop", "sign-off", "clean-up", "work:3", "iron:2"} {
		base, hooping := pace.Base(key)
		assert.Equal(t, key, base, "no hooping in the key")
		assert.Equal(t, 1, hooping)
	}
	for n := 1; n < 12; n++ {
		base, hooping := pace.Base(pace.Key(pace.StepSew, n))
		assert.Equal(t, pace.StepSew, base)
		assert.Equal(t, n, hooping)
	}
	bind, press := pace.Work(1, "Bind the edge", 25, false, true), pace.Work(2, "Press the binding", 4, true, false)
	assert.False(t, pace.NeedsIron(bind.Key))
	assert.True(t, bind.Instructor)
	assert.True(t, pace.NeedsIron(press.Key))
	assert.Contains(t, press.Caution, "The iron is hot")
	assert.True(t, pace.NeedsIron(pace.StepPress))
}

func TestNeedsAreListedOnce(t *testing.T) {
	steps := stepsFor(t, recipe.Jersey, stitch.Fill)
	needs := pace.Needs(append(steps, steps...))
	seen := map[string]bool{}
	for _, key := range needs {
		assert.False(t, seen[key], key)
		seen[key] = true
		_, known := skill.ByKey(key)
		assert.True(t, known, key)
	}
	assert.Contains(t, needs, skill.HoopKnit)
}
