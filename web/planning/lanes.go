package planning

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"chalkstep/core/classday"
	"chalkstep/core/fleet"
	"chalkstep/core/pace"
	"chalkstep/core/schedule"
)

// why is what a step of the plan waits for, and whether the class is as long as it is
// because of it.
func (w drawer) why(person, step string) (text string, critical bool) {
	why := w.whys[placedStep{person, step}]
	return w.p.Say(why.Text), why.Critical
}

// from says from when to when something is, and for how long.
func (w drawer) from(start, end float64) string {
	return fmt.Sprintf("%s to %s, %.0f minutes", w.p.Clock(w.plan.At(start)), w.p.Clock(w.plan.At(end)), end-start)
}

// machineRow draws who sits at a machine, from loading to the last stitch.
func (w drawer) machineRow(m fleet.Machine, sits []classday.Sit, y float64) lane {
	plan, x := w.plan, w.x
	row := lane{Y: y, Name: m.Name, ID: m.ID}
	for _, work := range plan.Works {
		if seat, ok := work.SeatAt(m.ID, 1); ok && seat.Fits() && row.Note == "" {
			row.Note = fitted(seat.Hoop.Name, laneLeft-10)
		}
	}
	row.Bars = w.outages(m, y)
	for _, s := range sits {
		row.Bars = append(row.Bars, w.sitting(m, s, y))
	}
	for _, e := range plan.Errands(m.ID) {
		work, place, _ := plan.Maker(e.Job)
		step, _ := work.Step(e.Operation)
		because, critical := w.why(e.Job, e.Operation)
		b := bar{X: x(e.Start), Y: y, Width: x(e.End) - x(e.Start), Kind: "seat", Late: e.End > plan.Class.WorkMinutes(),
			Critical: critical, Minute: e.Start,
			Title: fmt.Sprintf("%s at %s: %s, %s. %s", place.Name, m.Name, w.p.Say(step.Title), w.from(e.Start, e.End), because)}
		b.write(plan.Class.Called(place.Name))
		row.Bars = append(row.Bars, b)
	}
	return row
}

// outages are when a machine cannot be used.
func (w drawer) outages(m fleet.Machine, y float64) []bar {
	var bars []bar
	for _, station := range w.plan.Problem.Machines {
		if station.ID != classday.StationID(m.ID) {
			continue
		}
		for _, span := range station.Unavailable {
			if to := min(span.To, w.plan.Class.WindowMinutes()); to > span.From {
				bars = append(bars, bar{X: w.x(span.From), Y: y, Width: w.x(to) - w.x(span.From), Kind: "out",
					Title: fmt.Sprintf("%s is out of order: %s", m.Name, w.from(span.From, to))})
			}
		}
	}
	return bars
}

// sitting is somebody at a machine from loading to the last stop, with a notch for every change of thread.
func (w drawer) sitting(m fleet.Machine, s classday.Sit, y float64) bar {
	plan, x := w.plan, w.x
	from, first, part := s.Start, s.Assignment, pace.StepKey(s.Operation).PartN()
	for _, before := range plan.StepsOf(s.Job) {
		key := pace.StepKey(before.Operation)
		if part == 1 && key.Is(pace.StepLoad) && key.Hooping() == s.Hooping && before.Machine == s.Machine {
			from, first = before.Start, before
		}
	}
	b := bar{X: x(from), Y: y, Width: x(s.End) - x(from), Kind: "seat", Late: s.End > plan.Class.WorkMinutes(),
		StudentID: s.Place.ID, Hooping: s.Hooping, Minute: from}
	if part > 1 {
		b.StudentID = 0 // it goes where the first part does
	}
	shares := plan.StopShares(s.Assignment)
	stops := len(shares)
	because, waits := w.why(first.Job, first.Operation)
	_, sews := w.why(s.Job, s.Operation)
	_, b.Pinned = s.Place.PinOf(s.Hooping)
	b.Critical = waits || sews
	b.Title = fmt.Sprintf("%s at %s in the %s hoop: %s, %d stops. %s", s.Place.Name, m.Name,
		strings.ToLower(s.Seat.Hoop.Name), w.from(from, s.End), stops, because)
	b.write(plan.Class.Called(s.Place.Name))
	for _, note := range []string{fmt.Sprintf("%d stops · %.0f min", stops, s.End-from),
		fmt.Sprintf("%.0f min", s.End-from)} {
		if fitted(note, b.Width-10) == note && b.Text != "" {
			b.Note = note
			break
		}
	}
	at := x(s.Start)
	for _, share := range shares[:max(0, stops-1)] {
		at += (x(s.End) - x(s.Start)) * share
		b.Notches = append(b.Notches, at)
	}
	return b
}

