package designs

import (
	"cmp"
	"crypto/sha256"
	"errors"
	"fmt"
	"slices"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/design"
	"chalkstep/core/fleet"
	"chalkstep/core/hoop"
	"chalkstep/core/policy"
	"chalkstep/core/project"
	"chalkstep/core/recipe"
	"chalkstep/core/say"
	"chalkstep/core/stitch"
	"chalkstep/store"
)

// A CopiesInput is how many copies are wanted, in which hoop.
type CopiesInput struct {
	HoopID int64
	// Quantity, gap and the size of the pre-cut shape each copy is placed on,
	// if any, are typed.
	Quantity, Gap           string
	ShapeWidth, ShapeHeight string
	Round                   bool
	// Best lays them in mixed turns or staggered rows where that takes more.
	Best bool
}

// A CopiesPage says how copies of a design lie in one hoop, and what sewing
// them colour by colour saves.
type CopiesPage struct {
	Design design.Design
	Hoops  []fleet.Hoop
	Hoop   fleet.Hoop
	In     CopiesInput
	// Quantity wanted.
	Quantity int
	Layout   hoop.Layout
	// Offered is another layout that takes more to a hoop, nil for none.
	Offered *hoop.Layout
	// Hoopings it takes for the quantity, the last of them with InLast.
	Hoopings, InLast            int
	ChangesBefore, ChangesAfter int
	// On is what a hooping takes on each machine that takes the hoop, the
	// quickest first.
	On []CopiesOn
	// Shape is what each copy is placed on, nil for none; Margins are what is
	// left round the design to its edge.
	Shape   *hoop.Blank
	Margins *hoop.Margins
	sheet   stitch.Sheet
}

// CopiesOn is what sewing a hooping of copies takes on a machine.
type CopiesOn struct {
	// By names the machine, or what was reckoned with where there is none.
	By                             say.Text
	MinutesBefore, MinutesAfter    float64
	MinutesSaved, SecondsPerChange float64
}

// Copies lays a design out in a hoop: in the one asked for, or the largest.
func (d UseCases) Copies(id int64, in CopiesInput) (CopiesPage, error) {
	if err := d.Need(actor.See); err != nil {
		return CopiesPage{}, err
	}
	design, err := d.Workshop.Design(id)
	if err != nil {
		return CopiesPage{}, err
	}
	page := CopiesPage{Design: design, In: in}
	if page.Hoops, page.Hoop, err = d.hoopOf(in.HoopID); err != nil {
		return page, err
	}
	page.In.HoopID = page.Hoop.ID
	problems := form.Problems{}
	page.Quantity = form.Whole(problems, "quantity", in.Quantity, 1, 1000, "Write a quantity from 1 to 1,000.")
	gapMM := form.Length(d.Printer(), problems, "gap", in.Gap, 0, 100)
	if in.ShapeWidth != "" || in.ShapeHeight != "" {
		page.Shape = &hoop.Blank{WidthMM: form.Length(d.Printer(), problems, "shape-width", in.ShapeWidth, 5, 1000),
			HeightMM: form.Length(d.Printer(), problems, "shape-height", in.ShapeHeight, 5, 1000), Round: in.Round}
	}
	if err := problems.OrNil(); err != nil {
		return page, err
	}
	pattern, err := d.Pattern(page.Design)
	if err != nil {
		return page, err
	}
	hull := hoop.Points(stitch.Analyse(pattern).Hull())
	if err := d.lay(&page, hull, gapMM); err != nil {
		return page, err
	}
	page.Hoopings = page.Layout.Hoopings(page.Quantity)
	page.InLast = page.Quantity - (page.Hoopings-1)*page.Layout.PerHooping
	if page.Shape != nil {
		margins, err := hoop.MarginsIn(*page.Shape, hull)
		if err != nil {
			return page, err
		}
		page.Margins = &margins
	}
	spots := make([]stitch.Spot, len(page.Layout.Spots))
	for i, s := range page.Layout.Spots {
		spots[i] = stitch.Spot{X: s.X * 10, Y: s.Y * 10, Turned: s.Turned}
	}
	if page.sheet, err = stitch.Copies(pattern, spots, true, page.Design.Roles()); err != nil {
		return page, form.Problems{"quantity": form.Sentence(err.Error())}
	}
	page.ChangesBefore, page.ChangesAfter = page.sheet.Before, page.sheet.After
	rules, machines, err := d.Floorplan()
	page.time(rules, machines)
	return page, err
}

