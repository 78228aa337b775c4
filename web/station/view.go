package station

import (
	"crypto/rand"
	"fmt"
	"math"
	"time"

	app "chalkstep/app/live"
	"chalkstep/core/card"
	"chalkstep/core/classday"
	"chalkstep/core/design"
	"chalkstep/core/fleet"
	"chalkstep/core/live"
	"chalkstep/core/pace"
	stitchpicture "chalkstep/core/stitch/picture"
	"chalkstep/web/ui"
)

// A view is what the phone shows: the screen one is at, and those that follow while one
// stays at the machine, so that it goes on without a connection.
type view struct {
	Token, Machine, Now string
	StudentID           int64
	Student             string
	Answer, Note        string
	Screens             []screen
	// Sittings are who may sit down.
	Sittings []sitting
	// Bench are those at no machine, for the phone of the benches.
	Bench []bencher
	Hand  *handView
	Quiet bool
	// Reasons to call somebody.
	Reasons []reason
	// Seq is that of the last event on the page.
	Seq int64
	// Form names a press of this page that is sent without a script.
	Form      string
	Rehearses bool
}

type sitting struct {
	ID       int64
	Name, At string
}

type bencher struct {
	ID         int64
	Name, Text string
	Kind       live.Kind
	// Titles are what follows at the bench; Works tells that they are at it.
	Titles   []string
	Works    bool
	Step     pace.StepKey
	Hand     string
	Cautions []string
}

type handView struct{ Reason, Text, Since string }

type reason struct {
	Key, Text, Caution string
	Checks             []string
}

// A screen is a step, or a stop of a sewing.
type screen struct {
	Title    string
	Drawing  *drawing
	Bars     []ui.ThreadBar
	Thread   string
	Color    string
	Notes    []string
	Cautions []string
	Kind     live.Kind
	Step     pace.StepKey
	Stop     int
	Text     string
	Sub      string
}

// A drawing is the design in its hoop, in tenths of a millimetre with the middle at 0.
type drawing struct {
	Href                      string
	ViewBox                   string
	FieldX, FieldY            float64
	FieldW, FieldH, Round     float64
	X, Y, Width, Height       float64
	Turn                      int
	AcrossX, AcrossY, Notches float64
}

func newView(p ui.P, token string, page app.StationPage) view {
	v := view{Token: token, Machine: page.Machine.Name, Now: p.Clock(page.Now), Form: rand.Text(), Seq: page.Seq,
		Rehearses: page.Clock.Rehearses()}
	for _, r := range live.Reasons {
		v.Reasons = append(v.Reasons, reason{string(r), p.Say(r.Text()), p.Say(r.Caution()), p.Lines(r.Checks())})
	}
	at, ended := page.Ended()
	switch {
	case !page.Why.Silent():
		v.Answer = p.Say(page.Why)
	case !page.Running():
		v.Answer = fmt.Sprintf("The class begins at %s.", p.Clock(page.Plan.Class.StartsAt))
	case ended:
		v.Answer = fmt.Sprintf("The class ended at %s.", p.Clock(at))
	case page.Machine.ID == 0:
		v.bench(p, page)
	case !page.Out[fmt.Sprint(page.Machine.ID)].IsZero():
		v.Answer, v.Note = page.Machine.Name+" is out of order.", "Leave it off. The instructor says when it works again."
	case !page.Taken:
		v.empty(p, page)
	default:
		v.sews(p, page)
	}
	return v
}

// empty is a machine that nobody has.
func (v *view) empty(p ui.P, page app.StationPage) {
	v.Answer = page.Machine.Name + " is free."
	for _, s := range page.Sittings {
		v.Sittings = append(v.Sittings, sitting{s.StudentID, s.Name, p.Clock(s.At)})
	}
	if len(v.Sittings) > 0 {
		v.Answer = fmt.Sprintf("%s is free: %s is next, at %s.", page.Machine.Name, v.Sittings[0].Name, v.Sittings[0].At)
		v.Note = "Press your name when you sit down here."
	}
}

