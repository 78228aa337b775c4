// Package wrapup is the page on which a class is ended.
package wrapup

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/actor"
	app "chalkstep/app/wrapup"
	"chalkstep/core/classday"
	"chalkstep/core/live"
	"chalkstep/core/pace"
	"chalkstep/core/photo"
	"chalkstep/core/say"
	"chalkstep/core/skill"
	"chalkstep/web/classhead"
	"chalkstep/web/ui"
)

// Routes are how a class went, and what is still to do about it.
func Routes(f *fiber.App) {
	f.Get("/classes/:id/wrap",
		ui.WithID(func(c fiber.Ctx, d app.UseCases, id int64) error { return showWrap(c, d, id, nil) }))
	f.Post("/classes/:id/wrap", ui.WithID(save))
	f.Post("/classes/:id/wrap/makeup", ui.WithID(bookMakeup))
	f.Post("/classes/:id/wrap/:student/photo", ui.WithID(savePhoto))
	f.Get("/classes/:id/wrap/:student/photo", ui.WithID(outcomePhoto))
	inspectRoutes(f)
	f.Get("/classes/:id/wrap.csv", ui.WithID(wrapCSV))
	f.Get("/classes/:id/wrap.pdf", ui.WithID(wrapPDF))
}

func showWrap(c fiber.Ctx, d app.UseCases, id int64, problems *ui.Refused) error {
	page, err := d.Wrap(id)
	if err != nil {
		return err
	}
	v := newWrapView(d, page)
	if problems != nil && c.FormValue("student") != "" {
		v.typed(read(c))
	}
	return ui.Render(c, "wrapup/wrap", classhead.Area, page.Plan.Class.Name,
		fiber.Map{"View": v, "Problems": problems, "None": (*ui.Refused)(nil)})
}

// read is what the form says of everybody.
func read(c fiber.Ctx) app.SaveInput {
	var in app.SaveInput
	for _, id := range ui.Numbers(c, "student") {
		field := func(name string) string { return c.FormValue(fmt.Sprintf("%s-%d", name, id)) }
		in.Outcomes = append(in.Outcomes, app.OutcomeInput{StudentID: id, Reached: field("reached"), Note: field("note"),
			KitKept: field("kept") != "", Version: ui.Small(field("version"))})
	}
	for _, text := range ui.All(c, "mark") {
		m, ok := readMark(text)
		if !ok {
			m = app.MarkInput{StudentID: -1} // nobody, so that it is refused
		}
		m.Level = skill.Level(c.FormValue("level " + text))
		in.Marks = append(in.Marks, m)
	}
	return in
}

// readMark reads what a tick says: a student, a step and a kind of machine.
func readMark(text string) (m app.MarkInput, ok bool) {
	parts := strings.Split(text, " ")
	if len(parts) != 3 {
		return m, false
	}
	return app.MarkInput{StudentID: ui.Number(parts[0]), Skill: skill.Key(parts[1]), On: skill.Kind(parts[2])}, true
}

func save(c fiber.Ctx, d app.UseCases, id int64) error {
	return classhead.Back(c, d, id, "wrap", d.Save(id, read(c)), showWrap)
}

func savePhoto(c fiber.Ctx, d app.UseCases, id int64) error {
	student, err := ui.ID(c, "student")
	if err != nil {
		return err
	}
	_, data, err := ui.Upload(c, "photo")
	if err != nil {
		return err
	}
	return classhead.Back(c, d, id, "wrap", d.SaveOutcomePhoto(id, student, data), showWrap)
}

// bookMakeup books a time that is named by whose it is and when it begins; a script is given that
// student's times anew, so that what else was typed on the page stays.
func bookMakeup(c fiber.Ctx, d app.UseCases, id int64) error {
	whose, when, _ := strings.Cut(c.FormValue("slot"), "@")
	student := ui.Number(whose)
	err := d.BookMakeup(id, student, time.Unix(ui.Number(when), 0))
	if c.Get("HX-Request") == "" {
		return classhead.Back(c, d, id, "wrap", err, showWrap)
	}
	problems, err := ui.Mendable(c, err)
	if err != nil {
		return err
	}
	page, err := d.Wrap(id)
	if err != nil {
		return err
	}
	v := newWrapView(d, page)
	at := slices.IndexFunc(v.Students, func(o outcomeLine) bool { return o.ID == student })
	if at < 0 {
		return actor.NotFound("student %d in class %d", student, id)
	}
	return c.Render("wrapup/makeups", fiber.Map{"S": v.Students[at], "View": v, "Problems": problems})
}

