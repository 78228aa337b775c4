package classday

import (
	"cmp"
	"math"
	"slices"
	"strconv"
	"strings"
	"time"

	"chalkstep/core/design"
	"chalkstep/core/fleet"
	"chalkstep/core/kit"
	"chalkstep/core/pace"
	"chalkstep/core/say"
	"chalkstep/core/schedule"
	"chalkstep/core/supply"
)

// A Plan is a day with what the planner found, as far as there is one: where
// Why says what is in the way, nobody has a machine.
type Plan struct {
	Day
	Result schedule.Plan
	// FinishMinutes from the start, with what is done together at the end, whole
	// and never too early; SpareMinutes to
	// the end of the window, below 0 when it is too late.
	FinishMinutes, SpareMinutes float64
	// Tight says what was waited for.
	Tight say.Text
	// Waits are all of them, by student, with what fills them. LongestWait is the
	// longest stretch in which somebody, Waiter, has nothing to do.
	Waits       []Wait
	LongestWait float64
	Waiter      string
	// SaidCents and SaidFeeCents are what was said of the class's cost before,
	// nil while nobody asked.
	SaidCents, SaidFeeCents *float64
	// Begun tells that the class has begun: the plan stands.
	Begun bool
	// Spools is how many machines sew a thread at once.
	Spools map[supply.Key]int
}

// Unplanned is a day without a plan, and why.
func (d Day) Unplanned(why say.Text) Plan {
	d.Why = why
	return Plan{Day: d}
}

// Take puts a day and the planner's result together.
func (d Day) Take(result schedule.Plan) Plan {
	p := Plan{Day: d, Result: result}
	const hair = 1e-6
	p.FinishMinutes = math.Ceil(result.MakespanMinutes-hair) + float64(d.Class.ClosingMinutes)
	p.SpareMinutes = d.Class.WindowMinutes() - p.FinishMinutes
	p.Spools = kit.SpoolsAtOnce(p.sewing())
	p.Tight = p.tight(result.Bottleneck)
	p.Waits = p.waits()
	p.LongestWait, p.Waiter = longestUnfilled(p.Waits)
	return p
}

// Planned tells that there is a plan.
func (p Plan) Planned() bool { return p.Why.Silent() }

// Finish is when the last one is done.
func (p Plan) Finish() time.Time {
	return p.Class.StartsAt.Add(time.Duration(p.FinishMinutes) * time.Minute)
}

// At is the clock time of a minute of the plan.
func (p Plan) At(minute float64) time.Time {
	return p.Class.StartsAt.Add(time.Duration(math.Round(minute)) * time.Minute)
}

// tight says what was waited for as a sentence.
func (p Plan) tight(bottleneck string) say.Text {
	switch {
	case bottleneck == "":
		return say.Text{}
	case bottleneck == Instructor:
		return say.T("The instructor is the tight spot.")
	case bottleneck == Assistant:
		return say.T("The assistant is the tight spot.")
	case bottleneck == Iron:
		return say.T("The iron is the tight spot.")
	case bottleneck == Bench:
		return say.T("The benches are the tight spot.")
	case strings.HasPrefix(bottleneck, hoopPrefix):
		name := say.Name(strings.ToLower(p.PoolName(bottleneck).String()))
		at := slices.IndexFunc(p.Problem.Resources, func(pool schedule.Resource) bool { return pool.ID == bottleneck })
		if at >= 0 && p.Problem.Resources[at].Count > 1 {
			return say.T("The %s %s hoops are the tight spot.", say.Count(p.Problem.Resources[at].Count), name)
		}
		return say.T("The one %s hoop is the tight spot.", name)
	case len(p.Problem.Machines) == 1:
		if m, ok := p.Machine(bottleneck); ok {
			return say.T("%s is the tight spot.", m.Name)
		}
	}
	return say.T("The machines are the tight spot.")
}

