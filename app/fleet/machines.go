package fleet

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/fleet"
	"chalkstep/core/hoop"
	"chalkstep/core/stitch"
)

// A MachinesPage is the room's machines and hoops.
type MachinesPage struct {
	Machines []fleet.Machine
	Hoops    []fleet.Hoop
	// Upkeep by the machine's number.
	Upkeep map[int64]Upkeep
}

// HoopCount is how many single hoops there are.
func (p MachinesPage) HoopCount() int {
	n := 0
	for _, h := range p.Hoops {
		n += h.Count
	}
	return n
}

// Machines opens the machines area.
func (d UseCases) Machines() (MachinesPage, error) {
	if err := d.Need(actor.See); err != nil {
		return MachinesPage{}, err
	}
	machines, err := d.Workshop.Machines()
	if err != nil {
		return MachinesPage{}, err
	}
	hoops, err := d.Workshop.Hoops()
	return MachinesPage{Machines: machines, Hoops: hoops}, err
}

// MachinesCaredFor opens the machines area, with what is due of their care.
func (d UseCases) MachinesCaredFor() (MachinesPage, error) {
	page, err := d.Machines()
	if err != nil {
		return page, err
	}
	settings, err := d.Settings()
	if err != nil {
		return page, err
	}
	page.Upkeep, err = d.upkeep(settings)
	return page, err
}

// Machine opens one machine, a new one for ID 0.
func (d UseCases) Machine(id int64) (fleet.Machine, error) {
	if err := d.Need(actor.See); err != nil {
		return fleet.Machine{}, err
	}
	if id == 0 {
		return fleet.Machine{TopSpeedSPM: 700, ChangeSeconds: 60, Needles: 1, AutoTrim: true, BobbinMetres: 60}, nil
	}
	return d.Workshop.Machine(id)
}

// Hoop opens one hoop, a new one for ID 0.
func (d UseCases) Hoop(id int64) (fleet.Hoop, error) {
	if err := d.Need(actor.See); err != nil {
		return fleet.Hoop{}, err
	}
	if id == 0 {
		return fleet.Hoop{Count: 1}, nil
	}
	return d.Workshop.Hoop(id)
}

// A MachineInput is what a person says of a machine; numbers are typed.
type MachineInput struct {
	ID            int64              `form:"-"`
	Version       int                `form:"version"`
	Name          string             `form:"name" says:"Name"`
	BobbinStyle   string             `form:"bobbin_style" says:"Bobbins"`
	Formats       []string           `form:"formats" says:"Reads"`
	TopSpeed      string             `form:"top_speed_spm" says:"Top speed"`
	ChangeSeconds string             `form:"change_seconds" says:"Thread change"`
	Needles       string             `form:"needles" says:"Needles"`
	BobbinMetres  string             `form:"bobbin_metres" says:"Bobbin metres"`
	AutoTrim      bool               `form:"auto_trim" says:"Trims by itself"`
	Sews          bool               `form:"sews" says:"Sews too"`
	Pedal         bool               `form:"pedal" says:"Has a pedal"`
	Features      []string           `form:"features" says:"It can"`
	Hoops         []MachineHoopInput `form:"-" says:"Hoop"`
}

// A MachineHoopInput is a hoop that a machine takes, and how far its marks miss
// the needle, as typed.
type MachineHoopInput struct {
	HoopID int64  `says:"number"`
	DX     string `says:"off by x"`
	DY     string `says:"off by y"`
}

// MachineInput opens a machine for editing, a new one for ID 0.
func (d UseCases) MachineInput(id int64) (MachineInput, error) {
	m, err := d.Machine(id)
	units := d.Printer().Units
	in := MachineInput{
		ID: m.ID, Version: m.Version, Name: m.Name, BobbinStyle: m.BobbinStyle, Formats: m.Formats,
		TopSpeed: fmt.Sprint(m.TopSpeedSPM), ChangeSeconds: fmt.Sprint(m.ChangeSeconds),
		Needles: fmt.Sprint(m.Needles), BobbinMetres: fmt.Sprint(m.BobbinMetres), AutoTrim: m.AutoTrim, Sews: m.Sews,
		Pedal: m.Pedal,
	}
	for _, f := range m.Features {
		in.Features = append(in.Features, string(f))
	}
	for _, h := range m.Hoops {
		in.Hoops = append(in.Hoops, MachineHoopInput{h.ID, units.Field(h.OffXMM), units.Field(h.OffYMM)})
	}
	return in, err
}

