package classday

import (
	"math"
	"slices"
	"strconv"
	"strings"

	"chalkstep/core/fleet"
	"chalkstep/core/pace"
	"chalkstep/core/policy"
	"chalkstep/core/say"
	"chalkstep/core/schedule"
	"chalkstep/core/skill"
)

// A Day is a class in the planner's terms.
type Day struct {
	Class Class
	Rules policy.Rules
	// Works is what is made, the class's own project first.
	Works []Work
	// NotReady lists who has not shown what they need.
	NotReady []NotReady
	// LeftOut lists who the class has nothing for: the plan is without them.
	LeftOut []LeftOut
	// Problem is the planner's; Why says what is in the way of one, and is
	// silent when nothing is.
	Problem schedule.Problem
	Why     say.Text
}

// Names of the pools that are not hoops.
const (
	Instructor = "instructor"
	Assistant  = "assistant"
	Bench      = "bench"
	Iron       = "iron"
	hoopPrefix = "hoop-"
)

// PersonID is what the planner calls a student, StationID a machine.
func PersonID(studentID int64) string { return strconv.FormatInt(studentID, 10) }

// StationID is what the planner calls a machine.
func StationID(machineID int64) string { return strconv.FormatInt(machineID, 10) }

// hoopPool is what the planner calls the hoops of one kind.
func hoopPool(h fleet.Hoop) string { return hoopPrefix + strconv.FormatInt(h.ID, 10) }

// Open puts a class into the planner's terms.
func Open(c Class, rules policy.Rules) Day {
	d := Day{Class: c, Rules: rules, Works: worksOf(c, rules)}
	d.NotReady, d.LeftOut = notReady(d.Works, d.Rules.Ladder), leftOut(d.Works)
	if d.Why = d.inTheWay(); d.Why.Silent() {
		d.Problem = d.problem()
	}
	return d
}

// inTheWay says what keeps a class from being planned: nobody comes, or nobody
// who comes can make what they are to make.
func (d Day) inTheWay() say.Text {
	if d.Class.Off() {
		return say.T("The class was called off.")
	}
	why := say.T("Everyone is absent.")
	for i := len(d.Works) - 1; i >= 0; i-- {
		switch w := d.Works[i]; {
		case w.Planned():
			return say.Text{}
		case len(w.Places) > 0:
			why = w.Why
		case i == 0 && !w.Why.Silent() && len(d.Class.Places) == 0:
			why = w.Why
		}
	}
	return why
}

// IsLeftOut tells whether the class has nothing for a student.
func (d Day) IsLeftOut(studentID int64) bool {
	return slices.ContainsFunc(d.LeftOut, func(l LeftOut) bool { return l.Student.ID == studentID })
}

// problem is the planner's.
func (d Day) problem() schedule.Problem {
	p := schedule.Problem{WindowMinutes: d.Class.WorkMinutes(), Weights: d.Rules.Weights(),
		BreakMinutes: d.Rules.Pace.BreakMinutes}
	if d.Class.BreakMinutes > 0 {
		p.Closed = []schedule.Interval{{From: float64(d.Class.BreakAt), To: float64(d.Class.BreakAt + d.Class.BreakMinutes)}}
	}
	for _, m := range d.Class.Machines {
		if slices.ContainsFunc(d.Works, func(w Work) bool { return w.Planned() && (w.Fits(m.ID) || m.Sews && w.seams()) }) {
			spread := d.Rules.Pace.Spread(m.Logged.Runs)
			p.Machines = append(p.Machines,
				schedule.Machine{ID: StationID(m.ID), Unavailable: d.Class.outSpans(m), Spread: &spread,
					BreakFactor: d.Rules.Pace.BreakRate(m.Logged.Runs) / max(d.Rules.Pace.BreaksPer10000, 1e-6)})
		}
	}
	for _, w := range d.Works {
		if !w.Planned() {
			continue
		}
		for _, seat := range w.usable() {
			for _, h := range mayUse(seat) {
				pool := hoopPool(h.Hoop)
				if !slices.ContainsFunc(p.Resources, func(have schedule.Resource) bool { return have.ID == pool }) {
					p.Resources = append(p.Resources, schedule.Resource{ID: pool, Count: h.Count})
				}
			}
		}
	}
	p.Resources = append(p.Resources, schedule.Resource{ID: Instructor, Count: d.Class.Instructors})
	if d.Class.Assistants > 0 {
		pool := schedule.Resource{ID: Assistant, Count: d.Class.Assistants}
		if from := float64(d.Class.AssistantMinutes); from > 0 && from < d.Class.WindowMinutes() {
			pool.Unavailable = []schedule.Interval{{From: from, To: d.Class.WindowMinutes() + openEnd}}
		}
		p.Resources = append(p.Resources, pool)
	}
	p.Resources = append(p.Resources, schedule.Resource{ID: Iron, Count: d.Class.Irons})
	if d.Class.Benches > 0 {
		p.Resources = append(p.Resources, schedule.Resource{ID: Bench, Count: d.Class.Benches})
	}
	for _, w := range d.Works {
		if !w.Planned() {
			continue
		}
		needs := pace.Needs(w.Steps)
		for _, place := range w.Places {
			p.Jobs = append(p.Jobs,
				schedule.Job{ID: PersonID(place.ID), Ready: float64(max(place.LateMinutes, d.Class.OpeningMinutes)),
					Operations: d.stepsOf(w, place), Practice: minutesOf(practiceOf(place, d.Rules, needs))})
		}
	}
	return p
}