func outcomePhoto(c fiber.Ctx, d app.UseCases, id int64) error {
	student, err := ui.ID(c, "student")
	if err != nil {
		return err
	}
	p, err := d.OutcomePhoto(id, student)
	if err != nil {
		return err
	}
	return ui.Picture(c, photo.MediaType, p.Data)
}

func wrapCSV(c fiber.Ctx, d app.UseCases, id int64) error {
	data, err := d.WrapCSV(id)
	if err != nil {
		return err
	}
	return ui.Send(c, fmt.Sprintf("class-%d.csv", id), data)
}

func wrapPDF(c fiber.Ctx, d app.UseCases, id int64) error {
	data, err := d.WrapPDF(c.Context(), id, c.Query("sheet", "A4"))
	if err != nil {
		return err
	}
	return ui.Send(c, fmt.Sprintf("class-%d.pdf", id), data)
}

// A wrapView is how a class went, and the form with which it is wrapped up.
type wrapView struct {
	classhead.Head
	Answer, Note string
	// ByHand tells that how far everybody came is said by hand.
	ByHand           bool
	MaySay, MayBook  bool
	MaySign, MayMove bool
	Reserved         bool
	Students         []outcomeLine
	Steps            []timesLine
	// People are those of the columns of minutes.
	People  []string
	Calls   []callLine
	Notes   []string
	Reaches []classhead.Choice
	Levels  []classhead.Choice
}

type outcomeLine struct {
	ID                                      int64
	Name, Outcome, Left, Done, Planned, Why string
	// Steps are those that are left.
	Steps    []string
	Reached  string
	Finished bool
	Said     live.Said
	// Kept tells that the kit is to wait on the shelf.
	Kept bool
	// Photos tells that they agreed to be photographed.
	Photos bool
	// Inspected says what was seen of the piece, Bad that something is to be put right.
	Inspected string
	Bad       bool
	Marks     []markLine
	// Marked are the steps that they were marked at here.
	Marked  []string
	Booked  []string
	Makeups []makeupLine
	// Accompanied tells that an instructor has to stay at some of these times.
	Accompanied bool
}

// A markLine is a mark that is suggested; Value names it.
type markLine struct {
	Value, Title, LookFor, On, Why string
	Level                          string
	Ticked                         bool
}

type makeupLine struct{ Slot, Text string }

type timesLine struct {
	Title, Planned, Real string
	N                    int
	// Slower tells that it took a quarter longer than planned, or more.
	Slower bool
	// Each is everybody's own, in the order of the people.
	Each []timesCell
}

// A timesCell is how long somebody took, of how long they were to.
type timesCell struct {
	Real, Planned string
	Slower        bool
}

// A callLine has the colour of the thread that broke, empty for another reason.
type callLine struct{ What, Where, Longest, Thread string }

const slower = 1.25

