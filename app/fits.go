package app

import (
	"cmp"
	"slices"

	"chalkstep/core/hoop"
	"chalkstep/core/pace"
	"chalkstep/core/recipe"
	"chalkstep/core/stitch"
	"chalkstep/store"
)

// A MachineFit says whether a design can be sewn on a machine, and how.
type MachineFit struct {
	Machine store.Machine
	// Problem is empty when a hoop fits.
	Problem string
	Hoop    store.MachineHoop
	Fit     hoop.Fit
	// HasFile tells that the design has a file the machine reads, in
	// FileFormat; otherwise ConvertTo is one it could read.
	HasFile    bool
	FileFormat string
	ConvertTo  string
	Minutes    float64
	Working    []string
}

// Fits tells whether some hoop of the machine takes the design.
func (f MachineFit) Fits() bool { return f.Problem == "" }

// typicalMachine stands in where no machine of the room can sew the design.
var typicalMachine = pace.Machine{TopSpeedSPM: 700, ChangeSeconds: 60, AutoTrim: true}

// fitOn tries a design on a machine's hoops and takes the one the house
// prefers.
func fitOn(m store.Machine, design store.Design, garment bool, settings store.WorkshopRow) MachineFit {
	fit := MachineFit{Machine: m}
	for _, format := range design.Formats() {
		if !fit.HasFile && slices.Contains(m.Formats, format) {
			fit.HasFile, fit.FileFormat = true, format
		}
	}
	if !fit.HasFile {
		for _, format := range m.Formats {
			if slices.Contains(stitch.Names(), format) {
				fit.ConvertTo = format
				break
			}
		}
	}
	hoops := usableHoops(m)
	if len(hoops) == 0 {
		fit.Problem = "no hoop for this machine yet"
		return fit
	}
	fields := make([]hoop.Field, len(hoops))
	for i, h := range hoops {
		fields[i] = field(h.Hoop)
	}
	index, chosen, ok := hoop.Choose(fields, design.WidthMM, design.HeightMM, 0, hoopSchool(settings.House), garment)
	if !ok {
		largest := slices.MaxFunc(hoops, byArea)
		_, err := hoop.Into(field(largest.Hoop), design.WidthMM, design.HeightMM, 0)
		fit.Problem, fit.Hoop = err.Error(), largest
		return fit
	}
	if !fit.HasFile && fit.ConvertTo == "" {
		fit.Problem = "reads none of the formats we can write"
	}
	fit.Hoop, fit.Fit = hoops[index], chosen
	out := settings.Figures.Pace.StitchOut(paceMachine(m), paceStops(design), 1)
	fit.Minutes, fit.Working = out.Total, out.Working
	return fit
}

// hoopSchool is how the house chooses among hoops that fit.
func hoopSchool(house recipe.House) hoop.School {
	if house.HoopSize == "" {
		return hoop.ByBlank
	}
	return hoop.School(house.HoopSize)
}

func usableHoops(m store.Machine) []store.MachineHoop {
	return slices.DeleteFunc(slices.Clone(m.Hoops), func(h store.MachineHoop) bool { return h.Hoop.Count == 0 })
}

func field(h store.Hoop) hoop.Field { return hoop.Field{WidthMM: h.WidthMM, HeightMM: h.HeightMM} }

func byArea(a, b store.MachineHoop) int {
	return cmp.Compare(a.Hoop.WidthMM*a.Hoop.HeightMM, b.Hoop.WidthMM*b.Hoop.HeightMM)
}

// shareHoops lets machines that want the same hoop have one each: a machine
// for which none is left takes the next size up that fits, as long as there
// is one, and shares otherwise. The machines with the least choice go first.
func shareHoops(seats []MachineFit, design store.Design) {
	order := make([]*MachineFit, len(seats))
	for i := range seats {
		order[i] = &seats[i]
	}
	slices.SortStableFunc(order, func(a, b *MachineFit) int {
		return cmp.Compare(len(usableHoops(a.Machine)), len(usableHoops(b.Machine)))
	})
	wanted := map[int64]int{}
	for _, seat := range order {
		if !seat.Fits() {
			continue
		}
		if wanted[seat.Hoop.HoopID] >= seat.Hoop.Hoop.Count {
			hoops := usableHoops(seat.Machine)
			slices.SortFunc(hoops, byArea)
			for _, h := range hoops {
				fit, err := hoop.Into(field(h.Hoop), design.WidthMM, design.HeightMM, 0)
				if err == nil && byArea(h, seat.Hoop) >= 0 && wanted[h.HoopID] < h.Hoop.Count {
					seat.Hoop, seat.Fit = h, fit
					break
				}
			}
		}
		wanted[seat.Hoop.HoopID]++
	}
}

func paceMachine(m store.Machine) pace.Machine {
	return pace.Machine{TopSpeedSPM: float64(m.TopSpeedSPM), ChangeSeconds: float64(m.ChangeSeconds), AutoTrim: m.AutoTrim, Pace: m.Pace}
}
