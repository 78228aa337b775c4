package technique

import (
	"chalkstep/core/pace"
	"chalkstep/core/recipe"
	"chalkstep/core/say"
	"chalkstep/core/supply"
)

// tool is the key of something a class shares.
func tool(name string) supply.Key { return supply.Named(supply.Tool, name) }

// snips are what jumps and basting are snipped with.
var snips = Thing{Key: supply.Snips, Per: Students, Count: supply.StudentsPerSnips}

// bench, atIron and machine are steps where they are done.
func bench(key pace.StepKey, minutes float64, title string) pace.Step {
	return pace.Step{Key: key, Title: say.T(title), Where: pace.Bench, Minutes: minutes}
}

func atIron(key pace.StepKey, minutes float64, title string) pace.Step {
	s := bench(key, minutes, title)
	s.Iron, s.Cautions = true, []say.Text{pace.IronCaution}
	return s
}

func machine(key pace.StepKey, minutes float64, title string) pace.Step {
	s := bench(key, minutes, title)
	s.Where, s.Cautions = pace.AtMachine, []say.Text{pace.LoadCaution}
	return s
}

// seated is a step at the machine of somebody who has loaded.
func seated(key pace.StepKey, minutes float64, title string) pace.Step {
	s := machine(key, minutes, title)
	s.Cautions = []say.Text{pace.SewCaution}
	return s
}

// at is a line at a step, caution one that warns.
func at(key pace.StepKey, text string, args ...any) Line {
	return Line{At: key, Text: say.T(text, args...)}
}

func caution(key pace.StepKey, text string, args ...any) Line {
	return Line{At: key, Caution: true, Text: say.T(text, args...)}
}

var spraying = "Spray away from machines and flames, with the window open; read its label."

var before = []Technique{
	{
		Key: "pre-wash", Group: Before, Name: say.T("Wash it first"),
		What:    say.T("Blanks that shrink are washed, dried and pressed before they are embroidered."),
		Because: say.T("cloth shrinks in its first wash, and the stitches do not"),
		Ahead:   []Task{{Text: say.T("Wash, dry and press the blanks"), Minutes: 3}},
		Picture: Picture{cloth(20, 20, 120, 70), dashed(Soft, 34, 30, 126, 30, 126, 80, 34, 80, 34, 30),
			wave(Blue, 40, 55, 80)},
		unfit: func(w Work) say.Text {
			if !w.mayShrink() || w.InHoop {
				return say.T("there is nothing here that a wash would shrink")
			}
			return say.Text{}
		},
		proposed: func(w Work) say.Text {
			if w.uses(recipe.Washed) {
				return say.T("it will be washed, and may shrink")
			}
			return say.Text{}
		},
	},
	{
		Key: "press-first", Group: Before, Name: say.T("Press it flat first"),
		What:    say.T("The fabric is pressed before it is marked and hooped, and is left to cool."),
		Because: say.T("a crease that is hooped in is sewn in"),
		Steps:   []Step{{Step: atIron(stepPress, 2, "Press the fabric flat, and let it cool")}},
		Picture: Picture{cloth(20, 60, 120, 30), iron(80, 60)},
		unfit: func(w Work) say.Text {
			if w.of(recipe.Velvet, recipe.Terry) {
				return say.T("an iron flattens the pile")
			}
			return say.Text{}
		},
		proposed: func(w Work) say.Text {
			if w.of(recipe.WovenCotton, recipe.Linen, recipe.Canvas, recipe.Denim) {
				return say.T("wovens crease, and are hooped smooth")
			}
			return say.Text{}
		},
	},
	{
		Key: "interfacing", Group: Before, Name: say.T("Interfacing on the back"),
		What: say.T("A layer that stays is fused to the back for body; the stabilizer comes on top of it and goes again."),
		Because: say.T("interfacing is permanent and gives body, stabilizer is temporary and holds the stitches: a thin " +
			"shirt may want both"),
		Steps:  []Step{{Step: atIron(stepInterface, 4, "Fuse the interfacing to the back; lift the iron, do not push")}},
		Lines:  []Line{at(pace.StepStabilise, "The interfacing stays for good; the stabilizer goes under it all the same.")},
		Things: []Thing{{Key: supply.Key{Kind: supply.Interfacing}, Per: EachSet, Count: 1, Of: Design, MarginMM: 30}},
		Picture: Picture{cloth(20, 24, 120, 20), sheet(30, 50, 100, 10), sheet(14, 76, 132, 10), label(30, 72, "stays"),
			label(30, 100, "goes")},
		unfit: func(w Work) say.Text {
			if w.uses(recipe.BothSides) {
				return say.T("both sides are seen, and it stays on one")
			}
			return say.Text{}
		},
	},
	{
		Key: "spray", Group: Before, Name: say.T("Light spray on the stabilizer"),
		What:    say.T("A little adhesive spray holds the fabric to its stabilizer while both are hooped."),
		Because: say.T("what is held all over cannot creep or stretch"),
		Steps: []Step{{Step: withCaution(
			bench(stepSpray, 2, "Spray the stabilizer lightly, press the fabric on without pulling"),
			spraying)}},
		Things: []Thing{{Key: supply.Key{Kind: supply.Spray}, Per: Students, Count: 6}},
		Picture: Picture{sheet(20, 70, 120, 14), dotted(Ochre, 100, 24, 50, 66), dotted(Ochre, 104, 24, 76, 66),
			dotted(Ochre, 108, 24, 104, 66), box(Ink, 100, 8, 14, 16)},
		proposed: func(w Work) say.Text {
			if w.of(recipe.Jersey, recipe.Rib, recipe.Sweatshirt) {
				return say.T("a knit is stabilised before it is hooped, so that it does not stretch")
			}
			return say.Text{}
		},
	},
}

func withCaution(s pace.Step, texts ...string) pace.Step {
	for _, t := range texts {
		s.Cautions = append(s.Cautions, say.T(t))
	}
	return s
}