func newWrapView(d app.UseCases, page app.WrapPage) wrapView {
	p, plan := ui.P{Printer: d.Printer()}, page.Plan
	v := wrapView{Head: classhead.NewHead(d.Actor, plan, "wrap", "", ""), MaySay: d.Who.May(actor.RunClasses),
		MayBook: d.Who.May(actor.Book), MaySign: d.Who.May(actor.SignOff), MayMove: d.Who.May(actor.ChangeClasses),
		Reserved: page.Reserved}
	for _, r := range []live.Reached{live.Finished, live.ToFinish, live.NotStarted, live.Missing} {
		v.Reaches = append(v.Reaches, classhead.Choice{Value: string(r), Text: app.Outcome(r)})
	}
	for _, l := range []skill.Level{skill.Shown, skill.Helped, skill.Alone} {
		v.Levels = append(v.Levels, classhead.Choice{Value: string(l), Text: p.Say(l.Text())})
	}
	for _, o := range page.Students {
		v.Students = append(v.Students, newOutcomeLine(p, page, o))
	}
	v.ByHand = !page.Running() && d.Now.After(plan.Class.EndsAt) && !plan.Class.Off()
	switch {
	case page.Running() || len(page.Said) > 0:
		v.Answer = whoCameHowFar(p, page)
		if !slices.ContainsFunc(v.Students, func(o outcomeLine) bool { return o.Said.Version == 0 }) {
			v.Note = "It is wrapped up. Whatever is changed below is saved again."
		}
	case v.ByHand:
		v.Answer = fmt.Sprintf("How did %s go?", plan.Class.Name)
		v.Note = "It was not run here: say how far everybody came, in one go."
	default:
		v.Answer = fmt.Sprintf("%s has not been run here.", plan.Class.Name)
		v.Note = "Start it under Run: what is noted there while it goes on is summed up on this page."
		v.Students = nil
	}
	v.times(p, page)
	return v
}

// whoCameHowFar is the answer: how many finished, and who did not.
func whoCameHowFar(p ui.P, page app.WrapPage) string {
	count := map[live.Reached]int{}
	var missing say.List
	for _, o := range page.Students {
		count[o.Reached]++
		if o.Reached == live.Missing {
			missing = append(missing, say.Name(page.Plan.Class.Called(o.Name)))
		}
	}
	answer := fmt.Sprintf("%d of %s finished", count[live.Finished], p.N(len(page.Students), "student"))
	if left := count[live.ToFinish] + count[live.NotStarted]; left > 0 {
		answer += fmt.Sprintf(", %d have something to finish", left)
	}
	if len(missing) > 0 {
		answer += p.Say(say.T(", %s did not come", missing))
	}
	return answer + "."
}

// newOutcomeLine is how far somebody came, and what there is for them to go on with.
func newOutcomeLine(p ui.P, page app.WrapPage, o live.Outcome) outcomeLine {
	said := page.Said[o.StudentID]
	line := outcomeLine{ID: o.StudentID, Name: o.Name, Outcome: app.Outcome(o.Reached),
		Finished: o.Reached == live.Finished, Said: said, Reached: string(said.Reached),
		Kept: said.KitKept || said.Version == 0 && o.Reached != live.Finished}
	places := page.Plan.Class.Places
	if at := slices.IndexFunc(places, func(s classday.Place) bool { return s.ID == o.StudentID }); at >= 0 {
		line.Photos = places[at].Photos
	}
	if i, looked := page.Inspections[o.StudentID]; looked {
		line.Inspected, line.Bad = "inspected, good", len(i.Bad) > 0
		if line.Bad {
			line.Inspected = p.N(len(i.Bad), "thing") + " to put right"
		}
	}
	if !o.Planned.IsZero() {
		line.Planned = p.Clock(o.Planned)
	}
	if !o.Ended.IsZero() {
		line.Done = p.Clock(o.Ended)
	}
	line.marks(p, page)
	line.makeUp(p, page, o)
	return line
}

// marks are those that are suggested, and those that were given.
func (line *outcomeLine) marks(p ui.P, page app.WrapPage) {
	for _, s := range page.Suggested {
		if s.StudentID == line.ID {
			line.Marks = append(line.Marks, markLine{Value: fmt.Sprintf("%d %s %s", s.StudentID, s.Key, s.On),
				Title: p.Say(s.Title), LookFor: p.Say(s.LookFor), On: string(s.On), Why: p.Say(s.Why), Level: string(s.Level),
				Ticked: line.Said.Version == 0})
		}
	}
	for _, m := range page.Marked {
		if step, known := page.Plan.Rules.Ladder.ByKey(m.Skill); known && m.StudentID == line.ID {
			line.Marked = append(line.Marked, p.Say(say.T("%s: %s", step.Title, m.Level.Text())))
		}
	}
}

