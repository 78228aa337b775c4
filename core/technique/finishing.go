package technique

import (
	"chalkstep/core/hoop"
	"chalkstep/core/pace"
	"chalkstep/core/recipe"
	"chalkstep/core/say"
	"chalkstep/core/skill"
	"chalkstep/core/supply"
)

// oneHooping says that there is nothing to join.
func oneHooping(w Work) say.Text {
	if w.Hoopings < 2 {
		return say.T("it is one hooping: there is nothing to join")
	}
	return say.Text{}
}

// bulk is how a long or heavy thing is handled under the arm.
func bulk() []Line {
	return []Line{
		at(pace.StepLoad, "Start in the middle and work outwards: at most half the bulk under the arm, its weight on the "+
			"table."),
		at(pace.StepLoad, "If it has dragged on the arm, power off and on, and let the arm find its place again."),
		at(pace.StepSew, "The points are numbered: each meets the one of its number, in place and in direction, before it "+
			"sews."),
	}
}

var joining = []Technique{
	{
		Key: "joined", Group: Joining, Name: say.T("Joined hoopings"),
		What: say.T("A line longer than the hoop is sewn in several hoopings, from the middle outwards, each meeting " +
			"the last at two numbered points."),
		Because: say.T("half the bulk at most is ever under the arm, and the error is shared out"),
		Lines: append(bulk(),
			Line{Last: true, Text: say.T("Before unhooping: mark the two points at the end, for the next hooping to meet.")}),
		Needs: []skill.Key{skill.Joined}, Teaches: []skill.Key{skill.Joined},
		Effects: Effects{Joins: true},
		Picture: Picture{box(Soft, 8, 36, 48, 40), box(Ink, 56, 36, 48, 40), box(Soft, 104, 36, 48, 40), cross(56, 44, 5),
			cross(56, 68, 5), cross(104, 44, 5), cross(104, 68, 5), label(76, 60, "1"), label(124, 60, "2"), label(28, 60, "3")},
		unfit: oneHooping,
		proposed: func(w Work) say.Text {
			return say.T("several hoopings that meet are lined up by points, not by eye")
		},
	},
	{
		Key: "clamped-band", Group: Joining, Name: say.T("Bands in a clamp hoop"),
		What: say.T("A belt or band, cut to size, is stuck on a strip of stabilizer inside a basted outline, clamped, " +
			"sewn and moved on."),
		Because: say.T("a band too narrow for any ring is held along its whole length"),
		Steps: []Step{{Step: withCaution(
			bench(pace.StepHoop, 4, "Clamp the strip, baste the outline, stick the band inside it with tape"),
			"Keep fingers out of the clamp when it closes."), EachHooping: true}},
		Lines: append(bulk(),
			at(pace.StepHoop, "The tape that holds it is pulled off afterwards, and never sewn through."),
			at(pace.StepUnhoop, "Unclamp, move on by one repeat, clamp, baste again.")),
		Things: []Thing{{Key: supply.Key{Kind: supply.Tape}, Per: Students, Count: 4}},
		Needs:  []skill.Key{skill.Joined}, Teaches: []skill.Key{skill.Joined},
		Effects: Effects{Joins: true, Hoops: hoop.Clamp, Floats: true},
		Not: []Exclusion{
			{"magnetic", say.T("it is clamped already")}, {"template-to-marks", say.T("the basted outline is the guide")},
			{"float-hooped", say.T("the band is stuck to its strip")}, {"float-sticky", say.T("the band is stuck to its strip")},
			{"float-taped", say.T("the band is stuck to its strip")},
			{"window", say.T("the band is stuck to its strip")},
		},
		Picture: Picture{box(Ink, 40, 16, 80, 78), clothOn(4, 42, 152, 26),
			dashed(Blue, 48, 38, 112, 38, 112, 72, 48, 72, 48, 38)},
		unfit: oneHooping,
	},
}

var names = []Technique{
	{
		Key: "name-last", Group: Names, Name: say.T("Name or plate last, on top"),
		What:    say.T("A name or its plate keeps its place in the order: after everything else, on top of it."),
		Because: say.T("what is sewn later lies on top, and a detail that crosses an edge hides and holds it"),
		Lines:   []Line{{Last: true, Text: say.T("Then the name or its plate: last, on top of everything.")}},
		Picture: Picture{inHoop(), heart(Soft, 80, 48, 24), clothOn(50, 62, 60, 18),
			line(Ink, 58, 74, 64, 68, 70, 74, 78, 68, 86, 74, 94, 68, 102, 74)},
	},
}

