package technique_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/hoop"
	"chalkstep/core/pace"
	"chalkstep/core/recipe"
	"chalkstep/core/say"
	"chalkstep/core/skill"
	"chalkstep/core/stitch"
	"chalkstep/core/technique"
)

// woven is plain work on quilting cotton; with is that with something else.
func woven() technique.Work { return technique.Work{Fabric: recipe.WovenCotton, Hoopings: 1} }

func with(change func(*technique.Work)) technique.Work {
	w := woven()
	change(&w)
	return w
}

var (
	applique = with(func(w *technique.Work) { w.Roles = []stitch.Role{stitch.Placement, stitch.TackDown, stitch.Cover} })
	garment  = with(func(w *technique.Work) {
		w.Fabric, w.Garment, w.Uses = recipe.Jersey, true, []recipe.Use{recipe.Worn}
	})
	joined = with(func(w *technique.Work) { w.Hoopings = 3 })
	inHoop = with(func(w *technique.Work) { w.InHoop, w.Bound = true, true })
	marked = with(func(w *technique.Work) { w.Roles = []stitch.Role{stitch.Fill, stitch.Anchor} })
)

func byKey(t *testing.T, key technique.Key) technique.Technique {
	t.Helper()
	made, ok := technique.ByKey(key)
	require.True(t, ok, key)
	return made
}

// base are the steps of every project.
func base() []pace.Step { return pace.Defaults().StepsFor(pace.Making{Fabric: recipe.WovenCotton}) }

// Each technique brings its steps, in their place and with their minutes, the rest
// as it was.
func TestStepsOfATechnique(t *testing.T) {
	const plain = "mark stabilise hoop load sew unhoop clean-up press sign-off"
	for _, c := range []struct {
		key     technique.Key
		steps   string
		minutes float64 // more than without it, for two pieces and four blocks a sheet
	}{
		{"pre-wash", plain, 0},
		{"press-first", "press-flat " + plain, 2},
		{"interfacing", "interface " + plain, 4},
		{"spray", "mark stabilise spray hoop load sew unhoop clean-up press sign-off", 2},
		{"template", plain, 0},
		{"crease", plain, 3 - 5},
		{"basted-line", plain, 6 - 5},
		{"paper-guide", plain, 4 - 5},
		{"pen-water", plain, 0}, {"pen-air", plain, 0}, {"pen-heat", plain, 0}, {"chalk", plain, 0},
		{"try-on", "mark try-on stabilise hoop load sew unhoop clean-up press sign-off", 3},
		{"dry-run", "mark stabilise dry-run hoop load sew unhoop clean-up press sign-off", 1},
		{"template-to-marks", plain, 0},
		{"magnetic", plain, 3 - 5},
		{"hooping-mat", plain, 0}, {"grip-tape", plain, 0},
		{"float-hooped", "mark stabilise hoop float load sew unhoop clean-up press sign-off", 2},
		{"float-sticky", "mark stabilise hoop float load sew unhoop clean-up press sign-off", 3},
		{"float-taped", "mark stabilise hoop float load sew unhoop clean-up press sign-off", 3},
		{"window", "mark stabilise window hoop load sew unhoop clean-up press sign-off", 4.0/4 - 4 + 7.0/4 + 2 - 5},
		{"corners-below", plain, 0},
		{"baste-box", "mark stabilise hoop load baste sew unhoop clean-up press sign-off", 1},
		{"bobbin-up", "mark stabilise hoop load bobbin-up sew unhoop clean-up press sign-off", 1},
		{"trim-in-hoop", plain, 0},
		{"cut-by-hand", "cut-pieces " + plain, 6},
		{"cut-by-machine", "peel-pieces " + plain, 1},
		{"perforated", "fuse-web perforate tear-pieces " + plain, 3 + 4 + 2},
		{"fuse-before", "fuse-web " + plain, 3},
		{"fuse-after", plain, 0},
		{"line-light", "line-pieces " + plain, 4},
		{"cut-dark", plain, 0}, {"piece-by-piece", plain, 0}, {"placements-first", plain, 0}, {"skip-marks", plain, 0},
		{"one-colour", plain, 0}, {"trims-off", plain, 0},
		{"joined", plain, 0}, {"name-last", plain, 0},
		{"clamped-band", plain, 4 - 5},
		{"patch", "mark stabilise hoop load sew unhoop clean-up press patch-web patch-cut patch-seal patch-on sign-off",
			3 + 5 + 2 + 3},
		{"bound", "binding-strip mark stabilise hoop load sew unhoop clean-up press trim-line sign-off", 6 + 3},
		{"turned", "mark stabilise hoop load sew unhoop clean-up press trim-line seam turn-out press-seams sign-off",
			10 + 3 + 3 + 2},
		{"turned-by-machine",
			"mark stabilise hoop load sew unhoop clean-up press trim-line seam turn-out press-seams sign-off", 4 + 3 + 3 + 2},
		{"close-by-hand", "mark stabilise hoop load sew unhoop clean-up press close-edge sign-off", 15},
		{"close-in-ditch", "mark stabilise hoop load sew unhoop clean-up press close-edge sign-off", 5},
		{"two-sided", "mark stabilise hoop load sew unhoop clean-up soak press sign-off", 5},
		{"film", plain, 0}, {"metallic", plain, 0}, {"multi-tone", plain, 0},
	} {
		t.Run(string(c.key), func(t *testing.T) {
			was, now := base(), technique.Apply(base(), []technique.Technique{byKey(t, c.key)}, 2, 4)
			var keys []string
			minutes := 0.0
			for _, s := range now {
				keys = append(keys, string(s.Key))
				minutes += s.Minutes
			}
			for _, s := range was {
				minutes -= s.Minutes
			}
			assert.Equal(t, c.steps, strings.Join(keys, " "))
			assert.InDelta(t, c.minutes, minutes, 1e-9)
		})
	}
	assert.Len(t, technique.All, 51, "each of them is in the table above")
}

