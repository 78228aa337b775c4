package live

import (
	"cmp"
	"math"
	"slices"
	"time"

	"chalkstep/core/classday"
	"chalkstep/core/schedule"
)

// patience is how many minutes a machine or a hoop is kept for somebody whose turn it is and who is
// nearly ready, before the next who is ready goes first.
const patience = 4

// A play is a class that goes on from a moment by the rule of the room, in minutes from the planned
// beginning of the class: whoever is first by the plan at a machine, with a hoop or with a hand is
// first, and whoever's turn it is and who is not ready is passed over by the next who is. What it
// says of the next moment is what the board says of this one.
type play struct {
	state *State
	now   float64
	jobs  []playing
	// free are the units of each resource that nobody has, and stations who is at each machine,
	// −1 for nobody.
	free     []int
	stations []int
	// forced tells that nobody is waited for: nothing else goes on. hereOnly has only those begin who
	// are there.
	forced, hereOnly bool
	// moments are those at which a turn comes, or something is there again, in order.
	moments []float64
}

// playing is somebody in a play.
type playing struct {
	index  int
	turns  []turn
	next   int
	active bool
	// since is when they began what they are at, until when it ends, ready from when they can go
	// on; said when what they are at was to end by the plan.
	since, until, ready, said float64
	// at is the machine they have, −1 for none; hoops and with the resources.
	at    int
	hoops []int
	with  int
	// coming tells that they are not there yet.
	coming bool
	// placed are the steps they did in the play.
	placed []schedule.Assignment
}

// A turn is a step somebody has still to do.
type turn struct {
	*task
	station int
	minutes float64
	// start is when the plan has it, which is the order in which turns come.
	start float64
	takes []int
}

// A task is a step of somebody, by the numbers of machines and resources.
type task struct {
	key   string
	needs []claim
	oneOf []int
	gives []int
	keeps bool
	// gap is how long nobody has the machine before it by the plan.
	gap float64
}

type claim struct{ resource, units int }

// numbered are the tasks of everybody, by their place among the standings.
func numbered(plan classday.Plan, standings []Standing) [][]task {
	p, gaps := plan.Problem, gapsOf(plan.Result.Assignments)
	all := make([][]task, len(standings))
	for _, job := range p.Jobs {
		i := slices.IndexFunc(standings, func(at Standing) bool { return classday.PersonID(at.StudentID) == job.ID })
		if i < 0 {
			continue
		}
		for _, one := range job.Operations {
			t := task{key: one.ID, keeps: one.KeepMachine, gap: gaps[placedStep{job.ID, one.ID}]}
			for resource, units := range one.Needs {
				if r := resourceOf(p, resource); r >= 0 && units > 0 {
					t.needs = append(t.needs, claim{r, units})
				}
			}
			slices.SortFunc(t.needs, func(a, b claim) int { return cmp.Compare(a.resource, b.resource) })
			for _, resource := range one.NeedsOneOf {
				t.oneOf = append(t.oneOf, resourceOf(p, resource))
			}
			for _, resource := range one.Release {
				t.gives = append(t.gives, resourceOf(p, resource))
			}
			all[i] = append(all[i], t)
		}
	}
	return all
}

// A placedStep is whose step of a plan is meant.
type placedStep struct{ job, step string }

// gapsOf are how long nobody has a machine by a plan before each step there.
func gapsOf(placed []schedule.Assignment) map[placedStep]float64 {
	sorted := slices.Clone(placed)
	slices.SortStableFunc(sorted, func(a, b schedule.Assignment) int { return cmp.Compare(a.Start, b.Start) })
	gaps, free := map[placedStep]float64{}, map[string]float64{}
	for _, one := range sorted {
		if one.Machine == "" {
			continue
		}
		gaps[placedStep{one.Job, one.Operation}] = max(0, one.Start-free[one.Machine])
		free[one.Machine] = max(free[one.Machine], one.End)
	}
	return gaps
}

func resourceOf(p schedule.Problem, id string) int {
	return slices.IndexFunc(p.Resources, func(r schedule.Resource) bool { return r.ID == id })
}

