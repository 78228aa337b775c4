package recipe_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/policy/rule"
	"chalkstep/core/recipe"
	"chalkstep/core/stitch"
)

// Every fabric with every use that changes it, in an open design: what goes
// under it, over it and through it, and how it is hooped.
const fabricsAndUses = `
woven-cotton |                | light tear-away        | -    | 75/11 embroidery | hooped drum
woven-cotton | washed         | light tear-away        | -    | 75/11 embroidery | hooped drum
woven-cotton | worn           | medium cut-away        | -    | 75/11 embroidery | hooped drum
woven-cotton | next-to-skin   | light mesh cut-away    | -    | 75/11 embroidery | hooped drum
woven-cotton | both-sides     | medium wash-away       | -    | 75/11 embroidery | hooped drum
woven-cotton | film-overlay   | medium tear-away       | -    | 75/11 embroidery | hooped drum
woven-cotton | heat           | light tear-away        | -    | 75/11 embroidery | hooped drum
linen        |                | light tear-away        | -    | 75/11 embroidery | hooped drum
linen        | worn           | medium cut-away        | -    | 75/11 embroidery | hooped drum
linen        | child          | light mesh cut-away    | -    | 75/11 embroidery | hooped drum
linen        | both-sides     | medium wash-away       | -    | 75/11 embroidery | hooped drum
linen        | film-overlay   | medium tear-away       | -    | 75/11 embroidery | hooped drum
jersey       |                | medium cut-away        | -    | 80/12 ballpoint  | hooped firm
jersey       | worn           | medium cut-away        | -    | 80/12 ballpoint  | hooped firm
jersey       | next-to-skin   | light mesh cut-away    | -    | 80/12 ballpoint  | hooped firm
jersey       | worn child     | light mesh cut-away    | -    | 80/12 ballpoint  | hooped firm
jersey       | film-overlay   | medium cut-away        | -    | 80/12 ballpoint  | hooped firm
rib          |                | medium cut-away        | film | 80/12 ballpoint  | hooped firm
rib          | worn           | medium cut-away        | film | 80/12 ballpoint  | hooped firm
rib          | child          | light mesh cut-away    | film | 80/12 ballpoint  | hooped firm
sweatshirt   |                | medium cut-away        | film | 80/12 ballpoint  | hooped firm
sweatshirt   | worn           | medium cut-away        | film | 80/12 ballpoint  | hooped firm
sweatshirt   | next-to-skin   | light mesh cut-away    | film | 80/12 ballpoint  | hooped firm
terry        |                | medium tear-away       | film | 75/11 embroidery | hooped drum
terry        | washed         | medium tear-away       | film | 75/11 embroidery | hooped drum
terry        | both-sides     | medium wash-away       | film | 75/11 embroidery | hooped drum
terry        | worn           | medium cut-away        | film | 75/11 embroidery | hooped drum
velvet       |                | medium tear-away       | film | 75/11 embroidery | hooped drum
velvet       | worn           | medium cut-away        | film | 75/11 embroidery | hooped drum
velvet       | both-sides     | medium wash-away       | film | 75/11 embroidery | hooped drum
denim        |                | medium tear-away       | -    | 90/14 embroidery | hooped drum
denim        | worn           | medium cut-away        | -    | 90/14 embroidery | hooped drum
denim        | film-overlay   | medium tear-away       | -    | 90/14 embroidery | hooped drum
canvas       |                | medium tear-away       | -    | 90/14 embroidery | hooped drum
canvas       | washed         | medium tear-away       | -    | 90/14 embroidery | hooped drum
canvas       | heat           | medium tear-away       | -    | 90/14 embroidery | hooped drum
felt         |                | medium tear-away       | -    | 75/11 embroidery | floated drum
felt         | worn           | medium cut-away        | -    | 75/11 embroidery | floated drum
felt         | both-sides     | medium wash-away       | -    | 75/11 embroidery | floated drum
vinyl        |                | medium tear-away       | -    | 75/11 embroidery | floated drum
vinyl        | worn           | medium tear-away       | -    | 75/11 embroidery | floated drum
sheer        |                | medium wash-away       | -    | 75/11 embroidery | hooped drum
sheer        | both-sides     | medium wash-away       | -    | 75/11 embroidery | hooped drum
`