// makeUp is the least they need to be done, and when they could.
func (line *outcomeLine) makeUp(p ui.P, page app.WrapPage, o live.Outcome) {
	if o.Reached == live.Finished || len(o.Steps) == 0 {
		return
	}
	left := o.MakeUp()
	if len(left.Steps) == 0 {
		return
	}
	line.Left = "Still to do, about " + p.Minutes(math.Ceil(left.Minutes))
	if len(left.Steps) == len(o.Steps) {
		line.Steps = []string{"all of it"}
	} else {
		for _, key := range left.Steps {
			line.Steps = append(line.Steps, classhead.StepTitle(p, page.Plan, o.StudentID, string(key)))
		}
	}
	for _, b := range page.Booked[o.StudentID] {
		line.Booked = append(line.Booked, slotText(p, b.Machine.Name, b.StartsAt, b.EndsAt))
	}
	for _, m := range page.Makeups[o.StudentID] {
		line.Makeups = append(line.Makeups, makeupLine{fmt.Sprintf("%d@%d", o.StudentID, m.StartsAt.Unix()),
			slotText(p, m.Machine.Name, m.StartsAt, m.EndsAt)})
		line.Accompanied = line.Accompanied || m.Accompanied
	}
	if len(line.Booked)+len(line.Makeups) == 0 && page.LooksAhead() {
		line.Why = fmt.Sprintf("No machine of the class is free for that in the next %d days by the rules of booking.",
			app.MakeupDays)
	}
}

func slotText(p ui.P, machine string, from, to time.Time) string {
	return fmt.Sprintf("%s %s–%s, %s", p.Day(from), p.Clock(from), p.Clock(to), machine)
}

// typed puts what was typed into the form again.
func (v *wrapView) typed(in app.SaveInput) {
	ticked := map[string]string{}
	for _, m := range in.Marks {
		ticked[fmt.Sprintf("%d %s %s", m.StudentID, m.Skill, m.On)] = string(m.Level)
	}
	for i := range v.Students {
		line := &v.Students[i]
		for _, o := range in.Outcomes {
			if o.StudentID == line.ID {
				line.Reached, line.Said.Note, line.Kept = o.Reached, o.Note, o.KitKept
			}
		}
		for k := range line.Marks {
			level, is := ticked[line.Marks[k].Value]
			if line.Marks[k].Ticked = is; is {
				line.Marks[k].Level = level
			}
		}
	}
}

// times are the figures of a class that was run.
func (v *wrapView) times(p ui.P, page app.WrapPage) {
	for _, at := range page.Students {
		v.People = append(v.People, page.Plan.Class.Called(at.Name))
	}
	for _, s := range page.Steps {
		line := timesLine{Title: p.Say(page.TitleOf(s.Step)), Planned: p.Minutes(math.Round(s.Planned)),
			Real: p.Minutes(math.Round(s.Real)), N: s.N, Slower: s.Real >= slower*s.Planned}
		for _, at := range page.Students {
			line.Each = append(line.Each, newTimesCell(at, s.Step))
		}
		v.Steps = append(v.Steps, line)
	}
	for _, c := range page.Report.Calls {
		line := callLine{What: p.Say(say.T("%s × %s", say.Count(c.N), c.Reason.Text())), Where: "at the bench"}
		if m, there := page.Plan.Machine(c.Station); there {
			line.Where = "at " + m.Name
		}
		if c.Reason == live.Break && c.Station != "" {
			line.Thread = c.Thread.String()
		}
		if c.Longest > 0 {
			line.Longest = "up for " + p.Minutes(math.Ceil(c.Longest.Minutes())) + " at most"
		}
		v.Calls = append(v.Calls, line)
	}
	v.Notes = classhead.NoteLines(p, page.Notes)
}

// newTimesCell is how long somebody took over a step, empty where nobody knows.
func newTimesCell(o live.Outcome, step pace.StepKey) timesCell {
	real, planned, timed := o.MinutesOf(step)
	if !timed {
		return timesCell{}
	}
	return timesCell{fmt.Sprintf("%.0f", real), fmt.Sprintf("%.0f", planned), real >= slower*planned}
}
