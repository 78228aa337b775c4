package planning

import (
	"slices"
	"strconv"
	"strings"
	"time"

	"chalkstep/app/actor"
	"chalkstep/app/classload"
	"chalkstep/app/form"
	"chalkstep/core/classday"
	"chalkstep/core/fleet"
	"chalkstep/core/policy"
	"chalkstep/core/say"
	"chalkstep/core/schedule/odds"
	"chalkstep/core/schedule/search"
	"chalkstep/store"
)

// How carefully a class is planned while its form is filled in: each tick is
// answered at once.
const (
	previewIterations = 3000
	otherIterations   = 1000
	previewSeed       = 1
	// usualWindow stands in while nobody has said from when to when.
	usualWindow = 3 * time.Hour
)

// A Preview is a class as it would be with what is typed so far.
type Preview struct {
	// Missing says what is still to be said before it can be planned, silent where
	// nothing is.
	Missing say.Text
	Plan    classday.Plan
	Outlook odds.Outlook
	// Timed tells that its day and times are said: then clock times are meant.
	Timed bool
	// Machines are all of the room, as each would take what the class makes.
	Machines []PreviewMachine
	// Instructors and Others are how it would end with other numbers of
	// instructors, and of machines: those that are chosen first, then those that are
	// free.
	Instructors, Others []PreviewOther
}

// A PreviewMachine is a machine of the room and how it would take what the class
// makes.
type PreviewMachine struct {
	fleet.Machine
	Chosen bool
	// Hoop is the one it would use, Problem why it cannot, Taken who has it then;
	// each is silent or empty where there is nothing to say.
	Hoop    string
	Problem say.Text
	Taken   string
	// Students is how many would sew at it.
	Students int
}

// A PreviewOther is how the class would end with another number of something.
type PreviewOther struct {
	Count int
	// Now tells that it is what is chosen; With names what is added to it, empty for
	// nothing by name.
	Now           bool
	With          string
	FinishMinutes float64
	Fits          bool
	// HeldUp is what would be waited for.
	HeldUp say.Text
}

// Preview plans a class as it is typed so far. Nothing is kept.
func (d UseCases) Preview(in ClassInput) (Preview, error) {
	if err := d.Need(actor.ChangeClasses); err != nil {
		return Preview{}, err
	}
	var page Preview
	rules, machines, err := d.Floorplan()
	if err != nil {
		return page, err
	}
	if strings.TrimSpace(in.Project) == "" {
		page.Missing = say.T("Choose what the class makes: then each machine says whether it can.")
		return page, nil
	}
	var was classday.Class
	if in.ID > 0 {
		if was, err = d.Workshop.Class(in.ID); err != nil {
			return page, err
		}
	}
	problems := form.Problems{}
	at, err := d.projectFor(problems, in, was)
	if err != nil {
		return page, err
	}
	if problems["project"] != "" {
		page.Missing = say.T("No project is called so yet.")
		return page, nil
	}
	found, err := d.Workshop.ProjectsAt(at)
	if err != nil {
		return page, err
	}
	c := d.soFar(in, &page)
	c.Project = found[at]
	if page.Timed {
		if c.Lent, err = d.Workshop.Lent(c.StartsAt, c.EndsAt, in.ID); err != nil {
			return page, err
		}
	}
	if c.Places, err = d.previewPlaces(in, was); err != nil {
		return page, err
	}
	if page.Machines, err = d.previewMachines(c, machines, in, page.Timed, rules); err != nil {
		return page, err
	}
	for _, m := range machines {
		if slices.Contains(in.Machines, m.ID) {
			c.Machines = append(c.Machines, m)
		}
	}
	page.Missing = missing(c)
	if !page.Missing.Silent() {
		return page, nil
	}
	c = c.In(machines)
	if page.Plan, err = d.previewPlan(classday.Open(c, rules)); err != nil {
		return page, err
	}
	page.vary(c, rules)
	return page, nil
}