// What the handbook says of a technique stands at its step, or at its stop.
func TestWhatATechniqueSays(t *testing.T) {
	for _, c := range []struct {
		key     technique.Key
		at      pace.StepKey
		says    string
		caution bool
	}{
		{"template", "mark", "Cross on the mark, arrow up", false},
		{"crease", "mark", "Where the two folds cross", false},
		{"basted-line", "clean-up", "Pull the basted lines out", false},
		{"paper-guide", "mark", "check it against the grain", false},
		{"paper-guide", "load", "Take every pin out", true},
		{"pen-water", "mark", "Test first that it comes out", false},
		{"pen-water", "clean-up", "cold water", false},
		{"pen-water", "press", "heat sets a water pen", true},
		{"pen-air", "clean-up", "fade by themselves", false},
		{"pen-heat", "press", "takes the marks out", false},
		{"pen-heat", "mark", "come back in the cold", false},
		{"chalk", "clean-up", "Brush the chalk off", false},
		{"try-on", "load", "Pins out", true},
		{"spray", "spray", "away from machines and flames", true},
		{"interfacing", "stabilise", "stays for good", false},
		{"press-first", "press-flat", "iron is hot", true},
		{"dry-run", "hoop", "sounds like a drum", false},
		{"dry-run", "hoop", "straight in with the palm", false},
		{"template-to-marks", "hoop", "corrected for this hoop", false},
		{"magnetic", "hoop", "pacemakers", true},
		{"magnetic", "hoop", "pinch", true},
		{"hooping-mat", "hoop", "grain along its lines", false},
		{"grip-tape", "hoop", "round the inner ring", false},
		{"float-hooped", "float", "flames", true},
		{"float-taped", "float", "outside the way of the foot", false},
		{"float-sticky", "float", "not a blade", false},
		{"window", "hoop", "on all four sides", false},
		{"window", "window", "a new sheet", false},
		{"corners-below", "sew", "corners taped", false},
		{"baste-box", "clean-up", "pull it out", false},
		{"bobbin-up", "bobbin-up", "count to three", false},
		{"trim-in-hoop", "sew", "always trimmed off the machine", false},
		{"cut-by-hand", "cut-pieces", "mirrored", false},
		{"cut-by-hand", "cut-pieces", "away from the body", true},
		{"perforated", "perforate", "Paper side up: so the outline is mirrored", false},
		{"perforated", "perforate", "thread sensor on again", false},
		{"perforated", "perforate", "never sews again", false},
		{"perforated", "perforate", "sharps tin", true},
		{"perforated", "fuse-web", "iron is hot", true},
		{"fuse-after", "press", "under a cloth or parchment", false},
		{"cut-dark", "clean-up", "curved scissors", false},
		{"placements-first", "sew", "as this machine's manual says", false},
		{"skip-marks", "sew", "as this machine's manual says", false},
		{"one-colour", "load", "Set: one colour", false},
		{"one-colour", "unhoop", "Set back", false},
		{"trims-off", "load", "Set: thread cutter off", false},
		{"trims-off", "unhoop", "Set back: thread cutter on", false},
		{"joined", "load", "at most half the bulk under the arm", false},
		{"joined", "load", "let the arm find its place again", false},
		{"clamped-band", "hoop", "never sewn through", false},
		{"clamped-band", "unhoop", "Unclamp, move on", false},
		{"clamped-band", "hoop", "fingers out of the clamp", true},
		{"patch", "press", "Press first, then tear", false},
		{"patch", "patch-web", "do not rub; let it cool", false},
		{"patch", "patch-on", "stitch round it", false},
		{"bound", "binding-strip", "keep the long side", false},
		{"bound", "binding-strip", "middle of a side, never on a corner", false},
		{"bound", "sew", "up-right", false},
		{"bound", "sew", "tuck the last one", false},
		{"turned", "seam", "Just inside the outline", false},
		{"turned-by-machine", "seam", "as the machine's manual says", false},
		{"turned-by-machine", "seam", "Power off", true},
		{"two-sided", "load", "bobbin thread up by hand", false},
		{"two-sided", "unhoop", "cutter on again", false},
		{"film", "load", "Never resized", true},
		{"metallic", "load", "silicone lubricant", false},
		{"metallic", "load", "bigger eye", false},
		{"multi-tone", "load", "only looks spotty", false},
	} {
		t.Run(string(c.key)+" at "+string(c.at)+": "+c.says, func(t *testing.T) {
			var said []string
			for _, s := range technique.Apply(base(), []technique.Technique{byKey(t, c.key)}, 1, 1) {
				if s.Key != c.at {
					continue
				}
				texts := append([]say.Text{s.Title}, s.Notes...)
				if c.caution {
					texts = s.Cautions
				}
				said = append(said, say.Plain.Lines(texts)...)
			}
			assert.Contains(t, strings.Join(said, " | "), c.says)
		})
	}
}

