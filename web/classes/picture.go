package classes

import (
	"fmt"
	"slices"

	"chalkstep/core/day"
	"chalkstep/core/floor"
	"chalkstep/core/pace"
	"chalkstep/core/room"
	"chalkstep/core/say"
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
	// Together tells that some of the day is done by all.
	Together bool
}

type tickMark struct {
	X    float64
	Text string
}

// A lane is a row of the picture.
type lane struct {
	Y          float64
	Name, Note string
	Bars       []bar
}

// A bar is a stretch of time. Notches stand where a thread is changed.
type bar struct {
	X, Y, Width float64
	Text, Note  string
	Title       string
	Kind        string
	Notches     []float64
	Late        bool
}

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

func newPicture(p ui.P, plan day.Plan, outlook floor.Outlook) picture {
	d := picture{Width: dayWidth, LaneLeft: laneLeft, LaneRight: laneRight}
	window := plan.Class.WindowMinutes()
	closing := float64(plan.Class.ClosingMinutes)
	longest := max(window, plan.Result.MakespanMinutes+closing, outlook.P90+closing)
	x := func(minute float64) float64 { return laneLeft + (laneRight-laneLeft)*minute/longest }
	step := 30.0
	if longest > 300 {
		step = 60
	}
	for m := 0.0; m <= longest; m += step {
		d.Hours = append(d.Hours, tickMark{x(m), p.Clock(plan.At(m))})
	}
	y := topY + 8
	for _, m := range plan.Class.Machines {
		fits := slices.ContainsFunc(plan.Works, func(w day.Work) bool { return w.Fits(m.ID) })
		if sits := plan.Sits(m.ID); fits || len(sits) > 0 || len(plan.Errands(m.ID)) > 0 {
			d.Machines = append(d.Machines, machineRow(plan, m, sits, y, x))
			y += machineLane
		}
	}
	y += sectionSpace
	d.StudentsY = y
	for _, place := range plan.Class.Places {
		if place.Attendance == day.Absent {
			continue
		}
		d.Students = append(d.Students, studentRow(p, plan, place, y, x))
		y += studentLane
	}
	y += sectionSpace
	d.PoolsY = y
	for _, pool := range plan.Problem.Pools {
		d.Pools = append(d.Pools, poolRow(p, plan, pool, y, x))
		y += poolLane
	}
	d.Bottom = y
	d.Height = y + 36
	d.Finish = tickMark{x(plan.Result.MakespanMinutes + closing), p.Clock(plan.Finish())}
	d.Close = tickMark{x(window), p.Clock(plan.Class.EndsAt)}
	d.Together = plan.Class.OpeningMinutes+plan.Class.ClosingMinutes > 0
	if outlook.Days > 0 {
		d.BandX, d.BandWidth, d.BandHeight = x(outlook.P10+closing), max(2, x(outlook.P90)-x(outlook.P10)), y-topY
	}
	d.FinishAnchor = "middle"
	if d.Finish.X > 600 {
		d.FinishAnchor = "end"
	}
	return d
}

// machineRow draws who sits at a machine, from loading to the last stitch.
func machineRow(plan day.Plan, m room.Machine, sits []day.Sit, y float64, x func(float64) float64) lane {
	row := lane{Y: y, Name: m.Name}
	for _, w := range plan.Works {
		if seat, ok := w.SeatAt(m.ID, 1); ok && seat.Fits() && row.Note == "" {
			row.Note = fitted(seat.Hoop.Name, laneLeft-10)
		}
	}
	for _, s := range sits {
		from := s.Start
		for _, before := range plan.StepsOf(s.Person) {
			key := pace.StepKey(before.Step)
			if key.Is(pace.StepLoad) && key.Hooping() == s.Hooping && before.Station == s.Station {
				from = before.Start
			}
		}
		b := bar{X: x(from), Y: y, Width: x(s.End) - x(from), Kind: "seat", Late: s.End > plan.Class.WorkMinutes()}
		shares := plan.StopShares(s.Placed)
		stops := len(shares)
		b.Title = fmt.Sprintf("%s at %s: %.0f minutes, %d stops", s.Place.Name, m.Name, s.End-from, stops)
		b.Text = fitted(first(s.Place.Name), b.Width-12)
		for _, note := range []string{fmt.Sprintf("%d stops · %.0f min", stops, s.End-from), fmt.Sprintf("%.0f min", s.End-from)} {
			if fitted(note, b.Width-10) == note {
				b.Note = note
				break
			}
		}
		at := x(s.Start)
		for _, share := range shares[:max(0, stops-1)] {
			at += (x(s.End) - x(s.Start)) * share
			b.Notches = append(b.Notches, at)
		}
		row.Bars = append(row.Bars, b)
	}
	for _, e := range plan.Errands(m.ID) {
		w, place, _ := plan.Maker(e.Person)
		step, _ := w.Step(e.Step)
		b := bar{X: x(e.Start), Y: y, Width: x(e.End) - x(e.Start), Kind: "seat", Late: e.End > plan.Class.WorkMinutes(), Title: fmt.Sprintf("%s at %s: %s, %.0f minutes", place.Name, m.Name, say.Plain.Say(step.Title), e.End-e.Start)}
		b.Text = fitted(first(place.Name), b.Width-12)
		row.Bars = append(row.Bars, b)
	}
	return row
}