// soFar is a class as far as it is typed, without people and machines.
func (d UseCases) soFar(in ClassInput, page *Preview) classday.Class {
	c := classday.Class{
		ID: in.ID, Instructors: numberSoFar(in.Instructors, 1, mostHands), Irons: numberSoFar(in.Irons, 1, mostIrons),
		OpeningMinutes: numberSoFar(in.Opening, 0, mostTogether), ClosingMinutes: numberSoFar(in.Closing, 0, mostTogether),
		Assistants: numberSoFar(in.Assistants, 0, mostHands), AssistantMinutes: numberSoFar(in.AssistantMinutes, 0, mostStay),
		Benches: numberSoFar(in.Benches, 0, mostPicked),
	}
	times := form.Problems{}
	c.StartsAt, c.EndsAt = d.Clock().Times(times, in.Date, in.From, in.To, true)
	if page.Timed = len(times) == 0; !page.Timed {
		c.StartsAt = form.Midnight(d.Now, d.Who.Zone)
		c.EndsAt = c.StartsAt.Add(usualWindow)
	}
	if d.readBreak(times, &c, in); times["break-at"]+times["break-minutes"] != "" {
		c.BreakAt, c.BreakMinutes = 0, 0 // not yet
	}
	return c
}

// missing says what has to be ticked before a finish follows, silent for nothing.
func missing(c classday.Class) say.Text {
	switch {
	case len(c.Places) == 0 && len(c.Machines) == 0:
		return say.T("Tick machines and students: the finish follows.")
	case len(c.Places) == 0:
		return say.T("Tick students: the finish follows.")
	case len(c.Machines) == 0:
		return say.T("Tick machines: the finish follows.")
	}
	return say.Text{}
}

// previewPlaces are those who are ticked: who is on the roster already comes as it
// says there.
func (d UseCases) previewPlaces(in ClassInput, was classday.Class) ([]classday.Place, error) {
	students, err := d.Workshop.StudentsByID(in.StudentIDs[:min(len(in.StudentIDs), mostPicked)]...)
	if err != nil {
		return nil, err
	}
	var places []classday.Place
	for _, s := range students {
		place := classday.Place{Student: s, Attendance: classday.Expected}
		if i := slices.IndexFunc(was.Places, func(p classday.Place) bool { return p.ID == s.ID }); i >= 0 {
			place = was.Places[i]
		}
		places = append(places, place)
	}
	return places, nil
}

// previewMachines are the machines of the room as each would take what a class
// makes, whether or not it is chosen.
func (d UseCases) previewMachines(c classday.Class, machines []fleet.Machine, in ClassInput, timed bool,
	rules policy.Rules) ([]PreviewMachine, error) {
	taken := map[int64]string{}
	if timed {
		bookings, _, err := d.Workshop.BookingsBetween(c.StartsAt, c.EndsAt, store.Rows{Limit: form.MostAtOnce})
		if err != nil {
			return nil, err
		}
		for _, b := range bookings {
			if b.Class == nil || b.Class.ID != in.ID {
				taken[b.Machine.ID] = b.Taken(d.Who.Zone)
			}
		}
	}
	c.Machines = machines
	seats := classday.Open(c.In(machines), rules).Works[0]
	seatsWhereFree := seats
	if len(c.Lent) > 0 {
		c.Lent = nil
		seatsWhereFree = classday.Open(c, rules).Works[0]
	}
	var all []PreviewMachine
	for _, m := range machines {
		row := PreviewMachine{Machine: m, Chosen: slices.Contains(in.Machines, m.ID), Taken: taken[m.ID]}
		work := seats
		if row.Taken != "" { // that others have its hoops as well is no news
			work = seatsWhereFree
		}
		if seat, ok := work.SeatAt(m.ID, 1); ok {
			row.Hoop, row.Problem = seat.Hoop.Name, seat.Problem
		} else {
			row.Problem = work.Why
		}
		all = append(all, row)
	}
	return all, nil
}

