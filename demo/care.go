package demo

import (
	"chalkstep/core/fleet"
	"chalkstep/core/fleet/care"
)

// addCare says what the machines can, what was done to each, and measures one hoop: the
// service of Lantern is due.
func (l *loader) addCare() error {
	machines, err := l.shop.Machines()
	if err != nil {
		return err
	}
	can := map[string][]fleet.Feature{
		"Heron": {fleet.Traces, fleet.StepsBack, fleet.SkipsStops, fleet.Monochrome, fleet.Light, fleet.ThreadSensor,
			fleet.BobbinSensor},
		"Kettle":  {fleet.Traces, fleet.StepsBack},
		"Lantern": {fleet.StepsBack, fleet.Calibrates},
		"Pigeon":  {fleet.Traces, fleet.StepsBack, fleet.SkipsStops, fleet.ThreadSensor},
		"Wharf": {fleet.Traces, fleet.StepsBack, fleet.SkipsStops, fleet.Monochrome, fleet.Projector, fleet.ThreadSensor,
			fleet.BobbinSensor},
	}
	serviced := map[string]int{"Heron": 120, "Kettle": 90, "Lantern": 400, "Pigeon": 200, "Wharf": 30}
	for _, m := range machines {
		m.Features = can[m.Name]
		if _, err := l.shop.SaveMachine(m); err != nil {
			return err
		}
		for _, done := range []care.Done{{Kind: care.Service, At: l.now.AddDate(0, 0, -serviced[m.Name])},
			{Kind: care.Lint, At: l.now.AddDate(0, 0, -16)}, {Kind: care.Needle, At: l.now.AddDate(0, 0, -16)}} {
			if err := l.shop.CareFor(m.ID, done, l.assessor); err != nil {
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
