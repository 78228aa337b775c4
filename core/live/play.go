package live

import (
	"cmp"
	"math"
	"slices"

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
