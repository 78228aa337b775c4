package app

import (
	"slices"
	"strings"

	"chalkstep/core/stitch"
	"chalkstep/store"
)

// A MachinesPage is the room's machines and hoops.
type MachinesPage struct {
	Machines []store.Machine
	Hoops    []store.Hoop
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
func (d Desk) Machines() (MachinesPage, error) {
	machines, err := d.shop.Machines()
	if err != nil {
		return MachinesPage{}, err
	}
	hoops, err := d.shop.Hoops()
	return MachinesPage{machines, hoops}, err
}

// Machine opens one machine, a new one for ID 0.
func (d Desk) Machine(id int64) (store.Machine, error) {
	if id == 0 {
		return store.Machine{TopSpeedSPM: 700, ChangeSeconds: 60, Needles: 1, AutoTrim: true, BobbinMetres: 60}, nil
	}
	return d.shop.Machine(id)
}

// Hoop opens one hoop, a new one for ID 0.
func (d Desk) Hoop(id int64) (store.Hoop, error) {
	if id == 0 {
		return store.Hoop{Count: 1}, nil
	}
	return d.shop.Hoop(id)
}

// SaveMachine adds or changes a machine.
func (d Desk) SaveMachine(m *store.Machine) error {
	if err := d.mayChange(); err != nil {
		return err
	}
	problems := Problems{}
	m.Name, m.BobbinStyle = strings.TrimSpace(m.Name), strings.TrimSpace(m.BobbinStyle)
	if m.Name == "" {
		problems["name"] = "Give the machine the name it has in the room."
	}
	if len(m.Formats) == 0 {
		problems["formats"] = "Choose at least one format it reads."
	}
	for _, format := range m.Formats {
		if !slices.Contains(stitch.Names(), format) {
			problems["formats"] = "Choose formats from the list."
		}
	}
	between(problems, "top_speed_spm", float64(m.TopSpeedSPM), 100, 2000, "The top speed is 100 to 2,000 stitches a minute.")
	between(problems, "change_seconds", float64(m.ChangeSeconds), 0, 900, "A thread change takes 0 to 900 seconds.")
	between(problems, "needles", float64(m.Needles), 1, 24, "A machine has 1 to 24 needles.")
	if m.BobbinStyle == "" {
		problems["bobbin_style"] = "Say which bobbins fit, in the words on their box."
	}
	between(problems, "bobbin_metres", m.BobbinMetres, 1, 1000, "A bobbin holds 1 to 1,000 m.")
	for _, h := range m.Hoops {
		if h.DXMM < -50 || h.DXMM > 50 || h.DYMM < -50 || h.DYMM > 50 {
			problems["hoops"] = "A hoop's marks miss the needle by 50 mm at most."
		}
	}
	if err := problems.orNil(); err != nil {
		return err
	}
	return saved(d.shop.SaveMachine(m), m.Name)
}

// SaveHoop adds or changes a hoop; the field is typed as people write sizes.
func (d Desk) SaveHoop(h *store.Hoop, width, height string) error {
	if err := d.mayChange(); err != nil {
		return err
	}
	problems := Problems{}
	if h.Name = strings.TrimSpace(h.Name); h.Name == "" {
		problems["name"] = "Give the hoop a name."
	}
	h.WidthMM = length(problems, "width", width, 20, 1000)
	h.HeightMM = length(problems, "height", height, 20, 1000)
	between(problems, "count", float64(h.Count), 0, 100, "There are 0 to 100 of a hoop.")
	if err := problems.orNil(); err != nil {
		return err
	}
	return saved(d.shop.SaveHoop(h), h.Name)
}