func stationOf(p schedule.Problem, id string) int {
	if id == "" {
		return -1
	}
	return slices.IndexFunc(p.Machines, func(m schedule.Machine) bool { return m.ID == id })
}

// minuteOf is a time in minutes from the planned beginning of the class.
func (s State) minuteOf(at time.Time) float64 { return at.Sub(s.Plan.Class.StartsAt).Minutes() }

// timeOf is the time of a minute, to the second.
func (s State) timeOf(minute float64) time.Time {
	return s.Plan.Class.StartsAt.Add(time.Duration(math.Round(minute*60)) * time.Second)
}

// shift is by how many minutes the class began later than planned.
func (s State) shift() float64 {
	if !s.Running() {
		return 0
	}
	return s.minuteOf(s.StartedAt)
}

// newPlay has a class go on from a moment, everybody at their pace.
func (s *State) newPlay(now time.Time, paces Paces) *play {
	p := s.Plan.Problem
	g := &play{state: s, now: s.minuteOf(now), free: make([]int, len(p.Resources)), stations: make([]int, len(p.Machines))}
	for r := range g.free {
		g.free[r] = p.Resources[r].Count
	}
	for m := range g.stations {
		g.stations[m] = -1
	}
	for i := range s.Standings {
		at := &s.Standings[i]
		if at.Presence == Left || at.Finished() || s.isMissing(*at, now) {
			continue
		}
		g.jobs = append(g.jobs, g.joins(at, i, paces))
	}
	for j := range g.jobs {
		if m := g.jobs[j].at; m >= 0 {
			g.stations[m] = j
		}
		for _, r := range g.jobs[j].hoops {
			g.free[r]--
		}
	}
	for j := range g.jobs {
		g.lendHands(&g.jobs[j])
		for _, step := range g.jobs[j].turns {
			if step.station >= 0 || len(step.takes) > 0 {
				g.moments = append(g.moments, step.start)
			}
		}
	}
	g.moments = append(g.moments, s.thereAgain...)
	slices.Sort(g.moments)
	return g
}

// thereAgain are the moments at which a break, or what is not there for a while, ends.
func thereAgain(p schedule.Problem) []float64 {
	spans := slices.Clone(p.Closed)
	for _, m := range p.Machines {
		spans = append(spans, m.Unavailable...)
	}
	for _, r := range p.Resources {
		spans = append(spans, r.Unavailable...)
	}
	ends := make([]float64, len(spans))
	for i, span := range spans {
		ends[i] = span.To
	}
	return ends
}

// copied is a play that goes on apart.
func (g *play) copied() *play {
	c := *g
	c.free, c.stations, c.jobs = slices.Clone(g.free), slices.Clone(g.stations), slices.Clone(g.jobs)
	for j := range c.jobs {
		c.jobs[j].turns, c.jobs[j].hoops = slices.Clone(g.jobs[j].turns), slices.Clone(g.jobs[j].hoops)
		c.jobs[j].placed = nil
	}
	return &c
}

// joins is somebody as they stand.
func (g *play) joins(at *Standing, index int, paces Paces) playing {
	s, p, now := g.state, g.state.Plan.Problem, g.now
	one := playing{index: index, at: -1, with: -1, ready: now}
	pace := paces.Of(at.StudentID)
	shift := s.shift()
	for k := at.Next; k < len(at.Steps); k++ {
		step := at.Steps[k]
		t := turn{task: s.taskOf(index, step.Operation), station: stationOf(p, step.Machine),
			minutes: (step.End - step.Start) * pace, start: step.Start + shift}
		for _, pool := range step.Took {
			t.takes = append(t.takes, resourceOf(p, pool))
		}
		one.turns = append(one.turns, t)
	}
	for _, pool := range at.hoops(p) {
		one.hoops = append(one.hoops, resourceOf(p, pool))
	}
	if station, kept := at.last(p); kept && !at.moved && !s.isOut(station) {
		one.at = stationOf(p, station)
	}
	first := &one.turns[0]
	switch {
	case at.Presence == Awaited:
		one.coming, one.ready = true, max(now, s.comes(*at), s.talk())
	case at.Begun:
		one.active, one.since = true, s.minuteOf(at.Since)
		left := g.leftOf(at, first.minutes, pace)
		one.until, one.said = now+max(leastLeft, left), now+left
		one.goOnUnsaid(at, left, shift)
		if first.station >= 0 {
			one.at = first.station
		}
		one.hoops = slices.DeleteFunc(one.hoops, func(r int) bool { return r < 0 })
		first.takes = nil // they have it already
	default:
		one.ready = max(s.minuteOf(at.free), s.talk())
		if len(at.Stops) > 0 { // a sewing that was interrupted
			first.minutes = g.leftOf(at, first.minutes, pace)
		}
	}
	return one
}

