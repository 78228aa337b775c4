package app

import (
	"fmt"
	"slices"

	"chalkstep/core/floor"
	"chalkstep/core/kit"
	"chalkstep/core/pace"
	"chalkstep/store"
)

// A Work is what students of a class make: mostly all the same, now and then
// something else.
type Work struct {
	Project store.Project
	// Hoopings in order, each with how every machine of the class takes it.
	Hoopings []Hooping
	// Students make it; those who are absent are left out.
	Students []store.ClassStudent
}

// A Hooping is one design of a work at the machines of a class.
type Hooping struct {
	Design store.Design
	Seats  []MachineFit
}

// Fits tells whether a machine can sew every hooping of the work.
func (w Work) Fits(machineID int64) bool {
	for _, h := range w.Hoopings {
		if !slices.ContainsFunc(h.Seats, func(s MachineFit) bool { return s.Machine.ID == machineID && s.Fits() }) {
			return false
		}
	}
	return len(w.Hoopings) > 0
}

// SeatAt is how a machine takes a hooping, counted from 1.
func (w Work) SeatAt(station string, hooping int) (MachineFit, bool) {
	for _, s := range w.Hoopings[hooping-1].Seats {
		if id(s.Machine.ID) == station {
			return s, true
		}
	}
	return MachineFit{}, false
}

// worksOf sorts a class's students by what they make.
func worksOf(c store.Class, settings store.WorkshopRow, machines []store.Machine) []Work {
	works := []Work{newWork(c.Project, c, settings, machines)}
	for _, s := range c.Students {
		if s.Attendance == store.Absent {
			continue
		}
		at := 0
		if s.Project != nil {
			at = slices.IndexFunc(works, func(w Work) bool {
				return w.Project.ID == s.Project.ID && w.Project.Version == s.Project.Version
			})
			if at < 0 {
				at = len(works)
				works = append(works, newWork(*s.Project, c, settings, machines))
			}
		}
		works[at].Students = append(works[at].Students, s)
	}
	return works
}

// newWork tries every hooping of a project on the machines of a class, which
// carry what was learned of them.
func newWork(p store.Project, c store.Class, settings store.WorkshopRow, machines []store.Machine) Work {
	w := Work{Project: p}
	settings.House = settings.House.With(p.Content.House)
	for _, design := range append([]store.Design{p.Design}, p.Again...) {
		h := Hooping{Design: design}
		for _, b := range c.Bookings {
			machine := b.Machine
			if i := slices.IndexFunc(machines, func(m store.Machine) bool { return m.ID == machine.ID }); i >= 0 {
				machine.Pace = machines[i].Pace
			}
			h.Seats = append(h.Seats, fitOn(machine, design, isGarment(p), settings))
		}
		shareHoops(h.Seats, design)
		w.Hoopings = append(w.Hoopings, h)
	}
	return w
}

// makerOf finds a person of the plan and what they make.
func (p ClassPage) makerOf(person string) (Work, store.ClassStudent, bool) {
	for _, w := range p.Works {
		for _, s := range w.Students {
			if id(s.StudentID) == person {
				return w, s, true
			}
		}
	}
	return Work{}, store.ClassStudent{}, false
}

// StopShares is each stop's share of a sewing step of the plan.
func (p ClassPage) StopShares(placed floor.Placed) []float64 {
	w, _, ok := p.makerOf(placed.Person)
	if !ok {
		return nil
	}
	_, hooping := pace.Base(placed.Step)
	return stopShares(p.settings.Figures.Pace, w, placed.Station, hooping)
}

// sewing lists when which machine sews which colour, from the plan.
func (p ClassPage) sewing() []kit.Sewing {
	var all []kit.Sewing
	for _, placed := range p.Plan.Steps {
		base, hooping := pace.Base(placed.Step)
		w, _, ok := p.makerOf(placed.Person)
		if base != pace.StepSew || !ok {
			continue
		}
		at := placed.Start
		shares := stopShares(p.settings.Figures.Pace, w, placed.Station, hooping)
		for i, stop := range w.Hoopings[hooping-1].Design.Stops {
			end := at + (placed.End-placed.Start)*shares[i]
			all = append(all, kit.Sewing{Color: stop.Color, From: at, To: end})
			at = end
		}
	}
	return all
}

// stopShares is each stop's share of the minutes of a hooping at a machine.
func stopShares(figures pace.Figures, w Work, station string, hooping int) []float64 {
	seat, _ := w.SeatAt(station, hooping)
	design := w.Hoopings[hooping-1].Design
	out := figures.StitchOut(paceMachine(seat.Machine), paceStops(design), 1)
	total := 0.0
	for _, m := range out.Stops {
		total += m
	}
	shares := make([]float64, len(out.Stops))
	for i, m := range out.Stops {
		shares[i] = m / max(total, 1e-9)
	}
	return shares
}

// A PlaceInput is what a person says of a student's place in a class.
type PlaceInput struct {
	// ProjectID is what they make instead; 0 makes what the class makes.
	ProjectID   int64
	Attendance  string
	LateMinutes int
	// Version of the place, as it was read.
	Version int
}

// SavePlace changes a student's place: another project, late, or absent.
func (d Desk) SavePlace(classID, studentID int64, in PlaceInput) error {
	if err := d.mayChange(); err != nil {
		return err
	}
	c, err := d.shop.Class(classID)
	if err != nil {
		return err
	}
	place := store.ClassStudent{ClassID: classID, StudentID: studentID, Attendance: in.Attendance, KitVersion: in.Version}
	switch in.Attendance {
	case store.Expected, store.Absent:
	case store.Late:
		window := int(c.EndsAt.Sub(c.StartsAt).Minutes())
		if place.LateMinutes = in.LateMinutes; in.LateMinutes < 1 || in.LateMinutes > window {
			return Problems{"late": fmt.Sprintf("Write by how many minutes they are late, 1 to %d.", window)}
		}
	default:
		return Problems{"attendance": "Choose expected, late or absent."}
	}
	if in.ProjectID != 0 && in.ProjectID != c.ProjectID {
		version, err := d.shop.NewestVersion(in.ProjectID)
		if err != nil {
			return Problems{"project": "Choose what they make."}
		}
		place.ProjectID, place.ProjectVersion = &in.ProjectID, &version
	}
	return saved(d.shop.SavePlace(place), "")
}
