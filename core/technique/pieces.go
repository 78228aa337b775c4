package technique

import (
	"chalkstep/core/pace"
	"chalkstep/core/recipe"
	"chalkstep/core/say"
	"chalkstep/core/skill"
	"chalkstep/core/stitch"
	"chalkstep/core/supply"
)

// noPieces says that nothing is laid as appliqué.
func noPieces(w Work) say.Text {
	if !w.pieces() {
		return say.T("the design has no appliqué pieces")
	}
	return say.Text{}
}

const (
	ironOff = "Warm iron on a pad off the machine, never on it; wait until it is cool."
	blades  = "Blades: cut away from the body, closed when put down."
)

var (
	cutBefore = recipe.Rules{Applique: "pre-cut"}
	cutInHoop = recipe.Rules{Applique: "trim"}
)

var pieceCuts = []Technique{
	{
		Key: "trim-in-hoop", Group: PieceCuts, Name: say.T("Trim in the hoop"),
		What: say.T("A piece that covers its line is laid, tacked down and trimmed close, hoop off the machine and " +
			"flat on a table."),
		Because: say.T("beginners see where the edge is, and nothing has to be cut exactly"),
		Lines: []Line{at(pace.StepSew,
			"Bring the hoop forward by the machine's own key to snip a jump; pieces are always trimmed off the machine."),
			{Role: stitch.TackDown, Caution: true, Text: say.T("Scissors only once the hoop is off and flat on the table.")}},
		Things: []Thing{{Key: tool("appliqué scissors"), Per: EachMachine, Count: 1}},
		Needs:  []skill.Key{skill.Applique}, Teaches: []skill.Key{skill.Applique},
		Effects: Effects{House: cutInHoop},
		Picture: Picture{inHoop(), clothOn(40, 26, 80, 60), dashedOf(heart(Ink, 80, 54, 22)),
			ringDashed(Brick, 80, 54, 28, 26)},
		unfit:    noPieces,
		proposed: func(w Work) say.Text { return say.T("the first way to learn, as nothing is cut before") },
	},
	{
		Key: "cut-by-hand", Group: PieceCuts, Name: say.T("Cut by hand from a printed outline"),
		What:    say.T("The placement line is printed at its size, traced on the piece and cut out before class sews."),
		Because: say.T("no scissors near the hoop, and every piece alike"),
		Steps: []Step{{Step: withCaution(bench(stepCutPieces, 3, "Cut the pieces out along the printed outline"), blades),
			EachPiece: true}},
		Lines: []Line{at(stepCutPieces, "Printed at its size: measure the bar. From the paper side it is mirrored.")},
		Things: []Thing{{Key: tool("printed outline"), Per: EachSet, Count: 1},
			{Key: tool("fabric shears"), Per: Students, Count: 2}},
		Needs: []skill.Key{skill.PreCut}, Teaches: []skill.Key{skill.PreCut},
		Effects: Effects{House: cutBefore},
		Picture: Picture{clothOn(24, 14, 112, 84), heart(Ink, 80, 54, 26), dashedOf(heart(Brick, 80, 54, 29))},
		unfit:   noPieces,
	},
	{
		Key: "cut-by-machine", Group: PieceCuts, Name: say.T("Cut by a cutting machine"),
		What:    say.T("The cut paths of the design go to a cutting machine, which cuts the pieces before the day."),
		Because: say.T("exact, fast, and the same for everyone"),
		Ahead: []Task{{Text: say.T("Cut the pieces by machine from the cut paths, mirrored where the paper side is up"),
			Minutes: 2}},
		Steps: []Step{{Step: bench(stepPeel, 0.5, "Peel the pieces off the cutting mat, flat, and number them"),
			EachPiece: true}},
		Things: []Thing{{Key: tool("cutting mat"), Per: Students, Count: 6}},
		Needs:  []skill.Key{skill.PreCut}, Teaches: []skill.Key{skill.PreCut},
		Effects: Effects{House: cutBefore},
		Picture: Picture{box(Soft, 20, 14, 120, 86), heart(Ink, 60, 54, 20), heart(Ink, 104, 54, 16),
			line(Brick, 104, 30, 110, 18)},
		unfit: noPieces,
	},
	{
		Key: "perforated", Group: PieceCuts, Name: say.T("Perforated by the machine"),
		What: say.T("An old needle without thread pricks the outline through the paper of the web, and the piece is " +
			"torn out along it."),
		Because: say.T("the machine cuts exactly its own line, with nothing but what is there"),
		Steps: []Step{
			{Step: withCaution(errand(stepPerforate, 4, "Perforate the outlines: old needle, no thread, thread sensor off"),
				"Power off before the needle is changed; the old one into the sharps tin.")},
			{Step: atIron(stepWeb, 3, "Fuse paper-backed web to the wrong side of the pieces' fabric, and let it cool")},
			{Step: bench(stepTear, 1, "Tear and snip the pieces out along the holes"), EachPiece: true},
		},
		Lines: []Line{
			at(stepPerforate, "Paper side up: so the outline is mirrored, and the design has to be flipped on the machine or "+
				"in its file."),
			at(stepPerforate, "Afterwards: thread sensor on again, and a new needle. The old one is kept for paper and never "+
				"sews again."),
		},
		Things: []Thing{snips,
			{Key: tool("old needle for perforating"), Per: EachMachine, Count: 1},
			{Key: supply.Key{Kind: supply.Fusible}, Per: EachSet, Count: 1, Of: Pieces, MarginMM: 12}},
		Needs: []skill.Key{skill.PreCut, skill.NeedleChange}, Teaches: []skill.Key{skill.PreCut},
		Effects: Effects{House: cutBefore},
		Picture: Picture{sheet(24, 20, 112, 80), dotHeart(80, 58, 26), needle(108, 6, 46)},
		unfit:   noPieces,
	},
}