// seams tells whether something of a work is done in sewing mode.
func (w Work) seams() bool {
	return slices.ContainsFunc(w.Steps, func(s pace.Step) bool { return s.Sewing })
}

// Hand is how much longer than practised a student takes over hand steps.
func Hand(s skill.Student, figures pace.Figures) float64 {
	if s.StillNew() {
		return figures.FirstTimer
	}
	return 1
}

// newcomerSpread is how much more the minutes of first-timers vary at the bench than those of others, a figure
// of ours.
const newcomerSpread = 1.5

// stepsOf are the steps of one student: slower by the figure for first-timers, and
// with the instructor or an assistant beside them where they hoop or load without
// having been signed off on it.
func (d Day) stepsOf(w Work, place Place) []schedule.Operation {
	figures := w.Rules(d.Rules).Timing()
	hand, signed := Hand(place.Student, figures), place.Signed()
	var steps []schedule.Operation
	for i, ps := range w.Steps {
		base, hooping := ps.Key.Base()
		minutes := ps.Minutes * hand * d.Rules.Learned.Students[place.ID].Used()
		if ps.Instructor {
			minutes = ps.Minutes // the instructor sets the pace
		}
		step := d.takes(w, ps, signed)
		if w.IsAhead(place, ps.Key) {
			step.Minutes, step.Needs, step.NeedsOneOf = schedule.Minutes(0), nil, nil
			steps = append(steps, step)
			continue
		}
		if ps.Where != pace.AtMachine {
			if d.Class.Benches > 0 && !ps.Iron {
				step.Needs = with(step.Needs, Bench)
			}
			spread := figures.BenchSpread
			if place.StillNew() {
				spread *= newcomerSpread
			}
			step.Minutes, step.Spread = schedule.Minutes(tenth(minutes)), &spread
			steps = append(steps, step)
			continue
		}
		step.On = map[string]float64{}
		if ps.Sewing {
			d.onSewers(step.On, tenth(minutes))
			steps = append(steps, step)
			continue
		}
		pin, pinned := place.PinOf(hooping)
		pinned = pinned && ps.InHoop()
		machines := w.machinesFor(hooping, pin, pinned)
		if base == pace.StepSew {
			steps = append(steps, d.sewSteps(w, hooping-1, hand, machines)...)
			continue
		}
		for _, m := range machines {
			step.On[StationID(m.ID)] = tenth(minutes)
		}
		if pinned && pin.Minute != nil && base == pace.StepLoad {
			minute := float64(*pin.Minute)
			step.At = &minute
		}
		// Whoever has loaded stays until it is sewn.
		step.KeepMachine = ps.InHoop() && w.Steps[i+1].InHoop()
		steps = append(steps, step)
	}
	return steps
}

// takes is what a step needs besides a machine: its hoop, an iron, and whoever stands beside the
// student.
func (d Day) takes(w Work, ps pace.Step, signed skill.Signed) schedule.Operation {
	base, hooping := ps.Key.Base()
	step := schedule.Operation{ID: string(ps.Key)}
	switch {
	case base == pace.StepHoop:
		step.TakeFor = w.hoopPools(hooping)
	case base == pace.StepUnhoop:
		step.Release = w.releases(hooping)
	case ps.Iron:
		step.Needs = with(step.Needs, Iron)
	}
	switch {
	case !WithInstructor(d.Rules.Ladder, ps, signed):
	case d.Class.Assistants > 0 && d.Rules.House.AssistantMay(ps.Instructor):
		step.NeedsOneOf = []string{Assistant, Instructor}
	default:
		step.Needs = with(step.Needs, Instructor)
	}
	return step
}

// onSewers lets a step be done at every machine that sews by hand as well.
func (d Day) onSewers(on map[string]float64, minutes float64) {
	for _, m := range d.Class.Machines {
		if m.Sews {
			on[StationID(m.ID)] = minutes
		}
	}
}

