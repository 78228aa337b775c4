// Package card makes a student's step card: what they do when and where, stop
// by stop, with the cautions where they belong. Screen, phone and paper show
// the same card.
package card

import (
	"slices"
	"time"

	"chalkstep/core/blank"
	"chalkstep/core/classday"
	"chalkstep/core/design"
	"chalkstep/core/fleet"
	"chalkstep/core/pace"
	"chalkstep/core/recipe"
	"chalkstep/core/say"
	"chalkstep/core/skill"
	"chalkstep/core/stitch"
	"chalkstep/core/supply"
	"chalkstep/core/technique"
)

// A Card is one student's for a class.
type Card struct {
	StudentID int64
	Student   string
	// Units names what the student measures in, empty where nobody has said.
	Units    string
	Class    string
	Project  string
	StartsAt time.Time
	// Together says what everyone does together, silent for nothing.
	Together say.Text
	// Ask lists what the student has not been signed off on: they ask the
	// instructor first.
	Ask []skill.Step
	// Steps in order, of all hoopings.
	Steps []Step
	// Sheets are the hoopings, in order.
	Sheets []Sheet
	// Mark is where on the blank the design goes, nil where that is not known;
	// Size is the blank's, where it comes in sizes.
	Mark *blank.Mark
	Size string
	// After is done with the finished piece; Cautions stand at the foot, with
	// the deference to manual and rules as the last.
	After, Cautions []say.Text
}

// A Step with its time of day.
type Step struct {
	Key        pace.StepKey
	Start, End time.Time
	Title      say.Text
	// WithInstructor tells that somebody stands beside the student.
	WithInstructor bool
	// Note is what of the recipe and the hoop belongs to it, Notes what its
	// techniques say, Checks what is looked at before going on; Cautions are shown
	// where the step happens.
	Note          say.Text
	Notes, Checks []say.Text
	Cautions      []say.Text
	Pictures      []Picture
}

// A Picture of a technique or of its places in this hoop.
type Picture struct {
	Name  say.Text
	Lines technique.Picture
}

// A Sheet is one hooping: its hoop at its machine, and stop by stop.
type Sheet struct {
	// N counts from 1; Title is what a person calls a further hooping.
	N       int
	Title   string
	Machine string
	Seat    fleet.Seat
	// Design is what is sewn.
	Design design.Design
	// Setup is how the machine is made ready.
	Setup []say.Text
	Stops []Stop
	// Restart is what to do when a thread breaks, and while it sews.
	Restart []say.Text
}

// A Stop with what is done before and after it.
type Stop struct {
	N     int
	Sews  string
	Color stitch.RGB
	// Thread names the spool, Note says how much there is to sew.
	Thread, Note say.Text
	// SameThread tells that nothing is changed before it.
	SameThread    bool
	Before, After []say.Text
}

// Manual is what every caution defers to.
var Manual = say.T("The machine's manual, the room's own rules and local regulations come first.")

// Of makes a student's card from a plan. spool names the thread of the shelf
// that is taken for one. An error says why there is no card.
func Of(p classday.Plan, studentID int64, spool func(supply.Key) say.Text) (Card, error) {
	if at := slices.IndexFunc(p.Class.Places, func(place classday.Place) bool { return place.ID == studentID }); at >= 0 &&
		p.Class.Places[at].Attendance == classday.Absent {
		return Card{}, say.Errorf("%s is absent: there is no card.", p.Class.Places[at].Name)
	}
	if !p.Planned() {
		return Card{}, say.Errorf("%s Without a plan there are no step cards.", p.Why)
	}
	person := classday.PersonID(studentID)
	w, place, ok := p.Maker(person)
	_, sits := p.MachineOf(studentID)
	if ok && !w.Why.Silent() {
		return Card{}, say.Errorf("%s There is no step card for %s.", w.Why, place.Name)
	}
	if !ok || !sits {
		return Card{}, say.Errorf("the plan has no machine for this student")
	}
	signed := place.Signed()
	c := Card{
		StudentID: studentID, Student: place.Name, Units: place.Units, Class: p.Class.Name, Project: w.Name,
		StartsAt: p.Class.StartsAt,
		Ask:      p.Rules.Ladder.Missing(signed, pace.Needs(w.Steps)),
	}
	c.Together = together(p, place)
	recipes, err := c.hoop(p, w, place, spool)
	if err != nil {
		return Card{}, err
	}
	c.After = recipes[0].After
	if c.Size = w.SizeOf(place); !w.InHoop {
		if mark, err := w.MarkAt(c.Size); err == nil {
			c.Mark = &mark
		}
	}
	c.Cautions = append(c.Cautions, Manual)
	c.time(p, w, place, recipes)
	return c, nil
}

