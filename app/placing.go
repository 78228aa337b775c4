package app

import (
	"errors"
	"fmt"
	"slices"
	"strings"

	"chalkstep/core/hoop"
	"chalkstep/core/recipe"
	"chalkstep/core/stitch"
	"chalkstep/store"
)

// A PlacingInput is where a person wants a design on a machine. Its zero
// values, but for the machine, ask for what is saved or usual.
type PlacingInput struct {
	MachineID, HoopID int64
	Turn              int
	XMM, YMM          float64
	Percent           int
	Basted            bool
	// Snap names a place to go to, after the rest.
	Snap string
	// Asked tells that a person chose; else the saved placement opens.
	Asked bool
	// Version of the saved placement, Reason for setting a lock aside.
	Version int
	Reason  string
}

// A PlacingPage is a design in a hoop's field on a machine.
type PlacingPage struct {
	Design  store.Design
	Machine store.Machine
	Hoop    store.MachineHoop
	// Hoops are those the machine takes; Machines are all there are.
	Hoops    []store.MachineHoop
	Machines []store.Machine
	In       PlacingInput
	Placed   hoop.Placed
	// Problem says why the design does not lie in this field.
	Problem string
	// WidthMM and HeightMM at the chosen size.
	WidthMM, HeightMM float64
	Coverage          float64
	Density           stitch.DensityClass
	Locks             []stitch.Lock
	// Saved is the saved placement, if any, and whether it is what is shown.
	Saved   *store.Placement
	IsSaved bool
}

// FromMarks is a point of the field as measured from the marks on the frame,
// which miss the needle's start by what was measured of this hoop.
func (p PlacingPage) FromMarks(q hoop.Point) hoop.Point {
	return hoop.Point{X: q.X - p.Hoop.DXMM, Y: q.Y - p.Hoop.DYMM}
}

// Placing opens a design on a machine: where it was asked for, else where it
// is saved, else in the hoop the house prefers.
func (d Desk) Placing(designID int64, in PlacingInput) (PlacingPage, error) {
	page := PlacingPage{In: in}
	var err error
	if page.Design, err = d.shop.Design(designID); err != nil {
		return page, err
	}
	settings, machines, err := d.floorplan()
	if err != nil {
		return page, err
	}
	if page.Machines = machines; len(machines) == 0 {
		return page, Problems{"": "There is no machine yet: add one under Machines."}
	}
	at := max(0, slices.IndexFunc(page.Machines, func(m store.Machine) bool { return m.ID == in.MachineID }))
	page.Machine = page.Machines[at]
	page.In.MachineID = page.Machine.ID
	if page.Hoops = usableHoops(page.Machine); len(page.Hoops) == 0 {
		return page, Problems{"": page.Machine.Name + " has no hoop yet: add one under Machines."}
	}
	slices.SortFunc(page.Hoops, byArea)
	saved, err := d.shop.Placement(designID, page.Machine.ID)
	switch {
	case err == nil:
		page.Saved = &saved
	case !errors.Is(err, store.ErrNotFound):
		return page, err
	}
	page.open(settings)
	at = max(0, slices.IndexFunc(page.Hoops, func(h store.MachineHoop) bool { return h.HoopID == page.In.HoopID }))
	page.Hoop = page.Hoops[at]
	page.In.HoopID = page.Hoop.HoopID
	return page, d.place(&page, settings.House)
}

// open fills in what was not asked for.
func (p *PlacingPage) open(settings store.WorkshopRow) {
	if !p.In.Asked && p.Saved != nil {
		s := p.Saved
		p.In.HoopID, p.In.Turn, p.In.XMM, p.In.YMM, p.In.Percent, p.In.Basted = s.HoopID, s.Turn, s.XMM, s.YMM, s.Percent, s.Basted
	}
	if p.Saved != nil && p.In.Version == 0 {
		p.In.Version = p.Saved.Version
	}
	if p.In.Percent == 0 {
		p.In.Percent = 100
	}
	if p.In.Asked || p.Saved != nil {
		return
	}
	fit := fitOn(p.Machine, p.Design, false, settings)
	p.In.HoopID, p.In.Turn = fit.Hoop.HoopID, fit.Fit.Turn
}