const pressLift = "Press and lift, do not rub; let it cool before it is moved."

var makingUp = []Technique{
	{
		Key: "patch", Group: MakingUp, Name: say.T("Cut out as a patch"),
		What:    say.T("The finished embroidery is backed with web, cut close, sealed, and fused to what it is for."),
		Because: say.T("it can be put on anything afterwards, also where no hoop goes"),
		Steps: []Step{
			{Step: atIron(stepPatchWeb, 3, "Fuse web to the back of the patch")},
			{Step: withCaution(bench(stepPatchCut, 5, "Cut close round the border, without nicking it"), blades)},
			{Step: bench(stepPatchSeal, 2, "Seal the edge, and let it dry")},
			{Step: atIron(stepPatchOn, 3, "Peel the paper off, and fuse the patch on through a cloth")},
		},
		Lines: []Line{
			at(pace.StepPress, "Press first, then tear the stabilizer away."),
			at(stepPatchWeb, pressLift),
			at(stepPatchOn, "To last through washing, stitch round it once it is cool."),
		},
		Things: []Thing{{Key: tool("scissors"), Per: Students, Count: 2},
			{Key: tool("pressing cloth"), Per: Students, Count: 8},
			{Key: supply.Key{Kind: supply.Fusible}, Per: EachSet, Count: 1, Of: Design, MarginMM: 5},
			{Key: tool("edge sealant"), Per: Students, Count: 6}},
		Effects: Effects{House: recipe.Rules{Press: "first"}},
		Not: []Exclusion{
			{"pen-water", say.T("a patch is pressed before its stabilizer comes off, and heat sets a water pen")},
			{"pen-air", say.T("a patch is pressed before its marks have faded")}},
		Picture: Picture{ring(Ink, 80, 55, 42, 36), ringDashed(Brick, 80, 55, 47, 41), heart(Blue, 80, 54, 18)},
	},
	{
		Key: "bound", Group: MakingUp, Name: say.T("Bound in the hoop"),
		What: say.T("A strip joined on the slant is sewn on side by side, the hoop turned so that the finished side is " +
			"up-right, its corners mitred and the last one tucked."),
		Because: say.T("every edge is sewn by the machine, and comes out as straight as it is cut"),
		Steps: []Step{
			{Step: withCaution(bench(stepStrip, 6, "Cut the binding and join it on the slant"), blades)},
			{Step: withCaution(bench(stepTrimLine, 3, "Trim along the trim line"), blades)},
		},
		Lines: []Line{
			at(stepStrip, "Ends across each other at a right angle, right sides together; sew corner to corner; keep the "+
				"long side, cut the triangle off %s outside the seam.", say.MM(6)),
			at(stepStrip, "The join lands in the middle of a side, never on a corner."),
			at(pace.StepSew, "Binding, side by side: turn the hoop until the finished side is up-right, lay the strip along "+
				"the line without pulling, sew, fold the corner as a mitre; tuck the last one under the first."),
			at(stepTrimLine, "Outside the seam, square to it; not into the stitches."),
		},
		Things: []Thing{{Key: tool("scissors"), Per: Students, Count: 2}},
		Needs:  []skill.Key{skill.LayersInHoop}, Teaches: []skill.Key{skill.LayersInHoop},
		Picture: Picture{clothOn(6, 40, 88, 22), clothOn(66, 6, 22, 96), dashed(Ink, 66, 40, 88, 62),
			line(Brick, 62, 30, 98, 66), label(100, 30, "keep"), label(94, 92, "goes")},
		unfit: func(w Work) say.Text {
			if !w.Bound {
				return say.T("no layer of it is a binding: add one first")
			}
			return say.Text{}
		},
		proposed: func(w Work) say.Text { return say.T("it has a binding among its layers") },
	},
	{
		Key: "turned", Group: MakingUp, Name: say.T("Sewn together and turned"),
		What: say.T("Front and back are seamed right sides together just inside the outline, trimmed, turned out and " +
			"closed."),
		Because: say.T("no raw edge anywhere, and nothing to bind"),
		Steps: []Step{
			{Step: bench(stepSeam, 10, "Seam right sides together just inside the outline, with an opening to turn it")},
			{Step: withCaution(bench(stepTrimLine, 3, "Trim the seam, clip the corners"), blades)},
			{Step: bench(stepTurn, 3, "Turn it right side out, push the corners out")},
			{Step: atIron(stepPressSeams, 2, "Press the seams")},
		},
		Lines: []Line{at(stepSeam, "Just inside the outline that is sewn, so that it does not show.")},
		Things: []Thing{{Key: tool("scissors"), Per: Students, Count: 2},
			{Key: tool("hand needle"), Per: Students, Count: 1}, {Key: tool("sewing thread"), Per: Students, Count: 4},
			{Key: tool("turning tool"), Per: Students, Count: 4}},
		Picture: Picture{clothOn(34, 14, 92, 82), dashed(Blue, 42, 22, 118, 22, 118, 88, 42, 88, 42, 60),
			line(Brick, 114, 14, 126, 26)},
	},
	{
		Key: "turned-by-machine", Group: MakingUp, Name: say.T("Sewn together on a machine that sews"),
		What:    say.T("As by hand, but a machine that sews as well makes the seam, in sewing mode."),
		Because: say.T("a straight seam in two minutes"),
		Steps: []Step{
			{Step: sewing(stepSeam, 4,
				"Sewing mode: seam right sides together just inside the outline, with an opening to turn it")},
			{Step: withCaution(bench(stepTrimLine, 3, "Trim the seam, clip the corners"), blades)},
			{Step: bench(stepTurn, 3, "Turn it right side out, push the corners out")},
			{Step: atIron(stepPressSeams, 2, "Press the seams")},
		},
		Lines: []Line{
			at(stepSeam, "Embroidery arm off, sewing foot on, as the machine's manual says; set back to embroidery for "+
				"whoever comes next."),
			caution(stepSeam, "Power off before the foot is changed."),
		},
		Things: []Thing{{Key: tool("scissors"), Per: Students, Count: 2},
			{Key: tool("turning tool"), Per: Students, Count: 4}},
		Picture: Picture{clothOn(34, 34, 92, 64), dashed(Blue, 42, 42, 118, 42, 118, 90), needle(60, 4, 44)},
	},
}

