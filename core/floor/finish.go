package floor

import "slices"

// What comes after somebody's last turn at a station, as pressing and signing off, is
// seldom what holds the day up. An order need not say those turns: what it leaves unsaid is
// placed after all others, whoever is free first going first, so that the search has only
// the turns to put in order that matter. Where they do matter, an order says them.

// An unsaid turn is that of a person who can begin it from a time on.
type unsaid struct {
	from   tick
	person int
}

// finish places what an order left unsaid; it is false when the plan cannot be done by
// limit any more.
func (d *decoder) finish(choice []int, out *schedule, limit tick) bool {
	d.unsaid = d.unsaid[:0]
	for person := range d.people {
		d.leave(person)
	}
	for len(d.unsaid) > 0 {
		last := len(d.unsaid) - 1
		person := d.unsaid[last].person
		d.unsaid = d.unsaid[:last]
		if d.placeSaid(person, choice, out) > limit {
			return false
		}
		d.leave(person)
	}
	return true
}

// leave puts somebody's next turn, where there is one, among those that are unsaid, the
// first of them last.
func (d *decoder) leave(person int) {
	j, turn := &d.people[person], d.turn[person]
	if turn == len(j.turns) {
		return
	}
	from := d.free[person] + j.leads[turn]
	left := append(d.unsaid, unsaid{from, person})
	i := len(left) - 1
	for ; i > 0 && (left[i-1].from < from || left[i-1].from == from && left[i-1].person < person); i-- {
		left[i] = left[i-1]
	}
	left[i] = unsaid{from, person}
	d.unsaid = left
}

// waitsFrom is when a person is through with all that waits for nothing before their next
// block that may have to wait, and which block that is: past the last where there is none.
func (d *decoder) waitsFrom(person int) (from tick, block int) {
	j := &d.people[person]
	from, block = d.free[person], d.next[person]
	for ; block < len(j.blocks) && j.blocks[block].free; block++ {
		from += j.steps[j.blocks[block].from].minutes
	}
	return from, block
}

// say has the order to be tried say when somebody's next unsaid turn is, or leave one
// unsaid again that need not be said; it is false where there is none.
func (s *search) say() bool {
	clear(s.mentions)
	needless, found := 0, 0
	for i, person := range s.tryOrder {
		if s.mentions[person]++; s.mentions[person] > s.people[person].ordered {
			if found++; s.rng.IntN(found) == 0 {
				needless = i
			}
		}
	}
	if s.rng.IntN(2) == 0 {
		if found > 0 {
			s.tryOrder = slices.Delete(s.tryOrder, needless, needless+1)
		}
		return found > 0
	}
	person := s.rng.IntN(len(s.people))
	turn := s.mentions[person]
	if turn == len(s.people[person].turns) {
		return false
	}
	s.tryOrder = slices.Insert(s.tryOrder, s.placeToSay(person, turn), person)
	return true
}

// placeToSay is where in the order to be tried somebody's turn may be said: anywhere after
// their turns before it, or before the first turn there that now ends after they are ready
// for it.
func (s *search) placeToSay(person, turn int) int {
	first := s.placeOf(person, turn-1) + 1
	if s.rng.IntN(2) == 0 {
		return first + s.rng.IntN(len(s.tryOrder)-first+1)
	}
	s.time(s.now)
	ready := tick(0)
	if step := s.people[person].waits(s.people[person].turns[turn]); step > 0 {
		ready = s.now.end[person][step-1]
	}
	clear(s.mentions)
	for i, other := range s.tryOrder {
		j := &s.people[other]
		last := j.blocks[j.waiting(j.turns[s.mentions[other]])].to - 1
		s.mentions[other]++
		if i >= first && s.now.end[other][last] > ready {
			return i
		}
	}
	return len(s.tryOrder)
}