// SaveMachine adds or changes a machine.
func (d UseCases) SaveMachine(in MachineInput) (int64, error) {
	if err := d.Need(actor.ChangeRoom); err != nil {
		return 0, err
	}
	problems := form.Problems{}
	m := fleet.Machine{ID: in.ID, Version: in.Version, Formats: in.Formats, AutoTrim: in.AutoTrim, Sews: in.Sews,
		Pedal: in.Pedal}
	m.Name = form.Name(problems, "name", in.Name, "Give the machine the name it has in the room.")
	if len(m.Formats) == 0 {
		problems["formats"] = "Choose at least one format it reads."
	}
	for i, format := range m.Formats {
		if !slices.Contains(stitch.Names(), format) || slices.Contains(m.Formats[:i], format) {
			problems["formats"] = "Choose formats from the list."
		}
	}
	m.TopSpeedSPM = form.Whole(problems, "top_speed_spm", in.TopSpeed, 100, 2000,
		"The top speed is 100 to 2,000 stitches a minute.")
	m.ChangeSeconds = form.Whole(problems, "change_seconds", in.ChangeSeconds, 0, 900,
		"A thread change takes 0 to 900 seconds.")
	m.Needles = form.Whole(problems, "needles", in.Needles, 1, 24, "A machine has 1 to 24 needles.")
	m.BobbinStyle = form.Name(problems, "bobbin_style", in.BobbinStyle,
		"Say which bobbins fit, in the words on their box.")
	m.BobbinMetres = form.Number(problems, "bobbin_metres", in.BobbinMetres, 1, 1000, "A bobbin holds 1 to 1,000 m.")
	for _, f := range in.Features {
		if !fleet.Feature(f).Is() {
			problems["features"] = "Choose from the list what it can."
		}
	}
	m.Features = slices.DeleteFunc(slices.Clone(fleet.Features), func(f fleet.Feature) bool {
		return !slices.Contains(in.Features, string(f))
	})
	for i, h := range in.Hoops {
		if slices.ContainsFunc(in.Hoops[:i], func(other MachineHoopInput) bool { return other.HoopID == h.HoopID }) {
			problems["hoops"] = "Choose each hoop once."
			continue
		}
		miss := func(typed string) float64 {
			if strings.TrimSpace(typed) == "" {
				return 0
			}
			const most = 50
			return form.Length(d.Printer(), problems, "hoops", typed, -most, most)
		}
		m.Hoops = append(m.Hoops, fleet.Held{Hoop: fleet.Hoop{ID: h.HoopID}, OffXMM: miss(h.DX), OffYMM: miss(h.DY)})
	}
	if err := problems.OrNil(); err != nil {
		return 0, err
	}
	return actor.Once(d, func(d UseCases) (int64, error) {
		id, err := d.Workshop.SaveMachine(m)
		err = form.Compare(err, in, func() (MachineInput, int, error) {
			now, err := d.MachineInput(in.ID)
			return now, now.Version, err
		})
		return id, form.Saved(err, m.Name)
	})
}

// A HoopInput is what a person says of a hoop; its field is typed as people
// write sizes.
type HoopInput struct {
	ID      int64  `form:"-"`
	Version int    `form:"version"`
	Name    string `form:"name" says:"Name"`
	Width   string `form:"width" says:"Width"`
	Height  string `form:"height" says:"Height"`
	Count   string `form:"count" says:"How many"`
	Kind    string `form:"kind" says:"How it holds"`
}

// HoopInput opens a hoop for editing, a new one for ID 0.
func (d UseCases) HoopInput(id int64) (HoopInput, error) {
	h, err := d.Hoop(id)
	return HoopInput{ID: h.ID, Version: h.Version, Name: h.Name, Width: form.TypedLength(d.Printer(), h.WidthMM),
		Height: form.TypedLength(d.Printer(), h.HeightMM), Count: fmt.Sprint(h.Count),
		Kind: string(cmp.Or(h.Kind, hoop.Screw))}, err
}

// SaveHoop adds or changes a hoop.
func (d UseCases) SaveHoop(in HoopInput) (int64, error) {
	if err := d.Need(actor.ChangeRoom); err != nil {
		return 0, err
	}
	problems := form.Problems{}
	h := fleet.Hoop{ID: in.ID, Version: in.Version, Name: form.Name(problems, "name", in.Name, "Give the hoop a name.")}
	h.WidthMM = form.Length(d.Printer(), problems, "width", in.Width, 20, 1000)
	h.HeightMM = form.Length(d.Printer(), problems, "height", in.Height, 20, 1000)
	if h.Kind = hoop.Kind(cmp.Or(in.Kind, string(hoop.Screw))); !slices.Contains(hoop.Kinds, h.Kind) {
		problems["kind"] = "Choose how the hoop holds."
	}
	h.Count = form.Whole(problems, "count", in.Count, 0, 100, "There are 0 to 100 of a hoop.")
	if err := problems.OrNil(); err != nil {
		return 0, err
	}
	return actor.Once(d, func(d UseCases) (int64, error) {
		id, err := d.Workshop.SaveHoop(h)
		err = form.Compare(err, in, func() (HoopInput, int, error) {
			now, err := d.HoopInput(in.ID)
			return now, now.Version, err
		})
		return id, form.Saved(err, h.Name)
	})
}
