package project_test

import (
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/blank"
	"chalkstep/core/classday/classdaytest"
	"chalkstep/core/design"
	"chalkstep/core/fleet"
	"chalkstep/core/kit"
	"chalkstep/core/pace"
	"chalkstep/core/policy"
	"chalkstep/core/project"
	"chalkstep/core/recipe"
	"chalkstep/core/say"
	"chalkstep/core/skill"
	"chalkstep/core/supply"
)

func badges(change func(*project.Project)) project.Project {
	p := classdaytest.Badges()
	change(&p)
	return p
}

func keys(steps []pace.Step) []pace.StepKey {
	all := make([]pace.StepKey, len(steps))
	for i, s := range steps {
		all[i] = s.Key
	}
	return all
}

// A second hooping comes after the first is out of the hoop and before anything
// is cleaned up; ironing and cutting come after that and before the sign-off.
func TestTheOrderOfTheSteps(t *testing.T) {
	p := badges(func(p *project.Project) {
		p.Hoopings = append(p.Hoopings, project.Hooping{Title: "the back", Design: classdaytest.Badge()})
		p.Work = []project.Work{{Title: "Cut the badge out", Minutes: 6}, {Title: "Press the back", Minutes: 4, Iron: true}}
	})
	steps, err := p.Steps(policy.Defaults())
	require.NoError(t, err)
	all := keys(steps)
	at := func(key pace.StepKey) int {
		i := slices.Index(all, key)
		require.GreaterOrEqual(t, i, 0, "%s in %v", key, all)
		return i
	}
	var sews []int
	for i, key := range all {
		if key.Is(pace.StepSew) {
			sews = append(sews, i)
		}
	}
	require.Len(t, sews, 2)
	assert.Less(t, sews[0], at(pace.StepUnhoop))
	assert.Less(t, at(pace.StepUnhoop), sews[1])
	assert.Less(t, sews[1], at(pace.StepSignOff)-2)
	var work []string
	for _, s := range steps[at(pace.StepSignOff)-2 : at(pace.StepSignOff)] {
		require.True(t, s.Key.IsWork())
		work = append(work, s.Title.String())
	}
	assert.Equal(t, []string{"Cut the badge out", "Press the back"}, work)
	assert.Equal(t, len(all)-1, at(pace.StepSignOff))
}

// What a person sets goes before the figures, but for the minutes of sewing,
// which follow from the design, and of work, which stand with the work.
func TestMinutesThatAPersonSets(t *testing.T) {
	rules := policy.Defaults()
	plain, err := badges(func(*project.Project) {}).Steps(rules)
	require.NoError(t, err)
	set, err := badges(func(p *project.Project) {
		p.Minutes = map[pace.StepKey]float64{}
		for _, s := range plain {
			p.Minutes[s.Key] = 99
		}
	}).Steps(rules)
	require.NoError(t, err)
	require.Equal(t, keys(plain), keys(set))
	for i, s := range set {
		if s.Key.Is(pace.StepSew) {
			assert.Equal(t, plain[i].Minutes, s.Minutes)
		} else {
			assert.Equal(t, 99.0, s.Minutes, s.Key)
		}
	}
}

// What is wrong with a project is said once for each of its fields, and what
// nobody could mean is not taken.
func TestFaults(t *testing.T) {
	assert.Empty(t, badges(func(p *project.Project) {
		p.Blank.Shape, p.Blank.Spot = blank.Square, blank.Centre
		p.Layers = []project.Layer{{As: kit.Backing, Fabric: recipe.Felt}}
	}).Faults(skill.Usual))
	for name, c := range map[string]struct {
		change func(*project.Project)
		in     project.Field
		says   string
	}{
		"a fabric that recipes do not know": {func(p *project.Project) { p.Fabric = "gold" }, project.InFabric, "made of"},
		"a use twice": {func(p *project.Project) { p.Uses = []recipe.Use{recipe.Worn, recipe.Worn} },
			project.InUses, "uses"},
		"a blank smaller than its design": {func(p *project.Project) {
			p.Blank.HeightMM = 39
		}, project.InBlank, "60 × 40 mm: the blank has to be larger"},
		"a step of no ladder": {func(p *project.Project) {
			p.Teaches = []skill.Key{"juggling"}
		}, project.InTeaches, "ladder"},
		"a hooping of nothing in particular": {func(p *project.Project) {
			p.Hoopings = append(p.Hoopings, project.Hooping{Design: classdaytest.Badge()})
		}, project.InHoopings, "Hooping 2: say what it sews"},
		"a hooping without a design": {func(p *project.Project) {
			p.Hoopings = append(p.Hoopings, project.Hooping{Title: "back"})
		}, project.InHoopings, "Hooping 2: choose its design"},
		"a layer of nothing": {func(p *project.Project) {
			p.Layers = []project.Layer{{}}
		}, project.InLayers, "Layer 1: choose what is laid"},
		"a layer as large as a sail": {func(p *project.Project) {
			p.Layers = []project.Layer{{As: kit.Backing, SizeMM: [2]float64{9000, 10}}}
		}, project.InLayers, "up to 5,000 mm"},
		"no pins at all": {func(p *project.Project) {
			p.Parts = []project.Part{{Name: "pin"}}
		}, project.InParts, "how many, 1 to 100"},
		"work that takes less than nothing": {func(p *project.Project) {
			p.Work = []project.Work{{Title: "Cut", Minutes: -1}}
		}, project.InWork, "minutes from 0"},
		"a spot that a square has not": {func(p *project.Project) {
			p.Blank.Shape, p.Blank.Spot = blank.Square, blank.LeftChest
		}, project.InSpot, "has no spot called"},
		"more hoopings than a class has time for": {func(p *project.Project) {
			p.Hoopings = slices.Repeat(p.Hoopings, 10)
		}, project.InAll, "at most 9 hoopings"},
	} {
		t.Run(name, func(t *testing.T) {
			faults := badges(c.change).Faults(skill.Usual)
			require.Contains(t, faults, c.in)
			assert.Contains(t, faults[c.in].String(), c.says)
		})
	}
}

