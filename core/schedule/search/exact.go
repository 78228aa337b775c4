package search

import (
	"encoding/binary"
	"slices"

	"chalkstep/core/schedule"
	"chalkstep/core/schedule/internal/instance"
	"chalkstep/core/schedule/internal/placing"
)

// A small day is searched to the end: by branch and bound over what begins whenever something ends. An order of
// turns cannot say every plan, as one in which somebody takes a hoop later than they could; here nothing
// is left out, so that what is found is the shortest there is, where the nodes suffice.

// Limits of a small day, and of the nodes of its search: figures of ours.
const (
	smallJobs     = 4
	smallMachines = 3
	exactNodes    = 150_000
)

// isSmall tells whether a day is searched to the end. Who is pinned goes before others, which is no matter of
// the shortest plan.
func isSmall(p schedule.Problem) bool {
	pinned := slices.ContainsFunc(p.Jobs, func(j schedule.Job) bool {
		return slices.ContainsFunc(j.Operations, func(o schedule.Operation) bool { return o.At != nil })
	})
	return len(p.Jobs) <= smallJobs && len(p.Machines) <= smallMachines && !pinned
}

// exactly is the shortest plan of a small day that is shorter than a limit; known tells that it was searched to
// the end, so that there is none that is shorter than what is given, or than the limit where none is.
func exactly(p schedule.Problem, limit schedule.Tick) (plan schedule.Plan, found, known bool) {
	s, err := instance.Compile(p)
	if err != nil {
		return plan, false, false
	}
	x := newExact(s, limit)
	x.from(0)
	if x.out.Makespan < limit {
		plan, found = x.Plan(x.out, x.out.Makespan), true
	}
	return plan, found, x.nodes < exactNodes
}

// exact is a search in progress: what everybody is at, at a time.
type exact struct {
	*placing.Generator
	jobs  []exactJob
	used  []int
	limit schedule.Tick
	nodes int
	seen  map[string]schedule.Tick
	// at is the plan in progress, out the best one.
	at, out *placing.Schedule
	// events are when something that is out comes or goes, in order.
	events []schedule.Tick
}

// An exactJob is somebody in a search.
type exactJob struct {
	*instance.CompiledJob
	holds []instance.Hold
	// decides has by operation the chains that are chosen when it begins, tail the least time from it on; same
	// has by chain the one before whose machine it wants again.
	decides [][]int
	same    map[int]int
	tail    []schedule.Tick
	next    int
	running bool
	until   schedule.Tick
	option  map[int]int
}

func newExact(s *instance.Instance, limit schedule.Tick) *exact {
	d := placing.NewGenerator(s)
	x := &exact{Generator: d, used: make([]int, len(s.Capacity)), limit: limit, seen: map[string]schedule.Tick{},
		at: d.NewSchedule(), out: d.NewSchedule()}
	x.out.Makespan = limit
	for i := range s.Jobs {
		x.jobs = append(x.jobs, newExactJob(s, i))
	}
	calendars := append(slices.Clone(s.Unavailable), s.Closed)
	for _, p := range calendars {
		for k := range p {
			x.events = append(x.events, p[k].From)
		}
	}
	slices.Sort(x.events)
	x.events = slices.Compact(x.events)
	return x
}

func newExactJob(s *instance.Instance, i int) exactJob {
	c := &s.Jobs[i]
	n := len(c.Operations)
	j := exactJob{CompiledJob: c, decides: make([][]int, n), same: map[int]int{}, tail: make([]schedule.Tick, n+1),
		until: c.Ready, option: map[int]int{}}
	decided := map[int]int{}
	first := func(chain, k int) {
		if at, has := decided[chain]; !has || k < at {
			decided[chain] = k
		}
	}
	last := -1
	for k, o := range c.Operations {
		if o.Chain < 0 {
			continue
		}
		first(o.Chain, k)
		if s.Problem.Jobs[i].Operations[k].SameMachine && last != o.Chain {
			j.same[o.Chain] = last
		}
		last = o.Chain
	}
	for _, b := range c.Blocks {
		if b.Parted != nil && b.Later {
			continue
		}
		whole := &b
		if b.Parted != nil {
			whole = b.Parted
		}
		for _, h := range whole.Holds {
			j.holds = append(j.holds, h)
			if h.Resource < 0 && slices.ContainsFunc(h.ByOption, func(r int) bool { return r >= 0 }) {
				first(c.Operations[h.AtOperation].Chain, h.From)
			}
		}
	}
	for chain, k := range decided {
		j.decides[k] = append(j.decides[k], chain)
	}
	for k := n - 1; k >= 0; k-- {
		slices.Sort(j.decides[k])
		j.tail[k] = j.tail[k+1] + c.OperationMinimum(k)
	}
	return j
}