// previewPlan is the plan of a class, as its page has it where it is planned already:
// whoever opens its form reads what they have just read.
func (d UseCases) previewPlan(opened classday.Day) (classday.Plan, error) {
	if opened.Why.Silent() {
		hash, err := classload.PlanHash(opened)
		if err != nil {
			return classday.Plan{}, err
		}
		if result, known := d.Memo().Plans.Get(hash); known {
			return opened.Take(result), nil
		}
	}
	return planned(opened, previewIterations), nil
}

// vary finds the odds, and how the class would end with other numbers of instructors and
// machines.
func (p *Preview) vary(c classday.Class, rules policy.Rules) {
	if !p.Plan.Planned() {
		return
	}
	if outlook, err := p.Plan.Odds(); err == nil {
		p.Outlook = outlook
	}
	for i := range p.Machines {
		p.Machines[i].Students = len(p.Plan.Sits(p.Machines[i].ID))
	}
	for n := 1; n <= mostInstructors; n++ {
		other := c
		other.Instructors = n
		p.Instructors = p.other(p.Instructors, PreviewOther{Count: n, Now: n == c.Instructors}, other, rules)
	}
	usable, chosen := p.usable()
	for n := 1; n <= min(len(usable), mostMachines); n++ {
		other := c
		other.Machines = usable[:n]
		with := ""
		if n > chosen {
			with = usable[n-1].Name
		}
		p.Others = p.other(p.Others, PreviewOther{Count: n, Now: n == chosen, With: with}, other.In(usable), rules)
	}
	inOrder(p.Instructors)
	inOrder(p.Others)
}

// Numbers of things that a preview goes through.
const (
	mostInstructors = 3
	mostMachines    = 6
)

// usable are the machines that can make it: so many that are chosen, and then those that
// are free.
func (p *Preview) usable() (machines []fleet.Machine, chosen int) {
	var then []fleet.Machine
	for _, m := range p.Machines {
		switch {
		case !m.Problem.Silent():
		case m.Chosen:
			machines = append(machines, m.Machine)
		case m.Taken == "":
			then = append(then, m.Machine)
		}
	}
	return append(machines, then...), len(machines)
}

// other adds how the class would end otherwise, where it can be planned so.
func (p *Preview) other(others []PreviewOther, other PreviewOther, c classday.Class,
	rules policy.Rules) []PreviewOther {
	plan := p.Plan
	if !other.Now {
		if plan = planned(classday.Open(c, rules), otherIterations); !plan.Planned() {
			return others
		}
	}
	other.FinishMinutes, other.Fits, other.HeldUp = plan.FinishMinutes, plan.Result.Fits, plan.HeldUp()
	return append(others, other)
}

// inOrder has none end later than one with less of something, as what is more may stand
// idle: that a plan which is good for people does is not what is compared here.
func inOrder(others []PreviewOther) {
	now := slices.IndexFunc(others, func(o PreviewOther) bool { return o.Now })
	for i := max(now, 0) + 1; i < len(others); i++ {
		if before := others[i-1]; others[i].FinishMinutes > before.FinishMinutes {
			others[i].FinishMinutes, others[i].Fits = before.FinishMinutes, before.Fits
		}
	}
	for i := now - 1; i >= 0; i-- {
		if more := others[i+1]; others[i].FinishMinutes < more.FinishMinutes {
			others[i].FinishMinutes, others[i].Fits = more.FinishMinutes, more.Fits
		}
	}
}

// planned is a day planned with so many iterations; one that cannot be says why.
func planned(opened classday.Day, iterations int) classday.Plan {
	if !opened.Why.Silent() {
		return opened.Unplanned(opened.Why)
	}
	result, err := search.Solve(opened.Problem, search.Options{Iterations: iterations, Seed: previewSeed})
	if err != nil {
		return opened.Unplanned(say.Of(err))
	}
	return opened.Take(result)
}

// numberSoFar is a number as far as it is typed: the least there may be where it is none yet, and
// the most where it is more.
func numberSoFar(typed string, least, most int) int {
	n, err := strconv.Atoi(strings.TrimSpace(typed))
	if err != nil {
		return least
	}
	return max(least, min(most, n))
}