// What each brings to the class.
func TestThingsOfATechnique(t *testing.T) {
	for key, want := range map[technique.Key]string{
		"interfacing": "interfacing for each set", "spray": "spray for 6", "basted-line": "tool;name=basting+thread for 4",
		"paper-guide": "tool;name=scrap+paper for each machine, tool;name=pins for 4",
		"pen-water":   "tool;name=water-erase+pen for 3", "pen-air": "tool;name=air-erase+pen for 3",
		"pen-heat": "tool;name=heat-erase+pen for 3", "chalk": "tool;name=tailor%27s+chalk for 3",
		"hooping-mat": "tool;name=hooping+mat for 3", "grip-tape": "tool;name=grip+tape for each machine",
		"trim-in-hoop":   "tool;name=appliqu%C3%A9+scissors for each machine",
		"cut-by-hand":    "tool;name=printed+outline for each set, tool;name=fabric+shears for 2",
		"cut-by-machine": "tool;name=cutting+mat for 6",
		"perforated": "tool;name=snips for 2, tool;name=old+needle+for+perforating for each machine, " +
			"fusible for each set",
		"fuse-before": "fusible for each set", "line-light": "fabric;material=woven-cotton for each set",
		"cut-dark": "tool;name=curved+scissors for 3",
		"patch": "tool;name=scissors for 2, tool;name=pressing+cloth for 8, " +
			"fusible for each set, tool;name=edge+sealant for 6",
		"film":          "tape for 4, film for each set",
		"metallic":      "tool;name=silicone+lubricant for 12, tool;name=thread+stand for each machine",
		"multi-tone":    "tool;name=multi-tone+thread for each machine",
		"close-by-hand": "tool;name=sewing+thread for 4, tool;name=hand+needle for 1",
		"template":      "", "crease": "", "window": "tool;name=scissors for 2",
	} {
		var things []string
		for _, thing := range byKey(t, key).Things {
			require.NoError(t, thing.Key.Check(), "%s: %s", key, thing.Key)
			text := thing.Key.String() + " for "
			switch thing.Per {
			case technique.EachSet:
				text += "each set"
			case technique.EachMachine:
				text += "each machine"
			default:
				text += say.Plain.Say(say.Count(thing.Count))
			}
			things = append(things, text)
		}
		assert.Equal(t, want, strings.Join(things, ", "), key)
	}
}

