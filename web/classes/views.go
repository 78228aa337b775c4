package classes

import (
	"cmp"
	"fmt"
	"math"

	"chalkstep/app/classes"
	"chalkstep/app/desk"
	"chalkstep/core/blank"
	"chalkstep/core/card"
	"chalkstep/core/day"
	"chalkstep/core/design"
	"chalkstep/core/kit"
	"chalkstep/core/pace"
	"chalkstep/core/say"
	"chalkstep/core/shelf"
	"chalkstep/core/skill"
	"chalkstep/core/supply"
	"chalkstep/web/ui"
)

// What a page of a class shows is put into words here, so that templates only
// place it.

// A head is what stands above every part of a class.
type head struct {
	ID, ProjectID int64
	// DesignID is what the class sews first, 0 when it is gone.
	DesignID       int64
	Name, Project  string
	When, Who      string
	Part, Sub      string
	PlanDone       bool
	Problem, Boxes string
	Parts          []prepPart
	Cancelled      bool
	// MayChange tells that the reader may change the class.
	MayChange bool
}

func newHead(d classes.Desk, plan day.Plan, part, sub string, boxes string) head {
	p, c := printer(d), plan.Class
	h := head{MayChange: d.Who.May(desk.ChangeClasses),
		ID: c.ID, ProjectID: c.Project.ID, DesignID: c.Project.Design().ID, Name: c.Name, Project: c.Project.Name, Part: part, Sub: sub, PlanDone: plan.Planned() && plan.Result.Fits, Boxes: boxes, Parts: prepParts,
		When: fmt.Sprintf("%s, %s–%s", p.Day(c.StartsAt), p.Clock(c.StartsAt), p.Clock(c.EndsAt)),
		Who:  fmt.Sprintf("%s, %s", p.N(len(c.Places), "student"), p.N(len(c.Machines), "machine")),
	}
	h.Cancelled = c.CancelledAt != nil
	if !plan.Planned() {
		h.Problem = p.Say(plan.Why)
	}
	return h
}

// A planView is the plan of a class.
type planView struct {
	head
	Planned, Fits bool
	// Version is the class's; MayPull tells that something of it can be changed
	// yet, Odds how likely it is to end in time.
	Version int
	MayPull bool
	Odds    string
	// Finish is the figure of the answer; Spare how long before or after the
	// end of the class.
	Finish, Spare, Tight string
	Wait, NotReady       string
	// Fairness is what it costs that the plan is good for people.
	Fairness string
	// Loud is what is out of order, or with another class, while it runs.
	Loud []string
	// LeftOut says, one by one, who the class has nothing for.
	LeftOut []leftOut
	Day     picture
	List    dayList
	// Move is what may be moved, nil for a reader who may not.
	Move   *moveView
	Behind []behind
	// Adopted names what of the levers was adopted.
	Adopted []string
	Seats   []seatView
	Working []string
	Titles  []string
	Rows    []planRow
}

// A leftOut is a student the class has nothing for.
type leftOut struct {
	ID        int64
	Name, Why string
}

// A behind is a student who is not ready alone, with what they lack.
type behind struct {
	ID         int64
	Name, Lack string
	// Practises is what of the ladder they practise while they wait.
	Practises string
}

// A seatView is a machine of the class with its hoop.
type seatView struct {
	ID                          int64
	Name, Hoop, Convert, Format string
	Problem                     string
	Turned, HasFile             bool
}

// A planRow is a student's day in the table.
type planRow struct {
	ID         int64
	Name, Wait string
	Absent     bool
	// LeftOut tells that the class has nothing for them.
	LeftOut bool
	Makes   string
	Cells   []planCell
}

type planCell struct{ Title, At, Machine string }

// oddsDays are played for a page; somebody late on atRisk of them is named.
const (
	oddsDays = 500
	atRisk   = 0.1
)

