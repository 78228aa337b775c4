package fleet

import (
	"fmt"
	"slices"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/fleet"
	"chalkstep/core/stitch"
	"chalkstep/store"
)

// MachinePath is where the page of a machine is.
func MachinePath(id int64) string { return fmt.Sprintf("/machines/%d", id) }

// A MeasureInput is how far the cross that was drawn lies from the cross that was sewn:
// two lengths as typed, and on which side.
type MeasureInput struct {
	Version int    `form:"version"`
	Across  string `form:"across" says:"Left or right"`
	Side    string `form:"side" says:"Side"`
	Up      string `form:"up" says:"Above or below"`
	Level   string `form:"level" says:"Level"`
}

// The sides on which the drawn cross lies.
const (
	SideRight, SideLeft    = "right", "left"
	LevelAbove, LevelBelow = "above", "below"
)

// A MeasurePage is a hoop of a machine whose marks are measured.
type MeasurePage struct {
	Machine fleet.Machine
	Held    fleet.Held
	// Formats in which the cross can be had.
	Formats []string
	In      MeasureInput
}

// HoopOf opens a hoop of a machine for measuring.
func (d UseCases) HoopOf(machineID, hoopID int64) (MeasurePage, error) {
	if err := d.Need(actor.See); err != nil {
		return MeasurePage{}, err
	}
	m, err := d.Workshop.Machine(machineID)
	if err != nil {
		return MeasurePage{}, err
	}
	i := slices.IndexFunc(m.Hoops, func(h fleet.Held) bool { return h.ID == hoopID })
	if i < 0 {
		return MeasurePage{}, actor.NotFound("the hoop on that machine")
	}
	h := m.Hoops[i]
	in := MeasureInput{Version: m.Version, Side: SideRight, Level: LevelAbove,
		Across: form.TypedLength(d.Printer(), max(h.OffXMM, -h.OffXMM)),
		Up:     form.TypedLength(d.Printer(), max(h.OffYMM, -h.OffYMM))}
	if h.OffXMM < 0 {
		in.Side = SideLeft
	}
	if h.OffYMM < 0 {
		in.Level = LevelBelow
	}
	return MeasurePage{m, h, m.Formats, in}, nil
}

// crossArm is how many stitches of 2 mm an arm of the cross has.
const crossArm = 5

// Cross is the file of the cross that is sewn to measure a hoop, in a format that the
// machine reads.
func (d UseCases) Cross(machineID int64, format string) (name string, data []byte, err error) {
	if err := d.Need(actor.See); err != nil {
		return "", nil, err
	}
	m, err := d.Workshop.Machine(machineID)
	if err != nil {
		return "", nil, err
	}
	if !slices.Contains(m.Formats, format) {
		return "", nil, fmt.Errorf("making a cross for %s: %w", m.Name, store.ErrNotFound)
	}
	name = "cross." + format
	data, err = stitch.Encode(name, stitch.Cross(crossArm))
	return name, data, err
}

// MeasureHoop keeps how far the marks of a hoop miss the needle on a machine, measured today.
func (d UseCases) MeasureHoop(machineID, hoopID int64, in MeasureInput) error {
	if err := d.Need(actor.ChangeRoom); err != nil {
		return err
	}
	page, err := d.HoopOf(machineID, hoopID)
	if err != nil {
		return err
	}
	problems := form.Problems{}
	const most = 50
	h := page.Held
	h.OffXMM, h.OffYMM = form.Length(d.Printer(), problems, "across", in.Across, 0, most),
		form.Length(d.Printer(), problems, "up", in.Up, 0, most)
	switch in.Side {
	case SideRight:
	case SideLeft:
		h.OffXMM = -h.OffXMM
	default:
		problems["across"] = "Say on which side the drawn cross lies."
	}
	switch in.Level {
	case LevelAbove:
	case LevelBelow:
		h.OffYMM = -h.OffYMM
	default:
		problems["up"] = "Say whether the drawn cross lies above or below."
	}
	if err := problems.OrNil(); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error {
		return form.Saved(d.Workshop.MeasureHoop(machineID, in.Version, h, d.Now.In(d.Who.Zone)), "")
	})
}
