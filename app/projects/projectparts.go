package projects

import (
	"cmp"
	"maps"
	"slices"
	"strconv"
	"strings"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/blank"
	"chalkstep/core/design"
	"chalkstep/core/kit"
	"chalkstep/core/project"
	"chalkstep/core/recipe"
	"chalkstep/core/skill"
	"chalkstep/core/stitch"
	"chalkstep/core/technique"
)

// ProjectParts are the forms of a project, as they are typed. Each is saved by
// itself; rows that are empty all over are left out, any other has to be
// whole.
type ProjectParts struct {
	Place    PlaceOnBlank   `says:"Place"`
	Level    string         `says:"Level"`
	Teaches  []string       `says:"Teaches"`
	Hoopings []HoopingInput `says:"Hooping"`
	Layers   []LayerInput   `says:"Layer"`
	Parts    []PartInput    `says:"Part"`
	Work     []WorkInput    `says:"Work"`
	// House holds the choices by question, empty for the house's own.
	House map[string]string `says:"House rule"`
	// Techniques are the keys of those it is made by, Blocks how many blocks a
	// sheet serves.
	Techniques []string `says:"Technique"`
	Blocks     string   `says:"Blocks a sheet"`
	// Piece is the pattern piece that the blank is.
	Piece PieceInput `says:"Pattern piece"`
	// Minutes by the step's key.
	Minutes map[string]string
}

// A PlaceOnBlank is where on its blank a design goes.
type PlaceOnBlank struct {
	Shape string `says:"shape"`
	Size  string `says:"size"`
	Spot  string `says:"spot"`
	Right string `says:"right"`
	Down  string `says:"down"`
}

// A HoopingInput is a further hooping, with the name of its design.
type HoopingInput struct {
	Title  string `says:"title"`
	Design string `says:"design"`
}

// A LayerInput is a layer in the hoop.
type LayerInput struct {
	As     string `says:"as"`
	Fabric string `says:"fabric"`
	Under  bool   `says:"underneath"`
	Tape   string `says:"tape"`
	Stop   string `says:"stop"`
	Width  string `says:"width"`
	Height string `says:"height"`
}

// Empty tells that a row says no layer: it is left out.
func (l LayerInput) Empty() bool {
	return strings.TrimSpace(l.As+l.Fabric+l.Tape+l.Stop+l.Width+l.Height) == ""
}

// A PartInput is something else each kit holds.
type PartInput struct {
	Name  string `says:"name"`
	Count string `says:"how many"`
}

// A WorkInput is a step off the machine.
type WorkInput struct {
	Title      string `says:"title"`
	Minutes    string `says:"minutes"`
	Iron       bool   `says:"at the iron"`
	Instructor bool   `says:"with an instructor"`
}

// typedParts are a project's forms as it stands.
func (d UseCases) typedParts(p project.Together) ProjectParts {
	parts := ProjectParts{
		Place: PlaceOnBlank{Shape: string(p.Blank.Shape), Size: p.Blank.Size, Spot: string(p.Blank.Spot),
			Right: form.TypedLength(d.Printer(), p.Blank.MoveXMM), Down: form.TypedLength(d.Printer(), p.Blank.MoveYMM)},
		Level: strconv.Itoa(p.Level), House: map[string]string{}, Minutes: map[string]string{},
	}
	for _, key := range p.Project.Teaches {
		parts.Teaches = append(parts.Teaches, string(key))
	}
	for _, h := range p.Hoopings[min(1, len(p.Hoopings)):] {
		parts.Hoopings = append(parts.Hoopings, HoopingInput{h.Title, h.Design.Name})
	}
	for _, l := range p.Layers {
		in := LayerInput{As: string(l.As), Fabric: string(l.Fabric), Under: l.Under, Tape: l.Tape,
			Width: form.TypedLength(d.Printer(), l.SizeMM[0]), Height: form.TypedLength(d.Printer(), l.SizeMM[1])}
		if l.BeforeStop > 0 {
			in.Stop = strconv.Itoa(l.BeforeStop)
		}
		parts.Layers = append(parts.Layers, in)
	}
	for _, part := range p.Parts {
		parts.Parts = append(parts.Parts, PartInput{part.Name, strconv.Itoa(part.Count)})
	}
	for _, w := range p.Work {
		parts.Work = append(parts.Work, WorkInput{w.Title, form.Tenth(w.Minutes), w.Iron, w.Instructor})
	}
	for _, q := range recipe.Questions {
		parts.House[q.Key] = q.Of(p.House)
	}
	for _, t := range p.Techniques {
		parts.Techniques = append(parts.Techniques, string(t.Key))
	}
	parts.Piece = d.typedPiece(p.Blank)
	parts.Blocks = strconv.Itoa(cmp.Or(p.Blocks, technique.Blocks))
	for _, s := range p.Steps {
		parts.Minutes[string(s.Key)] = form.Tenth(s.Minutes)
	}
	return parts
}

