package desk

import (
	"chalkstep/core/house"
	"chalkstep/core/kit"
	"chalkstep/core/pace"
	"chalkstep/core/room"
	"chalkstep/core/shelf"
	"chalkstep/store"
)

// Floorplan is what the workshop plans with: its rules, with what was learned
// from logged stitch-outs, and its machines.
func (d Desk) Floorplan() (house.Rules, []room.Machine, error) {
	settings, err := d.Settings()
	if err != nil {
		return house.Rules{}, nil, err
	}
	rows, err := d.Shop.Machines()
	learn(&settings.Figures, rows)
	machines := make([]room.Machine, len(rows))
	for i, row := range rows {
		machines[i] = row.Value()
	}
	return settings.Rules(), machines, err
}

// learn puts what logged stitch-outs tell into what is planned with: each
// machine's pace, and the thread that a length on the face draws.
func learn(figures *store.Figures, machines []store.Machine) {
	var thread kit.Drawn
	for i := range machines {
		m := &machines[i]
		m.Pace = figures.Pace.Learned(pace.Runs{Count: m.Learned.Runs, TookMinutes: m.Learned.SewnMinutes, SaidMinutes: m.Learned.SaidMinutes})
		thread.RealMM += m.Learned.DrawnMM
		thread.PathMM += m.Learned.PathMM
		thread.Ends += m.Learned.Ends
	}
	figures.Kit.DrawFactor = figures.Kit.LearnedDraw(thread)
}

// Items are what lies on the shelf.
func (d Desk) Items() ([]shelf.Item, error) {
	rows, err := d.Shop.Stock()
	items := make([]shelf.Item, len(rows))
	for i, row := range rows {
		items[i] = row.Value()
	}
	return items, err
}