// Every technique is whole: it says what it is and why, is drawn, names rungs of
// the ladder that there are, and brings things that there are.
func TestEveryTechniqueIsWhole(t *testing.T) {
	pictures := map[string]technique.Key{}
	for _, made := range technique.All {
		assert.False(t, made.Name.Silent() || made.What.Silent() || made.Because.Silent(), made.Key)
		_, known := technique.GroupByKey(made.Group)
		assert.True(t, known, made.Key)
		require.NotEmpty(t, made.Picture, made.Key)
		text := ""
		for _, s := range made.Picture {
			require.NotEmpty(t, s.Points)
			for _, p := range s.Points {
				assert.True(t, p[0] >= 0 && p[0] <= technique.PictureWidth && p[1] >= 0 && p[1] <= technique.PictureHeight,
					"%s is drawn outside its field at %v", made.Key, p)
				text += say.Plain.Say(say.Size{p[0], p[1]})
			}
		}
		assert.Empty(t, pictures[text], "%s has the picture of another", made.Key)
		pictures[text] = made.Key
		for _, key := range append(made.Needs, made.Teaches...) {
			_, known := skill.Usual.ByKey(key)
			assert.True(t, known, "%s: %s", made.Key, key)
		}
		for _, thing := range made.Things {
			assert.NoError(t, thing.Key.Check(), made.Key)
			assert.Positive(t, thing.Count, made.Key)
			assert.Equal(t, thing.Key.Kind.ByLength(), thing.Of != "", "%s: what is cut says what it covers", made.Key)
		}
		for _, not := range made.Not {
			byKey(t, not.Key)
			assert.False(t, not.Because.Silent())
		}
	}
}

