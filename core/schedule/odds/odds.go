// Package odds plays a plan on many days on which nothing takes quite as long as was said, and says
// on how many of them it is kept.
package odds

import (
	"cmp"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"

	"chalkstep/core/schedule"
	"chalkstep/core/schedule/internal/instance"
)

// How minutes vary from day to day where nobody has learned it: figures of ours.
// Hands vary more than machines.
const (
	BenchSpread       = 0.25
	MachineSpread     = 0.12
	UsualBreakMinutes = 6
	mostDays          = 100_000
)

// UsualDays are played wherever nobody says how many, so that no page tells other odds of a
// plan than the next: a chance of one in twenty is told to a hundredth.
const UsualDays = 500

// An Outlook is what becomes of a plan on many days on which nothing takes quite
// as long as was said.
type Outlook struct {
	Days int `json:"days"`
	// FitsShare is the share of days on which everyone finishes in the window.
	FitsShare float64 `json:"fits_share"`
	// P10, P50 and P90 are when one, five and nine days of ten are done.
	P10 float64 `json:"p10_minutes"`
	P50 float64 `json:"p50_minutes"`
	P90 float64 `json:"p90_minutes"`
	// Late are those who are late on some days, most often first.
	Late []Risk `json:"late"`
}

// A Risk is somebody and the share of days on which they end after the window.
type Risk struct {
	Job   string  `json:"person"`
	Share float64 `json:"share"`
}

// Of plays a plan through on many days. Whoever was to be first at a machine or
// with a hoop is first again, and each begins as soon as that, their own operation
// before and what they need allow. The same seed gives the same days.
func Of(p schedule.Problem, r schedule.Plan, days int, seed uint64) (Outlook, error) {
	if days < 1 || days > mostDays {
		return Outlook{}, fmt.Errorf("days is %d: expected 1 to %d", days, mostDays)
	}
	s, err := instance.Compile(p)
	if err != nil {
		return Outlook{}, err
	}
	run := newSimulation(s)
	moves, err := run.activities(r)
	if err != nil {
		return Outlook{}, err
	}
	o := Outlook{Days: days, Late: []Risk{}}
	ends := make([]float64, days)
	late := make([]int, len(p.Jobs))
	fits := 0
	for day := range days {
		rng := rand.New(rand.NewPCG(seed, uint64(day)))
		for i, end := range run.simulate(moves, rng) {
			ends[day] = max(ends[day], end)
			if end > p.WindowMinutes+1e-9 {
				late[i]++
			}
		}
		if ends[day] <= p.WindowMinutes+1e-9 {
			fits++
		}
	}
	slices.Sort(ends)
	at := func(share float64) float64 {
		return math.Round(10*ends[max(0, int(math.Ceil(share*float64(days)))-1)]) / 10
	}
	o.FitsShare, o.P10, o.P50, o.P90 = float64(fits)/float64(days), at(0.1), at(0.5), at(0.9)
	for i, n := range late {
		if n > 0 {
			o.Late = append(o.Late, Risk{p.Jobs[i].ID, float64(n) / float64(days)})
		}
	}
	slices.SortStableFunc(o.Late, func(a, b Risk) int { return cmp.Compare(b.Share, a.Share) })
	return o, nil
}

// An activity is one operation of a plan with what it needs of the room.
type activity struct {
	job     int
	minutes float64
	spread  float64
	breaks  float64
	// at is the minute before which it does not begin.
	at float64
	// machine is taken for the operation, −1 at the bench.
	machine int
	needs   []instance.Claim
	// oneOf are resources of which one gives a unit: the one of the plan, first of
	// them, as long as it begins by the minute planned, then whichever is free first.
	oneOf   []int
	planned float64
	// takes are the holds that begin with it, gives those that end.
	takes, gives []held
}

// A held unit of a resource, by a number of its own.
type held struct{ resource, hold int }

// A placedAs is whose operation of a plan is meant.
type placedAs struct{ job, operation string }

// A timed activity has its times of the plan, and which of its job's it is.
type timed struct {
	activity
	start, end float64
	index      int
}

