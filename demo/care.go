package demo

import (
	"chalkstep/core/care"
	"chalkstep/core/room"
)

// addCare says what the machines can, what was done to each, and measures one hoop: the
// service of Lantern is due.
func (l *loader) addCare() error {
	machines, err := l.shop.Machines()
	if err != nil {
		return err
	}
	can := map[string][]room.Feature{
		"Heron":   {room.Traces, room.StepsBack, room.SkipsStops, room.Monochrome, room.Light, room.ThreadSensor, room.BobbinSensor},
		"Kettle":  {room.Traces, room.StepsBack},
		"Lantern": {room.StepsBack, room.Calibrates},
		"Pigeon":  {room.Traces, room.StepsBack, room.SkipsStops, room.ThreadSensor},
		"Wharf":   {room.Traces, room.StepsBack, room.SkipsStops, room.Monochrome, room.Projector, room.ThreadSensor, room.BobbinSensor},
	}
	serviced := map[string]int{"Heron": 120, "Kettle": 90, "Lantern": 400, "Pigeon": 200, "Wharf": 30}
	for _, m := range machines {
		m.Features = can[m.Name]
		if _, err := l.shop.SaveMachine(m); err != nil {
			return err
		}
		for kind, daysAgo := range map[care.Kind]int{care.Service: serviced[m.Name], care.Needle: 16, care.Lint: 16} {
			if err := l.shop.CareFor(m.ID, care.Done{Kind: kind, At: l.now.AddDate(0, 0, -daysAgo)}, l.assessor); err != nil {
				return err
			}
		}
		if m.Name == "Heron" {
			if err := l.shop.MeasureHoop(m.ID, m.Version+1, m.Hoops[0], l.now.AddDate(0, 0, -60)); err != nil {
				return err
			}
		}
	}
	return nil
}
