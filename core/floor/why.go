package floor

import "slices"

// A Cause is why a step of a plan does not begin sooner.
type Cause struct {
	Kind CauseKind
	// Resource is the station or pool it waits for, Person and Step are who has it
	// until then, and with what; empty for other kinds.
	Resource, Person, Step string
	// Critical tells that the day is as long as it is because of this step.
	Critical bool
}

// A CauseKind is what a step follows.
type CauseKind string

// The kinds of cause.
const (
	FollowsOwn     CauseKind = "own"      // the person's step before
	FollowsArrival CauseKind = "arrival"  // that the person is there
	FollowsOther   CauseKind = "other"    // that a station or a pool comes free
	FollowsPin     CauseKind = "pin"      // where it was pinned
	FollowsClosed  CauseKind = "closed"   // that a break ends, or that something is back
	FollowsNext    CauseKind = "just now" // it is done just before the next, which waits
)

const hair = 1e-6

// Why says, for each step of a result in its order, why it does not begin sooner,
// and which steps make the day as long as it is.
func Why(p Problem, r Result) []Cause {
	w := newCauses(p, r)
	causes := make([]Cause, len(r.Steps))
	last := -1
	for i := range r.Steps {
		causes[i] = w.cause(i)
		if last < 0 || r.Steps[i].End > r.Steps[last].End {
			last = i
		}
	}
	for i := range causes {
		if causes[i].Kind == FollowsNext {
			w.lookAhead(i, causes)
		}
	}
	for seen := 0; last >= 0 && seen <= len(r.Steps); seen++ {
		causes[last].Critical = true
		last = w.before(last, causes)
	}
	return causes
}

type causes struct {
	p Problem
	r Result
	// at is the index of a person's step in the result, by both.
	at     map[string][]int
	person map[string]Person
	uses   map[string][]taken
}

// A taken station or pool: by which step until which.
type taken struct {
	from, to   int // indices of the result
	start, end float64
}