// errand is a step at a machine with no blank in its hoop.
func errand(key pace.StepKey, minutes float64, title string) pace.Step {
	s := machine(key, minutes, title)
	s.Errand = true
	return s
}

func dotHeart(x, y, size float64) Stroke {
	s := heart(Ink, x, y, size)
	s.Style = Dot
	return s
}

var fusing = []Technique{
	{
		Key: "fuse-before", Group: Fusing, Name: say.T("Web on the pieces before they are cut"),
		What: say.T("Paper-backed web is fused to the wrong side of the fabric; the paper is peeled off when a piece " +
			"is laid, and the iron holds it."),
		Because: say.T("edges do not fray out under the cover, and the piece cannot shift"),
		Steps: []Step{{Step: atIron(stepWeb, 3,
			"Fuse paper-backed web to the wrong side of the pieces' fabric, and let it cool")}},
		Lines: []Line{{Role: stitch.Placement,
			Text: say.T("Peel the paper off, lay the piece, hoop off the machine: fuse it on the pad, and let it cool.")},
			{Role: stitch.Placement, Caution: true, Text: say.T(ironOff)}},
		Things:  []Thing{{Key: supply.Key{Kind: supply.Fusible}, Per: EachSet, Count: 1, Of: Pieces, MarginMM: 9}},
		Not:     []Exclusion{{"perforated", say.T("perforated pieces have their web already")}},
		Picture: Picture{clothOn(24, 60, 112, 22), sheet(24, 82, 112, 8), iron(80, 58)},
		unfit:   noPieces,
	},
	{
		Key: "fuse-after", Group: Fusing, Name: say.T("Fuse it all when it is sewn"),
		What: say.T("The web lies under the pieces while they are sewn; pressing the front under a cloth sets them at " +
			"the end."),
		Because: say.T("no iron while the hoop is in use"),
		Lines:   []Line{at(pace.StepPress, "From the front under a cloth or parchment: that sets the fused pieces too.")},
		Things: []Thing{{Key: supply.Key{Kind: supply.Fusible}, Per: EachSet, Count: 1, Of: Pieces, MarginMM: 9},
			{Key: tool("pressing cloth"), Per: Students, Count: 4}},
		Picture: Picture{heart(Ink, 60, 70, 18), clothOn(20, 84, 120, 14), iron(96, 80), dashed(Soft, 20, 82, 140, 82)},
		unfit: func(w Work) say.Text {
			if w.melts() || w.Fabric == recipe.Velvet {
				return say.T("it cannot be pressed from the front")
			}
			return noPieces(w)
		},
	},
}

var shadow = []Technique{
	{
		Key: "line-light", Group: Shadow, Name: say.T("Line light pieces"),
		What:    say.T("A second layer goes behind light pieces, so that dark fabric does not show through."),
		Because: say.T("nothing is cut from the blank"),
		Steps:   []Step{{Step: bench(stepLine, 2, "Lay the lining behind each light piece"), EachPiece: true}},
		Things:  []Thing{{Key: supply.Cloth(string(recipe.WovenCotton)), Per: EachSet, Count: 1, Of: Pieces, MarginMM: 12}},
		Picture: Picture{clothOn(20, 20, 120, 76), box(Soft, 50, 32, 64, 50), box(Ink, 44, 26, 64, 50)},
		unfit:   noPieces,
	},
	{
		Key: "cut-dark", Group: Shadow, Name: say.T("Cut the dark away behind"),
		What:    say.T("Once it is covered, the dark fabric behind a light piece is cut out from the back."),
		Because: say.T("it stays thin and soft, as for a child"),
		Lines: []Line{
			at(pace.StepCleanUp, "From the back, with small curved scissors: cut the dark fabric out behind each light "+
				"piece, %s inside its cover.", say.MM(6)),
			caution(pace.StepCleanUp,
				"Lift the dark layer away from the piece before the first snip: what is cut of the front cannot be mended."),
		},
		Things: []Thing{{Key: tool("curved scissors"), Per: Students, Count: 3}},
		Picture: Picture{clothOn(20, 20, 120, 76), box(Ink, 50, 32, 60, 50),
			dashed(Brick, 56, 38, 104, 38, 104, 76, 56, 76, 56, 38)},
		unfit: noPieces,
	},
}