// studentRow draws one student's day; what lies between the bars is waiting.
func studentRow(p ui.P, plan day.Plan, place day.Place, y float64, x func(float64) float64) lane {
	row := lane{Y: y, Name: fitted(place.Name, laneLeft-12)}
	if row.Name == "" {
		row.Name = first(place.Name)
	}
	w, _, _ := plan.Maker(day.PersonID(place.ID))
	end := 0.0
	if opening := float64(plan.Class.OpeningMinutes); opening > 0 && place.LateMinutes == 0 {
		row.Bars = append(row.Bars, bar{X: x(0), Y: y, Width: x(opening) - x(0), Kind: "together", Title: fmt.Sprintf("%s: together, welcome, safety and demonstration, %.0f minutes", place.Name, opening)})
		end = opening
	}
	for _, s := range plan.StepsOf(day.PersonID(place.ID)) {
		kind := "bench-bar"
		if s.Station != "" {
			kind = "machine"
		}
		if s.Start > end+0.01 {
			row.Bars = append(row.Bars, bar{X: x(end), Y: y, Width: x(s.Start) - x(end), Kind: "wait", Title: fmt.Sprintf("%s waits %.0f minutes", place.Name, s.Start-end)})
		}
		step, _ := w.Step(s.Step)
		title := fmt.Sprintf("%s: %s, %.0f minutes", place.Name, p.Say(step.Title), s.End-s.Start)
		if m, ok := plan.Machine(s.Station); ok {
			title += ", at " + m.Name
		}
		row.Bars = append(row.Bars, bar{X: x(s.Start), Y: y, Width: x(s.End) - x(s.Start), Kind: kind, Title: title})
		end = s.End
	}
	if closing := float64(plan.Class.ClosingMinutes); closing > 0 {
		from := plan.Result.MakespanMinutes
		row.Bars = append(row.Bars, bar{X: x(from), Y: y, Width: x(from+closing) - x(from), Kind: "together", Title: fmt.Sprintf("%s: together, tidying up, %.0f minutes", place.Name, closing)})
	}
	return row
}

// poolRow draws when any and when all of a pool is in use.
func poolRow(p ui.P, plan day.Plan, pool floor.Pool, y float64, x func(float64) float64) lane {
	name := p.Say(plan.PoolName(pool.ID))
	row := lane{Y: y, Name: fitted(name, laneLeft-34), Note: fmt.Sprintf("×%d", pool.Count)}
	var edges []float64
	uses := plan.Uses(pool.ID)
	for _, u := range uses {
		edges = append(edges, u.Start, u.End)
	}
	slices.Sort(edges)
	edges = slices.Compact(edges)
	for i := 0; i+1 < len(edges); i++ {
		n := 0
		for _, u := range uses {
			if u.Start < edges[i]+0.001 && u.End > edges[i]+0.001 {
				n++
			}
		}
		if n == 0 {
			continue
		}
		kind := "some"
		if n >= pool.Count {
			kind = "all"
		}
		row.Bars = append(row.Bars, bar{X: x(edges[i]), Y: y, Width: x(edges[i+1]) - x(edges[i]), Kind: kind, Title: fmt.Sprintf("%s: %d of %d in use", name, n, pool.Count)})
	}
	return row
}

// first is a person's first name.
func first(name string) string {
	for i, r := range name {
		if r == ' ' {
			return name[:i]
		}
	}
	return name
}

// fitted is a text if it fits a width, or what of it does with a mark; ""
// when nothing sensible does.
func fitted(text string, width float64) string {
	runes := []rune(text)
	room := int(width / letterWidth)
	switch {
	case len(runes) <= room:
		return text
	case room < 4:
		return ""
	}
	return string(runes[:room-1]) + "…"
}
