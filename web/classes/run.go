package classes

import (
	"fmt"
	"math"
	"slices"
	"time"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/classes"
	"chalkstep/app/desk"
	"chalkstep/core/day"
	"chalkstep/core/pace"
	"chalkstep/core/run"
	"chalkstep/core/say"
	"chalkstep/web/ui"
)

// runRoutes are a class while it runs.
func runRoutes(f *fiber.App) {
	f.Get("/classes/:id/run", ui.WithID(func(c fiber.Ctx, d classes.Desk, id int64) error { return showRun(c, d, id, desk.Problems{}) }))
	f.Post("/classes/:id/run", ui.WithID(happen))
	f.Get("/classes/:id/big", ui.WithID(showBig))
	f.Get("/classes/:id/wrap", ui.WithID(wrap))
	f.Get("/classes/:id/wrap.csv", ui.WithID(wrapCSV))
}

func showRun(c fiber.Ctx, d classes.Desk, id int64, problems desk.Problems) error {
	page, err := d.Run(id)
	if err != nil {
		return err
	}
	v := newRunView(d, page)
	v.Typed.Student, v.Typed.What = ui.Number(c.FormValue("student")), c.FormValue("what")
	c.Set(fiber.HeaderCacheControl, "no-store")
	return ui.Render(c, "classes/run", area, page.Plan.Class.Name, fiber.Map{"View": v, "Problems": problems})
}

// happen notes what a button of the board says, or the form beside it, whose what names
// a reason for a hand, or another kind.
func happen(c fiber.Ctx, d classes.Desk, id int64) error {
	in := classes.HappenInput{Kind: c.FormValue("kind"), StudentID: ui.Number(c.FormValue("student")), Step: c.FormValue("step"), Undoes: ui.Number(c.FormValue("undoes"))}
	if what := c.FormValue("what"); what != "" {
		in.Kind = what
		if run.Reason(what).Is() {
			in.Kind, in.Reason = string(run.HandUp), what
		}
		if run.Kind(what) == run.Skipped {
			in.Step = c.FormValue(fmt.Sprintf("step-%d", in.StudentID))
		}
	}
	return back(c, d, id, "run", d.Happen(id, in), showRun)
}

// A runView is the board of a class that runs.
type runView struct {
	head
	Answer, Outcome, Caution string
	// Why says what is in the way of running it.
	Why                string
	Running            bool
	MayStart, MayPress bool
	Now                string
	Stations           []tile
	Benches            []tile
	Awaited, Away      []tile
	Hands              []handLine
	Next               []string
	Undo               *undo
	Whats              []choice
	// Presents are those who are here.
	Presents []tile
	Typed    struct {
		Student int64
		What    string
	}
}

// A tile is a machine or a student on the board.
type tile struct {
	// Machine is silent at the benches; ID is the student's, 0 for nobody.
	Machine, Note string
	ID            int64
	Name          string
	Step          pace.StepKey
	Title, Time   string
	Over, HandUp  bool
	// Done and Of are the minutes of the step that went by, and all of them.
	Done, Of int
	// Ends is when they are done with everything; Late after the class's end.
	Ends string
	Late bool
	// Waits tells that they have not begun.
	Waits bool
}

type handLine struct {
	ID                   int64
	Name, Where, For, Up string
}

// An undo is the event that can be taken back, as it is said.
type undo struct {
	Seq  int64
	What string
}

// soon is how long before their time somebody is told.
const soon = 12 * time.Minute

func newRunView(d classes.Desk, page classes.RunPage) runView {
	p, plan := printer(d), page.Plan
	v := runView{head: newHead(d, plan, "run", "", ""), Running: page.Running(), Why: p.Say(page.Why), Now: p.Clock(d.Now)}
	may := d.Who.May(desk.RunClasses) && page.Why.Silent()
	v.MayStart, v.MayPress = may && !v.Running, may && v.Running
	if !v.Running {
		v.Answer = fmt.Sprintf("%s begins at %s, with %s.", plan.Class.Name, p.Clock(plan.Class.StartsAt), p.N(len(page.Standings), "student"))
		return v
	}
	late := page.Forecast.Late(page.State)
	tiles := map[int64]tile{}
	for _, at := range page.Standings {
		tiles[at.StudentID] = newTile(p, d.Now, page, at, late)
	}
	seated := map[int64]bool{}
	for _, m := range plan.Class.Machines {
		t := tile{Machine: m.Name}
		if at, taken := page.At(day.StationID(m.ID)); taken {
			t = tiles[at.StudentID]
			t.Machine, seated[at.StudentID] = m.Name, true
		}
		switch sittings := page.Forecast.Sittings(page.State, day.StationID(m.ID)); {
		case len(sittings) == 0 && t.ID == 0:
			t.Note = "nobody is to come"
		case len(sittings) == 0:
		case t.ID != 0:
			t.Note = fmt.Sprintf("then %s at %s", sittings[0].Name, p.Clock(sittings[0].At))
		default:
			next := sittings[0]
			t.Note = fmt.Sprintf("free; %s at %s", next.Name, p.Clock(next.At))
			if next.At.Sub(d.Now) < soon {
				v.Next = append(v.Next, fmt.Sprintf("%s: %s is free, be ready to load at %s.", next.Name, m.Name, p.Clock(next.At)))
			}
		}
		v.Stations = append(v.Stations, t)
	}
	for _, at := range page.Standings {
		t := tiles[at.StudentID]
		switch at.Presence {
		case run.Awaited:
			v.Awaited = append(v.Awaited, t)
			continue
		case run.Left:
			v.Away = append(v.Away, t)
			continue
		case run.Present:
		}
		v.Presents = append(v.Presents, t)
		if !seated[at.StudentID] {
			v.Benches = append(v.Benches, t)
		}
	}
	for _, r := range run.Reasons {
		v.Whats = append(v.Whats, choice{Value: string(r), Text: "hand up: " + p.Say(r.Text())})
	}
	v.Whats = append(v.Whats, choice{Value: string(run.Skipped), Text: "skips the step they are at"}, choice{Value: string(run.Gone), Text: "leaves"})
	for _, h := range page.Hands {
		v.Hands = append(v.Hands, handLine{h.StudentID, h.Name, whereIs(page, h.StudentID), p.Say(h.Reason.Text()), ago(p, d.Now.Sub(h.Since))})
	}
	if page.Last != nil && v.MayPress {
		v.Undo = &undo{page.Last.Seq, said(p, page)}
	}
	v.answer(p, page, late)
	return v
}