// Fairness says what it costs that the plan is good for people, silent where it
// costs nothing.
func (p Plan) Fairness() say.Text {
	r := p.Result
	later := math.Round(r.MakespanMinutes - r.ShortestMinutes)
	switch {
	case r.ShortestMinutes == 0 || later < 1:
		return say.Text{}
	case r.ShortestWaitMinutes >= r.LongestWaitMinutes+1:
		return say.T("Ending %s sooner would have somebody wait %s with nothing to do.", say.Minutes(later),
			say.Minutes(r.ShortestWaitMinutes))
	}
	return say.T("Ending %s sooner would cost somebody a later first stitch, or a change of machine.", say.Minutes(later))
}

// StepsOf lists a person's steps in order.
func (p Plan) StepsOf(person string) []schedule.Assignment {
	var steps []schedule.Assignment
	for _, s := range p.Result.Assignments {
		if s.Job == person {
			steps = append(steps, s)
		}
	}
	return steps
}

// MachineOf is where a student sews; ok is false where nobody has planned it.
func (p Plan) MachineOf(studentID int64) (fleet.Machine, bool) {
	return p.machineAfter(PersonID(studentID), math.Inf(-1))
}

// machineAfter is where a person sews next, from a minute on, with a hoop: not
// where they run an errand.
func (p Plan) machineAfter(person string, minute float64) (fleet.Machine, bool) {
	w, _, known := p.Maker(person)
	for _, s := range p.StepsOf(person) {
		step, has := w.Step(s.Operation)
		if s.Start >= minute && s.Machine != "" && (!known || !has || step.InHoop()) {
			return p.Machine(s.Machine)
		}
	}
	return fleet.Machine{}, false
}

// Uses lists the stretches in which a person holds or needs a pool.
func (p Plan) Uses(pool string) []schedule.Assignment {
	var uses []schedule.Assignment
	for _, person := range p.Problem.Jobs {
		var held *schedule.Assignment
		for _, placed := range p.StepsOf(person.ID) {
			step := person.Operations[slices.IndexFunc(person.Operations, func(s schedule.Operation) bool {
				return s.ID == placed.Operation
			})]
			if step.Needs[pool] > 0 || placed.With == pool {
				uses = append(uses, placed)
			}
			if len(step.TakeFor) > 0 {
				if m, ok := p.machineAfter(person.ID, placed.Start); ok && takes(step, placed, m.ID) == pool {
					held = &schedule.Assignment{Job: placed.Job, Operation: placed.Operation, Start: placed.Start}
				}
			}
			if held != nil && slices.Contains(step.Release, pool) {
				held.End = placed.End
				uses = append(uses, *held)
				held = nil
			}
		}
	}
	return uses
}

// takes is the pool that a step takes a hoop from for a machine. A plan of before
// there was a choice does not say: it was the first.
func takes(step schedule.Operation, placed schedule.Assignment, machineID int64) string {
	if len(placed.Took) > 0 {
		return placed.Took[0]
	}
	if choice := step.TakeFor[StationID(machineID)]; len(choice) > 0 {
		return choice[0]
	}
	return ""
}

// SeatOf is where a student sews a hooping, counted from 1, and in which hoop.
func (p Plan) SeatOf(studentID int64, hooping int) (fleet.Seat, bool) {
	w, _, ok := p.Maker(PersonID(studentID))
	if !ok {
		return fleet.Seat{}, false
	}
	pool := ""
	for _, placed := range p.StepsOf(PersonID(studentID)) {
		key := pace.StepKey(placed.Operation)
		if key.Hooping() != hooping {
			continue
		}
		if len(placed.Took) > 0 {
			pool = placed.Took[0]
		}
		if !key.Is(pace.StepSew) {
			continue
		}
		m, there := p.Machine(placed.Machine)
		seat, seated := w.SeatAt(m.ID, hooping)
		if !there || !seated {
			return fleet.Seat{}, false
		}
		if id, err := strconv.ParseInt(strings.TrimPrefix(pool, hoopPrefix), 10, 64); err == nil {
			seat = seat.In(id)
		}
		return seat, true
	}
	return fleet.Seat{}, false
}