// sewing is a step at a machine in sewing mode.
func sewing(key pace.StepKey, minutes float64, title string) pace.Step {
	s := machine(key, minutes, title)
	s.Sewing = true
	return s
}

// noEdge says that there is no edge to close.
func noEdge(w Work) say.Text {
	if !w.Bound && !w.InHoop {
		return say.T("it has no edge to close")
	}
	return say.Text{}
}

var closing = []Technique{
	{
		Key: "close-by-hand", Group: Closing, Name: say.T("Closed by hand"),
		What:    say.T("The folded edge is sewn down from the back with small stitches."),
		Because: say.T("nothing shows from the front"),
		Steps:   []Step{{Step: bench(stepCloseEdge, 15, "Fold the edge over, and sew it down by hand")}},
		Things: []Thing{{Key: tool("sewing thread"), Per: Students, Count: 4},
			{Key: tool("hand needle"), Per: Students, Count: 1}},
		Picture: Picture{clothOn(20, 20, 120, 70), line(Ink, 20, 74, 140, 74), dashed(Soft, 24, 70, 136, 70)}, unfit: noEdge,
	},
	{
		Key: "close-in-ditch", Group: Closing, Name: say.T("Closed in the ditch"),
		What:    say.T("From the front, a seam in the groove beside the binding catches the edge folded over at the back."),
		Because: say.T("two minutes at a machine that sews, and it lasts"),
		Steps: []Step{{Step: sewing(stepCloseEdge, 5,
			"Fold the edge over, and sew from the front in the ditch of the binding")}},
		Picture: Picture{clothOn(20, 20, 120, 70), line(Ink, 20, 74, 140, 74), dashed(Blue, 20, 76, 140, 76),
			needle(80, 34, 74)}, unfit: noEdge,
	},
}

