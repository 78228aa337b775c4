// Package project is a project put together: a design on a blank, with its
// hoopings, recipe, layers and steps, what it needs and what it teaches.
package project

import (
	"slices"

	"chalkstep/core/blank"
	"chalkstep/core/design"
	"chalkstep/core/fleet"
	"chalkstep/core/hoop"
	"chalkstep/core/kit"
	"chalkstep/core/pace"
	"chalkstep/core/pattern"
	"chalkstep/core/policy"
	"chalkstep/core/recipe"
	"chalkstep/core/say"
	"chalkstep/core/skill"
	"chalkstep/core/stitch"
	"chalkstep/core/supply"
	"chalkstep/core/technique"
)

// An At names a project as it was at a version.
type At struct {
	ID      int64
	Version int
}

// A Project is what a person says of one. ID and Version name the row and
// what it was at that version.
type Project struct {
	ID      int64
	Version int
	Name    string
	// Blank is what it is made on; Fabric what that is of, Uses how the
	// finished thing will live.
	Blank  Blank
	Fabric recipe.Fabric
	Uses   []recipe.Use
	// House is what the project does otherwise than the workshop.
	House recipe.Rules
	// Level is 1 to 5, 0 while nobody has said; Teaches are steps of the ladder.
	Level   int
	Teaches []skill.Key
	// InHoop is work built up in the hoop on stabilizer alone.
	InHoop bool
	// Hoopings in order, at least one.
	Hoopings []Hooping
	Layers   []Layer
	Parts    []Part
	// Work is done off the machine, after the sewing.
	Work []Work
	// Techniques are the ways in which it is made, in the order in which they
	// were chosen; Blocks is how many blocks a sheet serves where it is cut out as
	// a window, 0 for what is usual.
	Techniques []technique.Technique
	Blocks     int
	// Threads are those that are taken for stops instead of what the library says.
	Threads map[Thread]stitch.RGB
	// Minutes are those that a person set otherwise than they follow.
	Minutes map[pace.StepKey]float64
	// Photo tells that there is one to show.
	Photo bool
}

// A Blank is the thing embroidered, with its size and where on it the design
// goes.
type Blank struct {
	Name              string
	WidthMM, HeightMM float64
	Shape             blank.Shape
	Size              string
	Spot              blank.Spot
	// MoveXMM and MoveYMM are what was moved by hand, right and down.
	MoveXMM, MoveYMM float64
	// Piece is the outline of a pattern piece, nil where the blank is none.
	Piece *pattern.Piece
}

// A Thread names a stop of a hooping, counted from 0, by its number.
type Thread struct{ Hooping, Stop int }

// A Hooping is one design sewn in one go. The first has no title.
type Hooping struct {
	Title  string
	Design design.Design
}

// A Layer is laid in the hoop, in order: as what, on which side, and how it is
// held.
type Layer struct {
	As     kit.LayerKind `json:"as"`
	Fabric recipe.Fabric `json:"fabric,omitempty"`
	// Under is laid on the underside of the hoop.
	Under bool   `json:"under,omitempty"`
	Tape  string `json:"tape,omitempty"`
	// BeforeStop is the stop it is laid before, 0 for the start.
	BeforeStop int `json:"before_stop,omitempty"`
	// SizeMM as cut; 0 takes it from the rules.
	SizeMM [2]float64 `json:"size_mm,omitempty"`
}

// A Part is something else each kit holds.
type Part struct {
	Name  string `json:"name"`
	Count int    `json:"count"`
}

// A Work is a step off the machine.
type Work struct {
	Title      string  `json:"title"`
	Minutes    float64 `json:"minutes"`
	Iron       bool    `json:"iron,omitempty"`
	Instructor bool    `json:"instructor,omitempty"`
}

// At names the project as it is here.
func (p Project) At() At { return At{p.ID, p.Version} }

// Design of the first hooping.
func (p Project) Design() design.Design {
	if len(p.Hoopings) == 0 {
		return design.Design{}
	}
	return p.Hoopings[0].Design
}

// Gone tells that a design of the project is not there any more.
func (p Project) Gone() bool {
	return len(p.Hoopings) == 0 || slices.ContainsFunc(p.Hoopings, func(h Hooping) bool { return h.Design.Gone() })
}

// InField is a hooping's design as it is sewn, counted from 0, with the size that
// a hoop has to take: of what is built in the hoop, that of the finished thing;
// with a basting line, that of the line.
func (p Project) InField(hooping int) design.Design {
	d := p.Sewn(hooping)
	if p.InHoop && hooping == 0 {
		d.WidthMM, d.HeightMM = max(d.WidthMM, p.Blank.WidthMM), max(d.HeightMM, p.Blank.HeightMM)
	}
	if baste := p.Effects().BasteMM; baste > 0 {
		d.WidthMM, d.HeightMM = d.WidthMM+2*baste, d.HeightMM+2*baste
	}
	return d
}

// Garment tells whether it is worn.
func (p Project) Garment() bool {
	return slices.ContainsFunc(p.Uses, func(u recipe.Use) bool {
		return u == recipe.Worn || u == recipe.NextToSkin || u == recipe.Child
	})
}

