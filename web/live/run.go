// Package live is the pages of a class while it runs.
package live

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/actor"
	"chalkstep/app/classload"
	app "chalkstep/app/live"
	"chalkstep/core/classday"
	"chalkstep/core/live"
	"chalkstep/core/pace"
	"chalkstep/core/say"
	"chalkstep/web/classhead"
	"chalkstep/web/guard"
	"chalkstep/web/ui"
)

// Routes are a class while it runs.
func Routes(f *fiber.App) {
	f.Get("/classes/:id/run",
		ui.WithID(func(c fiber.Ctx, d app.UseCases, id int64) error { return showRun(c, d, id, nil) }))
	f.Post("/classes/:id/run", ui.WithID(happen))
	f.Get("/classes/:id/news", ui.WithID(news))
	f.Get("/classes/:id/big", ui.WithID(showBig))
	f.Get("/classes/:id/stations", ui.WithID(showStations))
	f.Get("/classes/:id/stations/:machine/code.png", ui.WithID(stationCode))
	f.Post("/classes/:id/stations", ui.WithID(renewStations))
}

func showRun(c fiber.Ctx, d app.UseCases, id int64, problems *ui.Refused) error {
	page, err := d.Run(id)
	if err != nil {
		return err
	}
	v := newRunView(d, page)
	what := cmp.Or(c.FormValue("what"), string(live.Question))
	v.Typed = typed{ui.Number(c.FormValue("student")), ui.Number(c.FormValue("with")), ui.Number(c.FormValue("machine")),
		what, c.FormValue("minutes"), c.FormValue("text"), c.FormValue("at")}
	c.Set(fiber.HeaderCacheControl, "no-store")
	return ui.Render(c, "live/run", classhead.Area, page.Plan.Class.Name, fiber.Map{"View": v, "Problems": problems})
}

// news keeps the board of a class up to date, or its big view.
func news(c fiber.Ctx, d app.UseCases, id int64) error {
	if _, err := d.Run(id); err != nil {
		return err
	}
	application, views, token, big := d.App(), c.App().Config().Views, strings.Clone(guard.SessionToken(c)),
		c.Query("view") == "big"
	return ui.Stream(c, application, id, ui.ByAccount(d.Who.AccountID), func(ctx context.Context) ([]byte, int64, error) {
		who, err := application.Session(ctx, token)
		if err != nil {
			return nil, 0, err
		}
		d := actor.As[app.UseCases](application.For(ctx, who))
		page, err := d.Run(id)
		if err != nil {
			return nil, 0, err
		}
		name, view := "live/board", any(newRunView(d, page))
		if big {
			name, view = "live/wall", newBigView(d, page)
		}
		html, err := ui.RenderPart(views, name, ui.P{Printer: d.Printer()}, fiber.Map{"View": view})
		return html, page.Seq, err
	})
}

// happen notes what a button of the board says, or the form beside it, whose what names
// a reason for a hand, or another kind.
func happen(c fiber.Ctx, d app.UseCases, id int64) error {
	in, ok := pressed(c.FormValue("press"))
	if !ok {
		in = app.HappenInput{
			StudentID: ui.Number(c.FormValue("student")), WithID: ui.Number(c.FormValue("with")),
			MachineID: ui.Number(c.FormValue("machine")), Minutes: c.FormValue("minutes"),
			Text: c.FormValue("text"), At: c.FormValue("at"), Kind: c.FormValue("what"), Speed: ui.Decimal(c.FormValue("speed")),
		}
		if live.Reason(in.Kind).Is() {
			in.Kind, in.Reason = string(live.HandUp), in.Kind
		}
		if live.Kind(in.Kind).Has().Step {
			in.Step = c.FormValue(fmt.Sprintf("step-%d", in.StudentID))
		}
	}
	return classhead.Back(c, d, id, "run", d.Happen(id, in), showRun)
}

