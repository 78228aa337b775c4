package technique

import (
	"chalkstep/core/hoop"
	"chalkstep/core/pace"
	"chalkstep/core/recipe"
	"chalkstep/core/say"
	"chalkstep/core/supply"
)

var (
	magnets = "Magnets pinch: fingers on the handles, the frame set down flush. Keep them from pacemakers, cards and " +
		"phones."
	notHooped = say.T("the blank itself is not hooped")
)

// hooped says that the blank itself is in the hoop.
func hooped(w Work) say.Text {
	if w.Floated && !w.InHoop {
		return say.T("it is floated, not hooped")
	}
	return say.Text{}
}

func notFloated() []Exclusion {
	return []Exclusion{{"float-hooped", notHooped}, {"float-sticky", notHooped}, {"float-taped", notHooped},
		{"window", notHooped}}
}

var hooping = []Technique{
	{
		Key: "dry-run", Group: Hooping, Name: say.T("Dry run that sets the screw"),
		What:    say.T("Fabric and stabilizer are hooped once to set the screw, taken out, and hooped for good."),
		Because: say.T("the screw is then right before it counts, and nothing is pulled afterwards"),
		Steps:   []Step{{Step: bench(stepDryRun, 1, "Hoop once for trial, set the screw, take it out again")}},
		Lines: []Line{
			at(pace.StepHoop, "Inner ring straight in with the palm; tighten; smooth, without pulling."),
			at(pace.StepHoop, "Tap it: a woven sounds like a drum and does not bounce; a knit is firm, with its loops as "+
				"they lay."),
		},
		Not: append(notFloated(), Exclusion{"magnetic", say.T("a magnetic hoop has no screw")},
			Exclusion{"clamped-band", say.T("a clamp hoop has no screw")}),
		Picture: Picture{inHoop(), weave(), label(40, 107, "weave straight")},
		unfit:   hooped,
		proposed: func(w Work) say.Text {
			if w.InHoop {
				return say.Text{}
			}
			return say.T("beginners tighten a hooped cloth by pulling it, which shows when it comes out")
		},
	},
	{
		Key: "template-to-marks", Group: Hooping, Name: say.T("Template lines to the hoop's marks"),
		What: say.T("The template's lines are laid on the marks of the frame, " +
			"corrected by how far these miss the needle."),
		Because: say.T("it is quick and repeats, once the error of each hoop is measured"),
		Lines: []Line{at(pace.StepHoop,
			"The template's lines on the frame's marks, corrected for this hoop; then the template off.")},
		Effects: Effects{House: recipe.Rules{StartLine: "marks"}, AtMarks: true},
		Not:     notFloated(),
		Picture: Picture{inHoop(), dashed(Blue, 80, 16, 80, 94), dashed(Blue, 26, 55, 134, 55), cross(84, 51, 8)},
		unfit:   hooped,
	},
	{
		Key: "magnetic", Group: Hooping, Name: say.T("Magnetic hoop"),
		What:    say.T("Two frames clamp the fabric by magnets, without a screw."),
		Because: say.T("quick, adjustable, and leaves hardly a mark"),
		Steps: []Step{{Step: withCaution(
			bench(pace.StepHoop, 3, "Clamp it in the magnetic hoop, the frame flush all round"), magnets), EachHooping: true}},
		Lines:   []Line{at(pace.StepHoop, "Lower one edge first, then the rest; lift and lay again instead of pulling.")},
		Effects: Effects{Hoops: hoop.Magnetic},
		Picture: Picture{cloth(10, 30, 140, 60), box(Ink, 26, 20, 108, 76), box(Ink, 38, 32, 84, 52), disc(Brick, 32, 26),
			disc(Brick, 128, 26), disc(Brick, 32, 90), disc(Brick, 128, 90)},
	},
}

