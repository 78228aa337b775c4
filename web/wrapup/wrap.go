// Package wrapup is the page on which a class is ended.
package wrapup

import (
	"fmt"
	"math"
	"slices"
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
	f.Post("/classes/:id/wrap", ui.WithID(saveOutcomes))
	f.Post("/classes/:id/wrap/round", ui.WithID(signRound))
	f.Post("/classes/:id/wrap/makeup", ui.WithID(bookMakeup))
	f.Post("/classes/:id/wrap/:student/photo", ui.WithID(saveOutcome))
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
	return ui.Render(c, "wrapup/wrap", classhead.Area, page.Plan.Class.Name,
		fiber.Map{"View": newWrapView(d, page), "Problems": problems})
}

func saveOutcome(c fiber.Ctx, d app.UseCases, id int64) error {
	student, err := ui.ID(c, "student")
	if err != nil {
		return err
	}
	_, data, err := ui.Upload(c, "photo")
	if err != nil {
		return err
	}
	in := app.OutcomeInput{StudentID: student, Photo: data}
	if err := ui.Bind(c, &in); err != nil {
		return err
	}
	return classhead.Back(c, d, id, "wrap", d.SaveOutcome(id, in), showWrap)
}

func saveOutcomes(c fiber.Ctx, d app.UseCases, id int64) error {
	said := map[int64]string{}
	for _, row := range ui.Rows(c, "student", "reached") {
		said[ui.Number(row[0])] = row[1]
	}
	return classhead.Back(c, d, id, "wrap", d.SaveOutcomes(id, said), showWrap)
}

func signRound(c fiber.Ctx, d app.UseCases, id int64) error {
	return classhead.Back(c, d, id, "wrap",
		d.SignRound(id, skill.Key(c.FormValue("skill")), skill.Kind(c.FormValue("on")), ui.Numbers(c, "student")), showWrap)
}

func bookMakeup(c fiber.Ctx, d app.UseCases, id int64) error {
	at := time.Unix(ui.Number(c.FormValue("at")), 0)
	return classhead.Back(c, d, id, "wrap", d.BookMakeup(id, ui.Number(c.FormValue("student")), at), showWrap)
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

// A wrapView is how a class went.
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
	Rounds  []roundLine
	Notes   []string
	Reaches []classhead.Choice
}

type outcomeLine struct {
	ID                                 int64
	Name, Outcome, ToGo, Done, Planned string
	Reached                            string
	Finished                           bool
	Said                               live.Said
	// Photos tells that they agreed to be photographed.
	Photos bool
	// Inspected says what was seen of the piece, Bad that something is to be put right.
	Inspected string
	Bad       bool
	Makeups   []makeupLine
}

type makeupLine struct {
	At   int64
	Text string
}

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

type roundLine struct {
	Key, On, Title, LookFor string
	Seen                    []live.Seen
}

const slower = 1.25

func newWrapView(d app.UseCases, page app.WrapPage) wrapView {
	p, plan := ui.P{Printer: d.Printer()}, page.Plan
	v := wrapView{Head: classhead.NewHead(d.Actor, plan, "wrap", "", ""), MaySay: d.Who.May(actor.RunClasses),
		MayBook: d.Who.May(actor.Book), MaySign: d.Who.May(actor.SignOff), MayMove: d.Who.May(actor.ChangeClasses),
		Reserved: page.Reserved}
	for _, r := range []live.Reached{live.Finished, live.ToFinish, live.NotStarted, live.Missing} {
		v.Reaches = append(v.Reaches, classhead.Choice{Value: string(r), Text: app.Outcome(r)})
	}
	finished, left := 0, 0
	for _, o := range page.Students {
		if o.Reached == live.Finished {
			finished++
		}
		if o.Reached == live.ToFinish {
			left++
		}
		v.Students = append(v.Students, newOutcomeLine(p, page, o))
	}
	v.ByHand = !page.Running() && !d.Now.Before(plan.Class.StartsAt) && !plan.Class.Off()
	switch {
	case page.Running() || len(page.Said) > 0:
		v.Answer = fmt.Sprintf("%d of %s finished.", finished, p.N(len(page.Students), "student"))
		if left > 0 {
			v.Answer = fmt.Sprintf("%d of %s finished, %d have something to finish.", finished,
				p.N(len(page.Students), "student"), left)
		}
	case v.ByHand:
		v.Answer = fmt.Sprintf("How did %s go?", plan.Class.Name)
		v.Note = "It was not run here: say how far everybody came, in one go."
	default:
		v.Answer = fmt.Sprintf("%s has not been run here.", plan.Class.Name)
		v.Note = "What is noted while a class runs is summed up on this page."
		v.Students = nil
	}
	v.times(p, page)
	return v
}

// newOutcomeLine is how far somebody came, and what there is for them to go on with.
func newOutcomeLine(p ui.P, page app.WrapPage, o live.Outcome) outcomeLine {
	line := outcomeLine{ID: o.StudentID, Name: o.Name, Outcome: app.Outcome(o.Reached),
		Finished: o.Reached == live.Finished, Said: page.Said[o.StudentID], Reached: string(page.Said[o.StudentID].Reached)}
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
	if o.Reached == live.ToFinish && len(o.ToGo) > 0 {
		line.ToGo = fmt.Sprintf("%s to go, next: %s", p.N(len(o.ToGo), "step"),
			classhead.StepTitle(p, page.Plan, o.StudentID, string(o.ToGo[0])))
	}
	for _, m := range page.Makeups[o.StudentID] {
		text := fmt.Sprintf("%s %s–%s, %s", p.Day(m.StartsAt), p.Clock(m.StartsAt), p.Clock(m.EndsAt), m.Machine.Name)
		if m.Accompanied {
			text += ", with an instructor"
		}
		line.Makeups = append(line.Makeups, makeupLine{m.StartsAt.Unix(), text})
	}
	return line
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
	for _, r := range page.Rounds {
		v.Rounds = append(v.Rounds, roundLine{string(r.Key), string(r.On), p.Say(r.Title), p.Say(r.LookFor), r.Seen})
	}
	v.Notes = classhead.NoteLines(p, page.Notes)
}

// newTimesCell is how long somebody took over a step, empty where nobody knows.
func newTimesCell(o live.Outcome, step pace.StepKey) timesCell {
	for k, placed := range o.Steps[:o.Next] {
		if pace.StepKey(placed.Operation) != step || !o.Real[k].Timed() {
			continue
		}
		planned, real := placed.End-placed.Start, o.Real[k].Ended.Sub(o.Real[k].Begun).Minutes()
		return timesCell{fmt.Sprintf("%.0f", real), fmt.Sprintf("%.0f", planned), real >= slower*planned}
	}
	return timesCell{}
}