// goOnUnsaid has somebody at the bench who is long over a step go on with what follows there: who says
// that all of it is done says nothing in between.
func (p *playing) goOnUnsaid(at *Standing, left, shift float64) {
	row := at.Row()
	if len(row) < 2 {
		return
	}
	over := -left - (QuietShare-1)*p.turns[0].minutes
	for k := 1; k < len(row); k++ {
		p.said += p.turns[k].minutes
		gone := min(max(0, over), max(0, p.turns[k].minutes-leastLeft))
		p.turns[k].minutes -= gone
		over -= gone
	}
	p.said = max(p.said, row[len(row)-1].End+shift)
}

// leftOf is how much is left of what somebody is at, less than none where it takes longer.
func (g *play) leftOf(at *Standing, minutes, pace float64) float64 {
	since := at.Since
	if len(at.Stops) > 0 {
		minutes, since = 0, at.StopSince
		for _, stop := range at.Stops[min(at.Stop, len(at.Stops)):] {
			minutes += stop.Minutes * pace
		}
	}
	if !at.Begun {
		return minutes
	}
	return minutes - max(0, g.now-g.state.minuteOf(since))
}

// lendHands gives whoever is at something what it needs, as far as there is.
func (g *play) lendHands(one *playing) {
	if !one.active {
		return
	}
	for _, need := range one.turns[0].needs {
		g.free[need.resource] -= need.units
	}
	for _, r := range one.turns[0].oneOf {
		if g.free[r] > 0 {
			g.free[r], one.with = g.free[r]-1, r
			break
		}
	}
}

// start has everybody begin who can at a moment, those first whose turn comes first; it gives them.
func (g *play) start(t float64) (began []int) {
	order := make([]int, 0, len(g.jobs))
	for j := range g.jobs {
		if one := &g.jobs[j]; !one.active && one.next < len(one.turns) && one.ready <= t+schedule.Hair &&
			!(g.hereOnly && one.coming) {
			order = append(order, j)
		}
	}
	slices.SortStableFunc(order, func(a, b int) int {
		return cmp.Compare(g.jobs[a].turns[g.jobs[a].next].start, g.jobs[b].turns[g.jobs[b].next].start)
	})
	for _, j := range order {
		if with, may := g.may(j, t); may {
			g.begin(j, t, with)
			began = append(began, j)
		}
	}
	return began
}

// may tells whether somebody may begin at a moment, and with which of the hands of which one will do.
func (g *play) may(j int, t float64) (with int, may bool) {
	one := &g.jobs[j]
	step := &one.turns[one.next]
	if g.closed(g.state.Plan.Problem.Closed, t, step.minutes) {
		return -1, false
	}
	if m := step.station; m >= 0 && m != one.at {
		station := g.state.Plan.Problem.Machines[m]
		if g.stations[m] >= 0 || g.state.isOut(station.ID) || g.closed(station.Unavailable, t, step.minutes) ||
			!g.isFirst(j, t, func(other *turn) bool { return other.station == m }, 1) {
			return -1, false
		}
	}
	if !g.mayTake(j, t) {
		return -1, false
	}
	for _, need := range step.needs {
		if g.left(need.resource, t, step.minutes) < need.units {
			return -1, false
		}
	}
	for _, r := range step.oneOf {
		if g.left(r, t, step.minutes) > 0 {
			return r, true
		}
	}
	return -1, len(step.oneOf) == 0
}