// pressed reads what a button of the board says: a kind, a student or another number, a
// detail, and the last event of the board it stood on, which tells one press from the
// next like it.
func pressed(text string) (in app.HappenInput, ok bool) {
	parts := strings.Split(text, " ")
	if len(parts) != 4 {
		return in, false
	}
	in.Kind = parts[0]
	number, detail := ui.Number(parts[1]), parts[2]
	switch has := live.Kind(in.Kind).Has(); {
	case has.Moves:
		in.Offer = detail
	case has.Text:
		in.Text = detail
	case has.Undoes:
		in.Undoes = number
	case has.Machine && !has.Student:
		in.MachineID = number
	case has.Machine:
		in.StudentID, in.MachineID = number, ui.Number(detail)
	case has.Reason:
		in.StudentID, in.Reason = number, detail
	case has.Stop:
		step, stop, _ := strings.Cut(detail, "/")
		in.StudentID, in.Step, in.Stop = number, step, ui.Small(stop)
	default:
		in.StudentID, in.Step = number, detail
	}
	if in.Step == none {
		in.Step = ""
	}
	return in, true
}

// none stands for the detail of a button that has none.
const none = "-"

// A runView is the board of a class that runs.
type runView struct {
	classhead.Head
	Answer, Outcome, Caution string
	// Why says what is in the way of running it.
	Why                string
	Running            bool
	MayStart, MayPress bool
	Now                string
	Stations           []tile
	Benches            []tile
	Awaited, Away      []tile
	// First are the machines with who sits down at each first, before the class begins.
	First []tile
	// AllHere is the press that all of the awaited came, empty where one is awaited or none.
	AllHere string
	// AllDone is the press that all at the benches are done there, empty where one is or none.
	AllDone  string
	Hands    []handLine
	Next     []string
	Notes    []string
	Undo     *undo
	Whats    []whatChoice
	Machines []classhead.Choice
	// People are those who did not leave.
	People []tile
	Typed  typed
	// Seq is that of the last event on the board.
	Seq int64
	// Rehearses says how fast the clock goes, silent where it is that on the wall.
	Rehearses string
	// Moves are what those who cannot go on, or will not finish, could do.
	Moves []moveOffer
	// Stuck are those who cannot go on; Missing those who are waited for no more.
	Stuck   []string
	Missing string
	// End is the press that ends the class, empty where it has ended; Ended that it has.
	End   string
	Ended bool
	// Band is by when nine of ten such days are done.
	Band string
	// Arranged tells that machines have their places in the room.
	Arranged bool
	// Book tells that times to finish are offered.
	Book bool
	// Line is the class as a line of time, nil where there is none.
	Line *afternoon
}

// A moveOffer is a press that has somebody finish sooner, and one that leaves it.
type moveOffer struct{ Press, Leave, Text string }

// A whatChoice is something that can be noted beside the board; Key is the letter that chooses it,
// Asks the fields that are filled in then.
type whatChoice struct{ Value, Text, Key, Asks string }

// handKey is the letter that puts somebody's hand up for a question.
var handKey = map[live.Reason]string{live.Question: "h"}

// typed is what was filled in beside the board.
type typed struct {
	Student, With, Machine  int64
	What, Minutes, Text, At string
}

// A tile is a machine or a student on the board.
type tile struct {
	// Machine is silent at the benches; ID is the student's, 0 for nobody.
	Machine, Note string
	ID            int64
	Name          string
	Step          pace.StepKey
	// Last is the step that ends a row of several at the bench, silent for one alone.
	Title, Last, Time string
	Over, HandUp      bool
	// Done and Of are the minutes of the step that went by, and all of them.
	Done, Of int
	// Ends is when they are done with everything; Late after the class's end.
	Ends string
	Late bool
	// Waits tells that they have not begun, Out that the machine is out of order.
	Waits, Out bool
	// Press is what the button says when it is pressed, Button what it reads; empty for
	// none.
	Press, Button string
	// Quiet tells that nothing was heard for longer than it takes.
	Quiet string
	// Stops are the sewing they are at, as thread; Stop says which is sewn.
	Stops []ui.ThreadBar
	Stop  string
	// Cell is where the machine stands in the room, 0 for anywhere.
	Cell int
}

type handLine struct {
	ID                   int64
	Name, Where, For, Up string
	Press                string
}

