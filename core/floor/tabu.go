package floor

import (
	"cmp"
	"math/rand/v2"
	"slices"
)

// A tabu search shortens a plan along its longest path: what waits for a unit
// there goes before what has it, or elsewhere. The best step by its estimate is
// made, even when the plan becomes longer, and for a while it is not taken back.
type tabu struct {
	*walker
	rng *rand.Rand
	// until is the iteration until which a use may not go before another again
	// (by both), awayUntil one until which it may not go back to a unit, and
	// optionUntil one until which a chain may not take an option again.
	until       []int32
	awayUntil   []int32
	optionUntil [][]int32
	iteration   int32
	runs        [][]int32
	steps       []step
	best        tick
	elite       snapshot
	kept        snapshot
}

// A snapshot is the orders of a graph, to go back to.
type snapshot struct {
	uses     []use
	option   []int
	firstUse []int32
	lastUse  []int32
	makespan tick
}

func newTabu(g *graph, rng *rand.Rand) *tabu {
	t := &tabu{walker: newWalker(g), rng: rng, until: make([]int32, len(g.uses)*len(g.uses)), awayUntil: make([]int32, len(g.uses)*len(g.firstUse))}
	for _, options := range g.options {
		t.optionUntil = append(t.optionUntil, make([]int32, len(options)))
	}
	return t
}

func (g *graph) save(to *snapshot) {
	to.uses = append(to.uses[:0], g.uses...)
	to.option = append(to.option[:0], g.option...)
	to.firstUse, to.lastUse = append(to.firstUse[:0], g.firstUse...), append(to.lastUse[:0], g.lastUse...)
	to.makespan = g.makespan
}

func (g *graph) restore(from *snapshot) {
	copy(g.uses, from.uses)
	copy(g.firstUse, from.firstUse)
	copy(g.lastUse, from.lastUse)
	for c, option := range from.option {
		g.choose(c, option)
	}
	g.evaluate()
}

// patience is how many iterations without a better plan there are before the
// search goes on from the best one, shaken.
const patience = 1500

// improve searches from where the graph stands, until a stretch is over or a plan is as
// short as the bound. The graph is then at the best plan. It tells how many changes it made.
func (t *tabu) improve(whole stretch, bound tick) int {
	t.save(&t.elite)
	t.save(&t.kept)
	t.best = t.makespan
	since, local := 0, t.makespan
	done := 0
	for ; whole.gone(done) < 1 && t.best > bound; done++ {
		t.iteration++
		if !t.step() {
			since = patience
		}
		if t.makespan < local {
			local, since = t.makespan, 0
			t.save(&t.kept)
			if local < t.best {
				t.best = local
				t.save(&t.elite)
			}
		} else {
			since++
		}
		if since >= patience {
			// From the best plan, or from where this round ended when that is
			// about as good, so that the search does not run in a circle.
			if float64(t.kept.makespan) > 1.01*float64(t.best) || t.rng.IntN(3) == 0 {
				t.restore(&t.elite)
			} else {
				t.restore(&t.kept)
			}
			t.shake(4 + t.rng.IntN(12))
			t.forget()
			since, local = 0, t.makespan
			t.save(&t.kept)
			if local < t.best {
				t.best = local
				t.save(&t.elite)
			}
		}
	}
	t.restore(&t.elite)
	return done
}

func (t *tabu) forget() {
	clear(t.until)
	clear(t.awayUntil)
	for _, options := range t.optionUntil {
		clear(options)
	}
}

// shake makes some steps at random.
func (t *tabu) shake(steps int) {
	for range steps {
		t.find()
		if len(t.steps) == 0 {
			return
		}
		s := t.steps[t.rng.IntN(len(t.steps))]
		if !t.make(s) {
			t.undo()
			t.evaluate()
		}
	}
}

// step makes the best step that is not tabu; it is false where there is none.
func (t *tabu) step() bool {
	t.find()
	slices.SortFunc(t.steps, func(a, b step) int { return cmp.Compare(a.estimate, b.estimate) })
	var spare []step
	for _, s := range t.steps {
		if t.isTabu(s) && s.estimate >= t.best {
			spare = append(spare, s)
			continue
		}
		if t.try(s) {
			return true
		}
	}
	// Where all are tabu, one of them at random.
	for len(spare) > 0 {
		i := t.rng.IntN(len(spare))
		if t.try(spare[i]) {
			return true
		}
		spare = slices.Delete(spare, i, i+1)
	}
	return false
}