// The house proposes what goes with the work, each with why and with the other
// schools; no two of what it proposes exclude each other, and all of it fits.
func TestWhatTheHouseProposes(t *testing.T) {
	for name, c := range map[string]struct {
		work technique.Work
		keys string
	}{
		"a woven": {woven(), "press-first template pen-water dry-run"},
		"a shirt": {garment, "spray template pen-water try-on dry-run"},
		"a washed towel": {
			with(func(w *technique.Work) { w.Fabric, w.Uses = recipe.Terry, []recipe.Use{recipe.Washed} }),
			"pre-wash template pen-water dry-run baste-box"},
		"floated felt": {with(func(w *technique.Work) { w.Fabric, w.Floated = recipe.Felt, true }),
			"template pen-water float-hooped baste-box"},
		"vinyl": {with(func(w *technique.Work) { w.Fabric, w.Floated = recipe.Vinyl, true }),
			"template pen-water float-hooped"},
		"appliqué":           {applique, "press-first template pen-water dry-run trim-in-hoop piece-by-piece"},
		"a line of hoopings": {joined, "press-first template pen-water dry-run trims-off joined"},
		"marks at the end":   {marked, "press-first template pen-water dry-run skip-marks"},
		"a mat in the hoop":  {inHoop, "press-first corners-below bound"},
		"both sides of a sheer": {
			with(func(w *technique.Work) { w.Fabric, w.Uses = recipe.Sheer, []recipe.Use{recipe.BothSides} }),
			"template pen-water dry-run grip-tape two-sided"},
	} {
		t.Run(name, func(t *testing.T) {
			var keys []string
			var chosen []technique.Technique
			for _, p := range technique.Propose(c.work) {
				keys, chosen = append(keys, string(p.Key)), append(chosen, p.Technique)
				assert.False(t, p.Why.Silent())
				assert.True(t, p.Unfit(c.work).Silent(), p.Key)
				for _, o := range p.Others {
					assert.Equal(t, p.Group, o.Group)
				}
			}
			assert.Equal(t, c.keys, strings.Join(keys, " "))
			assert.True(t, technique.Excluded(chosen).Silent())
		})
	}
}

// What a technique cannot be done on says why.
func TestUnfit(t *testing.T) {
	vinyl := with(func(w *technique.Work) { w.Fabric, w.Floated = recipe.Vinyl, true })
	film := with(func(w *technique.Work) { w.Uses = []recipe.Use{recipe.FilmOverlay} })
	for _, c := range []struct {
		key  technique.Key
		work technique.Work
		says string
	}{
		{"press-first", vinyl, "melts"}, {"interfacing", film, "melts"},
		{"perforated", with(func(w *technique.Work) { w.Fabric, w.Pieces = recipe.Vinyl, true }), "melts"},
		{"patch", vinyl, "melts"}, {"turned", film, "melts"},
		{"press-first", with(func(w *technique.Work) { w.Fabric = recipe.Velvet }), "flattens the pile"},
		{"pre-wash", with(func(w *technique.Work) { w.Fabric = recipe.Felt }), "nothing here that a wash"},
		{"crease", with(func(w *technique.Work) { w.Fabric = recipe.Terry }), "does not show in pile"},
		{"crease", with(func(w *technique.Work) { w.Corner = true }), "45° line"},
		{"basted-line", vinyl, "each hole in vinyl stays"}, {"baste-box", vinyl, "each hole in vinyl stays"},
		{"paper-guide", vinyl, "pin holes"},
		{"template", inHoop, "nothing is marked"},
		{"pen-water", with(func(w *technique.Work) { w.Fabric = recipe.Velvet }), "water marks velvet"},
		{"pen-heat", vinyl, "iron on the front"},
		{"try-on", woven(), "nothing to put on"}, {"dry-run", vinyl, "floated, not hooped"},
		{"float-taped", inHoop, "only stabilizer is hooped"},
		{"float-sticky", with(func(w *technique.Work) { w.Fabric = recipe.Velvet }), "glue pulls the pile out"},
		{"window", with(func(w *technique.Work) { w.Dense = true }), "dense stitching needs a sheet"},
		{"window", garment, "a knit or a sheer"},
		{"trim-in-hoop", woven(), "no appliqué pieces"}, {"skip-marks", woven(), "no stop of the design is only a mark"},
		{"one-colour", applique, "need the halts"},
		{"joined", woven(), "nothing to join"}, {"bound", woven(), "no layer of it is a binding"},
		{"close-by-hand", woven(), "no edge to close"},
		{"two-sided", inHoop, "has a backing"},
		{"film", with(func(w *technique.Work) { w.Uses = []recipe.Use{recipe.Heat} }), "film melts"},
		{"metallic", with(func(w *technique.Work) { w.Uses = []recipe.Use{recipe.Heat} }), "melts where it meets heat"},
		{"interfacing", with(func(w *technique.Work) { w.Uses = []recipe.Use{recipe.BothSides} }), "both sides are seen"},
		{"corners-below", woven(), "nothing is laid from below"},
	} {
		assert.Contains(t, byKey(t, c.key).Unfit(c.work).String(), c.says, c.key)
	}
}

