package classes

import (
	"fmt"
	"slices"
	"strconv"
	"time"

	"chalkstep/app"
	"chalkstep/core/floor"
	"chalkstep/core/pace"
	"chalkstep/store"
)

// A day is the picture of a plan: time runs to the right, one lane for each
// machine, student and pool.
type day struct {
	Width, Height       float64
	Hours               []tickMark
	Machines            []lane
	Students            []lane
	Pools               []lane
	StudentsY, PoolsY   float64
	Finish, Close       tickMark
	LaneLeft, LaneRight float64
	Bottom              float64
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

func newDay(page app.ClassPage, zone *time.Location) day {
	d := day{Width: dayWidth, LaneLeft: laneLeft, LaneRight: laneRight}
	if page.PlanProblem != "" {
		return d
	}
	window := page.Class.EndsAt.Sub(page.Class.StartsAt).Minutes()
	longest := max(window, page.Plan.MakespanMinutes)
	x := func(minute float64) float64 { return laneLeft + (laneRight-laneLeft)*minute/longest }
	step := 30.0
	if longest > 300 {
		step = 60
	}
	for m := 0.0; m <= longest; m += step {
		d.Hours = append(d.Hours, tickMark{x(m), page.At(m).In(zone).Format("15:04")})
	}
	y := topY + 8
	for _, seat := range page.Seats {
		if slices.ContainsFunc(page.Plan.Steps, func(s floor.Placed) bool { return s.Station == strconv.FormatInt(seat.Machine.ID, 10) }) || seat.Fits() {
			d.Machines = append(d.Machines, machineRow(page, seat, y, x))
			y += machineLane
		}
	}
	y += sectionSpace
	d.StudentsY = y
	for _, s := range page.Class.Students {
		if s.Attendance == store.Absent {
			continue
		}
		d.Students = append(d.Students, studentRow(page, strconv.FormatInt(s.StudentID, 10), s.Student.Name, y, x))
		y += studentLane
	}
	y += sectionSpace
	d.PoolsY = y
	for _, pool := range page.Pools() {
		d.Pools = append(d.Pools, poolRow(page, pool, y, x))
		y += poolLane
	}
	d.Bottom = y
	d.Height = y + 36
	d.Finish = tickMark{x(page.Plan.MakespanMinutes), page.Finish.In(zone).Format("15:04")}
	d.Close = tickMark{x(window), page.Class.EndsAt.In(zone).Format("15:04")}
	return d
}

// machineRow draws who sits at a machine, from loading to the last stitch.
func machineRow(page app.ClassPage, seat app.MachineFit, y float64, x func(float64) float64) lane {
	row := lane{Y: y, Name: seat.Machine.Name, Note: seat.Hoop.Hoop.Name}
	station := strconv.FormatInt(seat.Machine.ID, 10)
	var open *floor.Placed
	for _, s := range page.Plan.Steps {
		if s.Station != station {
			continue
		}
		if base, _ := pace.Base(s.Step); base == pace.StepLoad {
			open = &s
			continue
		}
		from := s.Start
		if open != nil && open.Person == s.Person {
			from = open.Start
		}
		name := page.StudentName(s.Person)
		b := bar{X: x(from), Y: y, Width: x(s.End) - x(from), Kind: "seat", Late: s.End > page.Class.EndsAt.Sub(page.Class.StartsAt).Minutes()}
		shares := page.StopShares(s)
		stops := len(shares)
		b.Title = fmt.Sprintf("%s at %s: %.0f minutes, %d stops", name, seat.Machine.Name, s.End-from, stops)
		b.Text = fitted(first(name), b.Width-12)
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
	slices.SortFunc(row.Bars, func(a, b bar) int { return int(a.X - b.X) })
	return row
}

// studentRow draws one student's day; what lies between the bars is waiting.
func studentRow(page app.ClassPage, person, name string, y float64, x func(float64) float64) lane {
	row := lane{Y: y, Name: fitted(name, laneLeft-12)}
	if row.Name == "" {
		row.Name = first(name)
	}
	end := 0.0
	for _, s := range page.StepsOf(person) {
		kind := "bench"
		if s.Station != "" {
			kind = "machine"
		}
		if s.Start > end+0.01 {
			row.Bars = append(row.Bars, bar{X: x(end), Y: y, Width: x(s.Start) - x(end), Kind: "wait", Title: fmt.Sprintf("%s waits %.0f minutes", name, s.Start-end)})
		}
		title := fmt.Sprintf("%s: %s, %.0f minutes", name, page.StepTitle(s.Step), s.End-s.Start)
		if s.Station != "" {
			title += ", at " + page.MachineName(s.Station)
		}
		row.Bars = append(row.Bars, bar{X: x(s.Start), Y: y, Width: x(s.End) - x(s.Start), Kind: kind, Title: title})
		end = s.End
	}
	return row
}

// poolRow draws when any and when all of a pool is in use.
func poolRow(page app.ClassPage, pool floor.Pool, y float64, x func(float64) float64) lane {
	row := lane{Y: y, Name: fitted(page.PoolName(pool.ID), laneLeft-34), Note: fmt.Sprintf("×%d", pool.Count)}
	var edges []float64
	uses := page.Uses(pool.ID)
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
		row.Bars = append(row.Bars, bar{X: x(edges[i]), Y: y, Width: x(edges[i+1]) - x(edges[i]), Kind: kind, Title: fmt.Sprintf("%s: %d of %d in use", page.PoolName(pool.ID), n, pool.Count)})
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

// Funcs are the words only this area's templates need.
var Funcs = map[string]any{
	"plus":   func(a, b float64) float64 { return a + b },
	"first":  first,
	"tenth":  func(f float64) float64 { return f / 10 },
	"third":  func(f float64) float64 { return f * 1.3 },
	"third3": func(f float64) float64 { return f * 0.35 },
	"round3": func(mm float64) string { return fmt.Sprintf("%.3f", mm/1000) },
	"kitVerb": func(state string) string {
		return map[string]string{"cut": "It is cut", "packed": "Pack it", "handed out": "Hand it out", "returned": "It is back"}[state]
	},
	"prepParts": func() []prepPart { return prepParts },
	"clip":      func(text string, width float64) string { return fitted(text, width) },
}