var hoopAids = []Technique{
	{
		Key: "hooping-mat", Group: HoopAids, Name: say.T("Hooping mat"),
		What:    say.T("The outer ring is held on a mat with lines, so that both hands are free for the cloth."),
		Because: say.T("the mat's lines keep grain and hoop square, and the ring does not slide"),
		Lines:   []Line{at(pace.StepHoop, "Outer ring on the mat; grain along its lines.")},
		Things:  []Thing{{Key: tool("hooping mat"), Per: Students, Count: 3}},
		Picture: Picture{box(Soft, 10, 10, 140, 92), line(Soft, 45, 10, 45, 102), line(Soft, 80, 10, 80, 102),
			line(Soft, 115, 10, 115, 102), line(Soft, 10, 56, 150, 56), ring(Ink, 80, 56, 44, 32)},
	},
	{
		Key: "grip-tape", Group: HoopAids, Name: say.T("Grip tape on the inner ring"),
		What:    say.T("Tape round the inner ring holds what slips."),
		Because: say.T("slippery cloth creeps while it is sewn, however tight the screw"),
		Lines:   []Line{at(pace.StepHoop, "Wind the tape smoothly round the inner ring, once, without folds.")},
		Things:  []Thing{{Key: tool("grip tape"), Per: EachMachine, Count: 1}},
		Not:     []Exclusion{{"magnetic", say.T("a magnetic hoop has no inner ring to wind")}},
		Picture: Picture{ring(Ink, 80, 55, 60, 44), ringDashed(Ochre, 80, 55, 52, 37)},
		proposed: func(w Work) say.Text {
			if w.Fabric == recipe.Sheer && !w.Floated {
				return say.T("a sheer slips in the hoop")
			}
			return say.Text{}
		},
	},
}

const tapeClear = "Tape outside the stitching and outside the way of the foot. Tape that got sewn over: stop, pull " +
	"it away once it is tacked."

// floats says that something is laid on the hooped sheet.
func floats(w Work) say.Text {
	if w.InHoop {
		return say.T("only stabilizer is hooped here anyway: layers say how each is taped")
	}
	return say.Text{}
}

var floating = []Technique{
	{
		Key: "float-hooped", Group: Floating, Name: say.T("Float on hooped stabilizer"),
		What:    say.T("Only the stabilizer is hooped; the blank is laid on it with a little spray."),
		Because: say.T("no hoop marks, and it suits what cannot be hooped flat"),
		Steps: []Step{{Step: withCaution(
			bench(stepFloat, 2, "Lay the blank on the hooped sheet, cross on cross, and press it down"), spraying)}},
		Lines:   []Line{at(stepFloat, "Tap the sheet before: it is hooped as tight as a drum.")},
		Things:  []Thing{{Key: supply.Key{Kind: supply.Spray}, Per: Students, Count: 6}},
		Effects: Effects{Floats: true},
		Picture: Picture{inHoop(), clothOn(50, 34, 60, 42), cross(80, 55, 8), dotted(Ochre, 52, 80, 108, 80)},
		unfit:   floats,
		proposed: func(w Work) say.Text {
			if w.Floated {
				return say.T("it is too thick, too small or too easily marked to be hooped")
			}
			return say.Text{}
		},
	},
	{
		Key: "float-sticky", Group: Floating, Name: say.T("Float on a sticky sheet"),
		What: say.T("A sheet that holds by itself is hooped paper side up; the paper is scored and pulled off inside " +
			"the hoop."),
		Because: say.T("it holds all over, without spray in the room"),
		Steps:   []Step{{Step: bench(stepFloat, 3, "Score the paper inside the hoop, pull it off, press the blank on")}},
		Lines: []Line{
			at(stepFloat, "Score with a pin, not a blade: the sheet under it stays whole."),
			at(pace.StepCleanUp, "Hold the stitches and tear the sticky sheet off slowly; wipe the needle clean of glue."),
		},
		Effects: Effects{Floats: true, Sticky: true},
		Picture: Picture{inHoop(), clothOn(58, 38, 44, 34), dashed(Ochre, 40, 30, 120, 30, 120, 80, 40, 80, 40, 30)},
		unfit: func(w Work) say.Text {
			if w.of(recipe.Velvet) {
				return say.T("glue pulls the pile out")
			}
			return floats(w)
		},
	},
	{
		Key: "float-taped", Group: Floating, Name: say.T("Float, held by tape"),
		What:    say.T("The blank lies on the hooped sheet and is taped on all sides."),
		Because: say.T("nothing sticky under the stitches, and it lifts off clean"),
		Steps:   []Step{{Step: bench(stepFloat, 3, "Lay the blank on the hooped sheet, cross on cross, and tape it")}},
		Lines:   []Line{at(stepFloat, "%s", say.T(tapeClear))},
		Things:  []Thing{{Key: supply.Key{Kind: supply.Tape}, Per: Students, Count: 4}},
		Effects: Effects{Floats: true},
		Picture: Picture{inHoop(), clothOn(46, 32, 68, 46), tape(46, 55), tape(114, 55), tape(80, 32), tape(80, 78),
			dashed(Blue, 60, 42, 100, 42, 100, 68, 60, 68, 60, 42)},
		unfit: floats,
	},
	{
		Key: "window", Group: Floating, Name: say.T("Stabilizer window"),
		What: say.T("One sheet is hooped and its inside cut out; each block is stuck to the frame that stays, and the " +
			"sheet serves several."),
		Because: say.T("one hooping and one sheet for several blocks, all held alike"),
		Steps: []Step{
			{Step: bench(pace.StepStabilise, 4, "Cut the sheet for the window: each one's share"), Shared: true},
			{Step: bench(stepWindow, 7, "Hoop the sheet, cut its inside out: each one's share, as it serves several"),
				Shared: true},
			{Step: withCaution(bench(pace.StepHoop, 2, "Stick the block to the frame of stabilizer, square to it"), spraying)},
		},
		Lines: []Line{
			at(pace.StepHoop, "The frame's edge has to lie under the block on all four sides."),
			at(pace.StepUnhoop, "Peel the block off; the hoop stays hooped for the next."),
			at(stepWindow, "When the edge has torn or no longer holds, a new sheet is hooped."),
		},
		Things:  []Thing{{Key: tool("scissors"), Per: Students, Count: 2}},
		Effects: Effects{Floats: true, Window: true},
		Picture: Picture{inHoop(), box(Soft, 46, 30, 68, 50), clothOn(40, 26, 80, 58),
			dashed(Ink, 46, 30, 114, 30, 114, 80, 46, 80, 46, 30)},
		unfit: func(w Work) say.Text {
			if w.of(recipe.Jersey, recipe.Rib, recipe.Sheer) {
				return say.T("stitches in a knit or a sheer need a sheet under them, and here it is cut out")
			}
			if w.Dense {
				return say.T("dense stitching needs a sheet under it, and here it is cut out")
			}
			return say.Text{}
		},
	},
	{
		Key: "corners-below", Group: Basting, Name: say.T("Corners taped on the underside"),
		What: say.T("What goes on from below is taped at its corners with the hoop turned over, and looked at again " +
			"before it sews."),
		Because: say.T("nobody sees it flap, so it is held where it hangs"),
		Lines: []Line{
			at(pace.StepSew, "On from below: hoop turned over flat on the table, right side as the layer says, corners "+
				"taped; look again before the hoop goes on."),
		},
		Things:  []Thing{{Key: supply.Key{Kind: supply.Tape}, Per: Students, Count: 4}},
		Picture: Picture{inHoop(), clothOn(44, 30, 72, 50), tape(48, 34), tape(112, 34), tape(48, 76), tape(112, 76)},
		unfit: func(w Work) say.Text {
			if !w.InHoop && !w.Pieces {
				return say.T("nothing is laid from below")
			}
			return say.Text{}
		},
		proposed: func(w Work) say.Text {
			if w.InHoop {
				return say.T("what lies below is not seen while it sews")
			}
			return say.Text{}
		},
	},
}