// mayTake tells whether somebody may take the hoops of the step that comes.
func (g *play) mayTake(j int, t float64) bool {
	step := &g.jobs[j].turns[g.jobs[j].next]
	return !slices.ContainsFunc(step.takes, func(r int) bool {
		return g.left(r, t, step.minutes) < 1 ||
			!g.isFirst(j, t, func(other *turn) bool { return slices.Contains(other.takes, r) }, g.free[r])
	})
}

// closed tells whether a stretch meets one of some intervals.
func (g *play) closed(intervals []schedule.Interval, t, minutes float64) bool {
	return slices.ContainsFunc(intervals, func(c schedule.Interval) bool {
		return t < c.To-schedule.Hair && t+minutes > c.From+schedule.Hair
	})
}

// left is how much of a resource nobody has, all through a stretch.
func (g *play) left(resource int, t, minutes float64) int {
	r := g.state.Plan.Problem.Resources[resource]
	out := 0
	for _, span := range r.Unavailable {
		if t < span.To-schedule.Hair && t+minutes > span.From+schedule.Hair {
			out = max(out, cmp.Or(span.Units, r.Count))
		}
	}
	return g.free[resource] - out
}

// isFirst tells whether a turn has come, of those who want the same: as many as there is of it may
// go before.
func (g *play) isFirst(j int, t float64, same func(*turn) bool, units int) bool {
	if g.forced {
		return true
	}
	one := &g.jobs[j]
	mine := one.turns[one.next].start
	before := 0
	for k := range g.jobs {
		other := &g.jobs[k]
		if k == j || other.next == len(other.turns) {
			continue
		}
		from := other.next
		if other.active {
			from++
		}
		n := slices.IndexFunc(other.turns[from:], func(t turn) bool { return same(&t) })
		if n < 0 {
			continue
		}
		theirs := other.turns[from+n].start
		if theirs > mine || theirs == mine && k > j || other.passedOver(t, from, from+n, one.sitting()) {
			continue
		}
		before++
	}
	return before < units
}

// passedOver tells whether somebody is not waited for by who is ready for so many minutes: their turn
// has come and they are not nearly ready, nobody knows when they will be, or the machine is free so
// long before they are that who goes first is done by then, or nearly.
func (p *playing) passedOver(t float64, from, to int, minutes float64) bool {
	its := &p.turns[to]
	come := t >= its.start-schedule.Hair
	ready := max(t, p.ready)
	switch {
	case p.active && t-p.said > patience+schedule.Hair: // longer than it was to take: nobody knows
		return come
	case p.active:
		ready = max(t, p.until)
	case p.ready <= t+schedule.Hair && !p.coming:
		return come // something else is in their way
	}
	for k := from; k < to; k++ {
		ready += p.turns[k].minutes
	}
	idle := ready - t
	if come || idle <= patience {
		return come && idle > patience
	}
	return its.station >= 0 && idle > its.gap+patience && minutes <= 2*idle
}

// sitting is how long somebody has the machine of the step that comes, 0 at a bench.
func (p *playing) sitting() float64 {
	minutes := 0.0
	for k := p.next; k < len(p.turns) && p.turns[k].station >= 0; k++ {
		minutes += p.turns[k].minutes
		if !p.turns[k].keeps {
			break
		}
	}
	return minutes
}

// begin has somebody begin with what it takes.
func (g *play) begin(j int, t float64, with int) {
	one := &g.jobs[j]
	step := &one.turns[one.next]
	one.active, one.coming, one.since, one.with = true, false, t, with
	one.until = t + step.minutes
	one.said = one.until
	if step.station >= 0 && step.station != one.at {
		if one.at >= 0 {
			g.stations[one.at] = -1
		}
		one.at = step.station
		g.stations[one.at] = j
	}
	for _, r := range step.takes {
		g.free[r]--
		one.hoops = append(one.hoops, r)
	}
	for _, need := range step.needs {
		g.free[need.resource] -= need.units
	}
	if with >= 0 {
		g.free[with]--
	}
}

