package technique

import (
	"chalkstep/core/pace"
	"chalkstep/core/recipe"
	"chalkstep/core/say"
)

// nothingToMark says that there is no blank to mark.
func nothingToMark(w Work) say.Text {
	if w.InHoop {
		return say.T("built in the hoop, nothing is marked")
	}
	return say.Text{}
}

var marking = []Technique{
	{
		Key: "template", Group: Marking, Name: say.T("Template with cross and arrow"),
		What:    say.T("The design printed at its size is laid on the blank; the mark follows its cross and its up-arrow."),
		Because: say.T("what is seen at its size is placed where it looks right"),
		Lines: []Line{at(pace.StepMark, "Measure the template's bar of %s first. Cross on the mark, arrow up.",
			say.MM(50))},
		Picture: Picture{cloth(20, 12, 120, 90), box(Ink, 52, 30, 56, 54), cross(80, 57, 14), arrow(120, 84, 30)},
		unfit:   nothingToMark,
		proposed: func(w Work) say.Text {
			return say.T("beginners see the size and the place before anything is sewn")
		},
	},
	{
		Key: "crease", Group: Marking, Name: say.T("Crease for the centre"),
		What:    say.T("The blank is folded in half both ways; where the folds cross is the middle."),
		Because: say.T("a fold leaves no mark that has to come out again"),
		Steps:   []Step{{Step: bench(pace.StepMark, 3, "Fold the blank in half both ways and crease the middle")}},
		Lines:   []Line{at(pace.StepMark, "Where the two folds cross is the cross of the template.")},
		Effects: Effects{NoPen: true},
		Picture: Picture{cloth(20, 12, 120, 90), dashed(Ink, 80, 12, 80, 102), dashed(Ink, 20, 57, 140, 57),
			cross(80, 57, 10)},
		unfit: func(w Work) say.Text {
			if w.of(recipe.Terry, recipe.Velvet, recipe.Vinyl) {
				return say.T("a fold does not show in pile, and stays for good in vinyl")
			}
			if w.Corner {
				return say.T("a corner motif lies on the 45° line, not in the middle")
			}
			return nothingToMark(w)
		},
	},
	{
		Key: "basted-line", Group: Marking, Name: say.T("Basted guide line"),
		What:    say.T("A line of long stitches shows where the design goes, and is pulled out afterwards."),
		Because: say.T("it marks pile and dark cloth, shows on both sides, and rubs off nowhere"),
		Steps:   []Step{{Step: bench(pace.StepMark, 6, "Baste the guide lines with long stitches in a thread that shows")}},
		Lines: []Line{at(pace.StepCleanUp,
			"Pull the basted lines out. Thread that water takes away helps where a seam has to be undone.")},
		Things:  []Thing{{Key: tool("basting thread"), Per: Students, Count: 4}},
		Effects: Effects{NoPen: true},
		Picture: Picture{cloth(20, 12, 120, 90), dashed(Brick, 80, 16, 80, 98), dashed(Brick, 24, 57, 136, 57)},
		unfit: func(w Work) say.Text {
			if w.Fabric == recipe.Vinyl {
				return say.T("each hole in vinyl stays")
			}
			return nothingToMark(w)
		},
	},
	{
		Key: "paper-guide", Group: Marking, Name: say.T("Guide sewn on paper"),
		What: say.T("The basting box is sewn on hooped scrap paper, drawn round inside the hoop and cut out: a guide " +
			"with its own centre lines."),
		Because: say.T("it shows the true needle start of this machine and hoop, whatever the marks on the frame say"),
		Ahead: []Task{{Text: say.T(
			"Hoop scrap paper, sew only the basting box, draw round the inside of the hoop, cut it out"), Minutes: 6,
			Once: true}},
		Steps: []Step{{Step: bench(pace.StepMark, 4, "Pin the paper guide on, through one layer only")}},
		Lines: []Line{
			at(pace.StepMark, "Fold it at the design's top edge; check it against the grain before it is pinned down."),
			caution(pace.StepLoad, "Take every pin out before the hoop goes on: a needle that hits a pin flies."),
		},
		Things: []Thing{{Key: tool("scrap paper"), Per: EachMachine, Count: 1},
			{Key: tool("pins"), Per: Students, Count: 4}},
		Effects: Effects{NoPen: true},
		Picture: Picture{cloth(12, 8, 136, 94), box(Soft, 40, 20, 80, 70),
			dashed(Blue, 54, 34, 106, 34, 106, 76, 54, 76, 54, 34), cross(80, 55, 8), line(Ink, 34, 26, 50, 30)},
		unfit: func(w Work) say.Text {
			if w.Fabric == recipe.Vinyl {
				return say.T("pin holes in vinyl stay")
			}
			return nothingToMark(w)
		},
	},
}

// marksOn says that there is a blank for a pen to mark.
func penned(more func(Work) say.Text) func(Work) say.Text {
	return func(w Work) say.Text {
		if why := nothingToMark(w); !why.Silent() || more == nil {
			return why
		}
		return more(w)
	}
}

