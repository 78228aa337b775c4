package technique_test

import (
	"fmt"
	"maps"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/card"
	"chalkstep/core/classday/classdaytest"
	"chalkstep/core/fleet"
	"chalkstep/core/hoop"
	"chalkstep/core/kit"
	"chalkstep/core/pace"
	"chalkstep/core/project"
	"chalkstep/core/recipe"
	"chalkstep/core/say"
	"chalkstep/core/stitch"
	"chalkstep/core/stock"
	"chalkstep/core/supply"
	"chalkstep/core/technique"
)

// bases are unlike projects that techniques are tried on.
func bases() map[string]project.Project {
	of := func(change func(*project.Project)) project.Project {
		p := classdaytest.Badges()
		p.Hoopings = slices.Clone(p.Hoopings)
		change(&p)
		return p
	}
	roles := func(p *project.Project, roles ...stitch.Role) {
		d := &p.Hoopings[0].Design
		stop := d.Stops[0]
		d.Stops = nil
		for i, r := range roles {
			s := stop
			s.N, s.Role, s.Color = i+1, r, stitch.RGB{R: uint8(40 * i)}
			s.Bounds = stitch.Bounds{Left: float64(30*(i/3)) - 30, Right: float64(30*(i/3)) - 5, Bottom: -20, Top: 20}
			d.Stops = append(d.Stops, s)
		}
	}
	return map[string]project.Project{
		"a woven": of(func(*project.Project) {}),
		"washed":  of(func(p *project.Project) { p.Fabric, p.Uses = recipe.Linen, []recipe.Use{recipe.Washed} }),
		"floated": of(func(p *project.Project) { p.Fabric = recipe.Felt }),
		"a shirt": of(func(p *project.Project) {
			p.Fabric, p.Uses, p.Blank.Shape, p.Blank.Size, p.Blank.Spot = recipe.Jersey, []recipe.Use{recipe.Worn},
				"crew-neck T-shirt", "M", "chest centre"
		}),
		"appliqué": of(func(p *project.Project) {
			roles(p, stitch.Placement, stitch.TackDown, stitch.Cover, stitch.Placement, stitch.TackDown, stitch.Cover,
				stitch.Anchor)
		}),
		"joined": of(func(p *project.Project) {
			p.Hoopings = append(p.Hoopings, project.Hooping{Title: "right", Design: classdaytest.Badge()},
				project.Hooping{Title: "left", Design: classdaytest.Badge()})
		}),
		"in the hoop": of(func(p *project.Project) {
			roles(p, stitch.Placement, stitch.TackDown, stitch.Cover)
			p.InHoop, p.Blank.WidthMM, p.Blank.HeightMM = true, 80, 80
			p.Layers = []project.Layer{{As: kit.Batting}, {As: kit.PieceLayer, Fabric: recipe.Linen, BeforeStop: 2},
				{As: kit.Binding, Fabric: recipe.Linen}}
		}),
	}
}

// made is what comes of a project in a class.
type made struct {
	steps  map[pace.StepKey]pace.Step
	texts  map[string]bool
	kit    map[string]float64
	needs  map[supply.Key]bool
	threes map[string]float64 // minutes of each step of the plan, by person
}

func makeOf(t *testing.T, p project.Project) made {
	t.Helper()
	class := classdaytest.Class()
	// One machine: with more, students may sit elsewhere, in another hoop.
	class.Project, class.Machines = p, class.Machines[:1]
	for i := range class.Machines {
		m := &class.Machines[i]
		m.Hoops = m.Hoops[1:] // one hoop: which of two somebody takes is the plan's
		m.Sews = true
		m.Hoops = append(slices.Clone(m.Hoops),
			fleet.Held{Hoop: fleet.Hoop{ID: 8, Name: "Magnets", Field: hoop.Field{WidthMM: 190, HeightMM: 140}, Count: 2,
				Kind: hoop.Magnetic}},
			fleet.Held{Hoop: fleet.Hoop{ID: 9, Name: "Clamp", Field: hoop.Field{WidthMM: 195, HeightMM: 145}, Count: 2,
				Kind: hoop.Clamp}})
	}
	plan := classdaytest.Plan(t, class)
	m := made{steps: map[pace.StepKey]pace.Step{}, texts: map[string]bool{}, kit: map[string]float64{},
		needs: map[supply.Key]bool{}, threes: map[string]float64{}}
	for _, s := range plan.Works[0].Steps {
		_, twice := m.steps[s.Key]
		require.False(t, twice, "%s is there twice", s.Key)
		m.steps[s.Key] = s
	}
	for _, person := range plan.Problem.Jobs {
		for _, s := range person.Operations {
			minutes := 0.0
			if len(s.On) > 0 {
				minutes = slices.Min(slices.Collect(maps.Values(s.On)))
			} else {
				minutes = *s.Minutes
			}
			m.threes[person.ID+"/"+s.ID] = minutes
		}
	}
	packing, err := plan.Pack(func(supply.Key) float64 { return 1000 })
	require.NoError(t, err)
	for _, l := range packing.Kit.All() {
		m.kit[fmt.Sprint(l.Key, l.As, l.SizeMM)] += l.Count
	}
	for _, n := range stock.Take(plan, packing.Kit, stock.Of(nil), nil, stock.Lay).Needs {
		m.needs[n.Key] = true
	}
	made, err := card.Of(plan, 1, func(supply.Key) say.Text { return say.Name("a spool") })
	require.NoError(t, err)
	for _, s := range made.Steps {
		if s.Key.Is(pace.StepPractice) {
			continue // what fills a wait is of the day, not of the project
		}
		for _, text := range slices.Concat([]say.Text{s.Title}, s.Notes, s.Cautions) {
			m.texts[text.String()] = true
		}
	}
	for _, s := range made.Sheets {
		for _, stop := range s.Stops {
			for _, text := range slices.Concat(stop.Before, stop.After) {
				m.texts[text.String()] = true
			}
		}
	}
	return m
}