// answer says what to do first, or when the class is done.
func (v *runView) answer(p ui.P, page classes.RunPage, late []run.Standing) {
	limit := p.Clock(page.Plan.Class.EndsAt)
	var outcome string
	switch spare := page.Plan.Class.EndsAt.Sub(page.Forecast.Finish).Minutes(); {
	case len(page.Forecast.Ends) == 0:
		outcome = "Nobody is here any more."
	case len(late) > 0:
		names := make([]say.Text, len(late))
		for i, at := range late {
			names[i] = say.Name(at.Name)
		}
		outcome = fmt.Sprintf("%s will not finish by %s: the last is done at %s.", p.Say(say.Listed(names)), limit, p.Clock(page.Forecast.Finish))
	case !page.Left:
		outcome = "Everyone who is here is done."
	default:
		outcome = fmt.Sprintf("Everyone finishes by %s, %s to spare.", p.Clock(page.Forecast.Finish), p.Minutes(math.Floor(max(0, spare))))
	}
	if len(page.Hands) == 0 {
		v.Answer = outcome
		return
	}
	first := page.Hands[0]
	v.Answer = fmt.Sprintf("Go to %s: %s, %s, %s.", whereIs(page, first.StudentID), first.Name, p.Say(first.Reason.Text()), v.Hands[0].Up)
	v.Outcome = outcome
	if caution := first.Reason.Caution(); !caution.Silent() {
		v.Caution = p.Say(caution)
	}
}

func ago(p ui.P, since time.Duration) string {
	if since < time.Minute {
		return "just now"
	}
	return p.Minutes(math.Floor(since.Minutes())) + " ago"
}

func newTile(p ui.P, now time.Time, page classes.RunPage, at run.Standing, late []run.Standing) tile {
	t := tile{ID: at.StudentID, Name: at.Name, Late: slices.ContainsFunc(late, func(l run.Standing) bool { return l.StudentID == at.StudentID })}
	t.HandUp = slices.ContainsFunc(page.Hands, func(h run.Hand) bool { return h.StudentID == at.StudentID })
	if end, known := page.Forecast.Ends[at.StudentID]; known {
		t.Ends = p.Clock(end)
	}
	step, more := at.Step()
	if !more {
		t.Title = "done with everything"
		return t
	}
	t.Step, t.Title = pace.StepKey(step.Step), stepTitle(p, page.Plan, at.StudentID, step.Step)
	length, left := step.End-step.Start, at.LeftMinutes(now)
	t.Of, t.Done = int(math.Ceil(length)), int(math.Round(length-left))
	switch over := math.Floor(now.Sub(at.Since).Minutes() - length); {
	case at.Presence != run.Present:
	case !at.Begun:
		t.Waits, t.Time = true, "waits"
	case over >= 1:
		t.Over, t.Time = true, fmt.Sprintf("%.0f min over", over)
	default:
		t.Time = fmt.Sprintf("%.0f min", math.Ceil(left))
	}
	return t
}

// stepTitle is what a student's step is called.
func stepTitle(p ui.P, plan day.Plan, studentID int64, step string) string {
	w, _, ok := plan.Maker(day.PersonID(studentID))
	if !ok {
		return step
	}
	s, _ := w.Step(step)
	return p.Say(s.Title)
}

// whereIs is the machine somebody has, or the bench.
func whereIs(page classes.RunPage, studentID int64) string {
	if m, there := page.Plan.Machine(page.StationOf(studentID)); there {
		return m.Name
	}
	return "the bench"
}

// said is what happened last, in words.
func said(p ui.P, page classes.RunPage) string {
	e := page.Last
	at, _ := page.Standing(e.StudentID)
	switch e.Kind {
	case run.Started:
		return "the class began"
	case run.Here:
		return at.Name + " came"
	case run.Gone:
		return at.Name + " left"
	case run.Done:
		return at.Name + " is done: " + stepTitle(p, page.Plan, e.StudentID, string(e.Step))
	case run.Skipped:
		return at.Name + " skipped: " + stepTitle(p, page.Plan, e.StudentID, string(e.Step))
	case run.HandUp:
		return at.Name + "'s hand went up"
	case run.Settled:
		return at.Name + "'s hand was settled"
	case run.Undone:
	}
	return ""
}
