package designs

import (
	"errors"
	"slices"
	"strings"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/design"
	"chalkstep/core/fleet"
	"chalkstep/core/hoop"
	"chalkstep/core/policy"
	"chalkstep/core/recipe"
	"chalkstep/core/say"
	"chalkstep/core/stitch"
	"chalkstep/store"
)

// A PlacingInput is where a person wants a design on a machine. Its zero
// values, but for the machine, ask for what is saved or usual.
type PlacingInput struct {
	MachineID int64 `form:"machine"`
	HoopID    int64 `form:"hoop"`
	Turn      int   `form:"turn"`
	// X and Y from the middle are typed.
	X       string  `form:"x"`
	Y       string  `form:"y"`
	XMM     float64 `form:"-"`
	YMM     float64 `form:"-"`
	Percent int     `form:"percent"`
	Basted  bool    `form:"basted"`
	// Snap names a place to go to, after the rest.
	Snap string `form:"snap"`
	// Asked tells that a person chose; else the saved placement opens.
	Asked bool `form:"-"`
	// Version of the saved placement, Reason for setting a lock aside.
	Version int    `form:"version"`
	Reason  string `form:"reason"`
}

// A PlacingPage is a design in a hoop's field on a machine.
type PlacingPage struct {
	Design  design.Design
	Machine fleet.Machine
	Hoop    fleet.Held
	// Hoops are those the machine takes; Machines are all there are.
	Hoops    []fleet.Held
	Machines []fleet.Machine
	In       PlacingInput
	Placed   hoop.Placed
	// Problem says why the design does not lie in this field.
	Problem say.Text
	// WidthMM and HeightMM at the chosen size.
	WidthMM, HeightMM float64
	Coverage          float64
	Density           stitch.DensityClass
	Locks             []stitch.Lock
	// Saved is the saved placement, if any, and whether it is what is shown.
	Saved   *fleet.Placement
	IsSaved bool
}

// FromMarks is a point of the field as measured from the marks on the frame,
// which miss the needle's start by what was measured of this hoop.
func (p PlacingPage) FromMarks(q hoop.Point) hoop.Point {
	return hoop.Point{X: q.X - p.Hoop.OffXMM, Y: q.Y - p.Hoop.OffYMM}
}

// Placing opens a design on a machine: where it was asked for, else where it
// is saved, else in the hoop the house prefers.
func (d UseCases) Placing(designID int64, in PlacingInput) (PlacingPage, error) {
	if err := d.Need(actor.See); err != nil {
		return PlacingPage{}, err
	}
	page := PlacingPage{In: in}
	var err error
	if page.Design, err = d.design(designID); err != nil {
		return page, err
	}
	rules, machines, err := d.Floorplan()
	if err != nil {
		return page, err
	}
	if page.Machines = machines; len(machines) == 0 {
		return page, form.Problems{"": "There is no machine yet: add one under Machines."}
	}
	at := 0
	if in.MachineID != 0 {
		if at = slices.IndexFunc(page.Machines, func(m fleet.Machine) bool { return m.ID == in.MachineID }); at < 0 {
			return page, actor.NotFound("machine %d", in.MachineID)
		}
	}
	page.Machine = page.Machines[at]
	page.In.MachineID = page.Machine.ID
	if err := d.readTyped(&page.In); err != nil {
		return page, err
	}
	if page.Hoops = page.Machine.Usable(); len(page.Hoops) == 0 {
		return page, form.Problems{"": page.Machine.Name + " has no hoop yet: add one under Machines."}
	}
	saved, err := d.Workshop.Placement(designID, page.Machine.ID)
	switch {
	case err == nil:
		page.Saved = &saved
	case !errors.Is(err, store.ErrNotFound):
		return page, err
	}
	page.open(rules)
	at = 0
	if page.In.HoopID != 0 {
		if at = slices.IndexFunc(page.Hoops, func(h fleet.Held) bool { return h.ID == page.In.HoopID }); at < 0 {
			// Of another machine, as after a change of machine, or taken from
			// this one since it was saved: not of the room at all is an error.
			if _, err := d.Workshop.Hoop(page.In.HoopID); err != nil {
				return page, err
			}
			at = 0
		}
	}
	page.Hoop = page.Hoops[at]
	page.In.HoopID = page.Hoop.ID
	return page, d.place(&page, rules.House.Rules)
}

// readTyped reads where the design was asked to lie.
func (d UseCases) readTyped(in *PlacingInput) error {
	const most = 1000
	problems := form.Problems{}
	read := func(field, typed string, mm *float64) {
		if strings.TrimSpace(typed) != "" {
			*mm = form.Length(d.Printer(), problems, field, typed, -most, most)
		}
	}
	read("x", in.X, &in.XMM)
	read("y", in.Y, &in.YMM)
	if in.Turn != 0 && in.Turn != 90 {
		problems["turn"] = "A design is turned by 0° or 90°."
	}
	return problems.OrNil()
}

