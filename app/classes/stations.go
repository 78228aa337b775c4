package classes

import (
	"chalkstep/app/desk"
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
func (d Desk) Stations(classID int64) (classday.Class, []StationLink, error) {
	if err := d.Need(desk.RunClasses); err != nil {
		return classday.Class{}, nil, err
	}
	plan, _, err := d.classIn(classID)
	if err != nil {
		return classday.Class{}, nil, err
	}
	key, err := d.Shop.StationKey(classID)
	if err != nil {
		return classday.Class{}, nil, err
	}
	var links []StationLink
	for _, m := range plan.Class.Machines {
		links = append(links, StationLink{m.ID, m.Name, desk.Place{ClassID: classID, MachineID: m.ID}.Token(key)})
	}
	return plan.Class, append(links, StationLink{0, "The benches", desk.Place{ClassID: classID}.Token(key)}), nil
}

// StationCode draws the link of a machine's phone, from the address people use, as PNG.
func (d Desk) StationCode(classID, machineID int64, base string) ([]byte, error) {
	if err := d.Need(desk.RunClasses); err != nil {
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
	return nil, desk.NotFound("machine %d in class %d", machineID, classID)
}

// StationPath is where the phones of machines are opened.
const StationPath = "/station/"

// RenewStations ends the links of a class's phones: they are signed anew.
func (d Desk) RenewStations(classID int64) error {
	if err := d.Need(desk.RunClasses); err != nil {
		return err
	}
	return desk.OnceOnly(d, func(d Desk) error { return d.Shop.RenewStations(classID) })
}
