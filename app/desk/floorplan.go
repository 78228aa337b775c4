package desk

import (
	"chalkstep/core/house"
	"chalkstep/core/room"
	"chalkstep/core/shelf"
)

// Floorplan is what the workshop plans with: its rules, with what was learned
// from logged stitch-outs, and its machines.
func (d Desk) Floorplan() (house.Rules, []room.Machine, error) {
	settings, err := d.Settings()
	if err != nil {
		return house.Rules{}, nil, err
	}
	machines, err := d.Shop.Machines()
	return room.Learn(machines, settings.Rules), machines, err
}

// Items are what lies on the shelf.
func (d Desk) Items() ([]shelf.Item, error) { return d.Shop.Stock() }