// lay lays the copies, or says what is in the way, and at which turn one would
// fit. On pre-cut shapes it is the shapes that need room.
func (d UseCases) lay(page *CopiesPage, hull []hoop.Point, gapMM float64) error {
	item := hoop.Item{WidthMM: page.Design.WidthMM, HeightMM: page.Design.HeightMM}
	what := "design"
	if s := page.Shape; s != nil {
		what = "shape"
		item.WidthMM, item.HeightMM = max(item.WidthMM, s.WidthMM), max(item.HeightMM, s.HeightMM)
		item.Round = s.Round && s.WidthMM == s.HeightMM && item.WidthMM == s.WidthMM && item.HeightMM == s.HeightMM
	} else {
		item.Round = hoop.RoundHull(hull, item.WidthMM, item.HeightMM)
	}
	rows, err := hoop.Copies(page.Hoop.Field, item, gapMM, page.Quantity)
	if err != nil {
		message := fmt.Sprintf("The %s is %s for this hoop. Choose a larger one", what, d.Say(say.Of(err)))
		if degrees, ok := hoop.TurnInto(page.Hoop.Field, hull, 0); ok && page.Shape == nil {
			message += fmt.Sprintf(", or hoop the blank turned: one fits when it is turned %s", d.Say(Turned(degrees)))
		}
		return form.Problems{"hoop": message + "."}
	}
	best, err := hoop.BestCopies(page.Hoop.Field, item, gapMM, page.Quantity)
	if err != nil {
		return err
	}
	page.Layout = rows
	if more := best.PerHooping > rows.PerHooping; more && page.In.Best {
		page.Layout = best
	} else if more {
		page.Offered = &best
	}
	return nil
}

// Turned says a turn in degrees, to the left above 0.
func Turned(degrees int) say.Text {
	if degrees < 0 {
		return say.T("%s° to the right", say.Count(-degrees))
	}
	return say.T("%s° to the left", say.Count(degrees))
}

// time works out what a hooping takes on the machines that take the hoop.
func (page *CopiesPage) time(rules policy.Rules, machines []fleet.Machine) {
	one := func(by say.Text, m fleet.Machine) CopiesOn {
		pacing := fleet.Typical
		if m.ID != 0 {
			pacing = m.Pacing()
		}
		single := rules.Timing().StitchOut(pacing, page.Design.Pacing(), 1)
		sewing := (single.Total - single.ChangeMinutes) * float64(len(page.Layout.Spots))
		on := CopiesOn{By: by, SecondsPerChange: pacing.ChangeSeconds}
		on.MinutesBefore = sewing + float64(page.ChangesBefore)*pacing.ChangeSeconds/60
		on.MinutesAfter = sewing + float64(page.ChangesAfter)*pacing.ChangeSeconds/60
		on.MinutesSaved = on.MinutesBefore - on.MinutesAfter
		return on
	}
	for _, m := range machines {
		if slices.ContainsFunc(m.Usable(), func(h fleet.Held) bool { return h.ID == page.Hoop.ID }) {
			page.On = append(page.On, one(say.Name(m.Name), m))
		}
	}
	if len(page.On) == 0 {
		page.On = []CopiesOn{one(say.T("a home machine of %s stitches a minute", say.Count(int(fleet.Typical.TopSpeedSPM))),
			fleet.Machine{})}
	}
	slices.SortStableFunc(page.On, func(a, b CopiesOn) int { return cmp.Compare(a.MinutesAfter, b.MinutesAfter) })
}

// CopiesFile is one hooping of copies, colour-sorted, in a format.
func (d UseCases) CopiesFile(id int64, in CopiesInput, format string) (fileName string, data []byte, err error) {
	if err := d.Need(actor.See); err != nil {
		return "", nil, err
	}
	page, err := d.Copies(id, in)
	if err != nil {
		return "", nil, err
	}
	fileName = fmt.Sprintf("%s-x%d.%s", actor.Stem(page.Design.FileName), len(page.Layout.Spots), format)
	if data, err = stitch.Encode(fileName, page.sheet.Pattern); err != nil {
		return "", nil, form.Problems{"": form.Sentence(err.Error())}
	}
	return fileName, data, nil
}