// activities are the operations of a plan in the order in which they begin.
func (s *simulation) activities(r schedule.Plan) ([]activity, error) {
	placed := map[placedAs]schedule.Assignment{}
	for _, at := range r.Assignments {
		placed[placedAs{at.Job, at.Operation}] = at
	}
	var all []timed
	holds := 0
	for i := range s.Jobs {
		mine, options, err := s.ofJob(i, placed)
		if err != nil {
			return nil, err
		}
		for _, b := range s.Jobs[i].Blocks {
			for _, h := range b.Holds {
				// A kept machine is busy from one of its operations to the next anyway.
				if resource := s.Jobs[i].Held(h, options); resource >= s.Machines {
					mine[h.From].takes = append(mine[h.From].takes, held{resource, holds})
					mine[h.To].gives = append(mine[h.To].gives, held{resource, holds})
					holds++
				}
			}
		}
		all = append(all, mine...)
	}
	slices.SortStableFunc(all, func(a, b timed) int {
		return cmp.Or(cmp.Compare(a.start, b.start), cmp.Compare(a.end, b.end), cmp.Compare(a.job, b.job),
			cmp.Compare(a.index, b.index))
	})
	if len(all) == 0 {
		return nil, errors.New("there is nobody to play a day for")
	}
	activities := make([]activity, len(all))
	for i, m := range all {
		activities[i] = m.activity
	}
	return activities, nil
}

// ofJob are the activities of a job in the order of its operations, without what they hold, and the
// options of its chains that the plan took.
func (s *simulation) ofJob(i int, placed map[placedAs]schedule.Assignment) (mine []timed, options []int, err error) {
	j, job := &s.Jobs[i], s.Problem.Jobs[i]
	mine, options = make([]timed, len(job.Operations)), make([]int, len(job.Operations))
	for k, operation := range job.Operations {
		at, ok := placed[placedAs{job.ID, operation.ID}]
		if !ok {
			return nil, nil, fmt.Errorf("the plan has no step %s of %s", operation.ID, job.ID)
		}
		m := timed{activity: activity{job: i, minutes: at.End - at.Start, machine: -1, breaks: operation.Breaks,
			spread: BenchSpread, at: schedule.ToMinutes(j.Operations[k].At)}, start: at.Start, end: at.End, index: k}
		if c := j.Operations[k].Chain; c >= 0 {
			options[k] = s.optionOf(j, c, at.Machine, func(from int) []string {
				return placed[placedAs{job.ID, job.Operations[from].ID}].Took
			})
			if options[k] < 0 {
				return nil, nil, fmt.Errorf("the plan has %s of %s on %q, where it cannot be", operation.ID, job.ID, at.Machine)
			}
			s.sitAt(&m.activity, s.Options[c][options[k]])
		}
		if operation.Spread != nil {
			m.spread = *operation.Spread
		}
		if at.End > at.Start { // what takes no time needs nothing
			m.needs = j.Operations[k].Needs
		}
		if at.With != "" {
			m.planned = at.Start
			m.oneOf = slices.Clone(j.Operations[k].OneOf)
			slices.SortStableFunc(m.oneOf, func(a, b int) int { return cmp.Compare(s.other(a, at.With), s.other(b, at.With)) })
		}
		mine[k] = m
	}
	return mine, options, nil
}

// sitAt has an activity vary as its machine does.
func (s *simulation) sitAt(m *activity, machine int) {
	m.machine, m.spread = machine, MachineSpread
	at := s.Problem.Machines[machine]
	m.breaks *= cmp.Or(at.BreakFactor, 1)
	if at.Spread != nil {
		m.spread = *at.Spread
	}
}

// other is 0 for the resource of a name, and 1 for every other.
func (s *simulation) other(resource int, name string) int {
	if s.Name(resource) == name {
		return 0
	}
	return 1
}

// optionOf is the option of a chain that stands for a machine and for the resources
// that were taken for it; −1 for none.
func (s *simulation) optionOf(j *instance.CompiledJob, chain int, machine string, took func(step int) []string) int {
	for o, st := range s.Options[chain] {
		if s.Problem.Machines[st].ID == machine && s.tookFor(j, chain, o, took) {
			return o
		}
	}
	return -1
}

// tookFor tells whether what was taken for a chain is what an option asks for. A
// plan that names nothing may have taken anything.
func (s *simulation) tookFor(j *instance.CompiledJob, chain, option int, took func(step int) []string) bool {
	for _, b := range j.Blocks {
		for _, h := range b.Holds {
			if h.Chain != chain || h.Resource >= 0 || h.ByOption[option] < s.Machines {
				continue
			}
			if names := took(h.From); len(names) > 0 && !slices.Contains(names, s.Name(h.ByOption[option])) {
				return false
			}
		}
	}
	return true
}

// A simulation plays days, reusing its memory.
type simulation struct {
	*instance.Instance
	breakMinutes float64
	outages      bool
	free         []float64   // by job
	units        [][]float64 // by resource: when each unit is free
	unitOf       map[int]int // by hold
}