// Two that exclude each other are refused with the reason, whichever is named
// first; the rest go together, and none goes with itself.
func TestWhatExcludesWhat(t *testing.T) {
	for _, pair := range []struct {
		a, b technique.Key
		says string
	}{
		{"template", "crease", "in one way"}, {"pen-water", "chalk", "two remedies"}, {"crease", "pen-air", "needs no pen"},
		{"dry-run", "magnetic", "in one way"}, {"dry-run", "float-taped", "not hooped"},
		{"magnetic", "grip-tape", "no inner ring"}, {"float-hooped", "float-sticky", "held in one way"},
		{"window", "magnetic", "the same step"}, {"trim-in-hoop", "perforated", "cut in one way"},
		{"perforated", "fuse-before", "have their web already"}, {"fuse-before", "fuse-after", "fused once"},
		{"line-light", "cut-dark", "needs no lining"}, {"piece-by-piece", "placements-first", "one order"},
		{"one-colour", "multi-tone", "not one colour"}, {"joined", "clamped-band", "joined in one way"},
		{"patch", "bound", "not two of these"}, {"patch", "pen-water", "heat sets a water pen"},
		{"close-by-hand", "close-in-ditch", "closed once"}, {"two-sided", "trims-off", "already"},
		{"two-sided", "interfacing", "stays on one"}, {"film", "fuse-after", "melts"},
		{"clamped-band", "window", "stuck to its strip"},
	} {
		for _, chosen := range [][]technique.Technique{{byKey(t, pair.a), byKey(t, pair.b)},
			{byKey(t, pair.b), byKey(t, pair.a)}} {
			said := technique.Excluded(chosen).String()
			assert.Contains(t, said, pair.says, "%s with %s", pair.a, pair.b)
			assert.Contains(t, said, "Take one of them off")
		}
	}
	for i, a := range technique.All {
		for j, b := range technique.All {
			_, one := technique.Excludes(a, b)
			_, other := technique.Excludes(b, a)
			assert.Equal(t, one, other, "%s with %s", a.Key, b.Key)
			if i == j {
				assert.True(t, one)
			}
		}
	}
}

// However techniques that go together are put together, every step is there once,
// and nothing that belongs after comes before.
func TestNoStepIsThereTwice(t *testing.T) {
	want := map[pace.StepKey]int{}
	for _, s := range base() {
		want[s.Key] = len(want)
	}
	for i, a := range technique.All {
		for _, b := range technique.All[i+1:] {
			if _, excluded := technique.Excludes(a, b); excluded {
				continue
			}
			seen := map[pace.StepKey]bool{}
			last := -1
			for _, s := range technique.Apply(base(), []technique.Technique{b, a}, 1, 1) {
				require.False(t, seen[s.Key], "%s twice with %s and %s", s.Key, a.Key, b.Key)
				seen[s.Key] = true
				if at, of := want[s.Key]; of {
					require.Greater(t, at, last, "%s with %s and %s", s.Key, a.Key, b.Key)
					last = at
				}
				titles := map[string]bool{}
				for _, n := range append(s.Notes, s.Cautions...) {
					require.False(t, titles[n.String()], "%s says twice with %s and %s: %s", s.Key, a.Key, b.Key, n)
					titles[n.String()] = true
				}
			}
		}
	}
}

