package project

import (
	"math"
	"slices"

	"chalkstep/core/blank"
	"chalkstep/core/design"
	"chalkstep/core/kit"
	"chalkstep/core/pattern"
	"chalkstep/core/recipe"
	"chalkstep/core/say"
	"chalkstep/core/skill"
	"chalkstep/core/technique"
)

// A Field is the part of a project that a fault lies in.
type Field string

// The fields of a project.
const (
	InBlank    Field = "width"
	InFabric   Field = "fabric"
	InUses     Field = "uses"
	InLevel    Field = "level"
	InTeaches  Field = "teaches"
	InSpot     Field = "spot"
	InHoopings Field = "hoopings"
	InLayers   Field = "layers"
	InParts    Field = "parts"
	InWork     Field = "work"
	InWays     Field = "techniques"
	InThreads  Field = "threads"
	InPiece    Field = "piece"
	InAll      Field = ""
)

// Limits of one project.
const (
	mostHoopings = 9
	mostLayers   = 30
	mostParts    = 30
	mostWork     = 20
	mostMoveMM   = 2000
	mostSizeMM   = 5000
	mostMinutes  = 600
	mostOfPart   = 100
	mostStop     = 100_000
	mostBlocks   = 50
)

// Faults says what of a project cannot be meant, by field, one each.
func (p Project) Faults(ladder skill.Ladder) map[Field]say.Text {
	faults := map[Field]say.Text{}
	fault := func(in Field, bad bool, format string, args ...any) {
		if _, has := faults[in]; bad && !has {
			faults[in] = say.T(format, args...)
		}
	}
	fault(InFabric, !slices.Contains(recipe.Fabrics, p.Fabric), "Choose what the blank is made of.")
	for i, u := range p.Uses {
		fault(InUses, !slices.Contains(recipe.Uses, u) || slices.Contains(p.Uses[:i], u), "Choose uses from the list.")
	}
	fault(InLevel, p.Level < 0 || p.Level > 5, "Choose a level from the list.")
	fault(InSpot, !(math.Abs(p.Blank.MoveXMM) <= mostMoveMM && math.Abs(p.Blank.MoveYMM) <= mostMoveMM),
		"Write how far to the right and down, such as 30 or -12.5.")
	for i, key := range p.Teaches {
		_, known := ladder.ByKey(key)
		fault(InTeaches, !known || slices.Contains(p.Teaches[:i], key), "Choose steps of the ladder.")
	}
	for i, h := range p.Hoopings {
		fault(InHoopings, i > 0 && h.Title == "", "Hooping %s: say what it sews, such as the back.", say.Count(i+1))
		fault(InHoopings, i > 0 && h.Design.Gone(), "Hooping %s: choose its design.", say.Count(i+1))
	}
	for i, l := range p.Layers {
		n := say.Count(i + 1)
		fault(InLayers, !slices.Contains(kit.LayerKinds, l.As), "Layer %s: choose what is laid.", n)
		fault(InLayers, l.Fabric != "" && !slices.Contains(recipe.Fabrics, l.Fabric),
			"Layer %s: choose a fabric from the list.", n)
		fault(InLayers, l.BeforeStop < 0 || l.BeforeStop > mostStop || !within(l.SizeMM[0], mostSizeMM) ||
			!within(l.SizeMM[1], mostSizeMM),
			"Layer %s: write sizes up to %s and a stop of the design.", n, say.MM(mostSizeMM))
	}
	if stops := len(p.Design().Stops); stops > 0 {
		for i, l := range p.Layers {
			fault(InLayers, l.BeforeStop > stops, "Layer %s: the design has %s: write one of them.", say.Count(i+1),
				say.N{N: stops, Noun: "stop"})
		}
	}
	for i, part := range p.Parts {
		fault(InParts, part.Name == "", "Part %s: write its name.", say.Count(i+1))
		fault(InParts, part.Count < 1 || part.Count > mostOfPart, "Part %s: write how many, 1 to %s.", say.Count(i+1),
			say.Count(mostOfPart))
	}
	for i, w := range p.Work {
		fault(InWork, w.Title == "", "Work %s: say what is done.", say.Count(i+1))
		fault(InWork, !within(w.Minutes, mostMinutes), "Work %s: write minutes from 0 to %s.", say.Count(i+1),
			say.Count(mostMinutes))
	}
	fault(InAll, len(p.Hoopings) > mostHoopings || len(p.Layers) > mostLayers || len(p.Parts) > mostParts ||
		len(p.Work) > mostWork,
		"That is more than one project can hold: at most %s hoopings, %s layers, %s parts and %s steps off the machine.",
		say.Count(mostHoopings), say.Count(mostLayers), say.Count(mostParts), say.Count(mostWork))
	if why := p.misfit(); !why.Silent() {
		faults[InWays] = why
	}
	fault(InWays, p.Blocks < 0 || p.Blocks > mostBlocks, "A sheet serves 1 to %s blocks.", say.Count(mostBlocks))
	for at := range p.Threads {
		known := at.Hooping >= 0 && at.Hooping < len(p.Hoopings) &&
			(p.Hoopings[at.Hooping].Design.Gone() ||
				slices.ContainsFunc(p.Hoopings[at.Hooping].Design.Stops, func(s design.Stop) bool { return s.N == at.Stop }))
		fault(InThreads, !known, "Choose threads for stops of the design.")
	}
	d := p.Design()
	if !d.Gone() {
		fault(InBlank, d.WidthMM > p.Blank.WidthMM || d.HeightMM > p.Blank.HeightMM,
			"The design is %s: the blank has to be larger.", say.Size{d.WidthMM, d.HeightMM})
	}
	if p.Blank.Piece != nil {
		if err := p.Blank.Piece.Check(); err != nil {
			faults[InPiece] = say.Of(err)
		}
	}
	if len(faults) == 0 && p.Blank.Shape != "" {
		mark, err := p.Mark()
		if err != nil && p.Blank.Shape != blank.PatternPiece { // a piece gets its outline after its shape
			faults[InSpot] = say.Of(err)
		}
		if p.cutOut() && !d.Gone() {
			box := pattern.Box{XMM: mark.XMM, YMM: mark.YMM, WidthMM: d.WidthMM, HeightMM: d.HeightMM,
				TurnDegrees: mark.TurnDegrees}
			if why := p.Blank.Piece.Refuses(box); !why.Silent() {
				faults[InSpot] = why
			}
		}
	}
	return faults
}

// misfit says which of its techniques the project cannot be made by, or which two
// cannot go together.
func (p Project) misfit() say.Text {
	if why := technique.Excluded(p.Techniques); !why.Silent() {
		return why
	}
	w := p.Worked()
	for _, t := range p.Techniques {
		if why := t.Unfit(w); !why.Silent() {
			return say.T("“%s” does not go with this project: %s. Take it off, or change the project.", t.Name, why)
		}
	}
	return say.Text{}
}

// within tells a number from 0 to most from any other, and from none.
func within(n, most float64) bool { return n >= 0 && n <= most }