// from goes on at a time at which something has happened.
func (x *exact) from(t schedule.Tick) {
	if x.nodes++; x.nodes >= exactNodes {
		return
	}
	var ended []int
	for again := true; again; { // what takes no time ends as it begins
		again = false
		for i := range x.jobs {
			if j := &x.jobs[i]; j.running && j.until <= t {
				x.end(i)
				ended, again = append(ended, i), true
			}
		}
	}
	if x.isLegal(t) && x.least(t) < x.out.Makespan && x.isNew(t) {
		x.choose(0, t)
	}
	for _, i := range slices.Backward(ended) {
		x.reopen(i)
	}
}

// choose has each of them in turn begin what comes, or not.
func (x *exact) choose(i int, t schedule.Tick) {
	if x.nodes >= exactNodes {
		return
	}
	for ; i < len(x.jobs); i++ {
		j := &x.jobs[i]
		if !j.running && j.next < len(j.Operations) && j.until <= t {
			break
		}
	}
	if i == len(x.jobs) {
		x.advance(t)
		return
	}
	if !x.begin(i, t) { // or others go first
		x.choose(i+1, t)
	}
}

// begin tries all ways in which somebody begins what comes; it is true where nothing speaks for waiting.
func (x *exact) begin(i int, t schedule.Tick) (free bool) {
	j := &x.jobs[i]
	k := j.next
	o := &j.Operations[k]
	free = o.Chain < 0 && len(o.Needs) == 0 && len(o.OneOf) == 0 && len(j.decides[k]) == 0 &&
		!slices.ContainsFunc(j.holds, func(h instance.Hold) bool { return h.From == k })
	began, before := false, j.until
	x.ways(i, k, 0, func() {
		length := o.Minutes
		if o.Chain >= 0 {
			length = o.On[j.option[o.Chain]]
		}
		if _, closed := x.Closed.Conflict(t, t+length, 1, 1); closed && length > 0 {
			return
		}
		withs := []int{-1}
		if len(o.OneOf) > 0 {
			withs = o.OneOf
		}
		for _, with := range withs {
			x.take(i, k, with, 1)
			if x.isLegal(t) {
				began = true
				j.running, j.until = true, t+length
				x.at.Start[i][k], x.at.End[i][k], x.at.With[i][k] = t, t+length, with
				if length == 0 {
					x.from(t)
				} else {
					x.choose(i+1, t)
				}
				j.running, j.until = false, before
				x.at.With[i][k] = -1
			}
			x.take(i, k, with, -1)
		}
	})
	return free && began
}

// ways goes through the options of the chains that are chosen when an operation begins.
func (x *exact) ways(i, k, n int, do func()) {
	j := &x.jobs[i]
	if n == len(j.decides[k]) {
		do()
		return
	}
	chain := j.decides[k][n]
	same, tied := j.same[chain]
	for option := range x.Options[chain] {
		if tied && x.Options[chain][option] != x.Options[same][j.option[same]] {
			continue
		}
		j.option[chain] = option
		x.ways(i, k, n+1, do)
	}
	delete(j.option, chain)
}

// take has somebody use what an operation uses while it lasts, and what is held from its beginning on; or gives
// that back.
func (x *exact) take(i, k, with, sign int) {
	j := &x.jobs[i]
	for _, h := range j.holds {
		if h.From == k {
			if r := x.held(j, h); r >= 0 {
				x.used[r] += sign
			}
		}
	}
	x.use(i, k, with, sign)
}

// use is what an operation uses while it lasts: its machine, unless it is held already, and hands.
func (x *exact) use(i, k, with, sign int) {
	j := &x.jobs[i]
	o := &j.Operations[k]
	if o.Chain >= 0 {
		m := x.Options[o.Chain][j.option[o.Chain]]
		if !slices.ContainsFunc(j.holds, func(h instance.Hold) bool {
			return h.From <= k && k <= h.To && x.held(j, h) == m
		}) {
			x.used[m] += sign
		}
	}
	for _, need := range o.Needs {
		x.used[need.Resource] += sign * need.Units
	}
	if with >= 0 {
		x.used[with] += sign
	}
}