func newPlanView(d classes.Desk, plan day.Plan) planView {
	p := printer(d)
	v := planView{head: newHead(d, plan, "plan", "", ""), Planned: plan.Planned(), Seats: seatsOf(p, plan)}
	for _, n := range plan.NotReady {
		b := behind{ID: n.Student.ID, Name: n.Student.Name, Lack: p.N(len(n.Missing), "step")}
		if len(n.Missing) <= 2 {
			b.Lack = p.Say(skill.Titles(n.Missing))
		}
		b.Practises = practisedBy(p, plan, n.Student.ID)
		v.Behind = append(v.Behind, b)
	}
	if len(v.Behind) > 0 {
		var names say.List
		for _, b := range v.Behind {
			names = append(names, first(b.Name))
		}
		if len(names) == 1 {
			v.NotReady = p.Say(say.T("%s is not ready alone", names))
		} else {
			v.NotReady = p.Say(say.T("%s are not ready alone", names))
		}
	}
	v.Loud = p.Lines(plan.Loud())
	for _, key := range plan.Class.Adopted {
		v.Adopted = append(v.Adopted, p.Say(plan.Class.LeverName(key)))
	}
	for _, l := range plan.LeftOut {
		v.LeftOut = append(v.LeftOut, leftOut{l.Student.ID, l.Student.Name, p.Say(l.Why)})
	}
	if !v.Planned {
		return v
	}
	v.Fits, v.Finish, v.Tight = plan.Result.Fits, p.Clock(plan.Finish()), p.Say(plan.Tight)
	v.Spare = p.Minutes(max(plan.SpareMinutes, -plan.SpareMinutes))
	v.Wait = "Nobody waits."
	if plan.Waiter != "" {
		v.Wait = fmt.Sprintf("Longest wait %s (%s).", p.Minutes(plan.LongestWait), first(plan.Waiter))
	}
	v.Fairness = p.Say(plan.Fairness())
	v.Version, v.MayPull = plan.Class.Version, !plan.Class.Over(d.Now)
	outlook, err := plan.Odds(oddsDays)
	if err == nil {
		v.Odds = p.Say(say.T("On %s of days everyone is done in time; nine days of ten are done by %s.", say.Percent(math.Floor(100*outlook.FitsShare)), say.Clock(plan.At(outlook.P90+float64(plan.Class.ClosingMinutes)))))
		for _, risk := range outlook.Late {
			if _, place, ok := plan.Maker(risk.Person); ok && risk.Share >= atRisk && plan.Result.Fits {
				v.Odds += " " + p.Say(say.T("%s is late on %s of them.", say.Name(first(place.Name)), say.Percent(math.Ceil(100*risk.Share))))
				break
			}
		}
	}
	v.Day = newPicture(p, plan, outlook, d.Now)
	v.List = newDayList(p, plan)
	v.Working = p.Lines([]say.Text{
		say.T("The plan takes %s minutes from %s.", say.Decimal{Value: plan.Result.MakespanMinutes, Places: 1}, say.Clock(plan.Class.StartsAt)),
		say.T("No plan can be shorter than %s minutes: nobody is faster than their own steps, and no machine, hoop or hand does more at once than it can.", say.Decimal{Value: plan.Result.LowerBoundMinutes, Places: 1}),
		say.T("First-timers take %s × as long over hand steps. Who has not been signed off on hooping or loading has the instructor beside them there.", say.Decimal{Value: plan.Rules.Pace.FirstTimer, Places: 1}),
		say.T("A hoop is held from hooping until the work is out of it; loading keeps the machine until the last stop is sewn."),
	})
	v.Working = append(v.Working, p.Lines(plan.Varies())...)
	v.Titles = titlesOf(p, plan)
	for _, place := range plan.Class.Places {
		v.Rows = append(v.Rows, newPlanRow(p, plan, place))
	}
	return v
}

// practisedBy is what of the ladder somebody practises while they wait.
func practisedBy(p ui.P, plan day.Plan, studentID int64) string {
	var titles say.List
	for _, wait := range plan.WaitsOf(studentID) {
		for _, practice := range wait.Fill {
			if practice.Skill != "" {
				titles = append(titles, practice.Title)
			}
		}
	}
	if len(titles) == 0 {
		return ""
	}
	return p.Say(say.T("%s", titles))
}