// Placement lines come first, in the order of the file, unless something sewn
// earlier would cover one; marks are left out where nothing is lined up by them.
func TestTheOrderOfStops(t *testing.T) {
	box := func(left float64) stitch.Bounds {
		return stitch.Bounds{Left: left, Right: left + 20, Bottom: 0, Top: 20}
	}
	stop := func(n int, role stitch.Role, left float64) stitch.Stop {
		return stitch.Stop{N: n, Role: role, Bounds: box(left)}
	}
	three := []stitch.Stop{
		stop(1, stitch.Placement, 0), stop(2, stitch.TackDown, 0), stop(3, stitch.Cover, 0),
		stop(4, stitch.Placement, 40), stop(5, stitch.TackDown, 40), stop(6, stitch.Cover, 40), stop(7, stitch.Anchor, 0),
	}
	numbers := func(stops []stitch.Stop, e technique.Effects) (order []int, why string) {
		ordered, _ := technique.OrderOf(stops, e)
		for _, o := range ordered {
			order = append(order, stops[o.Index].N)
			why += o.Why.String()
		}
		return order, why
	}
	order, why := numbers(three, technique.Effects{})
	assert.Equal(t, []int{1, 2, 3, 4, 5, 6, 7}, order)
	assert.Empty(t, why)
	order, why = numbers(three, technique.Effects{PlacementsFirst: true, SkipsMarks: true})
	assert.Equal(t, []int{1, 4, 2, 3, 5, 6}, order)
	assert.Empty(t, why)
	overlapping := append(three[:3:3], stop(4, stitch.Placement, 10), stop(5, stitch.TackDown, 10),
		stop(6, stitch.Placement, 60))
	order, why = numbers(overlapping, technique.Effects{PlacementsFirst: true})
	assert.Equal(t, []int{1, 6, 2, 3, 4, 5}, order, "the line of the second would be under the first piece")
	assert.Contains(t, why, "behind stop 3")
}

// Tape lies outside the stitching and out of the way of the foot, and says where a
// hoop has no room for it.
func TestWhereTapeMayLie(t *testing.T) {
	field := hoop.Field{WidthMM: 180, HeightMM: 130}
	zones, without := technique.TapeZones(field, 60, 50)
	require.Len(t, zones, 4)
	assert.Zero(t, without)
	for _, z := range zones {
		outside := z.Right <= -30-technique.FootMM || z.Left >= 30+technique.FootMM || z.Top <= -25-technique.FootMM ||
			z.Bottom >= 25+technique.FootMM
		assert.True(t, outside, "%v is clear of the foot", z)
		assert.True(t, z.Left >= -90 && z.Right <= 90 && z.Bottom >= -65 && z.Top <= 65, "%v is in the hoop", z)
	}
	zones, without = technique.TapeZones(field, 60, 120)
	assert.Len(t, zones, 2, "above and below the foot needs all the room")
	assert.Equal(t, 2, without)
	_, says := technique.TapePicture(field, 178, 128)
	assert.Contains(t, says.String(), "no room for tape")
	_, says = technique.TapePicture(field, 60, 120)
	assert.Contains(t, says.String(), "on 2 sides")
}

// Joined hoopings begin in the middle; every one after that meets one that is
// there, at two points that no other join has.
func TestJoinedHoopings(t *testing.T) {
	assert.Equal(t, []int{2, 3, 4, 1, 0}, technique.Along(5))
	for hoopings := 2; hoopings <= 9; hoopings++ {
		points := map[int]int{}
		for n := 1; n <= hoopings; n++ {
			joins := technique.JoinsOf(n, hoopings)
			if n == 1 {
				assert.Empty(t, joins)
				continue
			}
			require.Len(t, joins, 1, "hooping %d of %d", n, hoopings)
			assert.Less(t, joins[0].With, n)
			for _, p := range joins[0].Points {
				points[p]++
			}
			assert.NotEmpty(t, technique.JoinPicture(n, hoopings))
		}
		assert.Len(t, points, 2*(hoopings-1))
	}
}

// A window saves hoopings and sheets, by the handbook's five minutes
// to hoop and four to stabilise.
func TestWhatAWindowSaves(t *testing.T) {
	s := technique.SavingOf(12, 4, 5, 4)
	assert.Equal(t, 3, s.Sheets)
	assert.Equal(t, 12, s.SheetsEach)
	assert.InDelta(t, 5+4-(7.0/4+4.0/4+2), s.MinutesEach, 1e-9)
}