const testPen = "Test first that it comes out of this fabric."

// noPenNeeded are the ways of marking without any pen.
func notWithoutPen() []Exclusion {
	because := say.T("that way needs no pen")
	return []Exclusion{{"crease", because}, {"basted-line", because}, {"paper-guide", because}}
}

var pens = []Technique{
	{
		Key: "pen-water", Group: Pen, Name: say.T("Water-erase pen"), What: say.T("The marks go with cold water."),
		Because: say.T("they stay until they are wanted gone"),
		Lines: []Line{
			at(pace.StepMark, testPen), at(pace.StepCleanUp, "Dab the marks away with cold water, and wait until it is dry."),
			caution(pace.StepPress, "No iron before the marks are gone: heat sets a water pen for good."),
		},
		Things:  []Thing{{Key: tool("water-erase pen"), Per: Students, Count: 3}},
		Effects: Effects{NoPen: true, House: recipe.Rules{Press: "after"}},
		Not:     notWithoutPen(),
		Picture: Picture{cloth(20, 30, 120, 70), cross(60, 65, 14), pen(86, 20), wave(Blue, 90, 80, 40)},
		unfit: penned(func(w Work) say.Text {
			if w.Fabric == recipe.Velvet {
				return say.T("water marks velvet")
			}
			return say.Text{}
		}),
		proposed: func(w Work) say.Text {
			return say.T("it lasts through a class, and water takes it out")
		},
	},
	{
		Key: "pen-air", Group: Pen, Name: say.T("Air-erase pen"), What: say.T("The marks fade by themselves."),
		Because: say.T("nothing has to be washed out"),
		Lines: []Line{
			at(pace.StepMark, "%s It fades within a day, sooner in damp: mark it just before hooping.", say.T(testPen)),
			at(pace.StepCleanUp, "The marks fade by themselves: wait for that before pressing."),
		},
		Things:  []Thing{{Key: tool("air-erase pen"), Per: Students, Count: 3}},
		Effects: Effects{NoPen: true, House: recipe.Rules{Press: "after"}}, Not: notWithoutPen(),
		Picture: Picture{cloth(20, 30, 120, 70), cross(60, 65, 14), pen(86, 20), dotted(Soft, 100, 84, 132, 60)},
		unfit:   penned(nil),
	},
	{
		Key: "pen-heat", Group: Pen, Name: say.T("Heat-erase pen"),
		What:    say.T("The marks go under the iron, and may come back in the cold."),
		Because: say.T("pressing takes it out, with no water"),
		Lines: []Line{
			at(pace.StepMark, "%s It may come back in the cold: mark only where stitches will cover.", say.T(testPen)),
			at(pace.StepPress, "The iron takes the marks out."),
		},
		Things: []Thing{{Key: tool("heat-erase pen"), Per: Students, Count: 3}}, Effects: Effects{NoPen: true},
		Not:     notWithoutPen(),
		Picture: Picture{cloth(20, 50, 120, 50), cross(46, 75, 12), iron(100, 52)},
		unfit: penned(func(w Work) say.Text {
			if w.melts() || w.of(recipe.Velvet, recipe.Terry) {
				return say.T("it needs an iron on the front, which this does not stand")
			}
			return say.Text{}
		}),
	},
	{
		Key: "chalk", Group: Pen, Name: say.T("Chalk"), What: say.T("The marks are brushed off."),
		Because: say.T("it shows on dark cloth, and nothing can set it"),
		Lines: []Line{at(pace.StepMark, "%s It rubs off: handle the blank as little as you can until it is hooped.",
			say.T(testPen)), at(pace.StepCleanUp, "Brush the chalk off.")},
		Things: []Thing{{Key: tool("tailor's chalk"), Per: Students, Count: 3}}, Effects: Effects{NoPen: true},
		Not:     notWithoutPen(),
		Picture: Picture{cloth(20, 30, 120, 70), cross(60, 65, 14), box(Soft, 96, 44, 30, 14)}, unfit: penned(nil),
	},
}

var fitting = []Technique{
	{
		Key: "try-on", Group: Fitting, Name: say.T("Try it on before a mirror"),
		What: say.T("The garment is put on with the template pinned to it, " +
			"and the mark is moved to where it looks right."),
		Because: say.T("sizes vary: the mark follows the body, not the table"),
		Steps:   []Step{{Step: bench(stepTryOn, 3, "Put it on before a mirror, and move the template until it looks right")}},
		Lines:   []Line{caution(pace.StepLoad, "Pins out before the hoop goes on.")},
		Things:  []Thing{{Key: tool("mirror"), Per: Students, Count: 100}, {Key: tool("pins"), Per: Students, Count: 4}},
		Picture: Picture{shirt(), box(Ink, 88, 44, 18, 18), cross(97, 53, 6)},
		unfit: func(w Work) say.Text {
			if !w.Garment {
				return say.T("it is nothing to put on")
			}
			return say.Text{}
		},
		proposed: func(w Work) say.Text { return say.T("where it sits on the body is seen only there") },
	},
}