// titlesOf are the titles of the steps of what the class makes, as the plan has them.
func titlesOf(p ui.P, plan day.Plan) []string {
	w := plan.Works[0]
	var titles []string
	if len(w.Places) > 0 {
		for _, s := range plan.StepsOf(day.PersonID(w.Places[0].ID)) {
			step, _ := w.Step(s.Step)
			titles = append(titles, p.Say(step.Title))
		}
		return titles
	}
	for _, s := range w.Steps {
		titles = append(titles, p.Say(s.Title))
	}
	return titles
}

func newPlanRow(p ui.P, plan day.Plan, place day.Place) planRow {
	row := planRow{ID: place.ID, Name: place.Name, Absent: place.Attendance == day.Absent}
	if row.Absent {
		return row
	}
	w, _, _ := plan.Maker(day.PersonID(place.ID))
	if place.Makes != nil {
		row.Makes = w.Name
	}
	if plan.IsLeftOut(place.ID) {
		row.LeftOut = true
		return row
	}
	row.Wait = p.Whole(plan.Result.Waiting[day.PersonID(place.ID)]) + " min"
	for _, s := range plan.StepsOf(day.PersonID(place.ID)) {
		cell := planCell{At: p.Clock(plan.At(s.Start))}
		if step, ok := w.Step(s.Step); ok {
			cell.Title = p.Say(step.Title)
		}
		if m, ok := plan.Machine(s.Station); ok {
			cell.Machine = m.Name
		}
		row.Cells = append(row.Cells, cell)
	}
	return row
}

func seatsOf(p ui.P, plan day.Plan) []seatView {
	var seats []seatView
	if len(plan.Works) == 0 || len(plan.Works[0].Sewing) == 0 {
		return nil
	}
	for _, s := range plan.Works[0].Sewing[0].Seats {
		v := seatView{ID: s.Machine.ID, Name: s.Machine.Name, HasFile: s.HasFile, Format: s.Format(), Convert: s.ConvertTo, Turned: s.Fit.Turn != 0}
		if s.Fits() {
			v.Hoop = s.Hoop.Name
		} else {
			v.Problem = p.Say(s.Problem)
		}
		seats = append(seats, v)
	}
	return seats
}

// A bringView is what to bring to a class.
type bringView struct {
	head
	Sets, Pieces, Kinds, Summary string
	Working                      []string
	Lines                        []bringLine
	Seats                        []seatView
	// Ahead is what is done before the day, each with its minutes.
	Ahead []string
}

// A bringLine is a line of what to bring.
type bringLine struct {
	Sign, Color, What, Quantity string
	Working                     []string
}

func newBringView(d classes.Desk, page classes.KitsPage, boxes string) bringView {
	p, k := printer(d), page.Packing.Kit
	v := bringView{head: newHead(d, page.Plan, "prep", "bring", boxes), Sets: p.N(k.Sets, "set"), Pieces: p.N(k.Sheets(), "piece"), Working: p.Lines(k.SetsWorking), Seats: seatsOf(p, page.Plan)}
	if len(k.Cuts) > 1 {
		v.Kinds = fmt.Sprintf(" in %d kinds", len(k.Cuts))
	}
	summary := []any{say.T("%s in %s", fibreOf(k), say.N{N: len(k.Thread), Noun: "colour"}), say.T("%s in %s", say.N{N: k.BobbinCount(), Noun: "full bobbin"}, say.N{N: len(k.Bobbins), Noun: "style"})}
	for _, n := range k.Needles {
		summary = append(summary, say.T("%s %s", n.Quantity(), n.Key))
	}
	v.Summary = p.Sentence(say.T("%s", say.List(summary)))
	for _, task := range page.Packing.Ahead {
		v.Ahead = append(v.Ahead, p.Say(say.T("%s: about %s", task.Text, say.Minutes(task.Minutes))))
	}
	for _, l := range k.All() {
		line := bringLine{Sign: "todo", What: p.Say(l.Say()), Quantity: p.Say(l.Quantity()), Working: p.Lines(l.Working)}
		if l.Unit == kit.SheetUnit {
			line.Sign = "cut"
		}
		if l.Key.Kind == supply.Thread {
			line.Color = l.Key.Color.String()
			line.What += ": " + p.Say(page.Spool(l.Key))
		}
		v.Lines = append(v.Lines, line)
	}
	return v
}