// Widths at which a name is written upright, or as its first letters.
const (
	uprightWidth  = 11.0
	initialsWidth = 24.0
)

// write puts what somebody is called into a bar, as much of it as there is room for.
func (b *bar) write(name string) {
	if text := fitted(name, b.Width-12); text == name {
		b.Text = text
		return
	}
	switch letters := []rune(name); {
	case b.Width >= initialsWidth:
		b.Short = string(letters[:min(2, len(letters))])
		if at := strings.LastIndexByte(name, ' '); at > 0 { // who is told apart by more than the first name
			b.Short = string(letters[:1]) + string([]rune(name[at+1:])[:1])
		}
	case b.Width >= uprightWidth:
		b.Short, b.Upright = string(letters[:min(5, len(letters))]), true
	}
}

// studentRow draws one student's day; what lies between the bars is waiting, and what
// fills it.
func (w drawer) studentRow(place classday.Place, y float64) lane {
	plan, x := w.plan, w.x
	row := lane{Y: y, Name: fitted(place.Name, laneLeft-12)}
	if row.Name == "" {
		row.Name = plan.Class.Called(place.Name)
	}
	add := func(kind string, from, to float64, title string, critical bool) {
		row.Bars = append(row.Bars,
			bar{X: x(from), Y: y, Width: x(to) - x(from), Kind: kind, Title: place.Name + ": " + title, Critical: critical,
				Minute: from})
	}
	work, _, _ := plan.Maker(classday.PersonID(place.ID))
	if opening := float64(plan.Class.OpeningMinutes); opening > 0 && place.LateMinutes == 0 {
		add("together", 0, opening, "together, welcome, safety and demonstration, "+w.from(0, opening), false)
	}
	for _, s := range plan.StepsOf(classday.PersonID(place.ID)) {
		kind := "bench-bar"
		if s.Machine != "" {
			kind = "machine"
		}
		step, _ := work.Step(s.Operation)
		title := fmt.Sprintf("%s, %s", w.p.Say(step.Title), w.from(s.Start, s.End))
		if m, ok := plan.Machine(s.Machine); ok {
			title += ", at " + m.Name
		}
		because, critical := w.why(s.Job, s.Operation)
		add(kind, s.Start, s.End, title+". "+because, critical)
	}
	for _, wait := range plan.WaitsOf(place.ID) {
		for _, part := range wait.Parts() {
			if part.Practice == nil {
				add("wait", part.Start, part.End, "waits, "+w.from(part.Start, part.End), false)
				continue
			}
			add("practice", part.Start, part.End,
				w.p.Say(part.Practice.Title)+" while waiting, "+w.from(part.Start, part.End), false)
		}
	}
	if closing := float64(plan.Class.ClosingMinutes); closing > 0 {
		from := plan.Result.MakespanMinutes
		add("together", from, from+closing, "together, tidying up, "+w.from(from, from+closing), false)
	}
	slices.SortStableFunc(row.Bars, func(a, b bar) int { return cmp.Compare(a.X, b.X) })
	return row
}

// poolRow draws when any and when all of a pool is in use.
func (w drawer) poolRow(pool schedule.Resource, y float64) lane {
	name := w.p.Say(w.plan.PoolName(pool.ID))
	row := lane{Y: y, Name: fitted(name, laneLeft-34), Note: fmt.Sprintf("×%d", pool.Count)}
	var edges []float64
	uses := w.plan.Uses(pool.ID)
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
		row.Bars = append(row.Bars,
			bar{X: w.x(edges[i]), Y: y, Width: w.x(edges[i+1]) - w.x(edges[i]), Kind: kind,
				Title: fmt.Sprintf("%s: %d of %d in use", name, n, pool.Count)})
	}
	return row
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