// keysOfMachine stands with every order that is not the file's.
var keysOfMachine = at(pace.StepSew,
	"How to skip to a stop and how to step back: as this machine's manual says. The numbers on this card are those the "+
		"machine shows.")

var order = []Technique{
	{
		Key: "piece-by-piece", Group: Order, Name: say.T("Piece by piece"),
		What:     say.T("Each piece is placed, tacked and covered before the next."),
		Because:  say.T("each piece is finished before the next can shift it"),
		Lines:    []Line{at(pace.StepSew, "One piece after the other, in the order of the stops.")},
		Effects:  Effects{House: recipe.Rules{AppliqueOrder: "piece-by-piece"}},
		Picture:  Picture{inHoop(), heart(Ink, 56, 54, 18), dashedOf(heart(Soft, 106, 54, 18))},
		unfit:    noPieces,
		proposed: func(w Work) say.Text { return say.T("the order of the file, which nobody has to follow by hand") },
	},
	{
		Key: "placements-first", Group: Order, Name: say.T("All placement lines first"),
		What: say.T("The lines are sewn first and all pieces laid at once; then the machine goes back to tack and " +
			"cover them."),
		Because: say.T("the hoop comes off the machine less often"),
		Lines:   []Line{keysOfMachine},
		Effects: Effects{House: recipe.Rules{AppliqueOrder: "placements-first"}, PlacementsFirst: true},
		Picture: Picture{inHoop(), dashedOf(heart(Blue, 56, 54, 18)), dashedOf(heart(Blue, 106, 54, 18)),
			label(48, 106, "1, 4 · then 2, 3, 5, 6")},
		unfit: noPieces,
	},
}

var marks = []Technique{
	{
		Key: "skip-marks", Group: Marks, Name: say.T("Skip stops that are only marks"),
		What: say.T("A last stop of tiny marks at the edges registers the design; where nothing is lined up by it, it " +
			"is left out."),
		Because: say.T("it would have to be picked out of the front again"),
		Lines:   []Line{keysOfMachine}, Effects: Effects{SkipsMarks: true},
		Picture: Picture{inHoop(), heart(Ink, 80, 54, 22), cross(32, 22, 4), cross(128, 22, 4), cross(32, 88, 4),
			cross(128, 88, 4), line(Brick, 110, 78, 138, 98)},
		unfit: func(w Work) say.Text {
			for _, r := range w.Roles {
				if r == stitch.Anchor {
					return say.Text{}
				}
			}
			return say.T("no stop of the design is only a mark")
		},
		proposed: func(w Work) say.Text {
			if w.Hoopings > 1 {
				return say.Text{} // joined hoopings may line up by them
			}
			return say.T("nothing here is lined up by its marks")
		},
	},
}

var settings = []Technique{
	{
		Key: "one-colour", Group: Setting, Name: say.T("One colour, no stops"),
		What:    say.T("The machine sews all stops with the first thread, without a halt between them."),
		Because: say.T("for outlines, quilting and monograms, where every change would be for nothing"),
		Lines: []Line{
			at(pace.StepLoad, "Set: one colour for the whole design, no halt between stops."),
			at(pace.StepUnhoop, "Set back: halts at every stop again, for whoever comes next."),
		},
		Effects: Effects{OneColour: true},
		Not:     []Exclusion{{"multi-tone", say.T("a thread of many tones is not one colour")}},
		Picture: Picture{inHoop(), wave(Blue, 40, 40, 80), wave(Blue, 40, 55, 80), wave(Blue, 40, 70, 80)},
		unfit: func(w Work) say.Text {
			if w.pieces() || w.InHoop {
				return say.T("pieces and layers need the halts")
			}
			if w.uses(recipe.FilmOverlay) {
				return say.T("the film is laid at a halt")
			}
			return say.Text{}
		},
	},
	{
		Key: "trims-off", Group: Setting, Name: say.T("Trims off"),
		What:    say.T("The thread cutter is turned off; what it would have cut is snipped by hand."),
		Because: say.T("borders and quilting run on in one line, and the cutter leaves tails on a back that is seen"),
		Lines: []Line{
			at(pace.StepLoad, "Set: thread cutter off."), at(pace.StepUnhoop, "Set back: thread cutter on again."),
			at(pace.StepCleanUp, "Snip what the cutter did not, on both sides."),
		},
		Things:  []Thing{snips},
		Effects: Effects{NoTrims: true},
		Picture: Picture{inHoop(), wave(Blue, 34, 55, 92), line(Brick, 70, 40, 90, 70), line(Brick, 90, 40, 70, 70)},
		proposed: func(w Work) say.Text {
			if w.Hoopings > 1 && !w.pieces() {
				return say.T("a line of several hoopings runs on, without tails between")
			}
			return say.Text{}
		},
	},
}