// place works out what the choice comes to.
func (d Desk) place(page *PlacingPage, house recipe.House) error {
	if err := stitch.CheckPercent(page.In.Percent); err != nil {
		return Problems{"percent": Sentence(err.Error())}
	}
	scale := float64(page.In.Percent) / 100
	page.WidthMM, page.HeightMM = page.Design.WidthMM*scale, page.Design.HeightMM*scale
	page.Coverage = stitch.ResizedCoverage(page.Design.Coverage, page.In.Percent)
	page.Density = stitch.Class(page.Coverage)
	film, err := d.usesFilm(page.Design.ID)
	if err != nil {
		return err
	}
	page.Locks = factsOf(page.Design).TraitsOf(film).Locks(page.In.Percent)
	if house.Resizing == "never" && page.In.Percent != 100 {
		page.Locks = append(page.Locks, stitch.Lock{What: "the house rule", Because: "nothing is resized on the machine here"})
	}
	margin := 0.0
	if page.In.Basted {
		margin = hoop.BasteMarginMM
	}
	field := field(page.Hoop.Hoop)
	placed, err := hoop.Place(field, page.WidthMM, page.HeightMM, margin, hoop.Placing{Turn: page.In.Turn, X: page.In.XMM, Y: page.In.YMM})
	if err != nil {
		page.Problem = err.Error()
		return nil
	}
	if page.In.Snap != "" {
		want, err := placed.Snap(page.In.Snap)
		if err != nil {
			return Problems{"": Sentence(err.Error())}
		}
		if placed, err = hoop.Place(field, page.WidthMM, page.HeightMM, margin, want); err != nil {
			return err
		}
		page.In.Snap = ""
	}
	page.Placed = placed
	page.In.XMM, page.In.YMM = placed.X, placed.Y
	if s := page.Saved; s != nil {
		page.IsSaved = s.HoopID == page.In.HoopID && s.Turn == page.In.Turn && s.XMM == placed.X && s.YMM == placed.Y && s.Percent == page.In.Percent && s.Basted == page.In.Basted
	}
	return nil
}

// usesFilm tells whether a project lays film under the design.
func (d Desk) usesFilm(designID int64) (bool, error) {
	projects, err := d.shop.ProjectsOf(designID)
	return slices.ContainsFunc(projects, func(p store.Project) bool { return slices.Contains(p.Uses, "film-overlay") }), err
}

// SavePlacing keeps a placement. Where resizing is locked, only the owner may
// set the lock aside, with a reason that is kept.
func (d Desk) SavePlacing(designID int64, in PlacingInput) (PlacingPage, error) {
	in.Asked = true
	if err := d.mayChange(); err != nil {
		return PlacingPage{}, err
	}
	page, err := d.Placing(designID, in)
	if err != nil {
		return page, err
	}
	if page.Problem != "" {
		return page, Problems{"hoop": fmt.Sprintf("The design is %s for this field. Choose another hoop, turn or size.", page.Problem)}
	}
	p := store.Placement{DesignID: designID, MachineID: page.Machine.ID, HoopID: page.Hoop.HoopID, Turn: page.In.Turn, XMM: page.Placed.X, YMM: page.Placed.Y, Percent: page.In.Percent, Basted: page.In.Basted, Version: in.Version}
	if len(page.Locks) > 0 {
		p.OverrideReason = strings.TrimSpace(in.Reason)
		switch {
		case d.Who.Role != store.Owner:
			return page, Problems{"percent": "Resizing is locked for this design. Only the owner may set the lock aside."}
		case p.OverrideReason == "":
			return page, Problems{"reason": "Resizing is locked: write why it is done all the same."}
		}
		now := d.now
		p.OverriddenByID, p.OverriddenAt = &d.Who.AccountID, &now
	}
	return page, saved(d.shop.SavePlacement(&p), "")
}
