package app

import (
	"cmp"
	"fmt"
	"slices"

	"chalkstep/core/floor"
	"chalkstep/core/pace"
	"chalkstep/core/stitch"
	"chalkstep/device/stick"
)

// Stick makes a machine's stick for a class: a file for everyone who sits at
// it, in order, in its format, turned as the hoop asks. A file that the
// machine cannot sew is refused, and why.
func (d Desk) Stick(classID, machineID int64) (fileName string, data []byte, err error) {
	page, err := d.planned(classID)
	if err != nil {
		return "", nil, err
	}
	station := id(machineID)
	name := page.MachineName(station)
	var sewing []floor.Placed
	for _, s := range page.Plan.Steps {
		if base, _ := pace.Base(s.Step); base == pace.StepSew && s.Station == station {
			sewing = append(sewing, s)
		}
	}
	if len(sewing) == 0 {
		for _, seat := range page.Seats {
			if seat.Machine.ID == machineID && !seat.Fits() {
				return "", nil, Problems{"": fmt.Sprintf("%s cannot sew %s: %s.", name, page.Project.Project.Design.Name, seat.Problem)}
			}
		}
		return "", nil, Problems{"": fmt.Sprintf("Nobody sews at %s in this class.", name)}
	}
	slices.SortFunc(sewing, func(a, b floor.Placed) int { return cmp.Compare(a.Start, b.Start) })
	var files []stick.File
	for _, s := range sewing {
		file, err := d.stickFile(page, s)
		if err != nil {
			return "", nil, err
		}
		files = append(files, file)
	}
	data, err = stick.Write(name, files, d.now)
	return fmt.Sprintf("stick-%s.zip", name), data, err
}

// stickFile is the file of one sewing of the plan.
func (d Desk) stickFile(page ClassPage, s floor.Placed) (stick.File, error) {
	w, student, ok := page.makerOf(s.Person)
	if !ok {
		return stick.File{}, fmt.Errorf("finding who sews %s in class %d", s.Step, page.Class.ID)
	}
	_, hooping := pace.Base(s.Step)
	seat, _ := w.SeatAt(s.Station, hooping)
	design := w.Hoopings[hooping-1].Design
	file := stick.File{Label: design.Name, For: fmt.Sprintf("%s, %s", student.Student.Name, page.At(s.Start).In(d.Who.Zone).Format("15:04"))}
	if file.Format = seat.FileFormat; !seat.HasFile {
		file.Format = seat.ConvertTo
	}
	if seat.Fit.Turn == 0 {
		var err error
		_, file.Data, err = d.FileAs(design.ID, file.Format)
		return file, err
	}
	pattern, err := d.pattern(design)
	if err != nil {
		return file, err
	}
	file.Data, err = stitch.Encode("x."+file.Format, stitch.QuarterTurned(pattern))
	return file, err
}
