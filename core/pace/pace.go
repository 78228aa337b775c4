// Package pace estimates how long things take: a stitch-out on a given
// machine, and each step of a project at bench and machine (handbook, Time).
package pace

import (
	"chalkstep/core/say"
	"chalkstep/core/stitch"
)

// Figures are the times a workshop plans by. They are starting points that a
// workshop changes as it learns its own.
type Figures struct {
	// Shares of a machine's top speed that are really reached.
	MixedPace float64 `json:"mixed_pace"`
	FillPace  float64 `json:"fill_pace"`
	SatinPace float64 `json:"satin_pace"`
	// SecondsPerTrim for a machine that trims; SecondsPerSnip for each thread
	// cut by hand.
	SecondsPerTrim float64 `json:"seconds_per_trim"`
	SecondsPerSnip float64 `json:"seconds_per_snip"`
	// LayMinutes to lay and tape an appliqué piece, TrimMinutes to trim it.
	LayMinutes  float64 `json:"lay_minutes"`
	TrimMinutes float64 `json:"trim_minutes"`
	// FirstTimer is what a first-timer's hand steps take of the practised time.
	FirstTimer float64 `json:"first_timer"`
	// Minutes of the steps off the machine, and of loading it.
	Mark      float64 `json:"mark"`
	Stabilise float64 `json:"stabilise"`
	HoopWoven float64 `json:"hoop_woven"`
	HoopKnit  float64 `json:"hoop_knit"`
	Load      float64 `json:"load"`
	Unhoop    float64 `json:"unhoop"`
	CleanUp   float64 `json:"clean_up"`
	Press     float64 `json:"press"`
	SignOff   float64 `json:"sign_off"`
}

// Defaults are the handbook's figures. Its 8 minutes to unhoop and clean up
// are split, because the hoop is free after the first two.
func Defaults() Figures {
	return Figures{
		MixedPace: 0.65, FillPace: 0.8, SatinPace: 0.5,
		SecondsPerTrim: 6, SecondsPerSnip: 10,
		LayMinutes: 3, TrimMinutes: 4,
		FirstTimer: 1.6,
		Mark:       5, Stabilise: 4, HoopWoven: 5, HoopKnit: 10, Load: 3, Unhoop: 2, CleanUp: 6, Press: 3, SignOff: 3,
	}
}

// A Machine is what its speed depends on.
type Machine struct {
	TopSpeedSPM   float64
	ChangeSeconds float64
	AutoTrim      bool
	// Pace is what was learned of this machine for mixed work, 0 while nothing was.
	Pace float64
}

// A Stop is what its minutes depend on.
type Stop struct {
	Stitches, Trims, Snips int
	Role                   stitch.Role
	// SameThread tells that the stop before it sews with the same thread, so
	// that nothing is changed.
	SameThread bool
}

// StopsOf takes the stops of an analysis with the thread colours chosen for
// them; stops beyond the colours have none.
func StopsOf(stops []stitch.Stop, colors []stitch.RGB) []Stop {
	out := make([]Stop, len(stops))
	for i, s := range stops {
		out[i] = Stop{Stitches: s.Stitches, Trims: s.Trims, Snips: s.Snips, Role: s.Role}
		out[i].SameThread = i > 0 && i < len(colors) && colors[i] == colors[i-1]
	}
	return out
}

// A StitchOut is one sewing of a design on one machine, in minutes.
type StitchOut struct {
	// Stops holds each stop's minutes with its trims, without its change.
	Stops []float64
	// Sewing is the stitching alone.
	Sewing float64
	// Changes counts the thread changes that are needed.
	Changes       int
	ChangeMinutes float64
	// Handling is laying and trimming pieces in the hoop.
	Handling float64
	Total    float64
	Working  []say.Text
}

// StitchOut estimates one sewing. hand is how much longer than practised the
// person takes over hand steps: 1 for practised, Figures.FirstTimer for a
// first-timer.
func (f Figures) StitchOut(m Machine, stops []Stop, hand float64) StitchOut {
	var out StitchOut
	sewing, cutting, stitches := 0.0, 0.0, 0
	for i, s := range stops {
		sew := float64(s.Stitches) / (m.TopSpeedSPM * f.pace(m, s.Role))
		cut := f.cutMinutes(m, s, hand)
		out.Stops = append(out.Stops, sew+cut)
		sewing, cutting, stitches = sewing+sew, cutting+cut, stitches+s.Stitches
		if i > 0 && !s.SameThread {
			out.Changes++
		}
		if s.Role == stitch.Placement {
			out.Handling += f.LayMinutes * hand
		}
		if s.Role == stitch.TackDown {
			out.Handling += f.TrimMinutes * hand
		}
	}
	out.ChangeMinutes = float64(out.Changes) * m.ChangeSeconds / 60 * hand
	out.Sewing = sewing
	out.Total = sewing + cutting + out.ChangeMinutes + out.Handling
	out.Working = []say.Text{
		say.T("%s at %s a minute and the pace of each stop: %s min", say.N{N: stitches, Noun: "stitch"}, whole(m.TopSpeedSPM), tenths(sewing)),
		say.T("trims and threads snipped by hand: %s min", tenths(cutting)),
		say.T("%s of %s s: %s min", say.N{N: out.Changes, Noun: "thread change"}, whole(m.ChangeSeconds*hand), tenths(out.ChangeMinutes)),
	}
	if out.Handling > 0 {
		out.Working = append(out.Working, say.T("laying and trimming pieces in the hoop: %s min", tenths(out.Handling)))
	}
	return out
}

func tenths(minutes float64) say.Decimal { return say.Decimal{Value: minutes, Places: 1} }

func whole(n float64) say.Decimal { return say.Decimal{Value: n} }

// pace is the share of top speed for what a stop sews, scaled by what was
// learned of the machine.
func (f Figures) pace(m Machine, role stitch.Role) float64 {
	share := f.MixedPace
	switch role {
	case stitch.Fill:
		share = f.FillPace
	case stitch.Satin, stitch.Cover:
		share = f.SatinPace
	}
	if m.Pace > 0 {
		share *= m.Pace / f.MixedPace
	}
	return min(1, share)
}

// cutMinutes is the time for a stop's threads to be cut: by the machine where
// it can, by hand where it cannot and for every untrimmed jump.
func (f Figures) cutMinutes(m Machine, s Stop, hand float64) float64 {
	byMachine, byHand := s.Trims, s.Snips
	if !m.AutoTrim {
		byMachine, byHand = 0, s.Trims+s.Snips
	}
	return (float64(byMachine)*f.SecondsPerTrim + float64(byHand)*f.SecondsPerSnip*hand) / 60
}