// Two projects that differ only in one technique differ in plan, kit, card and
// shelf exactly by that technique. Schools and uses that it follows are the same
// in both, as they would be if somebody had chosen them by hand.
func TestATechniqueChangesNothingButItsOwn(t *testing.T) {
	tried := 0
	for name, base := range bases() {
		for _, made := range technique.All {
			if !made.Unfit(base.Worked()).Silent() {
				continue
			}
			tried++
			t.Run(name+", "+string(made.Key), func(t *testing.T) {
				without, with := base, base
				without.House, without.Uses = base.House.With(made.House),
					technique.EffectsOf([]technique.Technique{made}).UsesWith(base.Uses)
				with.Techniques = []technique.Technique{made}
				require.NotContains(t, with.Faults(nil), project.InWays)
				differsOnlyBy(t, made, makeOf(t, without), makeOf(t, with))
			})
		}
	}
	assert.Greater(t, tried, 180, "most techniques go with most projects")
}

func differsOnlyBy(t *testing.T, made technique.Technique, a, b made) {
	t.Helper()
	// Steps: its own, and no other.
	own := map[pace.StepKey]bool{}
	for _, s := range made.Steps {
		own[s.Key] = true
		require.Contains(t, b.steps, s.Key)
	}
	for key := range b.steps {
		root, _ := key.Base()
		if _, was := a.steps[key]; !was {
			assert.True(t, own[root], "%s is none of its steps", key)
		} else if !own[root] && !(made.Floats && root == pace.StepHoop) {
			assert.Equal(t, a.steps[key].Title, b.steps[key].Title, key)
			assert.Equal(t, a.steps[key].Minutes, b.steps[key].Minutes, key)
		}
	}
	for key := range a.steps {
		assert.Contains(t, b.steps, key, "no step is lost")
	}
	// The plan: its steps, and the sewing where it changes that.
	sews := made.NoTrims || made.OneColour || made.PlacementsFirst || made.SkipsMarks || made.SpeedShare > 0
	for step, minutes := range b.threes {
		_, id, _ := cut(step)
		root, _ := pace.StepKey(id).Base()
		if was, there := a.threes[step]; there && !own[root] && !(made.Floats && root == pace.StepHoop) {
			if root != pace.StepSew || !sews {
				assert.InDelta(t, was, minutes, 1e-9, step)
			}
		}
	}
	// The card: its lines, its cautions, and what is worked out for it.
	says := map[string]bool{}
	for _, l := range made.Lines {
		says[l.Text.String()] = true
	}
	for _, s := range made.Steps {
		says[s.Title.String()] = true
		for _, c := range s.Cautions {
			says[c.String()] = true
		}
	}
	worked := made.Floats || made.Joins || made.AtMarks
	for text := range b.texts {
		if !a.texts[text] && !says[text] {
			assert.True(t, worked && !own[pace.StepMark] || sews || isOfHooping(text, made), "the card says besides: %s", text)
		}
	}
	for text := range a.texts {
		if !b.texts[text] {
			assert.True(t, len(own) > 0 || made.Floats || sews, "the card has lost: %s", text)
		}
	}
	// Kit and shelf: its things, and what it does without.
	brings := map[supply.Kind]bool{}
	for _, thing := range made.Things {
		brings[thing.Key.Kind] = true
		assert.True(t, b.needs[thing.Key], "%s is not taken from the shelf", thing.Key)
	}
	for line := range b.kit {
		if b.kit[line] != a.kit[line] {
			assert.True(t, allows(made, brings, line), "the kit has %v instead of %v of %s", b.kit[line], a.kit[line], line)
		}
	}
	for line := range a.kit {
		if _, still := b.kit[line]; !still {
			assert.True(t, allows(made, brings, line), "the kit has lost %s", line)
		}
	}
	for key := range b.needs {
		assert.True(t, a.needs[key] || brings[key.Kind] || allows(made, brings, key.String()), "the shelf gives besides %s",
			key)
	}
}

// allows tells what of a kit a technique may change beside the things it brings.
func allows(made technique.Technique, brings map[supply.Kind]bool, line string) bool {
	kind := supply.Kind(line)
	for i, c := range line {
		if c == ';' || c == ' ' {
			kind = supply.Kind(line[:i])
			break
		}
	}
	for k := range brings {
		if len(line) >= len(k) && line[:len(k)] == string(k) {
			return true
		}
	}
	is := func(k supply.Kind) bool { return len(kind) >= len(k) && kind[:len(k)] == k }
	switch {
	case made.NoPen && is(supply.Pen):
		return true
	case (made.Sticky || made.Window || made.Hoops != "" || made.BasteMM > 0) &&
		(is(supply.Stabilizer) || is(supply.Topper)):
		return true
	case made.Floats && is(supply.Tape):
		return true
	case (made.OneColour || made.TopThread != "" || made.SkipsMarks) && (is(supply.Thread) || is(supply.Bobbin)):
		return true
	case made.TopThread != "" && is(supply.Needle):
		return true
	}
	return false
}

// isOfHooping tells a title of a further hooping that a technique's step has.
func isOfHooping(text string, made technique.Technique) bool {
	for _, s := range made.Steps {
		if len(text) > len(s.Title.String()) && text[:len(s.Title.String())] == s.Title.String() {
			return true
		}
	}
	return false
}

func cut(step string) (person, id string, ok bool) {
	i := slices.Index([]byte(step), '/')
	return step[:i], step[i+1:], true
}
