package planning

import (
	"fmt"
	"math"
	"time"

	app "chalkstep/app/planning"
	"chalkstep/core/classday"
	"chalkstep/core/say"
	"chalkstep/core/schedule/odds"
	"chalkstep/core/skill"
	"chalkstep/web/classhead"
	"chalkstep/web/ui"
)

// A planView is the plan of a class.
type planView struct {
	classhead.Head
	Planned, Fits bool
	// Version is the class's; MayPull tells that something of it can be changed
	// yet, Odds how likely it is to end in time.
	Version int
	MayPull bool
	Odds    string
	// Off says what a class that was called off has yet, MayReinstate that it can
	// be taken back.
	Off          string
	MayReinstate bool
	// Finish is the figure of the answer; Spare how long before or after the
	// end of the class.
	Finish, Spare, Tight string
	// Live is when all are done as it goes, of a class that runs: the plan is what was to be then.
	Live string
	// Ended tells that it runs no more.
	Ended          bool
	Wait, NotReady string
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
	Seats   []classhead.Seat
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
	// Early is what they would come earlier for.
	Early string
}

// A planRow is a student's day in the table.
type planRow struct {
	ID         int64
	Name, Wait string
	// Idle is how much of the waits nothing fills, silent for next to nothing.
	Idle   string
	Absent bool
	// LeftOut tells that the class has nothing for them.
	LeftOut bool
	Makes   string
	Cells   []planCell
}

type planCell struct{ Title, At, Machine string }

// atRisk is the share of days on which somebody has to be late to be named.
const atRisk = 0.1

func newPlanView(d app.UseCases, plan classday.Plan) planView {
	p := ui.P{Printer: d.Printer()}
	v := planView{Head: classhead.NewHead(d.Actor, plan, "plan", "", ""), Planned: plan.Planned(),
		Seats: classhead.Seats(p, plan)}
	v.notReady(p, plan)
	v.Loud = p.Lines(plan.Loud())
	for _, key := range plan.Class.Adopted {
		v.Adopted = append(v.Adopted, p.Say(plan.Class.LeverName(key)))
	}
	for _, l := range plan.LeftOut {
		v.LeftOut = append(v.LeftOut, leftOut{l.Student.ID, l.Student.Name, p.Say(l.Why)})
	}
	if v.Cancelled {
		v.calledOff(p, plan, d.Now)
	}
	if v.Planned {
		v.planned(p, plan, d.Now)
	}
	return v
}

// notReady says who lacks steps that the class needs.
func (v *planView) notReady(p ui.P, plan classday.Plan) {
	var names say.List
	for _, n := range plan.NotReady {
		b := behind{ID: n.Student.ID, Name: n.Student.Name, Lack: p.N(len(n.Missing), "step")}
		if len(n.Missing) <= 2 {
			b.Lack = p.Say(skill.Titles(n.Missing))
		}
		b.Practises = practisedBy(p, plan, n.Student.ID)
		b.Early = earlyFor(p, plan, n)
		v.Behind = append(v.Behind, b)
		names = append(names, plan.Class.Called(b.Name))
	}
	switch len(names) {
	case 0:
	case 1:
		v.NotReady = p.Say(say.T("%s is not ready alone", names))
	default:
		v.NotReady = p.Say(say.T("%s are not ready alone", names))
	}
}

// calledOff says what is free of a class that was called off, and whether that can be taken back.
func (v *planView) calledOff(p ui.P, plan classday.Plan, now time.Time) {
	v.MayReinstate = v.MayChange && !plan.Class.Over(now)
	v.Off = "Its machines and what it had reserved are free. Taking it back takes what is still free of them."
	if held := plan.Class.HeldUntil(); held.After(now) {
		v.Off = p.Say(say.T("Its machines and what it has reserved are held for a minute, until %s; after that they are "+
			"free for others.", say.Clock(held)))
	}
}

// planned shows a plan: when everyone is done, how sure that is, and the working.
func (v *planView) planned(p ui.P, plan classday.Plan, now time.Time) {
	v.Fits, v.Finish, v.Tight = plan.Result.Fits, p.Clock(plan.Finish()), p.Say(plan.Tight)
	v.Spare = p.Minutes(max(plan.SpareMinutes, -plan.SpareMinutes))
	v.Wait = "Nobody waits."
	if plan.Waiter != "" {
		v.Wait = fmt.Sprintf("Longest wait with nothing to do %s (%s).",
			p.Minutes(plan.LongestWait), plan.Class.Called(plan.Waiter))
	}
	v.Fairness = p.Say(plan.Fairness())
	v.Version, v.MayPull = plan.Class.Version, !plan.Class.Over(now)
	outlook, err := plan.Odds()
	if err == nil {
		v.Odds = oddsOf(p, plan, outlook)
	}
	v.Day = newPicture(p, plan, outlook, now)
	v.List = newDayList(p, plan)
	v.Working = working(p, plan)
	v.Titles = titlesOf(p, plan)
	for _, place := range plan.Class.Places {
		v.Rows = append(v.Rows, newPlanRow(p, plan, place))
	}
}

