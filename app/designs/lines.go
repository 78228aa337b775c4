package designs

import (
	"slices"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/design"
	"chalkstep/core/fleet"
	"chalkstep/core/hoop"
)

// A BorderInput asks for a line of repeats. Lengths are typed.
type BorderInput struct {
	HoopID        int64
	Length, Pitch string
	// Across repeats the design along its height instead of its width.
	Across bool
}

// A BorderPage is a line longer than the hoop.
type BorderPage struct {
	Design design.Design
	Hoops  []fleet.Hoop
	Hoop   fleet.Hoop
	In     BorderInput
	// FieldMM is the side of the hoop along the line.
	FieldMM float64
	Border  hoop.Border
}

// Border divides a line into repeats and hoopings. The longer side of the
// hoop lies along the line where the design's depth allows it.
func (d UseCases) Border(designID int64, in BorderInput) (BorderPage, error) {
	if err := d.Need(actor.See); err != nil {
		return BorderPage{}, err
	}
	page := BorderPage{In: in}
	var err error
	if page.Design, err = d.design(designID); err != nil {
		return page, err
	}
	if page.Hoops, page.Hoop, err = d.hoopOf(in.HoopID); err != nil {
		return page, err
	}
	page.In.HoopID = page.Hoop.ID
	along, depth := page.Design.WidthMM, page.Design.HeightMM
	if in.Across {
		along, depth = depth, along
	}
	page.FieldMM = max(page.Hoop.WidthMM, page.Hoop.HeightMM)
	other := min(page.Hoop.WidthMM, page.Hoop.HeightMM)
	if depth > other {
		page.FieldMM, other = other, page.FieldMM
	}
	problems := form.Problems{}
	lengthMM := form.Length(d.Printer(), problems, "length", in.Length, 10, 100_000)
	pitchMM := along
	if in.Pitch != "" {
		pitchMM = form.Length(d.Printer(), problems, "pitch", in.Pitch, 5, 2000)
	}
	if err := problems.OrNil(); err != nil {
		return page, err
	}
	if depth > other {
		return page, form.Problems{"hoop": "The design is deeper than this hoop either way round: choose a larger one."}
	}
	if page.Border, err = hoop.NewBorder(lengthMM, pitchMM, page.FieldMM); err != nil {
		return page, form.Problems{"length": form.Sentence(err.Error())}
	}
	return page, nil
}

// design finds one.
func (d UseCases) design(id int64) (design.Design, error) {
	return d.Workshop.Design(id)
}

// hoopOf lists the hoops and finds one of them, the largest where none is
// asked for.
func (d UseCases) hoopOf(id int64) ([]fleet.Hoop, fleet.Hoop, error) {
	hoops, err := d.Workshop.Hoops()
	if err != nil {
		return nil, fleet.Hoop{}, err
	}
	if len(hoops) == 0 {
		return nil, fleet.Hoop{}, form.Problems{"": "There is no hoop yet: add one under Machines."}
	}
	if id == 0 {
		return hoops, hoops[len(hoops)-1], nil
	}
	at := slices.IndexFunc(hoops, func(h fleet.Hoop) bool { return h.ID == id })
	if at < 0 {
		return nil, fleet.Hoop{}, actor.NotFound("hoop %d", id)
	}
	return hoops, hoops[at], nil
}

// An AlignInput holds two marks on the cloth and the two points of the design
// that have to meet them, each as typed, below 0 for left and down.
type AlignInput struct {
	ClothA, ClothB, DesignA, DesignB [2]string
}

// An AlignPage says how a design has to be turned and shifted.
type AlignPage struct {
	Design    design.Design
	In        AlignInput
	Alignment hoop.Alignment
	// Known tells that there is an answer; the points are then as numbers.
	Known                            bool
	ClothA, ClothB, DesignA, DesignB hoop.Point
}

// Align opens the two-point alignment of a design.
func (d UseCases) Align(designID int64, in AlignInput) (AlignPage, error) {
	if err := d.Need(actor.See); err != nil {
		return AlignPage{}, err
	}
	page := AlignPage{In: in}
	var err error
	if page.Design, err = d.design(designID); err != nil || in == (AlignInput{}) {
		return page, err
	}
	problems := form.Problems{}
	read := func(name string, typed [2]string, into *hoop.Point) {
		const most = 1000
		into.X = form.Length(d.Printer(), problems, name+"-x", typed[0], -most, most)
		into.Y = form.Length(d.Printer(), problems, name+"-y", typed[1], -most, most)
	}
	read("cloth-a", in.ClothA, &page.ClothA)
	read("cloth-b", in.ClothB, &page.ClothB)
	read("design-a", in.DesignA, &page.DesignA)
	read("design-b", in.DesignB, &page.DesignB)
	if err := problems.OrNil(); err != nil {
		return page, err
	}
	if page.Alignment, err = hoop.Align(page.ClothA, page.ClothB, page.DesignA, page.DesignB); err != nil {
		return page, form.Problems{"": form.Sentence(err.Error())}
	}
	page.Known = true
	return page, nil
}