// sheetMarginMM is how much larger than the hoop's field the cloth of a sheet of
// copies is to be on each side, so that the frame holds it.
const sheetMarginMM = 15

// KeepCopies makes one hooping of copies a design of its own, and a project of
// it: on what the design is made on so far, or on practice cloth.
func (d UseCases) KeepCopies(id int64, in CopiesInput) (projectID int64, err error) {
	if err := errors.Join(d.Need(actor.ChangeDesigns), d.Need(actor.ChangeProjects)); err != nil {
		return 0, err
	}
	page, err := d.Copies(id, in)
	if err != nil {
		return 0, err
	}
	name := fmt.Sprintf("%s, %d in one hoop", form.Shortened(page.Design.Name, form.LongestName-20),
		len(page.Layout.Spots))
	kept, err := page.kept(name)
	if err != nil {
		return 0, form.Problems{"": form.Sentence(err.Error())}
	}
	kept.AddedAt = d.Now
	pictures, err := picturesOf(kept.pattern, kept.Design)
	if err != nil {
		return 0, err
	}
	return actor.Once(d, func(d UseCases) (int64, error) { return d.keepCopies(page, kept, pictures) })
}

func (d UseCases) keepCopies(page CopiesPage, kept upload, pictures []design.Picture) (int64, error) {
	designID, err := d.keepDesign(kept.Upload, pictures)
	if err != nil {
		var here form.Problems
		if errors.As(err, &here) {
			return 0, form.Problems{"": here["file"]}
		}
		return 0, err
	}
	made, err := d.Workshop.Design(designID)
	if err != nil {
		return 0, err
	}
	p := project.Project{Fabric: recipe.WovenCotton, Blank: project.Blank{Name: "practice cloth"},
		Hoopings: []project.Hooping{{Design: made}}}
	existing, _, err := d.Workshop.ProjectsOf(page.Design.ID)
	if err != nil {
		return 0, err
	}
	if len(existing) > 0 {
		as, err := d.Workshop.Project(existing[0].ID)
		if err != nil {
			return 0, err
		}
		p.Fabric, p.Uses, p.House, p.Level, p.Blank.Name = as.Fabric, as.Uses, as.House, as.Level, as.Blank.Name
	}
	p.Blank.WidthMM, p.Blank.HeightMM = page.Hoop.WidthMM+2*sheetMarginMM, page.Hoop.HeightMM+2*sheetMarginMM
	p.Name = made.Name
	for n := 2; ; n++ {
		id, err := d.Workshop.SaveProject(p)
		if !errors.Is(err, store.ErrTaken) || n > mostNumbered {
			return id, form.Saved(err, p.Name)
		}
		p.Name = numbered(made.Name, n)
	}
}

// kept is the sheet as a design: in the format of the design it came from, or
// where that cannot hold it, as .dst; each stop in the thread of the stop it
// repeats.
func (page CopiesPage) kept(name string) (upload, error) {
	fileName := fmt.Sprintf("%s-x%d.", actor.Stem(page.Design.FileName), len(page.Layout.Spots))
	format := page.Design.Format
	data, err := stitch.Encode(fileName+format, page.sheet.Pattern)
	if err != nil {
		format = "dst"
		if data, err = stitch.Encode(fileName+format, page.sheet.Pattern); err != nil {
			return upload{}, err
		}
	}
	pattern, _, err := stitch.Decode(fileName+format, data)
	if err != nil {
		return upload{}, err
	}
	u := newUpload(fileName+format, format, data, pattern)
	u.Name, u.SHA256, u.Level, u.Tags = name, sha256.Sum256(data), page.Design.Level, page.Design.Tags
	for i, run := range page.sheet.Runs {
		if i < len(u.Stops) && len(run) > 0 && run[0] < len(page.Design.Stops) {
			from := page.Design.Stops[run[0]]
			u.Stops[i].Color, u.Stops[i].Sews, u.Stops[i].Role = from.Color, from.Sews, from.Role
		}
	}
	return upload{u, pattern}, nil
}