var basting = []Technique{
	{
		Key: "baste-box", Group: Basting, Name: say.T("Basting box"),
		What:    say.T("A box of long stitches round the design holds fabric and sheet together before it is sewn."),
		Because: say.T("a minute at the machine holds what tape and spray let go"),
		Steps: []Step{{Step: seated(stepBaste, 1, "Sew the basting box; by pedal, where the machine has one"),
			EachHooping: true}},
		Lines:   []Line{at(pace.StepCleanUp, "Clip the basting every few stitches and pull it out.")},
		Things:  []Thing{snips},
		Effects: Effects{BasteMM: 5},
		Picture: Picture{inHoop(), clothOn(42, 28, 76, 54), dashed(Blue, 52, 36, 108, 36, 108, 74, 52, 74, 52, 36),
			cross(80, 55, 8)},
		unfit: func(w Work) say.Text {
			if w.Fabric == recipe.Vinyl {
				return say.T("each hole in vinyl stays")
			}
			return say.Text{}
		},
		proposed: func(w Work) say.Text {
			if w.Floated && !w.InHoop || w.of(recipe.Terry, recipe.Sweatshirt) {
				return say.T("what is bulky or floated is held by it all round")
			}
			return say.Text{}
		},
	},
	{
		Key: "bobbin-up", Group: Basting, Name: say.T("First stitch by hand"),
		What:    say.T("The needle goes once down and up by hand, and brings the bobbin thread to the top."),
		Because: say.T("nothing nests below at the start: for quilting, two-sided work, and basting on stabilizer alone"),
		Steps: []Step{{Step: seated(stepFirst, 1,
			"Turn the needle once down and up by hand, and bring the bobbin thread to the top"), EachHooping: true}},
		Lines: []Line{at(stepFirst, "Hold both tails and count to three stitches; then snip them.")},
		Picture: Picture{needle(80, 10, 60), sheet(20, 66, 120, 8), wave(Blue, 84, 58, 44),
			label(20, 98, "bobbin thread on top")},
	},
}