// hoop fills in the hoopings with their cautions, and gives the recipe of each.
func (c *Card) hoop(p classday.Plan, w classday.Work, place classday.Place, spool func(supply.Key) say.Text) (
	[]recipe.Recipe, error) {
	recipes := make([]recipe.Recipe, len(w.Sewing))
	for n := range w.Sewing {
		seat, sewn := p.SeatOf(c.StudentID, n+1)
		if !sewn {
			return nil, say.Errorf("the plan has no machine for this student")
		}
		r, err := w.Recipe(n, seat.Hoop.Field, p.Rules)
		if err != nil {
			return nil, err
		}
		recipes[n] = r
		sheet := Sheet{N: n + 1, Title: w.Hoopings[n].Title, Machine: seat.Machine.Name, Seat: seat,
			Design: w.Sewing[n].Design, Setup: append(setup(seat, r), order(w, n)...), Restart: restart(r)}
		sheet.Stops = stops(p, w, n, seat, place, r, spool)
		c.Sheets = append(c.Sheets, sheet)
		c.Cautions = appendNew(c.Cautions, r.Cautions)
	}
	return recipes, nil
}

// time fills in the steps as they are planned, and what is practised in between.
func (c *Card) time(p classday.Plan, w classday.Work, place classday.Place, recipes []recipe.Recipe) {
	signed := place.Signed()
	waits := p.WaitsOf(c.StudentID)
	for _, placed := range p.StepsOf(classday.PersonID(c.StudentID)) {
		step, ok := w.Step(placed.Operation)
		if !ok || w.IsAhead(place, step.Key) {
			continue
		}
		for len(waits) > 0 && waits[0].Start < placed.Start {
			c.Steps = append(c.Steps, practised(p, waits[0], step.Key.Hooping())...)
			waits = waits[1:]
		}
		n := step.Key.Hooping() - 1
		made := Step{Key: step.Key, Start: p.At(placed.Start), End: p.At(placed.End), Title: step.Title,
			WithInstructor: classday.WithInstructor(p.Rules.Ladder, step, signed), Notes: step.Notes, Cautions: step.Cautions}
		made.Pictures, made.Notes = pictures(w, step.Key, c.Sheets[n], recipes[n], made.Notes)
		made.Note, made.Checks = note(step.Key, c.Sheets[n].Seat, recipes[n])
		if step.Key == pace.StepMark && c.Mark != nil {
			made.Checks = measures(*c.Mark, c.Size)
		}
		c.Steps = append(c.Steps, made)
	}
}

// practised are what fills a wait, as steps of the card.
func practised(p classday.Plan, wait classday.Wait, hooping int) []Step {
	var steps []Step
	for _, practice := range wait.Fill {
		s := Step{Key: pace.StepPractice.In(hooping), Start: p.At(practice.Start), End: p.At(practice.End),
			Title: say.T("While you wait: %s", practice.Title), Note: practice.Does}
		if !practice.Caution.Silent() {
			s.Cautions = []say.Text{practice.Caution}
		}
		steps = append(steps, s)
	}
	return steps
}

// together says what everyone does together at the beginning and at the end; who
// comes later has only the end.
func together(p classday.Plan, place classday.Place) say.Text {
	var parts []say.Text
	if opening := p.Class.OpeningMinutes; opening > 0 && place.LateMinutes < opening {
		parts = append(parts, say.T("Until %s together: welcome, safety, demonstration.", say.Clock(p.At(float64(opening)))))
	}
	if closing := p.Class.ClosingMinutes; closing > 0 {
		parts = append(parts, say.T("The last %s together: tidying up.", say.Minutes(closing)))
	}
	if place.HoopedAhead {
		parts = append(parts, say.T("Your blank is hooped already: you begin at the machine."))
	}
	switch len(parts) {
	case 0:
		return say.Text{}
	case 1:
		return parts[0]
	case 2:
		return say.T("%s %s", parts[0], parts[1])
	}
	return say.T("%s %s %s", parts[0], parts[1], parts[2])
}

// measures say where the mark goes, as somebody measures it with a ruler.
func measures(m blank.Mark, size string) []say.Text {
	var texts []say.Text
	for _, d := range m.Measures {
		text := say.T("%s from %s to %s", say.MM(d.MM), d.From, d.To)
		if size != "" && len(texts) == 0 {
			text = say.T("Size %s: %s", size, text)
		}
		texts = append(texts, text)
	}
	if m.TurnDegrees != 0 {
		texts = append(texts, say.T("on the line of %s° from the corner, up away from it", say.Count(45)))
	}
	return append(texts, m.Cautions...)
}

// appendNew adds the texts that are not there yet.
func appendNew(texts, more []say.Text) []say.Text {
	for _, t := range more {
		if !slices.ContainsFunc(texts, func(have say.Text) bool { return have.String() == t.String() }) {
			texts = append(texts, t)
		}
	}
	return texts
}

// setup is how the machine is made ready for a hooping.
func setup(seat fleet.Seat, r recipe.Recipe) []say.Text {
	texts := []say.Text{
		say.T("Hoop %s, %s.", seat.Hoop.Name, say.Size{seat.Hoop.WidthMM, seat.Hoop.HeightMM}),
		say.T("Needle %s %s, %s.", r.Needle.Size, say.Word(r.Needle.Point), say.Word(r.TopThread)),
	}
	if seat.Fit.Turn != 0 {
		texts = append(texts, say.T("Turn the design by 90°."))
	}
	return texts
}