// oddsOf says on how many days everyone is done in time, and who is late most often.
func oddsOf(p ui.P, plan classday.Plan, outlook odds.Outlook) string {
	says := p.Say(say.T("On %s of days everyone is done in time; nine days of ten are done by %s.",
		say.Percent(math.Floor(100*outlook.FitsShare)), say.Clock(plan.At(outlook.P90+float64(plan.Class.ClosingMinutes)))))
	for _, risk := range outlook.Late {
		if _, place, ok := plan.Maker(risk.Job); ok && risk.Share >= atRisk && plan.Result.Fits {
			return says + " " + p.Say(say.T("%s is late on %s of them.", say.Name(plan.Class.Called(place.Name)),
				say.Percent(math.Ceil(100*risk.Share))))
		}
	}
	return says
}

// working says what a plan reckons with.
func working(p ui.P, plan classday.Plan) []string {
	return append(p.Lines([]say.Text{
		say.T("The plan takes %s minutes from %s.", say.Decimal{Value: plan.Result.MakespanMinutes, Places: 1},
			say.Clock(plan.Class.StartsAt)),
		say.T("No plan can be shorter than %s minutes: nobody is faster than their own steps, and no machine, hoop or "+
			"hand does more at once than it can.", say.Decimal{Value: plan.Result.LowerBoundMinutes, Places: 1}),
		say.T("First-timers take %s × as long over hand steps. Who has not been signed off on hooping or loading has the "+
			"instructor beside them there.", say.Decimal{Value: plan.Rules.Pace.FirstTimer, Places: 1}),
		say.T("A hoop is held from hooping until the work is out of it; loading keeps the machine until the last stop is " +
			"sewn."),
	}), p.Lines(plan.Varies())...)
}

// practisedBy is what of the ladder somebody practises while they wait.
func practisedBy(p ui.P, plan classday.Plan, studentID int64) string {
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

// earlyFor says what somebody who is not ready would come earlier for, to practise it at the
// bench: what no wait before they sew has room for.
func earlyFor(p ui.P, plan classday.Plan, n classday.NotReady) string {
	var steps []skill.Step
	minutes := 0.0
	for _, w := range plan.WarmUps(n) {
		if w.AtNone {
			steps, minutes = append(steps, w.Step), minutes+w.Minutes
		}
	}
	if len(steps) == 0 {
		return ""
	}
	return p.Say(say.T("%s earlier: %s at the bench", say.Minutes(minutes), skill.Titles(steps)))
}

// titlesOf are the titles of the steps of what the class makes, as the plan has them.
func titlesOf(p ui.P, plan classday.Plan) []string {
	w := plan.Works[0]
	var titles []string
	if len(w.Places) > 0 {
		for _, s := range plan.StepsOf(classday.PersonID(w.Places[0].ID)) {
			step, _ := w.Step(s.Operation)
			titles = append(titles, p.Say(step.Title))
		}
		return titles
	}
	for _, s := range w.Steps {
		titles = append(titles, p.Say(s.Title))
	}
	return titles
}

func newPlanRow(p ui.P, plan classday.Plan, place classday.Place) planRow {
	row := planRow{ID: place.ID, Name: place.Name, Absent: place.Attendance == classday.Absent}
	if row.Absent {
		return row
	}
	w, _, _ := plan.Maker(classday.PersonID(place.ID))
	if place.Makes != nil {
		row.Makes = w.Name
	}
	if plan.IsLeftOut(place.ID) {
		row.LeftOut = true
		return row
	}
	row.Wait = p.Whole(plan.Result.Waiting[classday.PersonID(place.ID)]) + " min"
	idle := 0.0
	for _, wait := range plan.WaitsOf(place.ID) {
		idle += wait.Unfilled()
	}
	if idle >= leastShown {
		row.Idle = p.Whole(idle)
	}
	for _, s := range plan.StepsOf(classday.PersonID(place.ID)) {
		cell := planCell{At: p.Clock(plan.At(s.Start))}
		if step, ok := w.Step(s.Operation); ok {
			cell.Title = p.Say(step.Title)
		}
		if m, ok := plan.Machine(s.Machine); ok {
			cell.Machine = m.Name
		}
		row.Cells = append(row.Cells, cell)
	}
	return row
}
