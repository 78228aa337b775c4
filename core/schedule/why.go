package schedule

import "slices"

// A Cause is why an operation of a plan does not begin sooner.
type Cause struct {
	Kind CauseKind
	// Resource is the machine or resource it waits for, Job and Operation are who has it
	// until then, and with what; empty for other kinds.
	Resource, Job, Operation string
	// Critical tells that the day is as long as it is because of this operation.
	Critical bool
}

// A CauseKind is what an operation follows.
type CauseKind string

// The kinds of cause.
const (
	FollowsOwn     CauseKind = "own"      // the job's operation before
	FollowsArrival CauseKind = "arrival"  // that the job is there
	FollowsOther   CauseKind = "other"    // that a machine or a resource comes free
	FollowsPin     CauseKind = "pin"      // where it was pinned
	FollowsClosed  CauseKind = "closed"   // that a break ends, or that something is back
	FollowsNext    CauseKind = "just now" // it is done just before the next, which waits
)

// Why says, for each operation of a result in its order, why it does not begin sooner,
// and which operations make the day as long as it is.
func Why(p Problem, r Plan) []Cause {
	w := newCauses(p, r)
	causes := make([]Cause, len(r.Assignments))
	last := -1
	for i := range r.Assignments {
		causes[i] = w.cause(i)
		if last < 0 || r.Assignments[i].End > r.Assignments[last].End {
			last = i
		}
	}
	for i := range causes {
		if causes[i].Kind == FollowsNext {
			w.lookAhead(i, causes)
		}
	}
	for seen := 0; last >= 0 && seen <= len(r.Assignments); seen++ {
		causes[last].Critical = true
		last = w.before(last, causes)
	}
	return causes
}

type causes struct {
	p Problem
	r Plan
	// at is the index of a job's operation in the result, by both.
	at   map[string][]int
	job  map[string]Job
	uses map[string][]taken
}

// A taken machine or resource: by which operation until which.
type taken struct {
	from, to   int // indices of the result
	start, end float64
}

func newCauses(p Problem, r Plan) *causes {
	w := &causes{p: p, r: r, at: map[string][]int{}, job: map[string]Job{}, uses: map[string][]taken{}}
	type step struct{ person, id string }
	index := map[step]int{}
	for i, s := range r.Assignments {
		index[step{s.Job, s.Operation}] = i
	}
	for _, who := range p.Jobs {
		w.job[who.ID] = who
		for _, s := range who.Operations {
			i, placed := index[step{who.ID, s.ID}]
			if !placed {
				i = -1
			}
			w.at[who.ID] = append(w.at[who.ID], i)
		}
		for k, s := range who.Operations {
			i := w.at[who.ID][k]
			if i < 0 {
				continue
			}
			placed := r.Assignments[i]
			use := func(resource string, to int) {
				if to >= 0 {
					w.uses[resource] = append(w.uses[resource], taken{i, to, placed.Start, r.Assignments[to].End})
				}
			}
			if placed.Machine != "" {
				to := i
				if s.KeepMachine {
					to = w.nextAt(who, k)
				}
				use(placed.Machine, to)
			}
			for pool, units := range s.Needs {
				if units > 0 {
					use(pool, i)
				}
			}
			if placed.With != "" {
				use(placed.With, i)
			}
			for _, pool := range slices.Concat(s.Take, w.took(who, k)) {
				use(pool, w.givenBack(who, k, pool))
			}
		}
	}
	return w
}

// took are the resources an operation takes for a machine.
func (w *causes) took(who Job, k int) []string {
	s, i := who.Operations[k], w.at[who.ID][k]
	if len(s.TakeFor) == 0 {
		return nil
	}
	if len(w.r.Assignments[i].Took) > 0 {
		return w.r.Assignments[i].Took
	}
	next := k
	if len(s.On) == 0 {
		for next++; next < len(who.Operations) && len(who.Operations[next].On) == 0; next++ {
		}
	}
	if next < len(who.Operations) && w.at[who.ID][next] >= 0 {
		if choice := s.TakeFor[w.r.Assignments[w.at[who.ID][next]].Machine]; len(choice) > 0 {
			return choice[:1]
		}
	}
	return nil
}

func (w *causes) nextAt(who Job, k int) int {
	for next := k + 1; next < len(who.Operations); next++ {
		if len(who.Operations[next].On) > 0 {
			return w.at[who.ID][next]
		}
	}
	return -1
}