func TestEveryFabricAndUse(t *testing.T) {
	cases := 0
	for line := range strings.Lines(strings.TrimSpace(fabricsAndUses)) {
		cells := strings.Split(line, "|")
		for i := range cells {
			cells[i] = strings.TrimSpace(cells[i])
		}
		t.Run(cells[0]+" "+cells[1], func(t *testing.T) {
			r := request(recipe.Fabric(cells[0]))
			for _, use := range strings.Fields(cells[1]) {
				r.Uses = append(r.Uses, recipe.Use(use))
			}
			got, err := recipe.For(r)
			require.NoError(t, err)
			assert.Equal(t, cells[2], got.Under[0].Weight+" "+got.Under[0].What)
			assert.Equal(t, cells[3] == "film", got.Over != nil)
			assert.Equal(t, cells[4], got.Needle.Size+" "+got.Needle.Point)
			assert.Equal(t, cells[5], got.Hooping+" "+got.Tightness)
			for _, reason := range got.Reasons {
				assert.False(t, reason.Because.Silent(), reason.Rule)
			}
		})
		cases++
	}
	assert.GreaterOrEqual(t, cases, 40)
}

// Every school of every house rule can be chosen for the house or for one
// project, and what it changes is seen in the recipe.
func TestEverySchoolIsHeldTo(t *testing.T) {
	shirt, cotton, jacket := request(recipe.Jersey, recipe.Worn), dense(request(recipe.WovenCotton)),
		request(recipe.Denim, recipe.Worn)
	piece := request(recipe.WovenCotton)
	piece.Roles = []stitch.Role{stitch.Placement, stitch.TackDown, stitch.Cover}
	under := func(r recipe.Recipe) string { return fmt.Sprint(r.Under[0].Sheets, " ", r.Under[0].What) }
	for name, c := range map[string]struct {
		request recipe.Request
		see     func(recipe.Recipe) string
		schools map[string]string
	}{
		"wovens": {cotton, under, map[string]string{"one": "2 tear-away", "two": "2 tear-away", "cut-away": "1 cut-away"}},
		"worn":   {jacket, under, map[string]string{"cut-away": "1 cut-away", "tear-away": "1 tear-away"}},
		"garments": {shirt, func(r recipe.Recipe) string {
			return r.Hooping
		}, map[string]string{"hoop": "hooped", "float": "floated"}},
		"tightness": {shirt, func(r recipe.Recipe) string {
			return r.Tightness
		}, map[string]string{"by-fabric": "firm", "drum": "drum", "firm": "firm"}},
		"topper": {shirt, func(r recipe.Recipe) string {
			return fmt.Sprint(r.Over != nil)
		}, map[string]string{"pile": "false", "every-knit": "true"}},
		"bobbin": {shirt, func(r recipe.Recipe) string {
			return r.Bobbin
		}, map[string]string{"light-dark": "light", "white": "white", "match": "match"}},
		"press": {shirt, func(r recipe.Recipe) string {
			return fmt.Sprint(strings.Contains(fmt.Sprint(r.After), "before the stabilizer comes off"))
		},
			map[string]string{"first": "true", "after": "false"}},
		"applique": {piece, func(r recipe.Recipe) string {
			return r.Applique
		}, map[string]string{"trim": "trim", "pre-cut": "pre-cut"}},
		"applique_order": {piece, func(r recipe.Recipe) string { return fmt.Sprint(said(r, "all placements first")) },
			map[string]string{"piece-by-piece": "false", "placements-first": "true"}},
		"jumps": {shirt, func(r recipe.Recipe) string {
			return r.Jumps
		}, map[string]string{"after-each": "after-each", "at-end": "at-end"}},
		"watch": {shirt, func(r recipe.Recipe) string {
			return r.Watch
		}, map[string]string{"stay": "stay", "alert": "alert"}},
		"start_line": {shirt, func(r recipe.Recipe) string {
			return r.StartLine
		}, map[string]string{"template": "template", "marks": "marks"}},
	} {
		q := questionOf(t, name)
		assert.Len(t, c.schools, len(q.Schools), name)
		for value, want := range c.schools {
			t.Run(name+" "+value, func(t *testing.T) {
				r := c.request
				require.NoError(t, r.House.Set(name, value))
				got, err := recipe.For(r)
				require.NoError(t, err)
				assert.Equal(t, want, c.see(got))
				own := c.request
				require.NoError(t, own.Project.Set(name, value))
				got, err = recipe.For(own)
				require.NoError(t, err)
				assert.Equal(t, want, c.see(got), "a project may hold to it alone")
				assert.Equal(t, value != q.Schools[0].Value, said(got, "this project differs from the house"), "and says so")
			})
		}
	}
	for _, name := range []string{"resizing", "hoop_size"} {
		for _, school := range questionOf(t, name).Schools {
			var h recipe.Rules
			require.NoError(t, h.Set(name, school.Value))
			assert.Equal(t, school, questionOf(t, name).School(h))
		}
	}
	var h recipe.Rules
	assert.ErrorContains(t, h.Set("jumps", "never"), "expected one of after-each, at-end")
	assert.ErrorContains(t, h.Set("music", "loud"), "no house rule")
}