// An undo is the event that can be taken classhead.Back, as it is said.
type undo struct{ Press, What string }

func newRunView(d app.UseCases, page classload.RunPage) runView {
	p, plan := ui.P{Printer: d.Printer()}, page.Plan
	v := runView{Head: classhead.NewHead(d.Actor, plan, "run", "", ""), Running: page.Running(), Why: p.Say(page.Why),
		Now: p.Clock(page.Now), Seq: page.Seq}
	may := d.Who.May(actor.RunClasses) && page.Why.Silent()
	v.MayStart, v.MayPress = may && !v.Running, may && v.Running
	if !v.Running {
		v.Answer = fmt.Sprintf("%s begins at %s, with %s.", plan.Class.Name, p.Clock(plan.Class.StartsAt),
			p.N(len(page.Standings), "student"))
		if d.Who.May(actor.RunClasses) && plan.Planned() && !plan.Class.Off() && page.Now.Before(plan.Class.EndsAt) {
			v.First = firstTiles(p, page)
		}
		return v
	}
	if page.Clock.Rehearses() {
		v.Rehearses = fmt.Sprintf("A rehearsal: the clock goes %.0f times as fast.", page.Clock.Speed)
	}
	late := page.Forecast.Late(page.State)
	tiles := map[int64]tile{}
	for _, at := range page.Standings {
		tiles[at.StudentID] = newTile(p, page, at, late)
	}
	v.seat(p, page, tiles)
	v.awaits()
	for _, h := range page.Hands {
		v.Hands = append(v.Hands,
			handLine{h.StudentID, h.Name, whereIs(page, h.StudentID), p.Say(h.Reason.Text()), ago(p, page.Now.Sub(h.Since)),
				press(live.Settled, h.StudentID, none, page.Seq)})
	}
	v.Notes = classhead.NoteLines(p, page.Notes)
	if page.Last != nil && v.MayPress {
		v.Undo = &undo{press(live.Undone, page.Last.Seq, none, page.Seq), p.Say(page.SaidLast())}
	}
	if _, v.Ended = page.Ended(); !v.Ended && v.MayPress {
		v.End = press(live.Ended, 0, none, page.Seq)
	}
	v.choices(p, page)
	v.answer(p, page)
	if !v.Ended {
		v.offers(p, page)
		v.Line = newAfternoon(p, page)
	}
	return v
}

// offers are what would help those who cannot go on, or will not finish in time.
func (v *runView) offers(p ui.P, page classload.RunPage) {
	for _, one := range page.Forecast.Stuck {
		v.Stuck = append(v.Stuck, p.Say(one.Why))
	}
	if len(page.Forecast.Missing) > 0 {
		v.Missing = p.Say(say.T("Not waited for any more: %s.", live.Names(page.Forecast.Missing)))
	}
	for _, o := range page.Offers {
		then := "then everyone finishes in time"
		switch {
		case o.Stuck > 0:
			then = fmt.Sprintf("%s cannot go on yet", p.N(o.Stuck, "student"))
		case o.Late > 0:
			then = fmt.Sprintf("%d still late", o.Late)
		}
		if len(o.Moves) == 0 {
			v.Moves = append(v.Moves,
				moveOffer{Text: fmt.Sprintf("With one more instructor from now on all are done %s, %s.", p.Clock(o.Done), then)})
			continue
		}
		var moves say.List
		for _, m := range o.Moves {
			move := say.T("%s to %s", say.Name(m.Name), say.Name(machineName(page, m.MachineID)))
			if m.After != "" {
				move = say.T("%s after %s", move, say.Name(m.After))
			}
			moves = append(moves, move)
		}
		gain := say.T("all done %s", say.Clock(o.Done))
		if !o.Was.IsZero() {
			gain = say.T("%s instead of %s", gain, say.Clock(o.Was))
		}
		v.Moves = append(v.Moves, moveOffer{press(live.Rearranged, 0, o.Key(), page.Seq),
			press(live.Declined, 0, o.Key(), page.Seq), p.Say(say.T("%s: %s, %s", moves, gain, then))})
	}
	v.Book = len(page.Forecast.Late(page.State)) > 0
}