func (w *causes) givenBack(who Job, k int, resource string) int {
	for ; k < len(who.Operations); k++ {
		if slices.Contains(who.Operations[k].Release, resource) {
			return w.at[who.ID][k]
		}
	}
	return w.at[who.ID][len(who.Operations)-1]
}

// position is the job of an operation of the result, and which of theirs it is.
func (w *causes) position(i int) (Job, int) {
	who := w.job[w.r.Assignments[i].Job]
	return who, slices.Index(w.at[who.ID], i)
}

// cause says why an operation does not begin sooner.
func (w *causes) cause(i int) Cause {
	who, k := w.position(i)
	if k < 0 {
		return Cause{Kind: FollowsOwn}
	}
	s, placed := who.Operations[k], w.r.Assignments[i]
	if s.At != nil && placed.Start <= *s.At+Hair {
		return Cause{Kind: FollowsPin}
	}
	if k == 0 && placed.Start <= who.Ready+Hair {
		return Cause{Kind: FollowsArrival}
	}
	if k > 0 && w.at[who.ID][k-1] >= 0 && placed.Start <= w.r.Assignments[w.at[who.ID][k-1]].End+Hair {
		return Cause{Kind: FollowsOwn}
	}
	if c, found := w.other(i, who, k); found {
		return c
	}
	for _, span := range w.intervals(s, placed) {
		if span.To > placed.Start-Hair && span.To < placed.Start+Hair {
			return Cause{Kind: FollowsClosed}
		}
	}
	return Cause{Kind: FollowsNext}
}

// intervals are the stretches in which an operation could not be done.
func (w *causes) intervals(s Operation, placed Assignment) []Interval {
	spans := slices.Clone(w.p.Closed)
	for _, st := range w.p.Machines {
		if st.ID == placed.Machine {
			spans = append(spans, st.Unavailable...)
		}
	}
	for _, resource := range w.p.Resources {
		if s.Needs[resource.ID] > 0 || placed.With == resource.ID || slices.Contains(s.NeedsOneOf, resource.ID) {
			spans = append(spans, resource.Unavailable...)
		}
	}
	return spans
}

// other finds who gives back, just when an operation begins, what it takes.
func (w *causes) other(i int, who Job, k int) (Cause, bool) {
	s, placed := who.Operations[k], w.r.Assignments[i]
	wanted := slices.Concat(s.Take, w.took(who, k), s.NeedsOneOf)
	if placed.Machine != "" {
		wanted = append(wanted, placed.Machine)
	}
	for pool, units := range s.Needs {
		if units > 0 {
			wanted = append(wanted, pool)
		}
	}
	slices.Sort(wanted)
	for _, resource := range wanted {
		for _, use := range w.uses[resource] {
			if by := w.r.Assignments[use.to]; by.Job != who.ID && use.start < use.end && use.end > placed.Start-Hair &&
				use.end < placed.Start+Hair {
				return Cause{Kind: FollowsOther, Resource: resource, Job: by.Job, Operation: by.Operation}, true
			}
		}
	}
	return Cause{}, false
}

// lookAhead finds what an operation is put off for: one that follows it at once and takes
// what somebody else gives back just then.
func (w *causes) lookAhead(i int, causes []Cause) {
	who, k := w.position(i)
	for next := k + 1; next < len(who.Operations); next++ {
		at, before := w.at[who.ID][next], w.at[who.ID][next-1]
		if at < 0 || w.r.Assignments[at].Start > w.r.Assignments[before].End+Hair {
			return
		}
		if c, found := w.other(at, who, next); found {
			causes[at] = c
			causes[i].Resource, causes[i].Job, causes[i].Operation = c.Resource, c.Job, c.Operation
			return
		}
	}
}

// before is the operation that has to end for an operation to begin, −1 for none.
func (w *causes) before(i int, causes []Cause) int {
	who, k := w.position(i)
	switch causes[i].Kind {
	case FollowsOwn:
		if k > 0 {
			return w.at[who.ID][k-1]
		}
	case FollowsOther, FollowsNext:
		by := w.job[causes[i].Job]
		if n := slices.IndexFunc(by.Operations, func(s Operation) bool { return s.ID == causes[i].Operation }); n >= 0 {
			return w.at[by.ID][n]
		}
	}
	return -1
}
