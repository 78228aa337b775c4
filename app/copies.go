package app

import (
	"fmt"
	"slices"

	"chalkstep/core/hoop"
	"chalkstep/core/stitch"
	"chalkstep/core/stitch/outline"
	"chalkstep/store"
)

// A CopiesInput is how many copies are wanted, in which hoop.
type CopiesInput struct {
	HoopID   int64
	Quantity int
	GapMM    float64
}

// A CopiesPage says how copies of a design lie in one hoop, and what sewing
// them colour by colour saves.
type CopiesPage struct {
	Design store.Design
	Hoops  []store.Hoop
	Hoop   store.Hoop
	In     CopiesInput
	Grid   hoop.Grid
	// Hoopings it takes for the quantity, the last of them with InLast.
	Hoopings, InLast               int
	ChangesBefore, ChangesAfter    int
	MinutesSaved, SecondsPerChange float64
	pattern                        *stitch.Pattern
}

// Copies lays a design out in a hoop: in the one asked for, or the largest.
func (d Desk) Copies(id int64, in CopiesInput) (CopiesPage, error) {
	design, err := d.shop.Design(id)
	if err != nil {
		return CopiesPage{}, err
	}
	page := CopiesPage{Design: design, In: in, SecondsPerChange: typicalMachine.ChangeSeconds}
	if page.Hoops, err = d.shop.Hoops(); err != nil {
		return page, err
	}
	if len(page.Hoops) == 0 {
		return page, Problems{"": "There is no hoop yet: add one under Machines."}
	}
	at := slices.IndexFunc(page.Hoops, func(h store.Hoop) bool { return h.ID == in.HoopID })
	if at < 0 {
		at = len(page.Hoops) - 1
		page.In.HoopID = page.Hoops[at].ID
	}
	page.Hoop = page.Hoops[at]
	problems := Problems{}
	between(problems, "quantity", float64(in.Quantity), 1, 1000, "Write a quantity from 1 to 1,000.")
	between(problems, "gap", in.GapMM, 0, 100, "Write a gap from 0 to 100 mm.")
	if err := problems.orNil(); err != nil {
		return page, err
	}
	if page.Grid, err = hoop.Copies(field(page.Hoop), design.WidthMM, design.HeightMM, in.GapMM, in.Quantity); err != nil {
		return page, Problems{"hoop": fmt.Sprintf("The design is %s for this hoop. Choose a larger one.", err)}
	}
	page.Hoopings = page.Grid.Hoopings(in.Quantity)
	page.InLast = in.Quantity - (page.Hoopings-1)*page.Grid.PerHooping
	if err := d.sortCopies(&page); err != nil {
		return page, err
	}
	page.MinutesSaved = float64(page.ChangesBefore-page.ChangesAfter) * page.SecondsPerChange / 60
	return page, nil
}

// sortCopies sews the copies of one full hooping, colour by colour, in the
// threads chosen for the stops.
func (d Desk) sortCopies(page *CopiesPage) error {
	pattern, err := d.pattern(page.Design)
	if err != nil {
		return err
	}
	spots := make([]stitch.Spot, len(page.Grid.Centres))
	for i, c := range page.Grid.Centres {
		spots[i] = stitch.Spot{X: c.X * 10, Y: c.Y * 10, Turned: page.Grid.Rotated}
	}
	page.pattern, page.ChangesBefore, page.ChangesAfter, err = stitch.Copies(pattern, spots, true)
	if err != nil {
		return Problems{"quantity": Sentence(err.Error())}
	}
	return nil
}

// pattern reads a design's file again, in the threads chosen for its stops.
func (d Desk) pattern(design store.Design) (*stitch.Pattern, error) {
	name, data, err := d.DesignFile(design.ID)
	if err != nil {
		return nil, err
	}
	pattern, _, err := stitch.Decode(name, data)
	if err != nil {
		return nil, err
	}
	pattern.Colors = nil
	for _, s := range design.Stops {
		color, err := stitch.ParseRGB(s.Color)
		if err != nil {
			return nil, err
		}
		pattern.Colors = append(pattern.Colors, color)
	}
	return pattern, nil
}

// CopiesFile is one hooping of copies, colour-sorted, in a format.
func (d Desk) CopiesFile(id int64, in CopiesInput, format string) (fileName string, data []byte, err error) {
	page, err := d.Copies(id, in)
	if err != nil {
		return "", nil, err
	}
	fileName = fmt.Sprintf("%s-x%d.%s", stem(page.Design.FileName), len(page.Grid.Centres), format)
	if data, err = stitch.Encode(fileName, page.pattern); err != nil {
		return "", nil, Problems{"": Sentence(err.Error())}
	}
	return fileName, data, nil
}

// CutPath is the cut path of a stop's outlines as SVG at actual size.
func (d Desk) CutPath(id int64, stop int, offsetMM float64, mirror bool) (fileName string, svg []byte, err error) {
	design, a, err := d.analysis(id)
	if err != nil {
		return "", nil, err
	}
	cut, err := outline.Of(a, stop, offsetMM, mirror)
	if err != nil {
		return "", nil, Problems{"": Sentence(err.Error())}
	}
	return fmt.Sprintf("%s-stop-%d-cut.svg", stem(design.FileName), stop), []byte(cut.SVG()), nil
}