// open fills in what was not asked for.
func (p *PlacingPage) open(rules policy.Rules) {
	if !p.In.Asked && p.Saved != nil {
		s := p.Saved
		p.In.HoopID, p.In.Turn, p.In.XMM, p.In.YMM, p.In.Percent, p.In.Basted = s.HoopID, s.Turn, s.X, s.Y, s.Percent,
			s.Basted
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
	seat := fleet.SeatAt(p.Machine, p.Design, false, rules)
	p.In.HoopID, p.In.Turn = seat.Hoop.ID, seat.Fit.Turn
}

// place works out what the choice comes to.
func (d UseCases) place(page *PlacingPage, house recipe.Rules) error {
	if err := stitch.CheckPercent(page.In.Percent); err != nil {
		return form.Problems{"percent": form.Sentence(err.Error())}
	}
	scale := float64(page.In.Percent) / 100
	page.WidthMM, page.HeightMM = page.Design.WidthMM*scale, page.Design.HeightMM*scale
	page.Coverage = stitch.ResizedCoverage(page.Design.Coverage, page.In.Percent)
	page.Density = stitch.Class(page.Coverage)
	film, err := d.Workshop.UsesFilm(page.Design.ID)
	if err != nil {
		return err
	}
	page.Locks = page.Design.Facts().TraitsOf(film).Locks(page.In.Percent)
	if house.NeverResizes() && page.In.Percent != 100 {
		page.Locks = append(page.Locks,
			stitch.Lock{What: say.T("the house rule"), Because: say.T("nothing is resized on the machine here")})
	}
	margin := 0.0
	if page.In.Basted {
		margin = hoop.BasteMarginMM
	}
	field := page.Hoop.Field
	placed, err := hoop.Place(field, page.WidthMM, page.HeightMM, margin,
		hoop.Placing{Turn: page.In.Turn, X: page.In.XMM, Y: page.In.YMM})
	if err != nil {
		page.Problem = say.Of(err)
		return nil
	}
	if page.In.Snap != "" {
		want, err := placed.Snap(page.In.Snap)
		if err != nil {
			return form.Problems{"": form.Sentence(err.Error())}
		}
		if placed, err = hoop.Place(field, page.WidthMM, page.HeightMM, margin, want); err != nil {
			return err
		}
		page.In.Snap = ""
	}
	page.Placed = placed
	page.In.XMM, page.In.YMM = placed.X, placed.Y
	if s := page.Saved; s != nil {
		page.IsSaved = s.HoopID == page.In.HoopID && s.Turn == page.In.Turn && s.X == placed.X && s.Y == placed.Y &&
			s.Percent == page.In.Percent && s.Basted == page.In.Basted
	}
	return nil
}

// SavePlacing keeps a placement. Where resizing is locked, only the owner may
// set the lock aside, with a reason that is kept.
func (d UseCases) SavePlacing(designID int64, in PlacingInput) (PlacingPage, error) {
	if err := d.Need(actor.ChangeDesigns); err != nil {
		return PlacingPage{}, err
	}
	in.Asked = true
	page, err := d.Placing(designID, in)
	if err != nil {
		return page, err
	}
	if !page.Problem.Silent() {
		return page, form.Problems{
			"hoop": d.Say(say.T("The design is %s for this field. Choose another hoop, turn or size.", page.Problem))}
	}
	p := fleet.Placement{Version: in.Version, DesignID: designID, MachineID: page.Machine.ID, HoopID: page.Hoop.ID,
		Placing: hoop.Placing{Turn: page.In.Turn, X: page.Placed.X, Y: page.Placed.Y}, Percent: page.In.Percent,
		Basted: page.In.Basted}
	if len(page.Locks) > 0 {
		problems := form.Problems{}
		reason := form.Text(problems, "reason", in.Reason, form.LongestNote)
		if err := problems.OrNil(); err != nil {
			return page, err
		}
		switch {
		case !d.Who.May(actor.OverrideLocks):
			return page, form.Problems{"percent": "Resizing is locked for this design. Only the owner may set the lock aside."}
		case reason == "":
			return page, form.Problems{"reason": "Resizing is locked: write why it is done all the same."}
		}
		p.Override = &fleet.Override{ByID: d.Who.AccountID, Reason: reason, At: d.Now}
	}
	return page, actor.OnceOnly(d, func(d UseCases) error {
		err := form.Compare(d.Workshop.SavePlacement(p), d.placedAs(page, p), func() (placedAs, int, error) {
			now, err := d.Placing(designID, PlacingInput{MachineID: in.MachineID})
			if err != nil || now.Saved == nil {
				return placedAs{}, 0, err
			}
			return d.placedAs(now, *now.Saved), now.Saved.Version, nil
		})
		return form.Saved(err, "")
	})
}

// A placedAs is a placement as people say it.
type placedAs struct {
	Hoop    string `says:"Hoop"`
	Turn    int    `says:"Turn"`
	X       string `says:"Right"`
	Y       string `says:"Up"`
	Percent int    `says:"Size in percent"`
	Basted  bool   `says:"Basted first"`
}

func (d UseCases) placedAs(page PlacingPage, p fleet.Placement) placedAs {
	as := placedAs{Turn: p.Turn, X: form.TypedLength(d.Printer(), p.X), Y: form.TypedLength(d.Printer(), p.Y),
		Percent: p.Percent, Basted: p.Basted}
	if i := slices.IndexFunc(page.Hoops, func(h fleet.Held) bool { return h.ID == p.HoopID }); i >= 0 {
		as.Hoop = page.Hoops[i].Name
	}
	return as
}
