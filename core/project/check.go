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

// A faultList has the first fault of each field.
type faultList map[Field]say.Text

// add says what is wrong with a field, where it is bad and nothing was said of it.
func (f faultList) add(in Field, bad bool, format string, args ...any) {
	if _, has := f[in]; bad && !has {
		f[in] = say.T(format, args...)
	}
}

// Faults says what of a project cannot be meant, by field, one each.
func (p Project) Faults(ladder skill.Ladder) map[Field]say.Text {
	faults := faultList{}
	p.faultsOfBlank(faults, ladder)
	p.faultsOfHoopings(faults)
	p.faultsOfLists(faults)
	p.faultsOfWays(faults)
	p.faultsOfPlace(faults)
	return faults
}

// faultsOfBlank are of what is made and for whom.
func (p Project) faultsOfBlank(faults faultList, ladder skill.Ladder) {
	faults.add(InFabric, !slices.Contains(recipe.Fabrics, p.Fabric), "Choose what the blank is made of.")
	for i, u := range p.Uses {
		faults.add(InUses, !slices.Contains(recipe.Uses, u) || slices.Contains(p.Uses[:i], u), "Choose uses from the list.")
	}
	faults.add(InLevel, p.Level < 0 || p.Level > 5, "Choose a level from the list.")
	faults.add(InSpot, !(math.Abs(p.Blank.MoveXMM) <= mostMoveMM && math.Abs(p.Blank.MoveYMM) <= mostMoveMM),
		"Write how far to the right and down, such as 30 or -12.5.")
	for i, key := range p.Teaches {
		_, known := ladder.ByKey(key)
		faults.add(InTeaches, !known || slices.Contains(p.Teaches[:i], key), "Choose steps of the ladder.")
	}
}

// faultsOfHoopings are of what is sewn, and of what is laid under it.
func (p Project) faultsOfHoopings(faults faultList) {
	for i, h := range p.Hoopings {
		faults.add(InHoopings, i > 0 && h.Title == "", "Hooping %s: say what it sews, such as the back.", say.Count(i+1))
		faults.add(InHoopings, i > 0 && h.Design.Gone(), "Hooping %s: choose its design.", say.Count(i+1))
	}
	for i, l := range p.Layers {
		n := say.Count(i + 1)
		faults.add(InLayers, !slices.Contains(kit.LayerKinds, l.As), "Layer %s: choose what is laid.", n)
		faults.add(InLayers, l.Fabric != "" && !slices.Contains(recipe.Fabrics, l.Fabric),
			"Layer %s: choose a fabric from the list.", n)
		faults.add(InLayers, l.BeforeStop < 0 || l.BeforeStop > mostStop || !within(l.SizeMM[0], mostSizeMM) ||
			!within(l.SizeMM[1], mostSizeMM),
			"Layer %s: write sizes up to %s and a stop of the design.", n, say.MM(mostSizeMM))
	}
	if stops := len(p.Design().Stops); stops > 0 {
		for i, l := range p.Layers {
			faults.add(InLayers, l.BeforeStop > stops, "Layer %s: the design has %s: write one of them.", say.Count(i+1),
				say.N{N: stops, Noun: "stop"})
		}
	}
}

// faultsOfLists are of parts and work, and of how many of everything there are.
func (p Project) faultsOfLists(faults faultList) {
	for i, part := range p.Parts {
		faults.add(InParts, part.Name == "", "Part %s: write its name.", say.Count(i+1))
		faults.add(InParts, part.Count < 1 || part.Count > mostOfPart, "Part %s: write how many, 1 to %s.", say.Count(i+1),
			say.Count(mostOfPart))
	}
	for i, w := range p.Work {
		faults.add(InWork, w.Title == "", "Work %s: say what is done.", say.Count(i+1))
		faults.add(InWork, !within(w.Minutes, mostMinutes), "Work %s: write minutes from 0 to %s.", say.Count(i+1),
			say.Count(mostMinutes))
	}
	faults.add(InAll, len(p.Hoopings) > mostHoopings || len(p.Layers) > mostLayers || len(p.Parts) > mostParts ||
		len(p.Work) > mostWork,
		"That is more than one project can hold: at most %s hoopings, %s layers, %s parts and %s steps off the machine.",
		say.Count(mostHoopings), say.Count(mostLayers), say.Count(mostParts), say.Count(mostWork))
}

// faultsOfWays are of how it is made, and in which threads.
func (p Project) faultsOfWays(faults faultList) {
	if why := p.misfit(); !why.Silent() {
		faults[InWays] = why
	}
	faults.add(InWays, p.Blocks < 0 || p.Blocks > mostBlocks, "A sheet serves 1 to %s blocks.", say.Count(mostBlocks))
	for at := range p.Threads {
		known := at.Hooping >= 0 && at.Hooping < len(p.Hoopings) &&
			(p.Hoopings[at.Hooping].Design.Gone() ||
				slices.ContainsFunc(p.Hoopings[at.Hooping].Design.Stops, func(s design.Stop) bool { return s.N == at.Stop }))
		faults.add(InThreads, !known, "Choose threads for stops of the design.")
	}
}

// faultsOfPlace are of where on the blank it goes, looked at last: where the rest can be meant.
func (p Project) faultsOfPlace(faults faultList) {
	d := p.Design()
	if !d.Gone() {
		faults.add(InBlank, d.WidthMM > p.Blank.WidthMM || d.HeightMM > p.Blank.HeightMM,
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
