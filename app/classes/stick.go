package classes

import (
	"fmt"
	"slices"

	"chalkstep/app/desk"
	"chalkstep/core/day"
	"chalkstep/core/room"
	"chalkstep/core/say"
	"chalkstep/core/stitch"
	"chalkstep/device/stick"
)

// Stick makes a machine's stick for a class: a file for everyone who sits at
// it, in order, in its format, turned as the hoop asks. A file that the
// machine cannot sew is refused, and why.
func (d Desk) Stick(classID, machineID int64) (fileName string, data []byte, err error) {
	if err := d.Need(desk.See); err != nil {
		return "", nil, err
	}
	p, err := d.Class(classID)
	if err != nil {
		return "", nil, err
	}
	if !p.Planned() {
		return "", nil, desk.Problems{"": d.Say(p.Why)}
	}
	machine, ok := p.Machine(day.StationID(machineID))
	if !ok {
		return "", nil, desk.NotFound("machine %d in class %d", machineID, classID)
	}
	sits := p.Sits(machineID)
	if len(sits) == 0 {
		return "", nil, desk.Problems{"": d.Say(nobodySews(p, machine))}
	}
	var files []stick.File
	for _, s := range sits {
		file, err := d.stickFile(p, s)
		if err != nil {
			return "", nil, err
		}
		files = append(files, file)
	}
	data, err = stick.Write(machine.Name, files, d.Now)
	return fmt.Sprintf("stick-%s.zip", machine.Name), data, err
}

// nobodySews says why a machine has nothing to sew in a class.
func nobodySews(p day.Plan, m room.Machine) say.Text {
	for _, w := range p.Works {
		i := slices.IndexFunc(w.Sewing, func(s day.Sewing) bool {
			return slices.ContainsFunc(s.Seats, func(seat room.Seat) bool { return seat.Machine.ID == m.ID && !seat.Fits() })
		})
		if i >= 0 {
			seat, _ := w.SeatAt(m.ID, i+1)
			return say.T("%s cannot sew %s: %s.", m.Name, w.Sewing[i].Design.Name, seat.Problem)
		}
	}
	return say.T("Nobody sews at %s in this class.", m.Name)
}

// stickFile is the file of one sewing of the plan.
func (d Desk) stickFile(p day.Plan, s day.Sit) (stick.File, error) {
	design := s.Work.Sewing[s.Hooping-1].Design
	file := stick.File{Label: design.Name, For: fmt.Sprintf("%s, %s", s.Place.Name, d.Say(say.Clock(p.At(s.Start)))), Format: s.Seat.Format()}
	if s.Seat.Fit.Turn == 0 {
		var err error
		_, file.Data, err = d.FileAs(design.ID, file.Format)
		return file, err
	}
	_, pattern, err := d.Sewn(design.ID)
	if err != nil {
		return file, err
	}
	file.Data, err = stitch.Encode("x."+file.Format, stitch.QuarterTurned(pattern))
	return file, err
}