// fibreOf is what the top thread of a kit is.
func fibreOf(k kit.Kit) say.Word {
	if len(k.Thread) == 0 {
		return "top thread"
	}
	return say.Word(k.Thread[0].Key.Fibre)
}

// A kitsView is the bags of a class.
type kitsView struct {
	head
	Answer string
	Sheets []string
	Bags   []bagView
}

// A bagView is one student's bag and how far it is.
type bagView struct {
	ID                int64
	Version, Sitting  int
	Name, Where       string
	State, Next, Verb string
	Done, Begun       bool
	Missing           string
	Items             []bagItem
}

type bagItem struct {
	ID, Text string
	In       bool
}

func newKitsView(d classes.Desk, page classes.KitsPage, boxes string) kitsView {
	p := printer(d)
	v := kitsView{head: newHead(d, page.Plan, "prep", "kits", boxes), Sheets: classes.LabelSheets()}
	v.Answer = p.Say(say.T("%s of %s packed.", say.Count(page.Done()), say.N{N: len(page.Bags), Noun: "kit"}))
	if page.Done() == len(page.Bags) {
		v.Answer = p.Say(say.T("All %s are packed.", say.N{N: len(page.Bags), Noun: "kit"}))
	}
	for _, b := range page.Bags {
		bag := bagView{ID: b.ID, Version: b.Version, Sitting: b.Sitting, Name: b.Name, Where: b.Project.Name, State: string(b.Kit), Done: b.Kit.Been(kit.Packed), Begun: b.Kit != kit.ToCut}
		if b.Machine != "" {
			bag.Where += " at " + b.Machine
		}
		if next, ok := b.Kit.Next(); ok {
			bag.Next, bag.Verb = string(next), kitVerb[next]
		}
		if b.Missing > 0 {
			bag.Missing = fmt.Sprintf("%d missing", b.Missing)
		}
		for _, item := range b.Items {
			bag.Items = append(bag.Items, bagItem{string(item.ID()), p.Say(item.Whole()), item.In})
		}
		v.Bags = append(v.Bags, bag)
	}
	return v
}

// kitVerb says what leads to a state of a kit.
var kitVerb = map[kit.State]string{kit.Cut: "It is cut", kit.Packed: "Pack it", kit.HandedOut: "Hand it out", kit.Returned: "It is back"}

// A shelfView is what a class takes from the shelf.
type shelfView struct {
	head
	Answer, Fee, Cost, Short string
	AnyShort                 bool
	Needs                    []needView
	Held                     []heldView
	Cuts                     []cutView
	Sheets                   []string
	Unknown                  string
	// CutDone tells that all kits are cut; Books is what reserving speaks for.
	CutDone bool
	Books   []string
}

// A needView is a line of what is needed.
type needView struct {
	Asked, There           string // colours
	What, Amount           string
	ItemID                 int64
	Item, Near, Off, Taken string
	Far                    bool
	Free, Lacks            string
	Reserved               bool
	Working                []string
}

// A heldView is something reserved, with how much of it was used as a form
// says it.
type heldView struct {
	ItemID     int64
	Name, Used string
	Reserved   string
}