// Sewn is a hooping's design as it is sewn, counted from 0: its stops in their
// order, each with the thread that is taken for it and the number that the
// machine shows, without those that are skipped.
func (p Project) Sewn(hooping int) design.Design {
	d := p.Hoopings[hooping].Design
	e := p.Effects()
	stops := make([]design.Stop, 0, len(d.Stops))
	order, skipped := technique.OrderOf(d.Sewn(), e)
	d.Altered = len(skipped) > 0
	for i, o := range order {
		stop := d.Stops[o.Index]
		if color, chosen := p.Threads[Thread{hooping, stop.N}]; chosen {
			stop.Color = color
		}
		if e.OneColour && i > 0 {
			stop.Color = stops[0].Color
		}
		d.Altered = d.Altered || o.Index != i || stop.Color != d.Stops[o.Index].Color
		stops = append(stops, stop)
	}
	for _, i := range skipped {
		d.Stitches -= d.Stops[i].Stitches
		d.Trims -= d.Stops[i].Trims
	}
	d.Stops = stops
	return d
}

// Effects are what the techniques of the project change between them.
func (p Project) Effects() technique.Effects { return technique.EffectsOf(p.Techniques) }

// Holds are the schools of the project where it differs from the house: those
// that somebody chose, and those of its techniques, which are the stronger.
func (p Project) Holds() recipe.Rules { return p.House.With(p.Effects().House) }

// Rules are what holds for the project in a house.
func (p Project) Rules(house policy.Rules) policy.Rules {
	e := p.Effects()
	house = house.In(p.Holds())
	house.Pace.CutterOff, house.Pace.SpeedShare = e.NoTrims, e.SpeedShare
	return house
}

// Takes leaves machines the hoops that the techniques of the project need.
func (p Project) Takes(machines []fleet.Machine) []fleet.Machine {
	return fleet.OfKind(machines, p.Effects().Hoops)
}

// Appliques counts the appliqué pieces of its first design, or of its layers.
func (p Project) Appliques() int {
	n, layers := 0, 0
	for _, s := range p.Design().Stops {
		if s.Role == stitch.Placement {
			n += max(1, s.Pieces)
		}
	}
	for _, l := range p.Layers {
		if l.As == kit.PieceLayer {
			layers++
		}
	}
	return max(n, layers)
}

// Worked is what techniques are chosen for.
func (p Project) Worked() technique.Work {
	w := technique.Work{
		Fabric: p.Fabric, Uses: p.Uses, Roles: p.Design().Roles(), Pieces: p.Appliques() > 0, InHoop: p.InHoop,
		Hoopings: len(p.Hoopings), Garment: p.Sized(),
		Corner: p.Blank.Spot == blank.CornerSpot,
		Bound:  slices.ContainsFunc(p.Layers, func(l Layer) bool { return l.As == kit.Binding }),
	}
	density, _ := p.Design().Density()
	w.Dense = density == stitch.Dense || density == stitch.TooDense
	r := p.Design().Request()
	r.Fabric, r.Uses, r.InHoop, r.HoopMM, r.Project = p.Fabric, p.Uses, p.InHoop,
		[2]float64{anyField.WidthMM, anyField.HeightMM}, p.House
	if made, err := recipe.For(r); err == nil {
		w.Floated = made.Hooping == recipe.Floated
	}
	return w
}

// BlocksPerSheet is how many blocks a sheet serves: one, but where it is cut out
// as a window.
func (p Project) BlocksPerSheet() int {
	if !p.Effects().Window {
		return 1
	}
	if p.Blocks > 0 {
		return p.Blocks
	}
	return technique.Blocks
}

// Recipe is what goes under, over and through one of its hoopings, from 0, in a
// hoop's field.
func (p Project) Recipe(hooping int, field hoop.Field, rules policy.Rules) (recipe.Recipe, error) {
	e := p.Effects()
	r := p.Hoopings[hooping].Design.Request()
	r.Fabric, r.Uses, r.InHoop = p.Fabric, e.UsesWith(p.Uses), p.InHoop
	r.HoopMM = [2]float64{field.WidthMM, field.HeightMM}
	r.House, r.Project = rules.House.Rules, p.Holds()
	r.Floats, r.Sticky, r.Window, r.TopThread = e.Floats, e.Sticky, e.Window, e.TopThread
	return recipe.For(r)
}

// anyField stands in where the hoop does not matter, as to the steps.
var anyField = hoop.Field{WidthMM: 100, HeightMM: 100}