// only is one of the forms, the others empty.
func (p ProjectParts) only(part string) ProjectParts {
	switch part {
	case "place":
		return ProjectParts{Place: p.Place}
	case "level":
		return ProjectParts{Level: p.Level, Teaches: p.Teaches}
	case "hoopings":
		return ProjectParts{Hoopings: p.Hoopings}
	case "layers":
		return ProjectParts{Layers: p.Layers}
	case "parts":
		return ProjectParts{Parts: p.Parts}
	case "work":
		return ProjectParts{Work: p.Work}
	case "piece":
		return ProjectParts{Piece: p.Piece}
	case "techniques":
		return ProjectParts{Techniques: techniqueNames(p.Techniques), Blocks: p.Blocks}
	}
	return ProjectParts{House: p.House}
}

// techniqueNames are techniques as people call them; those that the workshop
// wrote have only their keys here.
func techniqueNames(keys []string) []string {
	names := make([]string, len(keys))
	for i, key := range keys {
		if names[i] = key; len(key) > 0 {
			if t, known := technique.ByKey(technique.Key(key)); known {
				names[i] = t.Name.String()
			}
		}
	}
	return names
}

// ProjectParted names the forms of a project.
var ProjectParted = []string{"place", "level", "hoopings", "layers", "parts", "work", "techniques", "piece", "house"}

// SavePart changes one form of a project.
func (d UseCases) SavePart(id int64, version int, part string, in ProjectParts) error {
	if err := d.Need(actor.ChangeProjects); err != nil {
		return err
	}
	if !slices.Contains(ProjectParted, part) {
		return actor.NotFound("the part %q of a project", form.Shortened(form.Cleaned(part), 20))
	}
	return actor.OnceOnly(d, func(d UseCases) error { return d.savePart(id, version, part, in) })
}

func (d UseCases) savePart(id int64, version int, part string, in ProjectParts) error {
	p, err := d.Workshop.Project(id)
	if err != nil {
		return err
	}
	p.Version = version
	problems := form.Problems{}
	switch part {
	case "place":
		d.readPlace(problems, &p.Blank, in.Place)
	case "level":
		p.Level, p.Teaches = form.Whole(problems, "level", in.Level, 0, 5, "Choose a level from the list."), nil
		for _, key := range in.Teaches {
			p.Teaches = append(p.Teaches, skill.Key(key))
		}
	case "hoopings":
		if err := d.readHoopings(problems, &p, in.Hoopings); err != nil {
			return err
		}
		maps.DeleteFunc(p.Threads, func(at project.Thread, _ stitch.RGB) bool { return at.Hooping > 0 })
	case "layers":
		p.Layers = d.readLayers(problems, in.Layers)
	case "parts":
		p.Parts = readParts(problems, in.Parts)
	case "work":
		p.Work = readWork(problems, in.Work)
	case "piece":
		d.readPiece(problems, &p, in.Piece)
	case "techniques":
		if err := d.readTechniques(problems, &p, in); err != nil {
			return err
		}
	case "house":
		p.House = recipe.Rules{}
		for _, q := range recipe.Questions {
			if v := in.House[q.Key]; v != "" && p.House.Set(q.Key, v) != nil {
				problems[""] = q.Title + ": choose one of the schools."
			}
		}
	}
	_, err = d.keepProject(p, problems)
	return form.Compare(err, in.only(part), func() (ProjectParts, int, error) {
		page, err := d.Project(id)
		return page.Typed.only(part), page.Version, err
	})
}