func newCauses(p Problem, r Result) *causes {
	w := &causes{p: p, r: r, at: map[string][]int{}, person: map[string]Person{}, uses: map[string][]taken{}}
	type step struct{ person, id string }
	index := map[step]int{}
	for i, s := range r.Steps {
		index[step{s.Person, s.Step}] = i
	}
	for _, who := range p.People {
		w.person[who.ID] = who
		for _, s := range who.Steps {
			i, placed := index[step{who.ID, s.ID}]
			if !placed {
				i = -1
			}
			w.at[who.ID] = append(w.at[who.ID], i)
		}
		for k, s := range who.Steps {
			i := w.at[who.ID][k]
			if i < 0 {
				continue
			}
			placed := r.Steps[i]
			use := func(resource string, to int) {
				if to >= 0 {
					w.uses[resource] = append(w.uses[resource], taken{i, to, placed.Start, r.Steps[to].End})
				}
			}
			if placed.Station != "" {
				to := i
				if s.Keep {
					to = w.nextAt(who, k)
				}
				use(placed.Station, to)
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

// took are the pools a step takes for a station.
func (w *causes) took(who Person, k int) []string {
	s, i := who.Steps[k], w.at[who.ID][k]
	if len(s.TakeFor) == 0 {
		return nil
	}
	if len(w.r.Steps[i].Took) > 0 {
		return w.r.Steps[i].Took
	}
	next := k
	if len(s.On) == 0 {
		for next++; next < len(who.Steps) && len(who.Steps[next].On) == 0; next++ {
		}
	}
	if next < len(who.Steps) && w.at[who.ID][next] >= 0 {
		if choice := s.TakeFor[w.r.Steps[w.at[who.ID][next]].Station]; len(choice) > 0 {
			return choice[:1]
		}
	}
	return nil
}

func (w *causes) nextAt(who Person, k int) int {
	for next := k + 1; next < len(who.Steps); next++ {
		if len(who.Steps[next].On) > 0 {
			return w.at[who.ID][next]
		}
	}
	return -1
}

func (w *causes) givenBack(who Person, k int, pool string) int {
	for ; k < len(who.Steps); k++ {
		if slices.Contains(who.Steps[k].Release, pool) {
			return w.at[who.ID][k]
		}
	}
	return w.at[who.ID][len(who.Steps)-1]
}

// position is the person of a step of the result, and which of theirs it is.
func (w *causes) position(i int) (Person, int) {
	who := w.person[w.r.Steps[i].Person]
	return who, slices.Index(w.at[who.ID], i)
}

// cause says why a step does not begin sooner.
func (w *causes) cause(i int) Cause {
	who, k := w.position(i)
	if k < 0 {
		return Cause{Kind: FollowsOwn}
	}
	s, placed := who.Steps[k], w.r.Steps[i]
	if s.At != nil && placed.Start <= *s.At+hair {
		return Cause{Kind: FollowsPin}
	}
	if k == 0 && placed.Start <= who.Ready+hair {
		return Cause{Kind: FollowsArrival}
	}
	if k > 0 && w.at[who.ID][k-1] >= 0 && placed.Start <= w.r.Steps[w.at[who.ID][k-1]].End+hair {
		return Cause{Kind: FollowsOwn}
	}
	if c, found := w.other(i, who, k); found {
		return c
	}
	for _, span := range w.spans(s, placed) {
		if span.To > placed.Start-hair && span.To < placed.Start+hair {
			return Cause{Kind: FollowsClosed}
		}
	}
	return Cause{Kind: FollowsNext}
}

// spans are the stretches in which a step could not be done.
func (w *causes) spans(s Step, placed Placed) []Span {
	spans := slices.Clone(w.p.Closed)
	for _, st := range w.p.Stations {
		if st.ID == placed.Station {
			spans = append(spans, st.Out...)
		}
	}
	for _, pool := range w.p.Pools {
		if s.Needs[pool.ID] > 0 || placed.With == pool.ID || slices.Contains(s.NeedsOne, pool.ID) {
			spans = append(spans, pool.Out...)
		}
	}
	return spans
}

// other finds who gives back, just when a step begins, what it takes.
func (w *causes) other(i int, who Person, k int) (Cause, bool) {
	s, placed := who.Steps[k], w.r.Steps[i]
	wanted := slices.Concat(s.Take, w.took(who, k), s.NeedsOne)
	if placed.Station != "" {
		wanted = append(wanted, placed.Station)
	}
	for pool, units := range s.Needs {
		if units > 0 {
			wanted = append(wanted, pool)
		}
	}
	slices.Sort(wanted)
	for _, resource := range wanted {
		for _, use := range w.uses[resource] {
			if by := w.r.Steps[use.to]; by.Person != who.ID && use.start < use.end && use.end > placed.Start-hair && use.end < placed.Start+hair {
				return Cause{Kind: FollowsOther, Resource: resource, Person: by.Person, Step: by.Step}, true
			}
		}
	}
	return Cause{}, false
}

// lookAhead finds what a step is put off for: one that follows it at once and takes
// what somebody else gives back just then.
func (w *causes) lookAhead(i int, causes []Cause) {
	who, k := w.position(i)
	for next := k + 1; next < len(who.Steps); next++ {
		at, before := w.at[who.ID][next], w.at[who.ID][next-1]
		if at < 0 || w.r.Steps[at].Start > w.r.Steps[before].End+hair {
			return
		}
		if c, found := w.other(at, who, next); found {
			causes[at] = c
			causes[i].Resource, causes[i].Person, causes[i].Step = c.Resource, c.Person, c.Step
			return
		}
	}
}

// before is the step that has to end for a step to begin, −1 for none.
func (w *causes) before(i int, causes []Cause) int {
	who, k := w.position(i)
	switch causes[i].Kind {
	case FollowsOwn:
		if k > 0 {
			return w.at[who.ID][k-1]
		}
	case FollowsOther, FollowsNext:
		by := w.person[causes[i].Person]
		if n := slices.IndexFunc(by.Steps, func(s Step) bool { return s.ID == causes[i].Step }); n >= 0 {
			return w.at[by.ID][n]
		}
	}
	return -1
}