// press is what a button says when it is pressed.
func press(kind live.Kind, about int64, detail string, seq int64) string {
	return fmt.Sprintf("%s %d %s %d", kind, about, detail, seq)
}

// seat puts everybody where they are: at a machine, at the benches, awaited, away.
func (v *runView) seat(p ui.P, page classload.RunPage, tiles map[int64]tile) {
	seated := map[int64]bool{}
	for _, m := range page.Plan.Class.Machines {
		station := classday.StationID(m.ID)
		t := tile{Machine: m.Name}
		if at, taken := page.At(station); taken && page.Out[station].IsZero() {
			t = tiles[at.StudentID]
			t.Machine, seated[at.StudentID] = m.Name, true
		}
		if t.Cell = m.Place; t.Cell > 0 {
			v.Arranged = true
		}
		since, out := page.Out[station]
		switch sittings := page.Forecast.Sittings(page.State, station); {
		case out:
			t.Out, t.Note = true, "out of order since "+p.Clock(since)
			if page.EndedAt.IsZero() {
				t.Button, t.Press = "Works again", press(live.Mended, m.ID, none, page.Seq)
			}
		case !page.EndedAt.IsZero():
		case len(sittings) == 0 && t.ID == 0:
			t.Note = "nobody is to come"
		case len(sittings) == 0:
		case t.ID != 0:
			t.Note = fmt.Sprintf("then %s at %s", sittings[0].Name, p.Clock(sittings[0].At))
			if over := page.PassedOver(station); len(over) > 0 {
				t.Note += p.Say(say.T("; passed over, not ready: %s", live.Names(over)))
			}
		default:
			next := sittings[0]
			t.Note = fmt.Sprintf("free; %s at %s", next.Name, p.Clock(next.At))
			if next.Soon(page.Now) {
				v.Next = append(v.Next, fmt.Sprintf("%s: %s is free, be ready to load at %s.", next.Name, m.Name, p.Clock(next.At)))
			}
		}
		v.Stations = append(v.Stations, t)
	}
	for _, at := range page.Standings {
		t := tiles[at.StudentID]
		if at.Presence != live.Left {
			v.People = append(v.People, t)
		}
		switch at.Presence {
		case live.Awaited:
			v.Awaited = append(v.Awaited, t)
		case live.Left:
			v.Away = append(v.Away, t)
		case live.Present:
			if !seated[at.StudentID] {
				v.Benches = append(v.Benches, t)
			}
		}
	}
}

// firstTiles are the machines of a class with who is planned to sit down at each first.
func firstTiles(p ui.P, page classload.RunPage) []tile {
	var tiles []tile
	for _, m := range page.Plan.Class.Machines {
		t := tile{Machine: m.Name, Note: "nobody is to come"}
		if sittings := page.Planned(classday.StationID(m.ID)); len(sittings) > 0 {
			t.Note = fmt.Sprintf("%s at %s", sittings[0].Name, p.Clock(sittings[0].At))
		}
		tiles = append(tiles, t)
	}
	return tiles
}

// awaits tells what is pressed when all come, or are done at the benches, at once.
func (v *runView) awaits() {
	if len(v.Awaited) > 1 && v.MayPress {
		v.AllHere = press(live.AllHere, 0, none, v.Seq)
	}
	atWork := 0
	for _, t := range v.Benches {
		if t.Press != "" {
			atWork++
		}
	}
	if atWork > 1 && v.MayPress {
		v.AllDone = press(live.AllDone, 0, none, v.Seq)
	}
}

// choices are what can be noted beside the buttons.
func (v *runView) choices(p ui.P, page classload.RunPage) {
	for _, r := range live.Reasons {
		v.Whats = append(v.Whats, whatChoice{Value: string(r), Text: "hand up: " + p.Say(r.Text()), Key: handKey[r]})
	}
	for _, c := range live.Choices() {
		v.Whats = append(v.Whats, whatChoice{Value: string(c.Kind), Text: p.Say(c.Text), Key: c.Key, Asks: c.Asks})
	}
	for _, m := range page.Plan.Class.Machines {
		v.Machines = append(v.Machines, classhead.Choice{Value: strconv.FormatInt(m.ID, 10), Text: m.Name})
	}
}