var special = []Technique{
	{
		Key: "two-sided", Group: Special, Name: say.T("Two-sided work"),
		What:    say.T("Both sides are seen: bobbin thread as the top thread, cutter off, tails snipped on both sides."),
		Because: say.T("the back looks like the front"),
		Steps:   []Step{{Step: bench(stepSoak, 5, "Soak out the wash-away, and dry it flat")}},
		Lines: []Line{
			at(pace.StepLoad, "Bobbin wound with the thread that sews on top. Bring the bobbin thread up by hand."),
			at(pace.StepUnhoop, "Set back: thread cutter on again."), at(pace.StepCleanUp, "Snip the tails on both sides."),
		},
		Things: []Thing{snips},
		Effects: Effects{Uses: []recipe.Use{recipe.BothSides}, NoTrims: true,
			House: recipe.Rules{Bobbin: "match", Press: "after"}},
		Not: []Exclusion{
			{"trims-off", say.T("two-sided work turns the cutter off already")},
			{"interfacing", say.T("both sides are seen, and interfacing stays on one")},
			{"patch", say.T("a patch has a back that is fused")}, {"float-sticky", say.T("glue stays on the side that is seen")},
		},
		Picture: Picture{clothOn(16, 30, 56, 56), clothOn(88, 30, 56, 56), heart(Blue, 44, 58, 16), heart(Blue, 116, 58, 16)},
		unfit: func(w Work) say.Text {
			if w.InHoop {
				return say.T("what is built in the hoop has a backing")
			}
			if w.uses(recipe.NextToSkin, recipe.Child) {
				return say.T("what is worn on the skin gets a mesh that stays on the back")
			}
			return say.Text{}
		},
		proposed: func(w Work) say.Text {
			if w.uses(recipe.BothSides) {
				return say.T("both sides are seen")
			}
			return say.Text{}
		},
	},
	{
		Key: "film", Group: Special, Name: say.T("Film under open fill"),
		What:    say.T("Iridescent film is laid over the placement line and shows through an open fill."),
		Because: say.T("it shines where thread would only cover"),
		Lines: []Line{
			at(pace.StepSew, "Film over the whole outline, taped outside the stitching; torn off outside the line afterwards."),
			caution(pace.StepLoad, "Never resized: at another size the fill no longer holds the film."),
		},
		Things: []Thing{{Key: supply.Key{Kind: supply.Tape}, Per: Students, Count: 4},
			{Key: supply.Key{Kind: supply.Film}, Per: EachSet, Count: 1, Of: Design, MarginMM: 12}},
		Effects: Effects{Uses: []recipe.Use{recipe.FilmOverlay}, House: recipe.Rules{Resizing: "never"}},
		Not: []Exclusion{
			{"press-first", say.T("once film is on, nothing of it is ironed; press the cloth before it comes to class")},
			{"fuse-after", say.T("film melts under the iron")},
			{"fuse-before", say.T("film melts under the iron")}, {"patch", say.T("film melts under the iron")},
			{"interfacing", say.T("film melts under the iron")},
			{"perforated", say.T("film melts under the iron")}, {"pen-heat", say.T("film melts under the iron")},
			{"turned", say.T("film melts under the iron")},
			{"turned-by-machine", say.T("film melts under the iron")}, {"one-colour", say.T("the film is laid at a halt")},
		},
		Picture: Picture{inHoop(), sheet(46, 28, 68, 54), dashedOf(heart(Blue, 80, 54, 20)), tape(46, 55), tape(114, 55)},
		unfit: func(w Work) say.Text {
			if w.uses(recipe.Heat) {
				return say.T("film melts on anything that meets heat")
			}
			return say.Text{}
		},
	},
	{
		Key: "metallic", Group: Special, Name: say.T("Metallic thread"),
		What:    say.T("Slower, with a bigger eye, and a drop of lubricant on the spool."),
		Because: say.T("it shreds at the speed and in the needle of other thread"),
		Lines: []Line{
			at(pace.StepLoad, "Slow the machine down; needle with the bigger eye; spool upright on a stand, a drop of "+
				"silicone lubricant on it."),
			at(pace.StepUnhoop, "Set back: speed and needle as they were."),
		},
		Things: []Thing{{Key: tool("silicone lubricant"), Per: Students, Count: 12},
			{Key: tool("thread stand"), Per: EachMachine, Count: 1}},
		Effects: Effects{TopThread: supply.Metallic, SpeedShare: 0.6},
		Picture: Picture{needle(80, 8, 76), ring(Ochre, 80, 62, 3, 5), wave(Ochre, 84, 62, 50)},
		unfit: func(w Work) say.Text {
			if w.uses(recipe.Heat) {
				return say.T("metallic thread melts where it meets heat")
			}
			return say.Text{}
		},
	},
	{
		Key: "multi-tone", Group: Special, Name: say.T("Thread of many tones"),
		What:    say.T("One thread that changes its shade along its length."),
		Because: say.T("it gives leaves, water and script life without a thread change"),
		Lines: []Line{at(pace.StepLoad,
			"Long runs and larger fills show it; in small letters and narrow borders it only looks spotty.")},
		Things: []Thing{{Key: tool("multi-tone thread"), Per: EachMachine, Count: 1}},
		Picture: Picture{wave(Blue, 20, 40, 40), wave(Moss, 60, 40, 40), wave(Ochre, 100, 40, 40), wave(Blue, 20, 66, 40),
			wave(Moss, 60, 66, 40), wave(Ochre, 100, 66, 40)},
	},
}
