package floor

// How a round of a job shop goes, in which no station can be chosen: a stretch of annealing,
// which changes much, and one along the longest path, which is fast where it is machines that
// are waited for. Where the second finds something, it goes on for longer the next time.
const (
	annealed                        = 1500
	walked, leastWalked, mostWalked = 400, 20, 6000
)

// A walk is what a round did: so many changes, and whether annealing found something, and
// then the walk along the longest path.
type walk struct {
	changes         int
	annealed, found bool
}

// rounds searches in rounds, all of which begin with the best plan of all.
func (t *team) rounds(whole stretch, bound tick) {
	var along [len(t.members)]*tabu
	t.sideBySide(func(i int, s *search) {
		if g, ok := newGraph(s.shop); ok {
			along[i] = newTabu(g, s.rng)
		}
	})
	done := 0
	for walks := walked; whole.gone(done) < 1 && t.members[0].best.makespan > bound; {
		var did [len(t.members)]walk
		left := whole.after(done)
		t.sideBySide(func(i int, s *search) { did[i] = s.round(along[i], left.of(i, len(t.members)), walks, bound) })
		t.shareBest()
		found, annealed := false, false
		for _, w := range did {
			done += w.changes
			found, annealed = found || w.found, annealed || w.annealed
		}
		if found || !annealed {
			walks = min(mostWalked, 2*walks)
		} else {
			walks = max(leastWalked, walks/2)
		}
	}
}

// round anneals, and goes along the longest path of the best plan for so many changes.
func (s *search) round(along *tabu, left stretch, walks int, bound tick) walk {
	before := s.best.value
	w := walk{changes: s.anneal(left.atMost(min(annealed, left.changes-left.changes/2)), bound)}
	w.annealed = s.best.value < before
	if along == nil || left.gone(w.changes) >= 1 || s.best.makespan <= bound || !along.take(s.best) {
		return w
	}
	w.changes += along.improve(left.after(w.changes).atMost(walks), bound)
	if w.found = along.makespan < s.best.makespan; w.found {
		s.adopt(along.graph)
	}
	return w
}

// adopt makes a graph's plan the best, as its order of blocks gives it where that is
// no longer.
func (s *search) adopt(g *graph) {
	g.schedule(s.trying)
	s.order = s.byTime(s.order, s.trying)
	s.choice = append(s.choice[:0], g.option...)
	s.decode(s.order, s.choice, s.now)
	if s.now.makespan > g.makespan {
		s.now, s.trying = s.trying, s.now
		s.rate(s.now)
	}
	if s.now.better(s.best) {
		s.copyBest()
	}
}
