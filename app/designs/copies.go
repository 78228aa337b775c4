package designs

import (
	"fmt"

	"chalkstep/app/desk"
	"chalkstep/core/design"
	"chalkstep/core/hoop"
	"chalkstep/core/room"
	"chalkstep/core/stitch"
)

// A CopiesInput is how many copies are wanted, in which hoop.
type CopiesInput struct {
	HoopID int64
	// Quantity, gap and the size of the pre-cut shape each copy is placed on,
	// if any, are typed.
	Quantity, Gap           string
	ShapeWidth, ShapeHeight string
	Round                   bool
}

// A CopiesPage says how copies of a design lie in one hoop, and what sewing
// them colour by colour saves.
type CopiesPage struct {
	Design design.Design
	Hoops  []room.Hoop
	Hoop   room.Hoop
	In     CopiesInput
	// Quantity wanted.
	Quantity int
	Grid     hoop.Grid
	// Hoopings it takes for the quantity, the last of them with InLast.
	Hoopings, InLast               int
	ChangesBefore, ChangesAfter    int
	MinutesBefore, MinutesAfter    float64
	MinutesSaved, SecondsPerChange float64
	// Margins round the design on a pre-cut shape, when one was asked for.
	Margins *hoop.Margins
	pattern *stitch.Pattern
}

// Copies lays a design out in a hoop: in the one asked for, or the largest.
func (d Desk) Copies(id int64, in CopiesInput) (CopiesPage, error) {
	if err := d.Need(desk.See); err != nil {
		return CopiesPage{}, err
	}
	design, err := d.Shop.Design(id)
	if err != nil {
		return CopiesPage{}, err
	}
	page := CopiesPage{Design: design, In: in, SecondsPerChange: room.Typical.ChangeSeconds}
	if page.Hoops, page.Hoop, err = d.hoopOf(in.HoopID); err != nil {
		return page, err
	}
	page.In.HoopID = page.Hoop.ID
	problems := desk.Problems{}
	page.Quantity = desk.Whole(problems, "quantity", in.Quantity, 1, 1000, "Write a quantity from 1 to 1,000.")
	gapMM := d.Length(problems, "gap", in.Gap, 0, 100)
	var shape *hoop.Blank
	if in.ShapeWidth != "" || in.ShapeHeight != "" {
		shape = &hoop.Blank{WidthMM: d.Length(problems, "shape-width", in.ShapeWidth, 5, 1000), HeightMM: d.Length(problems, "shape-height", in.ShapeHeight, 5, 1000), Round: in.Round}
	}
	if err := problems.OrNil(); err != nil {
		return page, err
	}
	if page.Grid, err = hoop.Copies(page.Hoop.Field, page.Design.WidthMM, page.Design.HeightMM, gapMM, page.Quantity); err != nil {
		return page, desk.Problems{"hoop": fmt.Sprintf("The design is %s for this hoop. Choose a larger one.", err)}
	}
	page.Hoopings = page.Grid.Hoopings(page.Quantity)
	page.InLast = page.Quantity - (page.Hoopings-1)*page.Grid.PerHooping
	if err := d.sortCopies(&page, shape); err != nil {
		return page, err
	}
	settings, err := d.Settings()
	if err != nil {
		return page, err
	}
	one := settings.Pace.StitchOut(room.Typical, page.Design.Pacing(), 1)
	copies := float64(len(page.Grid.Centres))
	sewing := (one.Total - one.ChangeMinutes) * copies
	page.MinutesBefore = sewing + float64(page.ChangesBefore)*page.SecondsPerChange/60
	page.MinutesAfter = sewing + float64(page.ChangesAfter)*page.SecondsPerChange/60
	page.MinutesSaved = page.MinutesBefore - page.MinutesAfter
	return page, nil
}

// sortCopies sews the copies of one full hooping, colour by colour, in the
// threads chosen for the stops, and measures the margins on a shape.
func (d Desk) sortCopies(page *CopiesPage, shape *hoop.Blank) error {
	pattern, err := d.Pattern(page.Design)
	if err != nil {
		return err
	}
	spots := make([]stitch.Spot, len(page.Grid.Centres))
	for i, c := range page.Grid.Centres {
		spots[i] = stitch.Spot{X: c.X * 10, Y: c.Y * 10, Turned: page.Grid.Rotated}
	}
	page.pattern, page.ChangesBefore, page.ChangesAfter, err = stitch.Copies(pattern, spots, true, page.Design.Roles())
	if err != nil {
		return desk.Problems{"quantity": desk.Sentence(err.Error())}
	}
	if shape == nil {
		return nil
	}
	margins, err := marginsOf(stitch.Analyse(pattern), *shape)
	page.Margins = &margins
	return err
}

// marginsOf measures a design in the middle of a pre-cut shape.
func marginsOf(a stitch.Analysis, shape hoop.Blank) (hoop.Margins, error) {
	var hull []hoop.Point
	for _, p := range a.Hull() {
		hull = append(hull, hoop.Point{X: p[0], Y: p[1]})
	}
	return hoop.MarginsIn(shape, hull)
}

// CopiesFile is one hooping of copies, colour-sorted, in a format.
func (d Desk) CopiesFile(id int64, in CopiesInput, format string) (fileName string, data []byte, err error) {
	if err := d.Need(desk.See); err != nil {
		return "", nil, err
	}
	page, err := d.Copies(id, in)
	if err != nil {
		return "", nil, err
	}
	fileName = fmt.Sprintf("%s-x%d.%s", desk.Stem(page.Design.FileName), len(page.Grid.Centres), format)
	if data, err = stitch.Encode(fileName, page.pattern); err != nil {
		return "", nil, desk.Problems{"": desk.Sentence(err.Error())}
	}
	return fileName, data, nil
}
