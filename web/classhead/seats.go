package classhead

import (
	"chalkstep/core/classday"
	"chalkstep/web/ui"
)

// A Seat is a machine of the class with its hoop.
type Seat struct {
	ID                          int64
	Name, Hoop, Convert, Format string
	Problem                     string
	Turned, HasFile             bool
}

func Seats(p ui.P, plan classday.Plan) []Seat {
	var seats []Seat
	if len(plan.Works) == 0 || len(plan.Works[0].Sewing) == 0 {
		return nil
	}
	for _, s := range plan.Works[0].Sewing[0].Seats {
		v := Seat{ID: s.Machine.ID, Name: s.Machine.Name, HasFile: s.HasFile, Format: s.Format(), Convert: s.ConvertTo,
			Turned: s.Fit.Turn != 0}
		if s.Fits() {
			v.Hoop = s.Hoop.Name
		} else {
			v.Problem = p.Say(s.Problem)
		}
		seats = append(seats, v)
	}
	return seats
}