// try makes a step, and keeps it from being taken back for a while.
func (t *tabu) try(s step) bool {
	type mark struct{ slot *int32 }
	var marks [64]mark
	marked := 0
	forbid := func(slot *int32) {
		if marked < len(marks) {
			marks[marked] = mark{slot}
			marked++
		}
	}
	n := int32(len(t.uses))
	switch s.kind {
	case behind:
		for x := t.uses[s.use].next; ; x = t.uses[x].next {
			forbid(&t.until[s.use*n+x])
			if x == s.other {
				break
			}
		}
	case before:
		for x := s.other; x != s.use; x = t.uses[x].next {
			forbid(&t.until[x*n+s.use])
		}
	case elsewhere:
		forbid(&t.awayUntil[s.use*int32(len(t.firstUse))+t.uses[s.use].unit])
	case restation:
		forbid(&t.optionUntil[s.chain][t.option[s.chain]])
	}
	if !t.make(s) {
		t.undo()
		t.evaluate()
		return false
	}
	base := int32(8 + len(t.runs))
	until := t.iteration + base + t.rng.Int32N(base/2+2)
	for _, m := range marks[:marked] {
		*m.slot = until
	}
	return true
}

func (t *tabu) isTabu(s step) bool {
	n := int32(len(t.uses))
	switch s.kind {
	case behind:
		for x := t.uses[s.use].next; ; x = t.uses[x].next {
			if t.until[x*n+s.use] >= t.iteration {
				return true
			}
			if x == s.other {
				return false
			}
		}
	case before:
		for x := s.other; x != s.use; x = t.uses[x].next {
			if t.until[s.use*n+x] >= t.iteration {
				return true
			}
		}
	case elsewhere:
		return t.awayUntil[s.use*int32(len(t.firstUse))+s.unit] >= t.iteration
	case restation:
		return t.optionUntil[s.chain][s.option] >= t.iteration
	}
	return false
}

// find lists the steps that may shorten the longest path: in each run of uses
// that wait for one another, one goes before or behind all others, or elsewhere.
func (t *tabu) find() {
	t.runs = t.critical(t.rng, t.runs)
	t.steps = t.steps[:0]
	for at, run := range t.runs {
		first, last := run[0], run[len(run)-1]
		isLast, isFirst := at == 0, at == len(t.runs)-1
		for i, u := range run {
			if i < len(run)-1 && !(isLast && len(run) > 2 && i != 0 && i != len(run)-2) {
				t.steps = append(t.steps, step{kind: behind, use: u, other: last, estimate: t.along(u, last)})
			}
			if i > 0 && (i > 1 || len(run) > 2) && !(isFirst && len(run) > 2 && i != 1 && i != len(run)-1) {
				t.steps = append(t.steps, step{kind: before, use: u, other: first, estimate: t.back(u, first)})
			}
		}
		t.findElsewhere(run)
	}
}

// findElsewhere lists other units and stations for the uses of a run.
func (t *tabu) findElsewhere(run []int32) {
	for _, u := range run {
		at := &t.uses[u]
		if at.chain >= 0 {
			for option := range t.options[at.chain] {
				if option == t.option[at.chain] {
					continue
				}
				if estimate, can := t.withOption(at.chain, option); can {
					t.steps = append(t.steps, step{kind: restation, chain: at.chain, option: option, estimate: estimate})
				}
			}
		}
		for unit := range t.firstUse {
			if int32(unit) == at.unit || !t.mayHave(at, t.belongsTo[unit]) {
				continue
			}
			free := t.ready[at.from]
			if !t.first[at.from] {
				free = max(free, t.graph.head[at.from-1]+t.length[at.from-1])
			}
			s := t.spotOn(int32(unit), free+1)
			for range 2 {
				t.steps = append(t.steps, step{kind: elsewhere, use: u, unit: int32(unit), prev: s.prev, estimate: t.on(u, s)})
				if s.prev < 0 {
					break
				}
				s.prev = t.uses[s.prev].prev
			}
		}
	}
}

// mayHave tells whether a use may have a unit of a resource, as its chain stands.
func (t *tabu) mayHave(u *use, resource int) bool {
	if len(u.oneOf) > 0 {
		return slices.Contains(u.oneOf, resource)
	}
	return t.resourceOf(u) == resource
}