// machinesFor are those at which somebody may sew a hooping: the pinned one, where it
// can.
func (w Work) machinesFor(hooping int, pin Pin, pinned bool) []fleet.Machine {
	at := pinned && pin.MachineID != 0 && w.Fits(pin.MachineID)
	var machines []fleet.Machine
	for _, seat := range w.Sewing[hooping-1].Seats {
		if w.Fits(seat.Machine.ID) && (!at || seat.Machine.ID == pin.MachineID) {
			machines = append(machines, seat.Machine)
		}
	}
	return machines
}

// IsAhead tells whether staff do a step of somebody's before class: what comes at the
// bench before their first hooping is loaded.
func (w Work) IsAhead(place Place, key pace.StepKey) bool {
	if !place.HoopedAhead {
		return false
	}
	for _, s := range w.Steps {
		switch s.Key {
		case pace.StepLoad:
			return false
		case key:
			return s.Where != pace.AtMachine
		}
	}
	return false
}

// WithInstructor tells whether somebody does a step with the instructor beside
// them: it asks for one, or they hoop or load without having been signed off.
func WithInstructor(ladder skill.Ladder, step pace.Step, signed skill.Signed) bool {
	return step.Instructor || (step.Key.Is(pace.StepHoop) || step.Key.Is(pace.StepLoad)) &&
		len(ladder.Missing(signed, step.Skills)) > 0
}

// with adds one unit of a pool to what a step needs.
func with(needs map[string]int, pool string) map[string]int {
	if needs == nil {
		needs = map[string]int{}
	}
	needs[pool] = 1
	return needs
}

// mayUse are the hoops of a seat that somebody may take, the one the house prefers
// first, then those of its kind from the smallest up: another kind is hooped
// otherwise.
func mayUse(seat fleet.Seat) []fleet.Held {
	all := []fleet.Held{seat.Hoop}
	for _, h := range seat.Hoops {
		if h.ID != seat.Hoop.ID && h.Kind == seat.Hoop.Kind {
			all = append(all, h.Held)
		}
	}
	return all
}

// hoopPools names, for each machine, the pools a hoop of a hooping may come from.
func (w Work) hoopPools(hooping int) map[string]schedule.Choice {
	pools := map[string]schedule.Choice{}
	for _, seat := range w.Sewing[hooping-1].Seats {
		if w.Fits(seat.Machine.ID) {
			var choice schedule.Choice
			for _, h := range mayUse(seat) {
				choice = append(choice, hoopPool(h.Hoop))
			}
			pools[StationID(seat.Machine.ID)] = choice
		}
	}
	return pools
}

// releases names every pool a hoop of a hooping may have come from.
func (w Work) releases(hooping int) []string {
	var all []string
	for _, choice := range w.hoopPools(hooping) {
		all = append(all, choice...)
	}
	slices.Sort(all)
	return slices.Compact(all)
}

// tenth rounds minutes to six seconds; nobody plans finer.
func tenth(minutes float64) float64 { return math.Round(minutes*10) / 10 }

// PoolName is what a pool is called.
func (d Day) PoolName(pool string) say.Text {
	switch pool {
	case Instructor:
		return say.T("Instructor")
	case Assistant:
		return say.T("Assistant")
	case Iron:
		return say.T("Iron")
	case Bench:
		return say.T("Bench")
	}
	for _, w := range d.Works {
		for _, seat := range w.usable() {
			for _, h := range mayUse(seat) {
				if hoopPool(h.Hoop) == pool {
					return say.Name(h.Name)
				}
			}
		}
	}
	return say.Name(strings.TrimPrefix(pool, hoopPrefix))
}

// Machine finds a machine of the class by what the planner calls it.
func (d Day) Machine(station string) (fleet.Machine, bool) {
	i := slices.IndexFunc(d.Class.Machines, func(m fleet.Machine) bool { return StationID(m.ID) == station })
	if i < 0 {
		return fleet.Machine{}, false
	}
	return d.Class.Machines[i], true
}

// Maker finds a person of the plan and what they make.
func (d Day) Maker(person string) (Work, Place, bool) {
	for _, w := range d.Works {
		for _, p := range w.Places {
			if PersonID(p.ID) == person {
				return w, p, true
			}
		}
	}
	return Work{}, Place{}, false
}

// Step finds a step of what a person makes.
func (w Work) Step(key string) (pace.Step, bool) {
	i := slices.IndexFunc(w.Steps, func(s pace.Step) bool { return string(s.Key) == key })
	if i < 0 {
		return w.partStep(pace.StepKey(key))
	}
	return w.Steps[i], true
}