// A project whose design has gone cannot be stepped through, and says so.
func TestAProjectWithoutItsDesign(t *testing.T) {
	for _, p := range []project.Project{badges(func(p *project.Project) { p.Hoopings[0].Design = design.Design{} }),
		badges(func(p *project.Project) { p.Hoopings = nil })} {
		assert.True(t, p.Gone())
		assert.True(t, p.Design().Gone())
		_, err := p.Steps(policy.Defaults())
		assert.EqualError(t, err, "a design of “Badges” is gone from the workshop")
	}
}

// Put together in a room, a project names its hoop, its recipe and its minutes,
// and where one of these is not known it says why.
func TestPuttingAProjectTogether(t *testing.T) {
	rules := policy.Defaults()
	machines := []fleet.Machine{classdaytest.Gull(), classdaytest.Tern()}
	made := project.Put(badges(func(p *project.Project) { p.Teaches = []skill.Key{skill.ChangeColour} }), machines, rules)
	assert.Equal(t, "Small", made.Hoop.Name, "the smallest that fits")
	assert.True(t, made.NoRecipe.Silent())
	bench := 0.0
	for _, s := range made.Steps {
		if !s.Key.Is(pace.StepSew) {
			bench += s.Minutes
		}
	}
	assert.InDelta(t, bench, made.BenchMinutes, 1e-9)
	assert.InDelta(t, bench+made.Sewing[0].Minutes, made.Minutes(), 1e-9)
	assert.Equal(t, "say what shape the blank has", made.NoMark.String())
	require.Len(t, made.Teaches, 1)
	assert.NotEmpty(t, made.Needs)

	huge := project.Put(badges(func(p *project.Project) { p.Hoopings[0].Design.WidthMM = 500 }), machines, rules)
	assert.False(t, huge.NoHoop.Silent())
	assert.True(t, huge.NoRecipe.Silent(), "a recipe can still be told, for the design itself")
	gone := project.Put(project.Project{Name: "Badges"}, machines, rules)
	assert.Contains(t, gone.NoRecipe.String(), "is gone")
}

// Where the project answers a question of the house otherwise, that holds for
// it and is said.
func TestAProjectThatDiffersFromTheHouse(t *testing.T) {
	question := recipe.Questions[0]
	other := question.Schools[1].Value
	p := badges(func(p *project.Project) { require.NoError(t, p.House.Set(question.Key, other)) })
	made := project.Put(p, []fleet.Machine{classdaytest.Gull()}, policy.Defaults())
	require.Len(t, made.Differs, 1)
	assert.Equal(t, question.Key, made.Differs[0].Key)
	assert.Empty(t, project.Put(classdaytest.Badges(), nil, policy.Defaults()).Differs)
}

// Each layer is named at the stop it is laid before, with how it is held; what
// lies there from the start is named before the first.
func TestWhatIsLaidBeforeAStop(t *testing.T) {
	p := badges(func(p *project.Project) {
		p.Layers = []project.Layer{{As: kit.Backing, Under: true}, {As: kit.PieceLayer, BeforeStop: 2},
			{As: kit.PieceLayer, BeforeStop: 2, Tape: "pin it outside the field"}}
	})
	written := func(texts []say.Text) []string { return say.Printer{}.Lines(texts) }
	assert.Equal(t, []string{"Lay the backing from below, tape the corners."}, written(p.Laid(1)))
	assert.Equal(t, []string{
		fmt.Sprintf("Lay the %s on top, tape all sides it could flap.", say.Plain.Say(say.Word(kit.PieceLayer))),
		fmt.Sprintf("Lay the %s on top, pin it outside the field.", say.Plain.Say(say.Word(kit.PieceLayer))),
	}, written(p.Laid(2)))
	assert.Empty(t, p.Laid(3))
}

// Its blank, its parts and its layers are lines of a bag, each by its key.
func TestLinesOfTheBag(t *testing.T) {
	p := badges(func(p *project.Project) { p.Layers = []project.Layer{{As: kit.Backing, Fabric: recipe.Felt}} })
	assert.Equal(t, supply.Named(supply.Blank, "cotton square"), p.BlankItem().Key)
	require.Len(t, p.PartItems(), 1)
	assert.Equal(t, 2, p.PartItems()[0].Count)
	pieces := p.Pieces(func(supply.Key) float64 { return 900 })
	require.Len(t, pieces, 1)
	assert.Equal(t, supply.Cloth(string(recipe.Felt)), pieces[0].Key)
	assert.GreaterOrEqual(t, pieces[0].SizeMM[0], 60.0)
}

// A garment is what somebody wears, however it is said.
func TestGarments(t *testing.T) {
	for use, worn := range map[recipe.Use]bool{recipe.Worn: true, recipe.NextToSkin: true, recipe.Child: true,
		recipe.Washed: false, recipe.Heat: false} {
		assert.Equal(t, worn, badges(func(p *project.Project) { p.Uses = []recipe.Use{use} }).Garment(), use)
	}
}