func (x *exact) held(j *exactJob, h instance.Hold) int {
	if h.Resource >= 0 || h.ByOption == nil {
		return h.Resource
	}
	return h.ByOption[j.option[j.Operations[h.AtOperation].Chain]]
}

// end has somebody be done with what they are at; reopen takes that back.
func (x *exact) end(i int) {
	x.pass(i, x.jobs[i].next, -1)
	x.jobs[i].next++
	x.jobs[i].running = false
}

func (x *exact) reopen(i int) {
	x.jobs[i].next--
	x.jobs[i].running = true
	x.pass(i, x.jobs[i].next, 1)
}

func (x *exact) pass(i, k, sign int) {
	j := &x.jobs[i]
	x.use(i, k, x.at.With[i][k], sign)
	for _, h := range j.holds {
		if h.To == k {
			if r := x.held(j, h); r >= 0 {
				x.used[r] += sign
			}
		}
	}
}

// isLegal tells whether no more is in use than there is at a time.
func (x *exact) isLegal(t schedule.Tick) bool {
	for r, used := range x.used {
		if used == 0 {
			continue
		}
		if used > x.Capacity[r] {
			return false
		}
		if !x.Unavailable[r].Flat() {
			if _, out := x.Unavailable[r].Conflict(t, t+1, used, x.Capacity[r]); out {
				return false
			}
		}
	}
	return true
}

// advance goes to the next time at which something ends, somebody is there, or something comes or goes.
func (x *exact) advance(t schedule.Tick) {
	next := schedule.Never
	done := true
	for i := range x.jobs {
		j := &x.jobs[i]
		if j.running || j.until > t {
			next = min(next, j.until)
		}
		done = done && j.next == len(j.Operations)
	}
	if done {
		x.keep()
		return
	}
	for _, at := range x.events {
		if at > t {
			next = min(next, at)
			break
		}
	}
	if next < schedule.Never {
		x.from(next)
	}
}

// keep is that everybody is done, sooner than in any plan before.
func (x *exact) keep() {
	makespan := schedule.Tick(0)
	for i := range x.jobs {
		if n := len(x.at.End[i]); n > 0 {
			makespan = max(makespan, x.at.End[i][n-1])
		}
		for k, o := range x.jobs[i].Operations {
			if o.Chain >= 0 {
				x.at.Option[i][k] = x.jobs[i].option[o.Chain]
			}
		}
	}
	if makespan < x.out.Makespan {
		x.out.CopyFrom(x.at)
		x.out.Makespan = makespan
	}
}

// least is when all can be done at the soonest: everybody by what they have left, and every machine and resource
// by what nobody can do elsewhere.
func (x *exact) least(t schedule.Tick) schedule.Tick {
	least := t
	var work [16]schedule.Tick
	for i := range x.jobs {
		j := &x.jobs[i]
		at, k := max(t, j.until), j.next
		if j.running {
			k++
		}
		least = max(least, at+j.tail[k])
		for ; k < len(j.Operations); k++ {
			o := &j.Operations[k]
			for _, need := range o.Needs {
				if need.Resource < len(work) {
					work[need.Resource] += schedule.Tick(need.Units) * j.OperationMinimum(k)
				}
			}
			if o.Chain >= 0 {
				if m := x.Options[o.Chain]; m[0] == m[len(m)-1] && m[0] < len(work) {
					work[m[0]] += j.OperationMinimum(k)
				}
			}
		}
	}
	for r := range min(len(work), len(x.Capacity)) {
		if c := schedule.Tick(x.Capacity[r]); c > 0 {
			least = max(least, t+(work[r]+c-1)/c)
		}
	}
	return least
}

// isNew tells whether nobody stood like this before, at the same time or sooner.
func (x *exact) isNew(t schedule.Tick) bool {
	var key []byte
	add := func(n int64) { key = binary.AppendVarint(key, n) }
	if x.HasCalendar() {
		add(t)
	}
	for i := range x.jobs {
		j := &x.jobs[i]
		add(int64(j.next))
		add(max(-1, j.until-t))
		if j.running {
			add(int64(x.at.With[i][j.next]))
		}
		for k := range j.Operations {
			for _, chain := range j.decides[k] {
				if option, chosen := j.option[chain]; chosen {
					add(int64(option))
				}
			}
		}
	}
	if before, has := x.seen[string(key)]; has && before <= t {
		return false
	}
	x.seen[string(key)] = t
	return true
}