// A technique that a workshop writes is made of the same parts: its steps stand
// where it says, and what cannot be meant is refused by part.
func TestATechniqueOfOnesOwn(t *testing.T) {
	own := technique.Written{
		ID: 7, Name: "Wax paper below", What: "Wax paper under the hoop.", Because: "The foot glides.",
		Steps: []technique.WrittenStep{{Title: "Cut the wax paper", At: pace.StepStabilise, Minutes: 2},
			{Title: "Hoop with the paper", At: pace.StepHoop, Instead: true, Minutes: 6, Caution: "Mind the edge."}},
		Lines:  []technique.WrittenLine{{Text: "Tear the paper off", At: pace.StepCleanUp}},
		Things: []technique.WrittenThing{{Name: "Wax Paper", Per: technique.Students, Count: 4}},
		Needs:  []skill.Key{skill.HoopWoven},
	}
	require.Empty(t, own.Faults(skill.Usual))
	made := own.Technique()
	id, is := technique.OwnID(made.Key)
	assert.True(t, is)
	assert.EqualValues(t, 7, id)
	steps := technique.Apply(base(), []technique.Technique{made}, 1, 1)
	var titles []string
	for _, s := range steps[:5] {
		titles = append(titles, s.Title.String())
	}
	assert.Equal(t, []string{"Mark the blank with the template", "Cut and lay the stabilizer", "Cut the wax paper",
		"Hoop with the paper", "Load, check the needle over the mark, trace"}, titles)
	assert.Equal(t, []skill.Key{skill.HoopWoven}, steps[3].Skills, "what stands in the place of hooping asks for as much")
	for part, bad := range map[string]func(*technique.Written){
		"name":    func(w *technique.Written) { w.Name = " " },
		"because": func(w *technique.Written) { w.Because = "" },
		"steps":   func(w *technique.Written) { w.Steps[0].At = "lunch" },
		"lines":   func(w *technique.Written) { w.Lines[0].Text = "" },
		"things":  func(w *technique.Written) { w.Things[0].Count = 0 },
		"needs":   func(w *technique.Written) { w.Needs = []skill.Key{"juggling"} },
	} {
		w := own
		w.Steps, w.Lines, w.Things = append([]technique.WrittenStep(nil), own.Steps...),
			append([]technique.WrittenLine(nil), own.Lines...), append([]technique.WrittenThing(nil), own.Things...)
		bad(&w)
		assert.Contains(t, w.Faults(skill.Usual), part)
	}
	sewing := own
	sewing.Steps = []technique.WrittenStep{{Title: "Sew otherwise", At: pace.StepSew, Instead: true}}
	assert.Contains(t, sewing.Faults(skill.Usual)["steps"].String(), "loading, sewing and unhooping stay")
}

// Nothing is pressed that melts: no technique that goes with vinyl or film brings
// an iron, and neither does one that a workshop wrote.
func TestNothingIsPressedThatMelts(t *testing.T) {
	ironed := technique.Written{ID: 1, Name: "x", What: "x", Because: "x",
		Steps: []technique.WrittenStep{{Title: "Iron it", At: pace.StepCleanUp, Iron: true}}}.Technique()
	for _, w := range []technique.Work{
		with(func(w *technique.Work) {
			w.Fabric, w.Floated, w.Pieces, w.Bound, w.Hoopings = recipe.Vinyl, true, true, true, 2
		}),
		with(func(w *technique.Work) {
			w.Uses, w.Pieces, w.InHoop, w.Bound = []recipe.Use{recipe.FilmOverlay}, true, true, true
		}),
	} {
		for _, made := range append([]technique.Technique{ironed}, technique.All...) {
			for _, s := range made.Steps {
				assert.True(t, !s.Iron || !made.Unfit(w).Silent(), made.Key)
			}
		}
	}
}