// bench is who is at no machine, and what they are at.
func (v *view) bench(p ui.P, page app.StationPage) {
	v.Machine, v.Answer, v.Note = "The benches", "Press when all of yours is done.", "Whoever comes presses their name."
	for _, at := range page.Standings {
		if page.StationOf(at.StudentID) != "" || at.Presence == live.Left || at.Finished() {
			continue
		}
		b := bencher{ID: at.StudentID, Name: at.Name}
		row := page.RowNow(at, page.Now)
		w, _, _ := page.Plan.Maker(row[0].Job)
		for _, placed := range row {
			step, _ := w.Step(placed.Operation)
			b.Titles, b.Cautions = append(b.Titles, p.Say(step.Title)), append(b.Cautions, p.Lines(step.Cautions)...)
		}
		b.Step = pace.StepKey(row[0].Operation)
		switch last := pace.StepKey(row[len(row)-1].Operation); {
		case at.Presence == live.Awaited:
			b.Kind, b.Text, b.Titles, b.Cautions, b.Step = live.Here, "I am here", nil, nil, ""
		case at.Begun && len(row) > 1:
			b.Kind, b.Text, b.Works = live.RowDone, p.Say(live.RowText(last)), true
		case at.Begun:
			b.Kind, b.Text, b.Works = live.Done, p.Say(live.RowText(last)), true
		default:
			b.Titles, b.Cautions = []string{"waits: " + b.Titles[0]}, nil
		}
		for _, h := range page.Hands {
			if h.StudentID == at.StudentID {
				b.Hand = p.Say(h.Reason.Text())
			}
		}
		v.Bench = append(v.Bench, b)
	}
}

// sews is somebody at the machine.
func (v *view) sews(p ui.P, page app.StationPage) {
	v.StudentID, v.Student, v.Quiet = page.At.StudentID, page.At.Name, page.Quiet
	if page.Hand != nil {
		v.Hand = &handView{string(page.Hand.Reason), p.Say(page.Hand.Reason.Text()), since(p, page.Now.Sub(page.Hand.Since))}
	}
	at := page.At
	w, _, _ := page.Plan.Maker(at.Steps[0].Job)
	first, more := at.Step()
	if !more {
		v.Answer = at.Name + " is done."
		return
	}
	hooping := pace.StepKey(first.Operation).Hooping()
	for k := at.Next; k < len(at.Steps); k++ {
		placed := at.Steps[k]
		key := pace.StepKey(placed.Operation)
		if placed.Machine != first.Machine || key.Hooping() != hooping {
			break
		}
		step := stepOf(page, w, key)
		left := placed.End - placed.Start
		if k == at.Next {
			left = at.LeftMinutes(page.Now)
		}
		stops := page.Plan.SewnStops(at.StudentID, key, page.Machine.ID)
		if len(stops) == 0 {
			s := screen{Title: p.Say(step.Title) + about(p, left), Cautions: p.Lines(step.Cautions), Notes: p.Lines(step.Notes),
				Kind: live.Done, Step: key, Text: "Done"}
			if key.Is(pace.StepLoad) {
				s.Text, s.Sub = "Loaded, it sews", "the first stop begins"
				if page.Sheet != nil {
					s.Notes = append(s.Notes, p.Lines(page.Sheet.Setup)...)
					s.Drawing = newDrawing(v.Token, page.Sheet, 1)
				}
			}
			v.Screens = append(v.Screens, s)
			continue
		}
		done := 0
		if k == at.Next {
			done = at.Stop
		}
		for i := done; i < len(stops); i++ {
			v.Screens = append(v.Screens,
				newStopScreen(p, v.Token, page, key, step, stops[i].N, stops[i].Minutes, i+1 == len(stops)))
		}
		if k == at.Next && len(v.Screens) > 0 {
			present := stops[done].Minutes - page.Now.Sub(at.StopSince).Minutes()
			v.Screens[0].Title = stopTitle(p, page.Sheet, stops[done].N, max(1, present))
		}
	}
	if len(v.Screens) > 0 {
		v.Answer = v.Screens[0].Title
	}
}

// stepOf is a step as the card has it, or what the plan says where there is no card.
func stepOf(page app.StationPage, w classday.Work, key pace.StepKey) card.Step {
	if step, has := page.Card.Step(key); has {
		return step
	}
	step, _ := w.Step(string(key))
	return card.Step{Key: key, Title: step.Title, Notes: step.Notes, Cautions: step.Cautions}
}

func since(p ui.P, d time.Duration) string {
	if d < time.Minute {
		return "just now"
	}
	return p.Minutes(math.Floor(d.Minutes()))
}