// readPlace reads where on its blank a design goes. A spot that the shape does
// not have, as after a change of shape, becomes the shape's usual one.
func (d UseCases) readPlace(problems form.Problems, b *project.Blank, in PlaceOnBlank) {
	b.Shape, b.Size, b.Spot = blank.Shape(in.Shape), in.Size, blank.Spot(in.Spot)
	spot, size := b.Shape.Usual()
	if !slices.Contains(b.Shape.Spots(), b.Spot) {
		b.Spot = spot
	}
	if b.Size == "" || size == "" {
		b.Size = size
	}
	b.MoveXMM = d.move(problems, "spot", in.Right)
	b.MoveYMM = d.move(problems, "spot", in.Down)
}

// move reads how far something is moved; nothing typed is not at all.
func (d UseCases) move(problems form.Problems, field, typed string) float64 {
	t := strings.TrimSpace(typed)
	if t == "" {
		return 0
	}
	const most = 2000
	return form.Length(d.Printer(), problems, field, t, -most, most)
}

// readHoopings reads the hoopings after the first; one that stays may have left
// the list of designs since.
func (d UseCases) readHoopings(problems form.Problems, p *project.Project, typed []HoopingInput) error {
	var was []design.Design
	for _, h := range p.Hoopings {
		was = append(was, h.Design)
	}
	p.Hoopings = p.Hoopings[:1]
	for _, in := range typed {
		if strings.TrimSpace(in.Title+in.Design) == "" {
			continue
		}
		n := len(p.Hoopings) + 1
		row := form.Problems{}
		h := project.Hooping{Title: form.Name(row, "title", in.Title, "say what it sews, such as the back.")}
		var err error
		if h.Design, err = d.designFor(row, "design", in.Design, was...); err != nil {
			return err
		}
		problems.OfRow("hoopings", "Hooping", n, row, "title", "design")
		p.Hoopings = append(p.Hoopings, h)
	}
	return nil
}

func (d UseCases) readLayers(problems form.Problems, typed []LayerInput) []project.Layer {
	var layers []project.Layer
	for _, in := range typed {
		if in.Empty() {
			continue
		}
		row := form.Problems{}
		l := project.Layer{As: kit.LayerKind(in.As), Fabric: recipe.Fabric(in.Fabric), Under: in.Under,
			Tape: form.Text(row, "tape", in.Tape, form.LongestName)}
		if in.As == "" {
			row["as"] = "choose what is laid, or empty the row."
		}
		if strings.TrimSpace(in.Stop) != "" {
			l.BeforeStop = form.Whole(row, "stop", in.Stop, 0, 100_000,
				"write the stop it is laid before as a whole number, 0 for the start.")
		}
		for i, typed := range []string{in.Width, in.Height} {
			if t := strings.TrimSpace(typed); t != "" && t != "0" {
				l.SizeMM[i] = form.Length(d.Printer(), row, "size", t, 1, 5000)
			}
		}
		layers = append(layers, l)
		problems.OfRow("layers", "Layer", len(layers), row, "as", "tape", "stop", "size")
	}
	return layers
}

func readParts(problems form.Problems, typed []PartInput) []project.Part {
	var parts []project.Part
	for _, in := range typed {
		// A fresh row comes with a count of one.
		if strings.TrimSpace(in.Name) == "" && slices.Contains([]string{"", "1"}, strings.TrimSpace(in.Count)) {
			continue
		}
		row := form.Problems{}
		part := project.Part{Name: form.Name(row, "name", in.Name, "write its name, or empty the row."),
			Count: form.Whole(row, "count", in.Count, 1, 100, "write how many, 1 to 100.")}
		parts = append(parts, part)
		problems.OfRow("parts", "Part", len(parts), row, "name", "count")
	}
	return parts
}

func readWork(problems form.Problems, typed []WorkInput) []project.Work {
	var work []project.Work
	for _, in := range typed {
		if strings.TrimSpace(in.Title+in.Minutes) == "" {
			continue
		}
		row := form.Problems{}
		w := project.Work{Title: form.Name(row, "title", in.Title, "say what is done, or empty the row."),
			Minutes: form.Number(row, "minutes", in.Minutes, 0, 600, "write minutes from 0 to 600."), Iron: in.Iron,
			Instructor: in.Instructor}
		work = append(work, w)
		problems.OfRow("work", "Work", len(work), row, "title", "minutes")
	}
	return work
}
