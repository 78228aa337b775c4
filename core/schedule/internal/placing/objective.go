package placing

import (
	"chalkstep/core/schedule"
	"chalkstep/core/schedule/internal/instance"
)

// endsShare is how much a minute of everyone's end counts beside one of the last: it
// tells plans of one length apart, and more of it leads away from the shortest.
const endsShare = 0.005

// objectiveOf is what a plan is compared by: its makespan and a little of everyone's
// end, and what is bad for jobs where that is weighed.
func (d *Generator) objectiveOf(a *Schedule) float64 {
	value := float64(a.Makespan) + endsShare*float64(a.sumEnds)/float64(max(1, len(d.Jobs)))
	w := d.Weights
	if w == nil {
		return value
	}
	window := schedule.Ticks(d.Problem.WindowMinutes)
	value += w.Late*float64(max(0, a.Makespan-window)) +
		w.Margin*float64(max(0, a.Makespan-window+schedule.Ticks(w.MarginMinutes)))
	short := schedule.Ticks(w.ShortMinutes)
	longest := short
	for i := range d.Jobs {
		j := &d.Jobs[i]
		hard, wait := d.CostOf(i, a)
		longest = max(longest, wait)
		value += hard + w.Change*schedule.TicksPerMinute*float64(d.needless(j, a.Option[i]))
		if w.Idle > 0 {
			value += w.Idle * float64(idleOf(j, a, i))
		}
	}
	return value + w.LongestWait*float64(longest-short)
}

// CostOf is what is weighed of a plan for one job alone, their waits and a late first
// stitch, with their longest wait.
func (d *Generator) CostOf(i int, a *Schedule) (cost float64, longest schedule.Tick) {
	w, short := d.Weights, schedule.Ticks(d.Weights.ShortMinutes)
	d.idleWaits(i, a, func(wait schedule.Tick) {
		longest = max(longest, wait)
		if over := wait - short; over > 0 {
			cost += w.SharedWaits * float64(over) * float64(over) / (60 * schedule.TicksPerMinute)
		}
	})
	if sits := d.sits(i, a); sits < schedule.Never {
		cost += w.FirstStitch * float64(max(0, sits-schedule.Ticks(d.Problem.WindowMinutes)/2))
	}
	return cost, longest
}

// sits is when somebody first sits down at a machine, never where they do not.
func (d *Generator) sits(i int, a *Schedule) schedule.Tick {
	for k := range d.Jobs[i].Operations {
		if d.Jobs[i].Operations[k].Chain >= 0 {
			return a.Start[i][k]
		}
	}
	return schedule.Never
}

// idleWaits gives what is idle of each wait of a job: those that are short are not
// filled, of the others it is the longest stretch for which there is nothing to do.
func (d *Generator) idleWaits(i int, a *Schedule, each func(wait schedule.Tick)) {
	j := &d.Jobs[i]
	left, done, sits := j.Fill, uint32(0), d.sits(i, a)
	wait := func(from, to schedule.Tick) {
		idle := to - from
		if idle > schedule.FillOver {
			idle, done = schedule.FillOne(j.Practice, done, from, to, sits, nil)
			filled := min(left, idle)
			left, idle = left-filled, idle-filled
		}
		each(idle)
	}
	at := j.Ready
	for k := range j.Operations {
		if start := a.Start[i][k]; start > at {
			d.openParts(at, start, wait)
		}
		at = a.End[i][k]
	}
}

// openParts gives the parts of a stretch in which the room is open.
func (d *Generator) openParts(from, to schedule.Tick, each func(from, to schedule.Tick)) {
	for l := d.Closed.At(from); l < len(d.Closed) && d.Closed[l].From < to; l++ {
		if d.Closed[l].Use > 0 {
			continue
		}
		end := to
		if l+1 < len(d.Closed) {
			end = min(end, d.Closed[l+1].From)
		}
		each(max(from, d.Closed[l].From), end)
	}
}

// LongestIdle is the longest idle wait of a plan.
func (d *Generator) LongestIdle(a *Schedule) schedule.Tick {
	longest := schedule.Tick(0)
	for i := range d.Jobs {
		d.idleWaits(i, a, func(wait schedule.Tick) { longest = max(longest, wait) })
	}
	return longest
}

// needless counts how often somebody goes to another machine than the one before
// though they might have stayed.
func (d *Generator) needless(j *instance.CompiledJob, options []int) int {
	changes, chain, machine := 0, -1, -1
	for k := range j.Operations {
		c := j.Operations[k].Chain
		if c < 0 || c == chain {
			continue
		}
		now := d.Options[c][options[k]]
		if machine >= 0 && now != machine && d.stands(c, machine) {
			changes++
		}
		chain, machine = c, now
	}
	return changes
}

// stands tells whether a choice may be a machine.
func (d *Generator) stands(chain, machine int) bool {
	for _, st := range d.Options[chain] {
		if st == machine {
			return true
		}
	}
	return false
}

// idleOf is how long things are held while nothing is done.
func idleOf(j *instance.CompiledJob, a *Schedule, i int) schedule.Tick {
	idle := schedule.Tick(0)
	for _, b := range j.Blocks {
		if len(b.Holds) == 0 && !b.Later {
			continue
		}
		first := b.From + 1
		if b.Later {
			first--
		}
		for k := first; k < b.To; k++ {
			idle += a.Start[i][k] - a.End[i][k-1]
		}
	}
	return idle
}

// lastPart is the share of a plan's length at its end in which it counts who is still there.
const lastPart = 0.05

// Evaluate gives a plan its value and its surrogate objective.
func (d *Generator) Evaluate(a *Schedule) {
	a.Objective = d.objectiveOf(a)
	a.Surrogate = d.surrogateOf(a)
}

// surrogateOf is a plan's value and, where it is its length alone, how many are still there
// in its last part: where all of them are through at the last minute, one change that makes
// it shorter is not to be found. Where no machine can be chosen it leads astray: 10 jobs on
// 10 machines end later.
func (d *Generator) surrogateOf(a *Schedule) float64 {
	if d.Weights != nil || len(d.OpenChoices) == 0 {
		return a.Objective
	}
	last := lastPart * float64(a.Makespan)
	sum := 0.0
	for _, done := range a.Done {
		if there := last - float64(a.Makespan-done); there > 0 {
			sum += there * there
		}
	}
	return a.Objective + sum/max(1, last*float64(len(a.Done)))
}
