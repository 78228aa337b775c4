package floor

// A trail is how the decoding of an order went, before every trailStep-th turn of it:
// an order that begins alike is decoded from there on.
type trail []mark

// A mark is where a decoder is in an order.
type mark struct {
	profiles []profile
	changing []int  // the resources whose profile decoding changes
	next     []int  // by person: the next block
	turn     []int  // by person: the next turn
	skip     []int  // by person: how many of their turns were placed first
	free     []tick // by person: the end of the last block
	units    []unit // of a plain shop
	busy     tick   // until when all of these are taken, added up
}

func (s *shop) newMark() mark {
	n := len(s.people)
	m := mark{profiles: make([]profile, len(s.capacity)), next: make([]int, n), turn: make([]int, n), skip: make([]int, n), free: make([]tick, n)}
	if s.plain != nil {
		m.changing, m.units = s.plain.shared, make([]unit, s.plain.units)
		return m
	}
	for r := range s.capacity {
		m.changing = append(m.changing, r)
	}
	return m
}

func (m *mark) copyFrom(other *mark) {
	for _, r := range m.changing {
		m.profiles[r].copyFrom(&other.profiles[r])
	}
	copy(m.next, other.next)
	copy(m.turn, other.turn)
	copy(m.skip, other.skip)
	copy(m.free, other.free)
	copy(m.units, other.units)
	m.busy = other.busy
}

// trailStep weighs the copying of marks against the placing of turns again.
const trailStep = 6

func (s *shop) newTrail() trail {
	turns := 0
	for i := range s.people {
		turns += len(s.people[i].turns)
	}
	out := make(trail, turns/trailStep+1)
	for i := range out {
		if out[i] = s.newMark(); s.plain != nil {
			out[i].next, out[i].skip = nil, nil // are not looked at
		}
	}
	return out
}

// begin decodes the search's order and choice into now, with its trail.
func (s *search) begin() {
	s.clear()
	s.goOn(0, s.order, s.choice, s.now, notAtAll, s.trail)
	s.linked, s.weighed, s.places.known = false, false, false
}

// retry decodes what is tried, from where it begins to differ from now; it is false
// where that is nowhere, or where it is given up: when its heading is over a limit, or what is
// taken in order is busy for so much longer than it is now.
func (s *search) retry(limit, more tick) bool {
	first, last, changed := s.changed()
	if !changed {
		return false
	}
	if s.parted { // what is said together is placed together
		for first > 0 && s.order[first-1] == s.order[min(first, len(s.order)-1)] || first > 0 && first < len(s.tryOrder) && s.tryOrder[first-1] == s.tryOrder[first] {
			first--
		}
	}
	s.resumed = first / trailStep
	if s.resumed == 0 {
		s.clear()
	} else {
		s.mark.copyFrom(&s.trail[s.resumed])
		s.trying.beginAs(s.now)
	}
	when := giveUp{limit, last + lostAfter, s.now.busy, more}
	return s.goOn(s.resumed*trailStep, s.tryOrder, s.tryChoice, s.trying, when, s.tryTrail)
}

// accept makes what was tried what is. What was left to whatever ends earliest is said from
// then on: it would be chosen anew with each change of what comes before it, so that no change
// stood alone.
func (s *search) accept() {
	s.order, s.tryOrder = s.tryOrder, s.order
	s.choice, s.tryChoice = s.tryChoice, s.choice
	s.now, s.trying = s.trying, s.now
	for i := range s.resumed + 1 {
		s.trail[i], s.tryTrail[i] = s.tryTrail[i], s.trail[i]
	}
	s.trail, s.tryTrail = s.tryTrail, s.trail
	s.linked, s.weighed, s.places.known = false, false, false
	for _, c := range s.open {
		if s.choice[c] < 0 {
			s.choice[c] = s.chosen(c)
		}
	}
}

// nowhere is after all places of an order.
const nowhere = 1 << 30

// changed tells the first and the last place of the order that is not as it is now: another
// turn, or one whose station is chosen otherwise. There is no last where a turn is said that
// was not, or is not said any more; ok is false where all is as it is now.
func (s *search) changed() (first, last int, ok bool) {
	shorter := min(len(s.order), len(s.tryOrder))
	for first < shorter && s.order[first] == s.tryOrder[first] {
		first++
	}
	last = -1
	if len(s.order) != len(s.tryOrder) {
		first, last = min(first, shorter-1), nowhere
	} else if first < shorter {
		for last = shorter - 1; s.order[last] == s.tryOrder[last]; last-- {
		}
	}
	for c := range s.choice {
		if s.choice[c] == s.tryChoice[c] {
			continue
		}
		if len(s.pinned) > 0 { // theirs are placed before all
			return 0, nowhere, true
		}
		// Where it is said now will do: if it is said elsewhere then, both places are changed.
		at := s.placeOf(s.chooser[c].person, s.chooser[c].turn)
		first, last = min(first, at), max(last, at)
	}
	return first, last, last >= 0
}

// A chooser is whose turn it is in which a chain's station is chosen, and their first step
// there.
type chooser struct{ person, turn, step int }

func (s *shop) choosers() []chooser {
	out := make([]chooser, len(s.options))
	for i := range s.people {
		for _, b := range s.people[i].blocks {
			for _, c := range b.chains {
				first, _ := s.people[i].chainSpan(c.index)
				out[c.index] = chooser{i, s.people[i].turnOf(b.from), first}
			}
		}
	}
	return out
}

// openChoices are the chains that may choose, and do not follow another.
func (s *shop) openChoices() []int {
	var open []int
	for i := range s.people {
		for _, b := range s.people[i].blocks {
			for _, c := range b.chains {
				if c.tied < 0 && len(c.options) > 1 {
					open = append(open, c.index)
				}
			}
		}
	}
	return open
}