func questionOf(t *testing.T, key string) rule.Question[recipe.Rules] {
	t.Helper()
	for _, q := range recipe.Questions {
		if q.Key == key {
			return q
		}
	}
	require.Fail(t, "no question "+key)
	return rule.Question[recipe.Rules]{}
}

func said(r recipe.Recipe, rule string) bool {
	for _, reason := range r.Reasons {
		if strings.Contains(reason.Rule.String(), rule) {
			return true
		}
	}
	return false
}

func TestContradictionsSpeakUp(t *testing.T) {
	change := func(r recipe.Request, f func(*recipe.Request)) recipe.Request {
		f(&r)
		return r
	}
	for name, c := range map[string]struct {
		request recipe.Request
		says    string
	}{
		"polyester on heat": {change(request("woven-cotton", "heat"), func(r *recipe.Request) {
			r.TopThread = recipe.Polyester
		}), "polyester 40 meets heat, and shrinks or melts"},
		"a dense fill on jersey": {dense(request("jersey", "worn")), "A dense fill on a T-shirt knit puckers"},
		"dense by its stitches": {change(request("jersey", "worn"), func(r *recipe.Request) {
			r.Density = stitch.Dense
		}), "A dense fill on a T-shirt knit puckers"},
		"too dense for linen": {change(request("linen"), func(r *recipe.Request) { r.Density = stitch.TooDense }),
			"too much for anything but heavy, stable cloth"},
		"film overlay resized": {change(request("felt", "film-overlay"), func(r *recipe.Request) {
			r.ResizedPercent = 90
		}), "is to be sewn at 90 %"},
		"film on something hot": {request("woven-cotton", "film-overlay", "heat"), "Film melts"},
		"wash-away under a worn scarf": {request("sheer", "worn", "both-sides"),
			"Wash-away leaves nothing to hold the stitches"},
		"a sheet smaller than a hoop": {change(request("denim"), func(r *recipe.Request) {
			r.SheetMM = [2]float64{140, 300}
		}), "does not reach over all sides of the hoop"},
		"a sheet without a margin": {change(request("denim"), func(r *recipe.Request) {
			r.SheetMM = [2]float64{160, 300}
		}), "may slip out"},
		"bobbins of another style": {change(request("denim"), func(r *recipe.Request) {
			r.Bobbins, r.MachineBobbins = "tall, steel", "low, clear"
		}), "another style does not fit"},
		"a design larger than a hoop": {change(request("denim"), func(r *recipe.Request) { r.WidthMM = 200 }),
			"too wide by 50 mm for this hoop"},
		"metallic in a first lesson": {change(request("denim"), func(r *recipe.Request) { r.TopThread = recipe.Metallic }),
			"not for first lessons"},
	} {
		t.Run(name, func(t *testing.T) {
			got, err := recipe.For(c.request)
			require.NoError(t, err)
			assert.Contains(t, fmt.Sprint(got.Cautions), c.says)
		})
	}
	quiet := change(request("denim"), func(r *recipe.Request) {
		r.SheetMM, r.Bobbins, r.MachineBobbins = [2]float64{200, 200}, "low, clear", "low, clear"
	})
	got, err := recipe.For(quiet)
	require.NoError(t, err)
	assert.NotContains(t, fmt.Sprint(got.Cautions), "sheet")
	for field, bad := range map[string]recipe.Request{
		"density": {Density: "airy"}, "role": {Roles: []stitch.Role{"glitter"}}, "top_thread": {TopThread: "wool"},
		"resized_percent": {ResizedPercent: 93}, "sheet_mm": {SheetMM: [2]float64{-1, 5}},
		"project": {Project: recipe.Rules{Jumps: "never"}},
	} {
		r := request("denim")
		bad.Fabric, bad.WidthMM, bad.HeightMM, bad.Stitches, bad.HoopMM = r.Fabric, r.WidthMM, r.HeightMM, r.Stitches,
			r.HoopMM
		_, err := recipe.For(bad)
		assert.ErrorContains(t, err, field)
	}
	motif := request("woven-cotton")
	motif.InHoop = true
	got, err = recipe.For(motif)
	require.NoError(t, err)
	assert.Equal(t, "mesh cut-away", got.Under[0].What, "built up in the hoop on stabilizer alone")
	motif.Uses = []recipe.Use{recipe.BothSides}
	got, err = recipe.For(motif)
	require.NoError(t, err)
	assert.Equal(t, "wash-away", got.Under[0].What)
}