func about(p ui.P, minutes float64) string {
	return ", about " + p.Minutes(math.Max(1, math.Ceil(minutes))) + "."
}

func stopTitle(p ui.P, sheet *card.Sheet, n int, minutes float64) string {
	title := card.Stop{N: n}.Title()
	if sheet != nil && n <= len(sheet.Stops) {
		title = sheet.Stops[n-1].TitleOf(len(sheet.Stops))
	}
	return p.Say(title) + about(p, minutes)
}

func newStopScreen(p ui.P, token string, page app.StationPage, key pace.StepKey, step card.Step, n int, minutes float64,
	last bool) screen {
	s := screen{Title: stopTitle(p, page.Sheet, n, minutes), Cautions: p.Lines(step.Cautions), Kind: live.StopDone,
		Step: key, Stop: n, Text: "Stop is done", Sub: "next thread comes up"}
	if last {
		s.Kind, s.Stop, s.Text, s.Sub = live.Done, 0, "Finished", "then take the hoop off"
	}
	sheet := page.Sheet
	if sheet == nil || n > len(sheet.Stops) {
		return s
	}
	s.Notes = append(p.Lines(sheet.Stops[n-1].Before), p.Lines(sheet.Stops[n-1].After)...)
	s.Drawing, s.Bars = newDrawing(token, sheet, n), newBars(page, sheet, n)
	if n < len(sheet.Stops) {
		next := sheet.Stops[n]
		s.Color, s.Thread = next.Color.String(), "Then change to "+p.Say(next.Thread)
		if next.SameThread {
			s.Thread, s.Sub = "The same thread goes on", "it sews on"
		}
		if next.Sews != "" {
			s.Thread += " for " + next.Sews
		}
	}
	return s
}

// notch is how far the marks of the middle reach over the hoop's field, in tenths of a
// millimetre.
const notch = 30

// near is how much of the hoop is seen, by the size of the design.
const near = 1.5

func newDrawing(token string, sheet *card.Sheet, n int) *drawing {
	d := sheet.Design
	halfX, halfY := stitchpicture.Extent(d.WidthMM, d.HeightMM)
	view := &drawing{Href: pictureURL(token, d.ID, d.Version, n), X: -halfX, Y: -halfY, Width: 2 * halfX,
		Height: 2 * halfY, Turn: sheet.Seat.Fit.Turn, Notches: notch}
	x, y := field(sheet.Seat, d)
	view.FieldX, view.FieldY, view.FieldW, view.FieldH, view.Round = -x, -y, 2*x, 2*y, math.Min(x, y)/8
	view.AcrossX, view.AcrossY = x, y
	across, up := d.WidthMM, d.HeightMM
	if view.Turn%180 != 0 {
		across, up = up, across
	}
	// A small design in a large hoop is seen near enough to point at.
	x, y = math.Min(x, near*across*5), math.Min(y, near*up*5)
	view.ViewBox = fmt.Sprintf("%.0f %.0f %.0f %.0f", -x-2*notch, -y-2*notch, 2*x+4*notch, 2*y+4*notch)
	return view
}

// field is half the hoop's field, or half the design where there is none.
func field(seat fleet.Seat, d design.Design) (x, y float64) {
	x, y = seat.Hoop.Field.WidthMM*5, seat.Hoop.Field.HeightMM*5
	if x == 0 || y == 0 {
		return d.WidthMM * 5, d.HeightMM * 5
	}
	return x, y
}

// strip is where the stops of a hooping are drawn, as wide as the phone.
var strip = ui.Strip{Width: 358, Gap: 4, Least: 8, DotApart: 10, Inset: 3}

// newBars draw all stops of a hooping; those of an earlier part of it, whose minutes are
// known no more, as long as the others in the middle.
func newBars(page app.StationPage, sheet *card.Sheet, n int) []ui.ThreadBar {
	minutes, total := map[int]float64{}, 0.0
	for _, s := range page.At.Stops {
		minutes[s.N] = s.Minutes
		total += s.Minutes
	}
	stops := make([]ui.ThreadStop, len(sheet.Stops))
	for i, s := range sheet.Stops {
		m, known := minutes[i+1]
		if !known {
			m = total / math.Max(1, float64(len(page.At.Stops)))
		}
		stops[i] = ui.ThreadStop{Minutes: m, Color: s.Color.String()}
	}
	return strip.Bars(stops, n-1)
}