// Steps lists the steps of a project with its minutes: those of the first
// hooping and of its techniques, those of further hoopings before the cleaning
// up, and the work off the machine before the sign-off.
func (p Project) Steps(rules policy.Rules) ([]pace.Step, error) {
	if p.Gone() {
		return nil, say.Errorf("a design of “%s” is gone from the workshop", p.Name)
	}
	r, err := p.Recipe(0, anyField, rules)
	if err != nil {
		return nil, err
	}
	floats := p.Effects().Floats
	first := rules.Pace.StepsFor(pace.Making{Fabric: p.Fabric, Recipe: r, Roles: p.Design().Roles(), InHoop: p.InHoop,
		Layers: p.LayersTeach(), Floats: floats})
	first = technique.Apply(first, p.Techniques, p.Appliques(), p.BlocksPerSheet())
	again := func(key pace.StepKey) bool { return technique.EachHooping(key, p.Techniques) }
	var all []pace.Step
	for _, s := range first {
		if s.Key == pace.StepSignOff {
			for i, w := range p.Work {
				all = append(all, pace.Work(i+1, w.Title, w.Minutes, w.Iron, w.Instructor))
			}
		}
		all = append(all, s)
		if s.Key == pace.StepUnhoop {
			for i, h := range p.Hoopings[1:] {
				all = append(all, pace.AnotherHooping(i+2, h.Title, first,
					pace.Making{Fabric: p.Fabric, Recipe: r, Roles: h.Design.Roles()}, again)...)
			}
		}
	}
	for i := range all {
		if minutes, set := p.Minutes[all[i].Key]; set && !all[i].Key.Is(pace.StepSew) && !all[i].Key.IsWork() {
			all[i].Minutes = minutes
		}
	}
	p.needs(all)
	return all, nil
}

// needs adds what the techniques ask of a student to the sewing.
func (p Project) needs(steps []pace.Step) {
	i := slices.IndexFunc(steps, func(s pace.Step) bool { return s.Key == pace.StepSew })
	for _, t := range p.Techniques {
		for _, key := range t.Needs {
			if i >= 0 && !slices.Contains(steps[i].Skills, key) {
				steps[i].Skills = append(slices.Clone(steps[i].Skills), key)
			}
		}
	}
}

// Sized tells that its blank comes in sizes.
func (p Project) Sized() bool { return p.Blank.Shape.Garment() }

// Mark is where on its blank the design goes; an error says what is missing.
func (p Project) Mark() (blank.Mark, error) { return p.MarkAt(p.Blank.Size) }

// MarkAt is [Project.Mark] on a blank of a size, where it comes in sizes.
func (p Project) MarkAt(size string) (blank.Mark, error) {
	if p.Blank.Shape == "" {
		return blank.Mark{}, say.Errorf("say what shape the blank has")
	}
	d := p.Design()
	return blank.Place(blank.Request{
		Shape: p.Blank.Shape, Size: size, WidthMM: p.Blank.WidthMM, HeightMM: p.Blank.HeightMM, Spot: p.Blank.Spot,
		DesignWidthMM: d.WidthMM, DesignHeightMM: d.HeightMM, MoveXMM: p.Blank.MoveXMM, MoveYMM: p.Blank.MoveYMM,
		Piece: p.Blank.Piece,
	})
}

// Pieces are cut for the layers of one set; widthMM is how wide a material
// lies on the shelf.
func (p Project) Pieces(widthMM func(supply.Key) float64) []kit.Piece {
	layers := make([]kit.Layer, len(p.Layers))
	for i, l := range p.Layers {
		layers[i] = kit.Layer{As: l.As, Fabric: l.Fabric, SizeMM: l.SizeMM, Stop: l.BeforeStop}
		if l.Fabric == "" {
			layers[i].Fabric = recipe.WovenCotton
		}
	}
	return kit.Pieces(layers,
		kit.Layout{FinishedMM: [2]float64{p.Blank.WidthMM, p.Blank.HeightMM}, Boxes: p.Design().Boxes()}, widthMM)
}

// BlankItem is the blank as a line of a bag, none where it comes to be in the
// hoop, or is cut out as a pattern piece; PartItems are the parts.
func (p Project) BlankItem() kit.Item {
	if p.InHoop || p.cutOut() {
		return kit.Item{}
	}
	return kit.Item{Key: supply.Named(supply.Blank, p.Blank.Name), SizeMM: [2]float64{p.Blank.WidthMM, p.Blank.HeightMM},
		Count: 1, Name: p.Blank.Name}
}

// cutOut tells that the blank is a pattern piece, cut from fabric.
func (p Project) cutOut() bool { return p.Blank.Shape == blank.PatternPiece && p.Blank.Piece != nil }

// PartItems are what else is in a bag, of the project and of its techniques.
func (p Project) PartItems() []kit.Item {
	items := make([]kit.Item, len(p.Parts))
	for i, part := range p.Parts {
		items[i] = kit.Item{Key: supply.Named(supply.Part, part.Name), Count: part.Count, Name: part.Name}
	}
	for _, t := range p.Techniques {
		for _, thing := range t.Things {
			if thing.Per == technique.EachSet && thing.Of == "" {
				items = append(items, kit.Item{Key: thing.Key, Count: thing.Count})
			}
		}
	}
	return items
}

// Laid says what is laid in the hoop before a stop of the first hooping: as
// what, on which side and how it is held. Layers laid at the start come before
// the first stop.
func (p Project) Laid(stop int) []say.Text {
	var texts []say.Text
	for _, l := range p.Layers {
		if l.before() != stop {
			continue
		}
		texts = append(texts, say.T("Lay the %s %s.", say.Word(l.As), l.Held()))
	}
	return texts
}
