package floor

import "slices"

// A link of the longest path: a person's turn waits for another's.
type link struct{ person, turn, other, before int }

// freed is when a unit of a resource comes free, and by whose step.
type freed struct {
	at           tick
	person, step int
}

// mostLinks of one path are enough to choose from.
const mostLinks = 60

// linksOf finds the links of the path that ends at the makespan of a schedule.
func (s *search) linksOf(a *schedule) {
	s.links = s.links[:0]
	if s.plain != nil {
		s.linksOfPlain(a)
		return
	}
	for r := range s.freeing {
		s.freeing[r] = s.freeing[r][:0]
	}
	i := 0
	for p := range s.people {
		j := &s.people[p]
		for k := range j.steps {
			if st := s.stationAt(j, k, a.option[p][k]); st >= 0 {
				s.freeing[st] = append(s.freeing[st], freed{a.end[p][k], p, k})
			}
			for _, need := range j.steps[k].needs {
				s.freeing[need.resource] = append(s.freeing[need.resource], freed{a.end[p][k], p, k})
			}
			if with := a.with[p][k]; with >= 0 {
				s.freeing[with] = append(s.freeing[with], freed{a.end[p][k], p, k})
			}
		}
		for _, b := range j.blocks {
			for _, h := range b.holds {
				if r := j.held(h, a.option[p]); r >= s.stations {
					s.freeing[r] = append(s.freeing[r], freed{a.end[p][h.to], p, h.to})
				}
			}
		}
		if last := len(j.steps) - 1; last >= 0 && a.end[p][last] == a.makespan {
			i = p
		}
	}
	k := len(s.people[i].steps) - 1
	for len(s.links) < mostLinks && k >= 0 {
		j := &s.people[i]
		if k > 0 && a.end[i][k-1] == a.start[i][k] {
			k--
			continue
		}
		other, step, found := s.freedFor(a, i, k)
		// What is put off for a later step of its block waits for what that waits for.
		for m := k + 1; !found && m < len(j.steps) && a.start[i][m] == a.end[i][m-1]; m++ {
			other, step, found = s.freedFor(a, i, m)
		}
		if !found {
			return
		}
		s.links = append(s.links, link{i, j.turnOf(k), other, s.people[other].turnOf(step)})
		i, k = other, step
	}
}

// freedFor finds whose step gives back what a step takes when it begins.
func (s *search) freedFor(a *schedule, i, k int) (person, step int, found bool) {
	j := &s.people[i]
	look := func(r int) bool {
		for _, f := range s.freeing[r] {
			if f.at == a.start[i][k] && f.person != i {
				person, step = f.person, f.step
				return true
			}
		}
		return false
	}
	if st := s.stationAt(j, k, a.option[i][k]); st >= 0 && look(st) {
		return person, step, true
	}
	for _, need := range j.steps[k].needs {
		if look(need.resource) {
			return person, step, true
		}
	}
	if with := a.with[i][k]; with >= 0 && look(with) {
		return person, step, true
	}
	for _, b := range j.blocks {
		if k < b.from || k >= b.to {
			continue
		}
		for _, h := range b.holds {
			if r := j.held(h, a.option[i]); h.from == k && r >= s.stations && look(r) {
				return person, step, true
			}
		}
	}
	return 0, 0, false
}

// turnOf is the turn in which a step is placed, from 0.
func (j *job) turnOf(step int) int {
	for t, blocks := range j.turns {
		if step < j.blocks[blocks-1].to {
			return t
		}
	}
	return len(j.turns) - 1
}

// relink moves a turn of the longest path before the one it waits for, or that one
// behind it; it is false where there is none.
func (s *search) relink() bool {
	l, found := s.aLink()
	if !found {
		return false
	}
	mine, other := s.placeOf(l.person, l.turn), s.placeOf(l.other, l.before)
	if mine < 0 && other >= 0 && s.placeOf(l.person, l.turn-1) >= 0 { // unsaid, and the next that is
		s.tryOrder = slices.Insert(s.tryOrder, other, l.person)
		return true
	}
	if mine < 0 || other < 0 || mine < other {
		return false
	}
	if s.rng.IntN(2) == 0 {
		copy(s.tryOrder[other+1:mine+1], s.tryOrder[other:mine])
		s.tryOrder[other] = l.person
	} else {
		copy(s.tryOrder[other:mine], s.tryOrder[other+1:mine+1])
		s.tryOrder[mine] = l.other
	}
	return true
}

// aLink is any link of the longest path of now, where there is one.
func (s *search) aLink() (l link, found bool) {
	if !s.linked {
		s.linked = true
		s.linksOf(s.now)
	}
	if len(s.links) == 0 {
		return link{}, false
	}
	return s.links[s.rng.IntN(len(s.links))], true
}
