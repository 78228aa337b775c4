package planning

import (
	"fmt"
	"slices"
	"time"

	"chalkstep/core/classday"
	"chalkstep/core/schedule/odds"
	"chalkstep/web/ui"
)

// A picture is of a plan: time runs to the right, one lane for each
// machine, student and pool.
type picture struct {
	Width, Height       float64
	Hours               []tickMark
	Machines            []lane
	Students            []lane
	Pools               []lane
	StudentsY, PoolsY   float64
	Finish, Close       tickMark
	FinishAnchor        string
	LaneLeft, LaneRight float64
	Bottom              float64
	// The band is when eight days of ten are done, none where it has no width.
	BandX, BandWidth, BandHeight float64
	// Breaks are when nobody works, Now the moment of looking where the class runs,
	// with nothing said where it does not.
	Breaks []bar
	Now    tickMark
	// These tell what of the legend there is.
	Together, Practised, IsOut, HasChain bool
	// StartsAt, MinuteX and PerMinute are for moving blocks: the moment of the minute
	// 0, where it lies, and how wide a minute is.
	StartsAt           string
	MinuteX, PerMinute float64
}

type tickMark struct {
	X    float64
	Text string
}

// A lane is a row of the picture; of a machine it has its ID.
type lane struct {
	Y          float64
	ID         int64
	Name, Note string
	Bars       []bar
}

// A bar is a stretch of time. Notches stand where a thread is changed.
type bar struct {
	X, Y, Width float64
	Text, Note  string
	// Short is written where Text has no room, upright where Upright says so.
	Short   string
	Upright bool
	Title   string
	Kind    string
	Notches []float64
	Late    bool
	// Critical tells that the class ends as late as it does because of it, Pinned that
	// somebody wished it there.
	Critical, Pinned bool
	// StudentID and Hooping name a sitting, which may be moved; 0 for other bars.
	StudentID int64
	Hooping   int
	// Minute of the class at which it begins.
	Minute float64
}

// Middle is where what is written upright stands.
func (b bar) Middle() float64 { return b.Width/2 + 4 }

// Measures of the picture, in its own units, which are pixels at full width.
const (
	dayWidth     = 744.0
	laneLeft     = 108.0
	laneRight    = 722.0
	topY         = 22.0
	machineLane  = 44.0
	studentLane  = 19.0
	poolLane     = 20.0
	sectionSpace = 8.0
	letterWidth  = 6.2
)

// A drawer draws the lanes of a plan.
type drawer struct {
	p    ui.P
	plan classday.Plan
	whys map[placedStep]classday.Why
	// x is where a minute of the class lies.
	x func(minute float64) float64
}

type placedStep struct{ person, step string }

func newPicture(p ui.P, plan classday.Plan, outlook odds.Outlook, now time.Time) picture {
	d := picture{Width: dayWidth, LaneLeft: laneLeft, LaneRight: laneRight}
	window := plan.Class.WindowMinutes()
	closing := float64(plan.Class.ClosingMinutes)
	longest := max(window, plan.Result.MakespanMinutes+closing, outlook.P90+closing)
	x := func(minute float64) float64 { return laneLeft + (laneRight-laneLeft)*minute/longest }
	w := drawer{p, plan, map[placedStep]classday.Why{}, x}
	for i, why := range plan.Whys() {
		w.whys[placedStep{plan.Result.Assignments[i].Job, plan.Result.Assignments[i].Operation}] = why
	}
	step := 30.0
	if longest > 300 {
		step = 60
	}
	for m := 0.0; m <= longest; m += step {
		d.Hours = append(d.Hours, tickMark{x(m), p.Clock(plan.At(m))})
	}
	y := d.lanes(w)
	d.Bottom = y
	d.Height = y + 36
	d.Finish = tickMark{x(plan.Result.MakespanMinutes + closing), p.Clock(plan.Finish())}
	d.Close = tickMark{x(window), p.Clock(plan.Class.EndsAt)}
	d.StartsAt, d.MinuteX, d.PerMinute = p.ClockField(plan.Class.StartsAt), x(0), (laneRight-laneLeft)/longest
	for _, span := range plan.Problem.Closed {
		d.Breaks = append(d.Breaks,
			bar{X: x(span.From), Width: x(span.To) - x(span.From),
				Title: fmt.Sprintf("Break, %s to %s", p.Clock(plan.At(span.From)), p.Clock(plan.At(span.To)))})
	}
	if minute := now.Sub(plan.Class.StartsAt).Minutes(); minute >= 0 && minute <= longest {
		d.Now = tickMark{x(minute), p.Clock(now)}
	}
	d.legend(plan)
	if outlook.Days > 0 {
		d.BandX, d.BandWidth, d.BandHeight = x(outlook.P10+closing), max(2, x(outlook.P90)-x(outlook.P10)), y-topY
	}
	d.FinishAnchor = "middle"
	if d.Finish.X > 600 {
		d.FinishAnchor = "end"
	}
	return d
}

// lanes draws a lane a machine, a student and a pool, from the top down, and gives where they end.
func (d *picture) lanes(w drawer) (y float64) {
	plan := w.plan
	y = topY + 8
	for _, m := range plan.Class.Machines {
		fits := slices.ContainsFunc(plan.Works, func(w classday.Work) bool { return w.Fits(m.ID) })
		if sits := plan.Sits(m.ID); fits || len(sits) > 0 || len(plan.Errands(m.ID)) > 0 {
			d.Machines = append(d.Machines, w.machineRow(m, sits, y))
			y += machineLane
		}
	}
	y += sectionSpace
	d.StudentsY = y
	for _, place := range plan.Class.Places {
		if place.Attendance == classday.Absent {
			continue
		}
		d.Students = append(d.Students, w.studentRow(place, y))
		y += studentLane
	}
	y += sectionSpace
	d.PoolsY = y
	for _, pool := range plan.Problem.Resources {
		d.Pools = append(d.Pools, w.poolRow(pool, y))
		y += poolLane
	}
	return y
}

// legend tells what of the signs there is on the picture.
func (d *picture) legend(plan classday.Plan) {
	d.Together = plan.Class.OpeningMinutes+plan.Class.ClosingMinutes > 0
	for _, row := range append(slices.Clone(d.Machines), d.Students...) {
		for _, b := range row.Bars {
			d.Practised = d.Practised || b.Kind == "practice"
			d.IsOut = d.IsOut || b.Kind == "out"
			d.HasChain = d.HasChain || b.Critical
		}
	}
}