// answer says what to do first, or when the class is done.
func (v *runView) answer(p ui.P, page classload.RunPage) {
	outcome := p.Say(page.Outcome())
	v.Band = p.Say(page.NineOfTen())
	if len(page.Hands) == 0 {
		v.Answer = outcome
		return
	}
	first := page.Hands[0]
	v.Answer = fmt.Sprintf("Go to %s: %s, %s, %s.", whereIs(page, first.StudentID), first.Name, p.Say(first.Reason.Text()),
		v.Hands[0].Up)
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

func newTile(p ui.P, page classload.RunPage, at live.Standing, late []live.Standing) tile {
	now := page.Now
	t := tile{ID: at.StudentID, Name: at.Name,
		Late: slices.ContainsFunc(late, func(l live.Standing) bool { return l.StudentID == at.StudentID })}
	t.HandUp = slices.ContainsFunc(page.Hands, func(h live.Hand) bool { return h.StudentID == at.StudentID })
	if end, known := page.Forecast.Ends[at.StudentID]; known {
		t.Ends = p.Clock(end)
	}
	if at.Presence != live.Present {
		t.Button, t.Press = "Here", press(live.Here, at.StudentID, none, page.Seq)
		if !at.Expected.IsZero() && at.Presence == live.Awaited {
			t.Note = "comes at " + p.Clock(at.Expected)
		}
		if at.Presence == live.Left {
			t.Button = "Back"
		}
	}
	step, more := at.Step()
	if !more {
		t.Title = "done with everything"
		return t
	}
	t.Step, t.Title = pace.StepKey(step.Operation), classhead.StepTitle(p, page.Plan, at.StudentID, step.Operation)
	if !page.EndedAt.IsZero() { // what was begun stands as it was
		t.Button, t.Press = "", ""
		return t
	}
	row, left := page.RowNow(at, now), page.RowLeft(at, now)
	length := left + max(0, now.Sub(at.Since).Minutes())
	last := row[len(row)-1].Operation
	if len(row) > 1 {
		t.Last = classhead.StepTitle(p, page.Plan, at.StudentID, last)
	}
	t.Of, t.Done = int(math.Ceil(length)), int(math.Round(length-max(0, left)))
	switch over := math.Floor(-left); {
	case at.Presence != live.Present:
		return t
	case !at.Begun:
		t.Waits, t.Time = true, "waits"
		return t
	case over >= 1:
		t.Over, t.Time = true, fmt.Sprintf("+%.0f min", over)
	default:
		t.Time = fmt.Sprintf("%.0f min", math.Ceil(left))
	}
	t.Button, t.Press = "Done", press(live.Done, at.StudentID, step.Operation, page.Seq)
	if len(row) > 1 {
		t.Button, t.Press = p.Say(live.RowText(pace.StepKey(last))),
			press(live.RowDone, at.StudentID, step.Operation, page.Seq)
	}
	if at.Stop+1 < len(at.Stops) {
		t.Button, t.Press = "Stop done",
			press(live.StopDone, at.StudentID, fmt.Sprintf("%s/%d", step.Operation, at.Stops[at.Stop].N), page.Seq)
	}
	if len(at.Stops) > 0 {
		t.Stops, t.Stop = newStopBars(page, at), stopWords(page, at)
	}
	if page.Unanswered(at, now) {
		t.Quiet = fmt.Sprintf("nothing heard for %s: ask", p.Minutes(math.Floor(now.Sub(at.Heard).Minutes())))
	}
	return t
}

// whereIs is the machine somebody has, or the bench.
func whereIs(page classload.RunPage, studentID int64) string {
	if m, there := page.Plan.Machine(page.StationOf(studentID)); there {
		return m.Name
	}
	return "the bench"
}

func machineName(page classload.RunPage, id int64) string {
	m, _ := page.Plan.Machine(classday.StationID(id))
	return m.Name
}