// restart is what to do when a thread breaks, and while it sews.
func restart(r recipe.Recipe) []say.Text {
	texts := []say.Text{say.T(
		"Thread broke? Rethread with the foot up and step back by stitch, 5 to 10 before the last good one.")}
	if r.SnipsEach() {
		texts = append(texts, say.T("Snip jumps after each colour."))
	} else {
		texts = append(texts, say.T("Snip jumps at the end."))
	}
	if r.Stays() {
		texts = append(texts, say.T("Stay at the machine while it sews."))
	}
	return texts
}

// note is what of the recipe and the hoop belongs to a step, and what is
// looked at before going on.
func note(key pace.StepKey, seat fleet.Seat, r recipe.Recipe) (say.Text, []say.Text) {
	switch {
	case key.Is(pace.StepStabilise):
		var layers say.List
		for _, l := range r.Under {
			layers = append(layers, say.T("%s of %s, %s", say.N{N: l.Sheets, Noun: "sheet"}, l.Key(), say.Size(l.CutMM)))
		}
		if r.Over != nil {
			layers = append(layers, say.T("%s on top", r.Over.Key()))
		}
		return say.T("%s.", layers), nil
	case key.Is(pace.StepLoad):
		return say.T("%s Trace before you start.", marks(seat.Hoop)), r.BeforeStart()
	case key == pace.StepMark && len(r.Prepare) > 0:
		return say.T("%s", r.Prepare[0]), nil
	case key == pace.StepPress:
		return r.Press, nil
	case key.Is(pace.StepSignOff):
		return say.Text{}, r.Inspection()
	}
	return say.Text{}, nil
}

// marks says where the marks on the frame lie, seen from the needle's start.
func marks(h fleet.Held) say.Text {
	var off say.List
	if x := h.OffXMM; x > 0 {
		off = append(off, say.T("%s to the right of", say.Fine(x)))
	} else if x < 0 {
		off = append(off, say.T("%s to the left of", say.Fine(-x)))
	}
	if y := h.OffYMM; y > 0 {
		off = append(off, say.T("%s above", say.Fine(y)))
	} else if y < 0 {
		off = append(off, say.T("%s below", say.Fine(-y)))
	}
	if len(off) == 0 {
		return say.T("The frame's marks meet where the needle starts.")
	}
	return say.T("The frame's marks lie %s where the needle starts.", off)
}

// stops lists a hooping's stops, from 0, with the thread each takes and what is
// laid, trimmed or fitted around it.
func stops(p classday.Plan, w classday.Work, n int, seat fleet.Seat, place classday.Place, r recipe.Recipe,
	spool func(supply.Key) say.Text) []Stop {
	sewn := w.Sewing[n].Design
	out := w.Rules(p.Rules).Timing().StitchOut(seat.Machine.Pacing(), w.Pacing(n),
		classday.Hand(place.Student, p.Rules.Pace))
	swaps := p.Rules.Kit.BobbinSwaps(sewn.Sewn(), seat.Machine.BobbinMetres)
	threads := w.Threads(n, p.Rules)
	var stops []Stop
	for i, s := range sewn.Stops {
		stop := Stop{N: s.N, Sews: s.Sews, Color: s.Color, Thread: spool(threads[i]), SameThread: sewn.Pacing()[i].SameThread}
		stop.Note = say.T("%s, about %s, %s of %s", say.N{N: s.Stitches, Noun: "stitch"}, say.Minutes(out.Stops[i]),
			say.Thread(p.Rules.Kit.TopThreadMM(s.Stop)), stop.Thread)
		if slices.Contains(swaps, s.N) {
			stop.Before = append(stop.Before, say.T("Fit a fresh bobbin."))
		}
		if n == 0 { // layers belong to the first hooping
			stop.Before = append(stop.Before, w.Laid(s.N)...)
		}
		stop.After = afterwards(s.Stop, r)
		withTechniques(&stop, w, n, s.Role, i == len(sewn.Stops)-1)
		stops = append(stops, stop)
	}
	return stops
}

// afterwards is what is done in the hoop after a stop of a role (handbook,
// Appliqué).
func afterwards(s stitch.Stop, r recipe.Recipe) []say.Text {
	switch s.Role {
	case stitch.Placement:
		switch {
		case s.Pieces > 1 && r.CutsBefore():
			return []say.Text{say.T("Lay the %s, each exactly inside its line.", say.N{N: s.Pieces, Noun: "piece"})}
		case s.Pieces > 1:
			return []say.Text{say.T("Lay the %s so that each covers its line.", say.N{N: s.Pieces, Noun: "piece"})}
		case r.CutsBefore():
			return []say.Text{say.T("Lay the piece exactly inside its line.")}
		}
		return []say.Text{say.T("Lay the piece so that it covers the line.")}
	case stitch.TackDown:
		if r.CutsBefore() {
			return nil // it has its shape already
		}
		return []say.Text{say.T("Hoop off the machine, flat on the table: trim to %s to %s outside the line.", say.Fine(1),
			say.Fine(2))}
	case stitch.Anchor:
		return []say.Text{say.T("Only marks: it may be skipped.")}
	}
	return nil
}