func newShelfView(d classes.Desk, page classes.ShelfPage, boxes string) shelfView {
	p := printer(d)
	v := shelfView{head: newHead(d, page.Plan, "prep", "shelf", boxes), Sheets: desk.PaperSizes(), Fee: p.Cents(int(page.FeeCents + 0.5)), Cost: p.Cents(int(page.Cents + 0.5)), Unknown: p.Say(page.Problem)}
	short := page.Short()
	v.AnyShort = len(short) > 0
	switch {
	case len(short) == 1:
		v.Answer = "1 thing is short."
	case v.AnyShort:
		v.Answer = p.Say(say.T("%s are short.", say.N{N: len(short), Noun: "thing"}))
	case page.Taking.Reserved:
		v.Answer = "Everything is on the shelf and reserved."
	default:
		v.Answer = "Everything is on the shelf."
	}
	var lacks say.List
	for _, n := range short {
		lacks = append(lacks, say.T("%s of %s", n.Lacks(), n.Say()))
	}
	v.Short = p.Say(say.T("%s", lacks))
	v.CutDone, v.Books = page.CutDone(), booksOf(p, page.Needs)
	held := map[int64]int{}
	for _, n := range page.Needs {
		v.Needs = append(v.Needs, newNeedView(p, n))
		if n.Item == nil || n.Reserved <= 0 {
			continue
		}
		at, seen := held[n.Item.ID]
		if !seen {
			at = len(v.Held)
			held[n.Item.ID] = at
			name := n.Item.Name
			if n.Item.ByLength() {
				name += ", " + p.Units.ClothUnit()
			}
			v.Held = append(v.Held, heldView{ItemID: n.Item.ID, Name: name})
		}
		held := reservedOf(page.Needs, n.Item.ID)
		v.Held[at].Used, v.Held[at].Reserved = d.TypedQuantity(*n.Item, held), p.Say(n.Item.Amount(held))
	}
	for _, c := range page.Cuts {
		v.Cuts = append(v.Cuts, newCutViews(p, c)...)
	}
	return v
}

// booksOf says what reserving would speak for, item by item.
func booksOf(p ui.P, needs []shelf.Need) []string {
	amounts, order := map[int64]float64{}, []shelf.Item{}
	for _, n := range needs {
		if n.Item == nil {
			continue
		}
		if more := n.Quantity - n.Reserved - n.Missing(); more > 1e-6 {
			if amounts[n.Item.ID] == 0 {
				order = append(order, *n.Item)
			}
			amounts[n.Item.ID] += more
		}
	}
	var lines []string
	for _, item := range order {
		lines = append(lines, p.Say(say.T("%s of %s", item.Amount(amounts[item.ID]), item.Name)))
	}
	return lines
}

// reservedOf sums up what several needs have reserved of one item.
func reservedOf(needs []shelf.Need, itemID int64) float64 {
	sum := 0.0
	for _, n := range needs {
		if n.Item != nil && n.Item.ID == itemID {
			sum += n.Reserved
		}
	}
	return sum
}

func newNeedView(p ui.P, n shelf.Need) needView {
	v := needView{What: p.Say(n.Say()), Amount: p.Say(n.Amount(n.Quantity)), Working: p.Lines(n.Working), Reserved: n.Quantity > 0 && n.Reserved >= n.Quantity-1e-6}
	switch {
	case n.Quantity == 0:
		v.Amount = p.Say(say.T("%s, shared", say.Count(n.AtOnce)))
	case n.AtOnce > 1:
		v.Amount = p.Say(say.T("%s, %s at once", n.Amount(n.Quantity), say.N{N: n.AtOnce, Noun: "spool"}))
	}
	thread := n.Key.Kind == supply.Thread
	if thread {
		v.Asked = n.Key.Color.String()
	}
	if n.Short() {
		v.Lacks = p.Say(say.T("%s short", n.Lacks()))
	}
	if n.Item == nil {
		if n.Taken != nil {
			v.Taken = p.Say(say.T("%s comes nearest, and is taken for another colour", n.Taken.Name))
		}
		return v
	}
	v.ItemID, v.Item, v.Free = n.Item.ID, n.Item.Name, p.Say(n.Item.Amount(n.Item.OnHand))
	switch {
	case thread:
		v.There = n.Item.Key.Color.String()
		v.Near = p.Say(say.T("%s, ΔE %s", shelf.Nearness(n.Near), say.Decimal{Value: n.Near.Off, Places: 1}))
		v.Far = n.Near.Off >= 5
	case !n.Near.Same:
		v.Near, v.Far = p.Say(n.Near.Why), true
	}
	return v
}

// A rosterView is who comes, and what they make.
type rosterView struct {
	head
	Rows        []rosterRow
	Attendances []day.Attendance
	// AnySized tells that some blank comes in Sizes.
	AnySized bool
	Sizes    []string
}

type rosterRow struct {
	ID          int64
	Version     int
	Name, Makes string
	Attendance  day.Attendance
	Late        string
	// HoopedAhead tells that staff hoop their first blank before class.
	HoopedAhead bool
	// Sized tells that their blank comes in sizes.
	Sized bool
	Size  string
}

