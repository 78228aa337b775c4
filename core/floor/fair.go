package floor

// Weights say what a plan that is good for people is: how many minutes of makespan
// each of these is worth. Handbook, Waiting: in the window; nobody's first stitch
// late; the longest wait short, and waits shared; the same machine; hoops not held
// idle; only then the last minute.
type Weights struct {
	// Late is for a minute after the window.
	Late float64 `json:"late"`
	// FirstStitch is for a minute of somebody's first step at a station after half
	// of the window.
	FirstStitch float64 `json:"first_stitch"`
	// LongestWait is for a minute of the longest wait over ShortMinutes; waits up to
	// those cost nothing.
	LongestWait  float64 `json:"longest_wait"`
	ShortMinutes float64 `json:"short_minutes"`
	// SharedWaits is for a minute of waiting over ShortMinutes, more for long ones:
	// for each the square over an hour.
	SharedWaits float64 `json:"shared_waits"`
	// Change is for somebody who goes to another station than before, where they
	// might have stayed.
	Change float64 `json:"change"`
	// Idle is for a minute in which something taken is not used.
	Idle float64 `json:"idle"`
}

// UsualWeights are the product's own, in the order of the handbook.
func UsualWeights() Weights {
	return Weights{Late: 50, FirstStitch: 5, LongestWait: 2, ShortMinutes: 10, SharedWaits: 1, Change: 10, Idle: 0.02}
}

// valueOf is what a plan is compared by: its makespan and a little of everyone's
// end, and what is bad for people where that is weighed.
func (d *decoder) valueOf(a *schedule) float64 {
	value := float64(a.makespan) + 0.05*float64(a.sumEnds)/float64(max(1, len(d.people)))
	w := d.weights
	if w == nil {
		return value
	}
	window := ticks(d.problem.WindowMinutes)
	value += w.Late * float64(max(0, a.makespan-window))
	longest := tick(0)
	short := ticks(w.ShortMinutes)
	for i := range d.people {
		j := &d.people[i]
		at, stitched := j.ready, false
		for k := range j.steps {
			start := a.start[i][k]
			if wait := start - at - short; wait > 0 {
				longest = max(longest, wait)
				value += w.SharedWaits * float64(wait) * float64(wait) / (60 * ticksPerMinute)
			}
			at = a.end[i][k]
			if !stitched && j.steps[k].chain >= 0 {
				stitched = true
				value += w.FirstStitch * float64(max(0, start-window/2))
			}
		}
		value += w.Change * ticksPerMinute * float64(d.needless(j, a.option[i]))
		if w.Idle > 0 {
			value += w.Idle * float64(j.idle(a, i))
		}
	}
	return value + w.LongestWait*float64(longest)
}

// needless counts how often somebody goes to another station than the one before
// though they might have stayed.
func (d *decoder) needless(j *job, options []int) int {
	changes, chain, station := 0, -1, -1
	for k := range j.steps {
		c := j.steps[k].chain
		if c < 0 || c == chain {
			continue
		}
		now := d.options[c][options[k]]
		if station >= 0 && now != station && d.stands(c, station) {
			changes++
		}
		chain, station = c, now
	}
	return changes
}

// stands tells whether a choice may be a station.
func (d *decoder) stands(chain, station int) bool {
	for _, st := range d.options[chain] {
		if st == station {
			return true
		}
	}
	return false
}

// idle is how long things are held while nothing is done.
func (j *job) idle(a *schedule, i int) tick {
	idle := tick(0)
	for _, b := range j.blocks {
		if len(b.holds) == 0 {
			continue
		}
		for k := b.from + 1; k < b.to; k++ {
			idle += a.start[i][k] - a.end[i][k-1]
		}
	}
	return idle
}
