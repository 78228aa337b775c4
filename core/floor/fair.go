package floor

// Weights say what a plan that is good for people is: how many minutes of makespan
// each of these is worth. Handbook, Waiting: in the window; nobody's first stitch
// late; the longest wait short, and waits shared; the same machine; hoops not held
// idle; only then the last minute.
type Weights struct {
	// Late is for A minute after the window.
	Late float64 `json:"late"`
	// Margin is for a minute that is missing of MarginMinutes between the end of the plan
	// and that of the window: a day varies, and what ends on the last minute is late on
	// every second one.
	Margin        float64 `json:"margin"`
	MarginMinutes float64 `json:"margin_minutes"`
	// FirstStitch is for a minute of somebody's first step at a station after half
	// of the window.
	FirstStitch float64 `json:"first_stitch"`
	// LongestWait is for a minute of the longest wait over ShortMinutes; waits up to
	// those cost nothing, nor what a person has to do in them.
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
	return Weights{Late: 50, Margin: 3, MarginMinutes: 30, FirstStitch: 5, LongestWait: 2, ShortMinutes: 10, SharedWaits: 0.5, Change: 10, Idle: 0.02}
}

// A Weight is one of the [Weights] with what it is of, and why it is weighed.
type Weight struct {
	Key, Title, Because string
	value               func(*Weights) *float64
}

// WeightKinds are all of them, in the order of the handbook.
var WeightKinds = []Weight{
	{"late", "A minute after the class has ended", "whoever is not done goes home with an open hoop", func(w *Weights) *float64 { return &w.Late }},
	{"margin", "A minute short of the margin before the end", "a day varies: without a margin every second class runs over", func(w *Weights) *float64 { return &w.Margin }},
	{"margin_minutes", "Minutes of margin before the end", "about what makes a class end in time on nine days of ten", func(w *Weights) *float64 { return &w.MarginMinutes }},
	{"first_stitch", "A minute of somebody's first stitch after half of the class", "until they have sewn, they have not begun", func(w *Weights) *float64 { return &w.FirstStitch }},
	{"longest_wait", "A minute of the longest wait", "one long wait is remembered, three short ones are not", func(w *Weights) *float64 { return &w.LongestWait }},
	{"short_minutes", "Minutes of a wait that cost nothing", "that long it takes to look at what one has made", func(w *Weights) *float64 { return &w.ShortMinutes }},
	{"shared_waits", "An hour of waiting, more for long waits", "waits are shared rather than all one person's", func(w *Weights) *float64 { return &w.SharedWaits }},
	{"change", "A change of machine without need", "every machine is threaded and loaded otherwise", func(w *Weights) *float64 { return &w.Change }},
	{"idle", "A minute in which a hoop is held and not used", "somebody else may want it", func(w *Weights) *float64 { return &w.Idle }},
}

// Of is what some weights say of it.
func (w Weight) Of(weights Weights) float64 { return *w.value(&weights) }

// Set changes it.
func (w Weight) Set(weights *Weights, value float64) { *w.value(weights) = value }

// MostWeight is the largest there is.
const MostWeight = 10_000

// endsShare is how much a minute of everyone's end counts beside one of the last: it
// tells plans of one length apart, and more of it leads away from the shortest.
const endsShare = 0.005

// valueOf is what a plan is compared by: its makespan and a little of everyone's
// end, and what is bad for people where that is weighed.
func (d *decoder) valueOf(a *schedule) float64 {
	value := float64(a.makespan) + endsShare*float64(a.sumEnds)/float64(max(1, len(d.people)))
	w := d.weights
	if w == nil {
		return value
	}
	window := ticks(d.problem.WindowMinutes)
	value += w.Late*float64(max(0, a.makespan-window)) + w.Margin*float64(max(0, a.makespan-window+ticks(w.MarginMinutes)))
	short := ticks(w.ShortMinutes)
	longest := short
	for i := range d.people {
		j := &d.people[i]
		hard, wait := d.hardOn(i, a)
		longest = max(longest, wait)
		value += hard + w.Change*ticksPerMinute*float64(d.needless(j, a.option[i]))
		if w.Idle > 0 {
			value += w.Idle * float64(j.idle(a, i))
		}
	}
	return value + w.LongestWait*float64(longest-short)
}

// hardOn is what is weighed of a plan for one person alone, their waits and a late first
// stitch, with their longest wait.
func (d *decoder) hardOn(i int, a *schedule) (cost float64, longest tick) {
	w, short := d.weights, ticks(d.weights.ShortMinutes)
	d.idleWaits(i, a, func(wait tick) {
		longest = max(longest, wait)
		if over := wait - short; over > 0 {
			cost += w.SharedWaits * float64(over) * float64(over) / (60 * ticksPerMinute)
		}
	})
	if sits := d.sits(i, a); sits < never {
		cost += w.FirstStitch * float64(max(0, sits-ticks(d.problem.WindowMinutes)/2))
	}
	return cost, longest
}

// sits is when somebody first sits down at a station, never where they do not.
func (d *decoder) sits(i int, a *schedule) tick {
	for k := range d.people[i].steps {
		if d.people[i].steps[k].chain >= 0 {
			return a.start[i][k]
		}
	}
	return never
}

// idleWaits gives what is idle of each wait of a person: those that are short are not
// filled, of the others it is the longest stretch for which there is nothing to do.
func (d *decoder) idleWaits(i int, a *schedule, each func(wait tick)) {
	j := &d.people[i]
	left, done, sits := j.fill, uint32(0), d.sits(i, a)
	wait := func(from, to tick) {
		idle := to - from
		if idle > fillOver {
			idle, done = fill(j.practice, done, from, to, sits, nil)
			filled := min(left, idle)
			left, idle = left-filled, idle-filled
		}
		each(idle)
	}
	at := j.ready
	for k := range j.steps {
		if start := a.start[i][k]; start > at {
			d.openParts(at, start, wait)
		}
		at = a.end[i][k]
	}
}

// openParts gives the parts of a stretch in which the room is open.
func (d *decoder) openParts(from, to tick, each func(from, to tick)) {
	for l := d.closed.at(from); l < len(d.closed) && d.closed[l].from < to; l++ {
		if d.closed[l].use > 0 {
			continue
		}
		end := to
		if l+1 < len(d.closed) {
			end = min(end, d.closed[l+1].from)
		}
		each(max(from, d.closed[l].from), end)
	}
}

// longestIdle is the longest idle wait of a plan.
func (d *decoder) longestIdle(a *schedule) tick {
	longest := tick(0)
	for i := range d.people {
		d.idleWaits(i, a, func(wait tick) { longest = max(longest, wait) })
	}
	return longest
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
		if len(b.holds) == 0 && !b.later {
			continue
		}
		first := b.from + 1
		if b.later {
			first--
		}
		for k := first; k < b.to; k++ {
			idle += a.start[i][k] - a.end[i][k-1]
		}
	}
	return idle
}