// HoopsTaken are how many hoops of each kind are in use at once, at most: no other
// class at the same time can have them.
func (p Plan) HoopsTaken() map[int64]int {
	taken := map[int64]int{}
	for _, pool := range p.Problem.Resources {
		id, err := strconv.ParseInt(strings.TrimPrefix(pool.ID, hoopPrefix), 10, 64)
		if err != nil {
			continue // hands, an iron
		}
		uses := p.Uses(pool.ID)
		for _, at := range uses {
			n := 0
			for _, other := range uses {
				if other.Start <= at.Start && at.Start < other.End {
					n++
				}
			}
			if n > 0 {
				taken[id] = max(taken[id], min(n, pool.Count))
			}
		}
	}
	return taken
}

// A Sit is one sewing of the plan: somebody at a machine with a hooping.
type Sit struct {
	schedule.Assignment
	Place   Place
	Work    Work
	Hooping int
	Seat    fleet.Seat
}

// Sewn is the design of the hooping.
func (s Sit) Sewn() design.Design { return s.Work.Sewing[s.Hooping-1].Design }

// Errands lists what is done at a machine without a blank in its hoop, in order.
func (p Plan) Errands(machineID int64) []schedule.Assignment {
	var errands []schedule.Assignment
	for _, placed := range p.Result.Assignments {
		if placed.Machine != StationID(machineID) {
			continue
		}
		w, _, ok := p.Maker(placed.Job)
		if step, has := w.Step(placed.Operation); ok && has && !step.InHoop() {
			errands = append(errands, placed)
		}
	}
	slices.SortFunc(errands, func(a, b schedule.Assignment) int { return cmp.Compare(a.Start, b.Start) })
	return errands
}

// Sits lists the sewings at a machine in their order.
func (p Plan) Sits(machineID int64) []Sit {
	var sits []Sit
	for _, placed := range p.Result.Assignments {
		key := pace.StepKey(placed.Operation)
		if placed.Machine != StationID(machineID) || !key.Is(pace.StepSew) {
			continue
		}
		w, place, ok := p.Maker(placed.Job)
		seat, seated := p.SeatOf(place.ID, key.Hooping())
		if ok && seated {
			sits = append(sits, Sit{placed, place, w, key.Hooping(), seat})
		}
	}
	slices.SortFunc(sits, func(a, b Sit) int { return cmp.Compare(a.Start, b.Start) })
	return sits
}

// StopShares is each stop's share of a sewing step of the plan, or of a part of one; nil
// for other steps.
func (p Plan) StopShares(placed schedule.Assignment) []float64 {
	w, _, ok := p.Maker(placed.Job)
	m, at := p.Machine(placed.Machine)
	key := pace.StepKey(placed.Operation)
	if !ok || !at || !key.Is(pace.StepSew) {
		return nil
	}
	out, part := w.Rules(p.Rules).Timing().StitchOut(m.Pacing(), w.Sewing[key.Hooping()-1].Design.Pacing(), 1),
		p.partOf(w, key)
	stops := out.Stops[part.from:part.to]
	total := 0.0
	for _, minutes := range stops {
		total += minutes
	}
	shares := make([]float64, len(stops))
	for i, minutes := range stops {
		shares[i] = minutes / max(total, 1e-9)
	}
	return shares
}

// sewing lists when which machine sews which thread.
func (p Plan) sewing() []kit.Sewing {
	var all []kit.Sewing
	for _, placed := range p.Result.Assignments {
		shares := p.StopShares(placed)
		if shares == nil {
			continue
		}
		w, _, _ := p.Maker(placed.Job)
		step := pace.StepKey(placed.Operation)
		part, at := p.partOf(w, step), placed.Start
		for i, key := range w.Threads(step.Hooping()-1, p.Rules)[part.from:part.to] {
			end := at + (placed.End-placed.Start)*shares[i]
			all = append(all, kit.Sewing{Thread: key, From: at, To: end})
			at = end
		}
	}
	return all
}
