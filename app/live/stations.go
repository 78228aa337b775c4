package live

import (
	"chalkstep/app/actor"
	"chalkstep/core/classday"
	"chalkstep/paper"
)

// A StationLink opens the phone of a machine of a class, or with MachineID 0 that of the
// benches.
type StationLink struct {
	MachineID int64
	Name      string
	Token     string
}

// Stations are the links of a class's phones.
func (d UseCases) Stations(classID int64) (classday.Class, []StationLink, error) {
	if err := d.Need(actor.RunClasses); err != nil {
		return classday.Class{}, nil, err
	}
	plan, _, err := d.load().ClassIn(classID)
	if err != nil {
		return classday.Class{}, nil, err
	}
	key, err := d.Workshop.StationKey(classID)
	if err != nil {
		return classday.Class{}, nil, err
	}
	var links []StationLink
	for _, m := range plan.Class.Machines {
		links = append(links, StationLink{m.ID, m.Name, actor.Place{ClassID: classID, MachineID: m.ID}.Token(key)})
	}
	return plan.Class, append(links, StationLink{0, "The benches", actor.Place{ClassID: classID}.Token(key)}), nil
}

// StationCode draws the link of a machine's phone, from the address people use, as PNG.
func (d UseCases) StationCode(classID, machineID int64, base string) ([]byte, error) {
	if err := d.Need(actor.RunClasses); err != nil {
		return nil, err
	}
	_, links, err := d.Stations(classID)
	if err != nil {
		return nil, err
	}
	for _, l := range links {
		if l.MachineID == machineID {
			return paper.Code(base + StationPath + l.Token)
		}
	}
	return nil, actor.NotFound("machine %d in class %d", machineID, classID)
}

// StationPath is where the phones of machines are opened.
const StationPath = "/station/"

// RenewStations ends the links of a class's phones: they are signed anew.
func (d UseCases) RenewStations(classID int64) error {
	if err := d.Need(actor.RunClasses); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error { return d.Workshop.RenewStations(classID) })
}
