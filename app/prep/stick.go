package prep

import (
	"fmt"
	"slices"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/classday"
	"chalkstep/core/fleet"
	"chalkstep/core/say"
	"chalkstep/device/stick"
)

// Stick makes a machine's stick for a class: a file for everyone who sits at
// it, in order, in its format, turned as the hoop asks. A file that the
// machine cannot sew is refused, and why.
func (d UseCases) Stick(classID, machineID int64) (fileName string, data []byte, err error) {
	if err := d.Need(actor.See); err != nil {
		return "", nil, err
	}
	p, err := d.load().Class(classID)
	if err != nil {
		return "", nil, err
	}
	if !p.Planned() {
		return "", nil, form.Problems{"": d.Say(p.Why)}
	}
	machine, ok := p.Machine(classday.StationID(machineID))
	if !ok {
		return "", nil, actor.NotFound("machine %d in class %d", machineID, classID)
	}
	sits := p.Sits(machineID)
	if len(sits) == 0 {
		return "", nil, form.Problems{"": d.Say(nobodySews(p, machine))}
	}
	var designs []int64
	for _, s := range sits {
		designs = append(designs, s.Sewn().ID)
	}
	originals, err := d.Workshop.Originals(designs...)
	if err != nil {
		return "", nil, err
	}
	var files []stick.File
	for _, s := range sits {
		as := s.Sewn().As
		if s.Seat.Fit.Turn != 0 {
			as = s.Sewn().Turned
		}
		file, err := as(originals[s.Sewn().ID], s.Seat.Format())
		if err != nil {
			return "", nil, form.Problems{"": form.Sentence(err.Error())}
		}
		files = append(files,
			stick.File{Label: s.Sewn().Name, For: fmt.Sprintf("%s, %s", s.Place.Name, d.Say(say.Clock(p.At(s.Start)))),
				Format: file.Format, Data: file.Data})
	}
	data, err = stick.Write(machine.Name, files, d.Now)
	return fmt.Sprintf("stick-%s.zip", machine.Name), data, err
}

// nobodySews says why a machine has nothing to sew in a class.
func nobodySews(p classday.Plan, m fleet.Machine) say.Text {
	for _, w := range p.Works {
		i := slices.IndexFunc(w.Sewing, func(s classday.Sewing) bool {
			return slices.ContainsFunc(s.Seats, func(seat fleet.Seat) bool { return seat.Machine.ID == m.ID && !seat.Fits() })
		})
		if i >= 0 {
			seat, _ := w.SeatAt(m.ID, i+1)
			return say.T("%s cannot sew %s: %s.", m.Name, w.Sewing[i].Design.Name, seat.Problem)
		}
	}
	return say.T("Nobody sews at %s in this class.", m.Name)
}