func newRosterView(d classes.Desk, plan day.Plan) rosterView {
	v := rosterView{head: newHead(d, plan, "plan", "", ""), Attendances: []day.Attendance{day.Expected, day.Late, day.Absent}, Sizes: blank.Sizes}
	for _, place := range plan.Class.Places {
		row := rosterRow{ID: place.ID, Version: place.Version, Name: place.Name, Makes: plan.Class.Project.Name, Attendance: place.Attendance, HoopedAhead: place.HoopedAhead}
		if place.Makes != nil {
			row.Makes = place.Makes.Name
		}
		if place.LateMinutes > 0 {
			row.Late = fmt.Sprint(place.LateMinutes)
		}
		made := plan.Class.Project
		if place.Makes != nil {
			made = *place.Makes
		}
		if row.Sized = made.Sized(); row.Sized {
			row.Size, v.AnySized = cmp.Or(place.Size, made.Blank.Size), true
		}
		v.Rows = append(v.Rows, row)
	}
	return v
}

// A cardView is a step card on a page.
type cardView struct {
	Class, Day, Answer string
	Together           string
	Setup              []string
	Turned             bool
	Ask                string
	Steps              []cardStep
	Sheets             []cardSheet
	// Mark draws where on the blank the design goes.
	Mark            *ui.Mark
	Design          design.Design
	After, Cautions []string
}

type cardStep struct {
	At, Title, Sign, Note   string
	WithInstructor          bool
	Notes, Cautions, Checks []string
	Pictures                []ui.Drawn
	// Marks tells that the blank is marked here.
	Marks bool
}

type cardSheet struct {
	Title   string
	Setup   []string
	Stops   []cardStop
	Restart []string
}

type cardStop struct {
	N                         int
	Sews, Color, Thread, Note string
	SameThread                bool
	Before, After             []string
	// Picture is where the stop is seen, what was sewn before it pale.
	Picture string
}

// stepSigns are the signs of steps that have notes.
var stepSigns = map[string]string{"stabilise": "cut", "load": "cross", "practice": "dot"}

func newCardView(p ui.P, c card.Card) cardView {
	v := cardView{Class: c.Class, Day: p.Day(c.StartsAt), After: p.Lines(c.After), Cautions: p.Lines(c.Cautions)}
	v.Answer = p.Say(say.T("%s: %s on %s.", c.Student, c.Project, c.Sheets[0].Machine))
	v.Setup, v.Design = p.Lines(c.Sheets[0].Setup), c.Sheets[0].Design
	if c.Mark != nil {
		mark := ui.NewMark(*c.Mark)
		v.Mark = &mark
	}
	v.Together = p.Say(c.Together)
	if len(c.Ask) > 0 {
		v.Ask = p.Say(skill.Titles(c.Ask))
	}
	for _, s := range c.Steps {
		base, _ := s.Key.Base()
		v.Steps = append(v.Steps, cardStep{At: p.Clock(s.Start), Title: p.Say(s.Title), Sign: stepSigns[string(base)], Note: p.Say(s.Note), Notes: p.Lines(s.Notes), Cautions: p.Lines(s.Cautions), Pictures: ui.NewDrawnAll(p, s.Pictures), WithInstructor: s.WithInstructor, Checks: p.Lines(s.Checks), Marks: s.Key == pace.StepMark})
	}
	for _, s := range c.Sheets {
		sheet := cardSheet{Title: "Stop by stop", Restart: p.Lines(s.Restart)}
		if s.N > 1 {
			sheet.Title, sheet.Setup = s.Title+": stop by stop", p.Lines(s.Setup)
		}
		for _, stop := range s.Stops {
			sheet.Stops = append(sheet.Stops, cardStop{N: stop.N, Sews: stop.Sews, Color: stop.Color.String(), Thread: p.Say(stop.Thread), Note: p.Say(stop.Note), SameThread: stop.SameThread, Before: p.Lines(stop.Before), After: p.Lines(stop.After), Picture: ui.StopPicture(s.Design, stop.N)})
		}
		v.Sheets = append(v.Sheets, sheet)
	}
	return v
}
