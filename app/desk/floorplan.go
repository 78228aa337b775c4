package desk

import (
	"chalkstep/core/fleet"
	"chalkstep/core/policy"
	"chalkstep/core/stock"
)

// Floorplan is what the workshop plans with: its rules, with what was learned
// from logged stitch-outs, and its machines.
func (d Desk) Floorplan() (policy.Rules, []fleet.Machine, error) {
	settings, err := d.Settings()
	if err != nil {
		return policy.Rules{}, nil, err
	}
	machines, err := d.Shop.Machines()
	return fleet.Learn(machines, settings.Rules), machines, err
}

// Items are what lies on the shelf.
func (d Desk) Items() ([]stock.Item, error) { return d.Shop.Stock() }