// end has somebody be done with what they are at.
func (g *play) end(j int) {
	one := &g.jobs[j]
	step := &one.turns[one.next]
	placed := schedule.Assignment{Operation: step.key, Start: one.since, End: one.until}
	placed.Job = classday.PersonID(g.state.Standings[one.index].StudentID)
	if step.station >= 0 {
		placed.Machine = g.state.Plan.Problem.Machines[step.station].ID
	}
	one.placed = append(one.placed, placed)
	for _, need := range step.needs {
		g.free[need.resource] += need.units
	}
	if one.with >= 0 {
		g.free[one.with]++
	}
	one.next++
	one.active, one.with, one.ready = false, -1, one.until
	last := one.next == len(one.turns)
	one.hoops = slices.DeleteFunc(one.hoops, func(r int) bool {
		back := last || slices.Contains(step.gives, r)
		if back {
			g.free[r]++
		}
		return back
	})
	if one.at >= 0 && (last || step.station == one.at && !step.keeps) {
		g.stations[one.at] = -1
		one.at = -1
	}
}

// run plays until nothing goes on any more.
func (g *play) run() {
	t := g.now
	for range 100_000 {
		for len(g.start(t)) > 0 {
			g.forced = false
		}
		next := g.after(t)
		if math.IsInf(next, 1) {
			if g.forced || !g.anybodyWaits() {
				return
			}
			g.forced = true
			continue
		}
		t = next
		for j := range g.jobs {
			if one := &g.jobs[j]; one.active && one.until <= t+schedule.Hair {
				g.end(j)
			}
		}
	}
}

func (g *play) anybodyWaits() bool {
	return slices.ContainsFunc(g.jobs, func(one playing) bool { return !one.active && one.next < len(one.turns) })
}

// after is the next moment at which something can change.
func (g *play) after(t float64) float64 {
	next := g.turnAfter(t)
	for j := range g.jobs {
		if one := &g.jobs[j]; one.active {
			next = min(next, max(one.until, t))
		}
	}
	return next
}

// turnAfter is the next moment at which somebody may begin though nobody else is done: they come, a
// turn comes or is waited for no more, or something is there again.
func (g *play) turnAfter(t float64) float64 {
	next := math.Inf(1)
	soon := func(at float64) {
		if at > t+schedule.Hair {
			next = min(next, at)
		}
	}
	if !g.anybodyWaits() {
		return next
	}
	for j := range g.jobs {
		one := &g.jobs[j]
		if !one.active && one.next < len(one.turns) {
			soon(one.ready)
		}
		if one.active {
			soon(one.said + patience + 2*schedule.Hair)
		}
	}
	at, _ := slices.BinarySearch(g.moments, t+2*schedule.Hair)
	if at < len(g.moments) {
		soon(g.moments[at])
	}
	return next
}

// taskOf is a step of somebody by its number.
func (s *State) taskOf(index int, step string) *task {
	for k := range s.tasks[index] {
		if s.tasks[index][k].key == step {
			return &s.tasks[index][k]
		}
	}
	return &task{key: step}
}

// comes is when somebody is expected who is not there, in minutes.
func (s State) comes(at Standing) float64 {
	if !at.Expected.IsZero() {
		return s.minuteOf(at.Expected)
	}
	return max(s.shift(), at.late)
}

// talk is until when all are together at the beginning, in minutes.
func (s State) talk() float64 { return s.shift() + float64(s.Plan.Class.OpeningMinutes) }

// isMissing tells that somebody is not there and is not waited for any more (the rules of booking say
// how long).
func (s State) isMissing(at Standing, now time.Time) bool {
	grace := float64(s.Plan.Rules.Booking.GraceMinutes)
	return at.Presence == Awaited && s.Running() && grace > 0 && s.minuteOf(now) > s.comes(at)+grace
}
