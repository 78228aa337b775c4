package actor

import (
	"chalkstep/core/fleet"
	"chalkstep/core/policy"
	"chalkstep/core/stock"
)

// Floorplan is what the workshop plans with: its rules, with what was learned
// from logged stitch-outs, and its machines.
func (d Actor) Floorplan() (policy.Rules, []fleet.Machine, error) {
	settings, err := d.Settings()
	if err != nil {
		return policy.Rules{}, nil, err
	}
	machines, err := d.Workshop.Machines()
	return fleet.Learn(machines, settings.Rules), machines, err
}

// Items are what lies on the shelf.
func (d Actor) Items() ([]stock.Item, error) { return d.Workshop.Stock() }
