// Package pace estimates how long things take: a stitch-out on a given
// machine, and each step of a project at bench and machine (handbook, Time).
package pace

import (
	"maps"
	"slices"
	"strings"

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
	// FirstTimer is what a first-timer's hand steps take of the practised time,
	// FirstTimerChange what their thread changes take.
	FirstTimer       float64 `json:"first_timer"`
	FirstTimerChange float64 `json:"first_timer_change"`
	// RethreadSeconds is a thread changed by hand on a machine that changes
	// between its needles by itself.
	RethreadSeconds float64 `json:"rethread_seconds"`
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
	// How minutes vary from day to day, as standard deviations by what they are; how
	// often a thread breaks, and how long that takes: for the odds of a day.
	BenchSpread    float64 `json:"bench_spread"`
	SewSpread      float64 `json:"sew_spread"`
	BreaksPer10000 float64 `json:"breaks_per_10000"`
	BreakMinutes   float64 `json:"break_minutes"`

	// CutterOff and SpeedShare are of one project, by its techniques: threads are
	// snipped by hand, and only a share of the usual pace is reached.
	CutterOff  bool    `json:"-"`
	SpeedShare float64 `json:"-"`
}

// Defaults are the handbook's figures. Its 8 minutes to unhoop and clean up
// are split, because the hoop is free after the first two.
func Defaults() Figures {
	return Figures{
		MixedPace: 0.65, FillPace: 0.8, SatinPace: 0.5,
		SecondsPerTrim: 6, SecondsPerSnip: 10,
		LayMinutes: 3, TrimMinutes: 4,
		FirstTimer: 1.6, FirstTimerChange: 2, RethreadSeconds: 60,
		Mark: 5, Stabilise: 4, HoopWoven: 5, HoopKnit: 10, Load: 3, Unhoop: 2, CleanUp: 6, Press: 3, SignOff: 3,
		BenchSpread: 0.25, SewSpread: 0.12, BreaksPer10000: 0.5, BreakMinutes: 6, // figures of ours
	}
}

// A Machine is what its speed depends on.
type Machine struct {
	TopSpeedSPM float64
	// ChangeSeconds is a thread change: by hand with one needle, by the machine
	// itself with several, as long as each thread has a needle.
	ChangeSeconds float64
	Needles       int
	AutoTrim      bool
	// Pace is what was learned of this machine for mixed work, 0 while nothing was.
	Pace float64
}

// A Stop is what its minutes depend on.
type Stop struct {
	Stitches, Trims, Snips int
	Role                   stitch.Role
	// Pieces are laid after a placement, and trimmed after a tack-down.
	Pieces int
	// Lays and Trimmed are layers of a project that are laid before the stop, and
	// those of them that are trimmed once it is sewn.
	Lays, Trimmed int
	// Thread tells threads apart.
	Thread stitch.RGB
	// SameThread tells that the stop before it sews with the same thread, so
	// that nothing is changed.
	SameThread bool
}

// StopsOf takes the stops of an analysis with the thread colours chosen for
// them; stops beyond the colours have none.
func StopsOf(stops []stitch.Stop, colors []stitch.RGB) []Stop {
	out := make([]Stop, len(stops))
	for i, s := range stops {
		out[i] = Stop{Stitches: s.Stitches, Trims: s.Trims, Snips: s.Snips, Role: s.Role, Pieces: s.Pieces}
		if i < len(colors) {
			out[i].Thread = colors[i]
			out[i].SameThread = i > 0 && colors[i] == colors[i-1]
		}
	}
	return out
}

