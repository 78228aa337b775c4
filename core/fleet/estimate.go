package fleet

import (
	"cmp"
	"slices"

	"chalkstep/core/design"
	"chalkstep/core/pace"
	"chalkstep/core/policy"
	"chalkstep/core/say"
)

// Typical stands in where no machine of the room can sew a design.
var Typical = pace.Machine{TopSpeedSPM: 700, ChangeSeconds: 60, AutoTrim: true}

// An Estimate is what sewing a design in a room comes to.
type Estimate struct {
	Design design.Design
	// Seats are how each machine takes it; Fit counts those that can.
	Seats []Seat
	Fit   int
	// Minutes are of the middle of the machines that can sew it, of which By
	// says which that is; StitchOut is its working.
	Minutes   float64
	By        say.Text
	StitchOut pace.StitchOut
	// Stops in order, with thread in millimetres.
	Stops           []StopEstimate
	TopMM, BobbinMM float64
	// Snips are threads to snip by hand, whatever the machine trims.
	Snips int
}

// A StopEstimate is what one stop comes to.
type StopEstimate struct {
	design.Stop
	TopMM, BobbinMM float64
	Minutes         float64
	// SameThread tells that the stop before it sews with the same thread.
	SameThread bool
}

// EstimateOf works out what sewing a design in a room comes to.
func EstimateOf(d design.Design, machines []Machine, garment bool, rules policy.Rules) Estimate {
	e := Estimate{Design: d}
	var fitting []Seat
	for _, m := range machines {
		s := SeatAt(m, d, garment, rules)
		e.Seats = append(e.Seats, s)
		if s.Fits() {
			fitting = append(fitting, s)
		}
	}
	e.Fit = len(fitting)
	if len(fitting) == 0 {
		e.StitchOut, e.By = rules.Timing().StitchOut(Typical, d.Pacing(), 1),
			say.T("a home machine of %s stitches a minute", say.Count(Typical.TopSpeedSPM))
	} else {
		slices.SortStableFunc(fitting, func(a, b Seat) int { return cmp.Compare(a.StitchOut.Total, b.StitchOut.Total) })
		middle := fitting[len(fitting)/2]
		e.StitchOut, e.By = middle.StitchOut, say.T("the middle of the machines it fits, %s", middle.Machine.Name)
	}
	e.Minutes = e.StitchOut.Total
	pacing := d.Pacing()
	for i, s := range d.Stops {
		stop := StopEstimate{Stop: s, TopMM: rules.Kit.TopThreadMM(s.Stop), Minutes: e.StitchOut.Stops[i],
			SameThread: pacing[i].SameThread}
		stop.BobbinMM = stop.TopMM * rules.Kit.BobbinShare
		e.TopMM += stop.TopMM
		e.Snips += s.Snips
		e.Stops = append(e.Stops, stop)
	}
	e.BobbinMM = e.TopMM * rules.Kit.BobbinShare
	return e
}

// Hands adds minutes of laying and trimming the layers of a project.
func (e *Estimate) Hands(minutes float64) {
	if minutes == 0 {
		return
	}
	e.Minutes += minutes
	e.StitchOut.Total += minutes
	e.StitchOut.Handling += minutes
	e.StitchOut.Working = append(e.StitchOut.Working,
		say.T("laying and trimming the layers: %s min", say.Decimal{Value: minutes, Places: 1}))
}
