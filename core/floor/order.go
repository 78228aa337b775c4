package floor

import (
	"math"
	"slices"
)

// A placedTurn is a time by which a turn is put in order, and whose it is, in one number:
// numbers are sorted in half the time that pairs take. Times further away than one number
// can tell with the person are all equally far.
type placedTurn int64

func placedAt(at tick, person, people int) placedTurn {
	furthest := math.MaxInt64/tick(people) - 1
	return placedTurn(min(at, furthest)*tick(people) + tick(person))
}

func (p placedTurn) person(people int) int { return int(int64(p) % int64(people)) }

// byTime is the order in which turns begin in a schedule. Turns of about one time are then near
// each other in the order as well, and two that change places put off little in between.
func (s *search) byTime(into []int, a *schedule) []int {
	s.placed = s.placed[:0]
	for i := range s.people {
		for t, blocks := range s.people[i].turns {
			begins := a.start[i][s.people[i].waits(blocks)]
			if s.plain != nil {
				begins = a.turns[s.plain.first[i]+t].begins
			}
			s.placed = append(s.placed, placedAt(begins, i, len(s.people)))
		}
	}
	slices.Sort(s.placed)
	into = into[:0]
	for _, p := range s.placed {
		into = append(into, p.person(len(s.people)))
	}
	return s.said(into)
}

// said is an order without what it may leave unsaid.
func (s *search) said(order []int) []int {
	clear(s.mentions)
	return slices.DeleteFunc(order, func(person int) bool {
		s.mentions[person]++
		return s.mentions[person] > s.people[person].ordered
	})
}