func newSimulation(s *instance.Instance) *simulation {
	r := &simulation{Instance: s, breakMinutes: cmp.Or(s.Problem.BreakMinutes, UsualBreakMinutes),
		free: make([]float64, len(s.Jobs)), unitOf: map[int]int{}}
	r.outages = s.HasCalendar()
	for _, c := range s.Capacity {
		r.units = append(r.units, make([]float64, c))
	}
	return r
}

// simulate gives each job's end on one day.
func (r *simulation) simulate(moves []activity, rng *rand.Rand) []float64 {
	for i, j := range r.Jobs {
		r.free[i] = schedule.ToMinutes(j.Ready)
	}
	for _, units := range r.units {
		clear(units)
	}
	for _, m := range moves {
		needs := m.needs
		start := math.Inf(1)
		if len(m.oneOf) == 0 {
			start = r.begin(m, needs)
		}
		for _, resource := range m.oneOf {
			with := append(slices.Clip(m.needs), instance.Claim{Resource: resource, Units: 1})
			if s := r.begin(m, with); s < start {
				start, needs = s, with
			}
			if start <= m.planned+schedule.Hair {
				break
			}
		}
		end := start + r.length(m, rng)
		r.free[m.job] = end
		if m.machine >= 0 {
			r.units[m.machine][0] = end
		}
		for _, need := range needs {
			for u := range min(need.Units, len(r.units[need.Resource])) {
				r.units[need.Resource][u] = end
			}
		}
		for _, h := range m.takes {
			if at := r.earliest(h.resource); at >= 0 {
				r.units[h.resource][at], r.unitOf[h.hold] = math.Inf(1), at
			}
		}
		for _, h := range m.gives {
			// Units of a resource are alike, so any that is out comes back.
			if at := slices.IndexFunc(r.units[h.resource], func(t float64) bool { return math.IsInf(t, 1) }); at >= 0 {
				r.units[h.resource][at] = end
			}
		}
	}
	return r.free
}

// begin is when an operation may begin, with what it needs.
func (r *simulation) begin(m activity, needs []instance.Claim) float64 {
	start := max(r.free[m.job], m.at)
	if m.machine >= 0 {
		start = max(start, r.units[m.machine][0])
	}
	for _, need := range needs {
		units := r.units[need.Resource]
		slices.Sort(units)
		if need.Units > 0 && need.Units <= len(units) && !math.IsInf(units[need.Units-1], 1) {
			start = max(start, units[need.Units-1])
		}
	}
	for _, h := range m.takes {
		if at := r.earliest(h.resource); at >= 0 {
			start = max(start, r.units[h.resource][at])
		}
	}
	if r.outages {
		start = r.open(m, needs, start)
	}
	return start
}

// open is when an operation may begin, as far as the room is open and what it needs is
// there for the minutes it was said to take.
func (r *simulation) open(m activity, needs []instance.Claim, start float64) float64 {
	at, length := schedule.Ticks(start), schedule.Ticks(m.minutes)-2 // sums of minutes are not exact
	for moved := true; moved; {
		moved = false
		wait := func(p instance.Profile, units, capacity int) {
			if free, blocked := p.Conflict(at, at+length, units, capacity); blocked && free < schedule.Never {
				at, moved = free, true
			}
		}
		wait(r.Closed, 1, 1)
		if m.machine >= 0 {
			wait(r.Unavailable[m.machine], 1, 1)
		}
		for _, need := range needs {
			wait(r.Unavailable[need.Resource], need.Units, r.Capacity[need.Resource])
		}
	}
	return max(start, schedule.ToMinutes(at))
}

// earliest is the unit of a resource that is free first, −1 where all are out.
func (r *simulation) earliest(resource int) int {
	best := -1
	for u, t := range r.units[resource] {
		if !math.IsInf(t, 1) && (best < 0 || t < r.units[resource][best]) {
			best = u
		}
	}
	return best
}

// length is how long an operation takes on a day: its minutes, spread as a lognormal of
// that mean, and its interruptions, which come by themselves.
func (r *simulation) length(m activity, rng *rand.Rand) float64 {
	minutes := m.minutes
	if m.spread > 0 && minutes > 0 {
		variance := math.Log(1 + m.spread*m.spread)
		minutes *= math.Exp(rng.NormFloat64()*math.Sqrt(variance) - variance/2)
	}
	if m.breaks > 0 {
		for wait := rng.ExpFloat64(); wait < m.breaks; wait += rng.ExpFloat64() {
			minutes += r.breakMinutes
		}
	}
	return minutes
}