// A StitchOut is one sewing of a design on one machine, in minutes.
type StitchOut struct {
	// Stops holds each stop's minutes with its trims, without its change.
	Stops []float64
	// Sewing is the stitching alone.
	Sewing float64
	// Changes counts the thread changes that are needed, Rethreads those of them
	// that are by hand on a machine of several needles.
	Changes, Rethreads int
	ChangeMinutes      float64
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
		if f.SpeedShare > 0 {
			sew /= f.SpeedShare
		}
		cut := f.cutMinutes(m, s, hand)
		out.Stops = append(out.Stops, sew+cut)
		sewing, cutting, stitches = sewing+sew, cutting+cut, stitches+s.Stitches
		if i > 0 && !s.SameThread {
			out.Changes++
		}
		out.Handling += (f.LayMinutes*float64(s.Lays) + f.TrimMinutes*float64(s.Trimmed)) * hand
		pieces := float64(max(1, s.Pieces))
		switch s.Role {
		case stitch.Placement:
			out.Handling += f.LayMinutes * pieces * hand
		case stitch.TackDown:
			out.Handling += f.TrimMinutes * pieces * hand
		}
	}
	byHand := f.changeFactor(hand)
	out.ChangeMinutes = float64(out.Changes) * m.ChangeSeconds / 60 * byHand
	changes := say.T("%s of %s s: %s min", say.N{N: out.Changes, Noun: "thread change"}, whole(m.ChangeSeconds*byHand),
		tenths(out.ChangeMinutes))
	if m.Needles > 1 {
		out.Rethreads = min(out.Changes, rethreads(stops, m.Needles))
		itself := out.Changes - out.Rethreads
		out.ChangeMinutes = (float64(itself)*m.ChangeSeconds + float64(out.Rethreads)*f.RethreadSeconds*byHand) / 60
		changes = say.T("%s of %s s by the machine: %s min", say.N{N: out.Changes, Noun: "thread change"},
			whole(m.ChangeSeconds), tenths(out.ChangeMinutes))
		if out.Rethreads > 0 {
			changes = say.T("%s of %s s by the machine, and %s that finds no needle free, %s s by hand: %s min",
				say.N{N: itself, Noun: "thread change"}, whole(m.ChangeSeconds),
				say.N{N: out.Rethreads, Noun: "thread"}, whole(f.RethreadSeconds*byHand), tenths(out.ChangeMinutes))
		}
	}
	out.Sewing = sewing
	out.Total = sewing + cutting + out.ChangeMinutes + out.Handling
	out.Working = []say.Text{
		say.T("%s at %s a minute and the pace of each stop: %s min", say.N{N: stitches, Noun: "stitch"}, whole(m.TopSpeedSPM),
			tenths(sewing)),
		say.T("trims and threads snipped by hand: %s min", tenths(cutting)),
		changes,
	}
	if out.Handling > 0 {
		out.Working = append(out.Working, say.T("laying and trimming in the hoop: %s min", tenths(out.Handling)))
	}
	return out
}

// changeFactor is how much longer than practised somebody takes over a thread
// change, by how much longer they take over hand steps: threading is what
// first-timers are slowest at (handbook, Time).
func (f Figures) changeFactor(hand float64) float64 {
	if f.FirstTimer <= 1 {
		return hand
	}
	return 1 + (hand-1)/(f.FirstTimer-1)*(f.FirstTimerChange-1)
}

// rethreads counts how often a machine has to be threaded by hand in the
// middle: its first threads are on the needles at the start, and the thread
// that is wanted last, or never, makes room for another.
func rethreads(stops []Stop, needles int) int {
	on := map[stitch.RGB]bool{}
	times := 0
	for i, s := range stops {
		if on[s.Thread] {
			continue
		}
		if len(on) == needles {
			times++
			delete(on, wantedLast(on, stops[i:]))
		}
		on[s.Thread] = true
	}
	return times
}

// wantedLast is the thread on a needle that the stops to come want latest.
func wantedLast(on map[stitch.RGB]bool, stops []Stop) stitch.RGB {
	var last stitch.RGB
	latest := -1
	for _, thread := range slices.SortedFunc(maps.Keys(on), func(a, b stitch.RGB) int {
		return strings.Compare(a.String(), b.String())
	}) {
		at := slices.IndexFunc(stops, func(s Stop) bool { return s.Thread == thread })
		if at < 0 {
			return thread
		}
		if at > latest {
			last, latest = thread, at
		}
	}
	return last
}

// Laying is what laying and trimming a project's layers takes.
func (f Figures) Laying(stops []Stop) float64 {
	minutes := 0.0
	for _, s := range stops {
		minutes += f.LayMinutes*float64(s.Lays) + f.TrimMinutes*float64(s.Trimmed)
	}
	return minutes
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
	if !m.AutoTrim || f.CutterOff {
		byMachine, byHand = 0, s.Trims+s.Snips
	}
	return (float64(byMachine)*f.SecondsPerTrim + float64(byHand)*f.SecondsPerSnip*hand) / 60
}
