package search

// positions are where in the order of now turns are said, looked up when they are first asked for.
type positions struct {
	known bool
	// of is by job and turn, deferred where the order does not say it.
	of [][]int
	// open are the choices that may be made otherwise, in the order in which they are made,
	// rank is by choice where it is there.
	open, rank []int
	// choices are the open choices of each turn, by job, whatever the order.
	choices [][][]int
}

// deferredPosition is that of a turn that an order does not say.
const deferredPosition = -1

func (s *annealer) newPositions() positions {
	p := positions{open: make([]int, 0, len(s.OpenChoices)), rank: make([]int, len(s.Options))}
	for i := range s.Jobs {
		turns := len(s.Jobs[i].Turns)
		p.of, p.choices = append(p.of, make([]int, turns)), append(p.choices, make([][]int, turns))
	}
	for _, c := range s.OpenChoices {
		by := s.chooser[c]
		p.choices[by.job][by.turn] = append(p.choices[by.job][by.turn], c)
	}
	return p
}

// lookUp finds the places of the order of now.
func (s *annealer) lookUp() *positions {
	p := &s.positions
	if p.known {
		return p
	}
	p.known, p.open = true, p.open[:0]
	clear(s.mentions)
	for at, job := range s.order {
		turn := s.mentions[job]
		s.mentions[job]++
		p.of[job][turn] = at
		for _, c := range p.choices[job][turn] {
			p.rank[c] = len(p.open)
			p.open = append(p.open, c)
		}
	}
	for job, of := range p.of {
		for turn := s.mentions[job]; turn < len(of); turn++ {
			of[turn] = deferredPosition
		}
	}
	return p
}

// positionOf is where in the order of now a job's turn is said.
func (s *annealer) positionOf(job, turn int) int { return s.lookUp().of[job][turn] }

// nearbyChoice is a choice that is made about when another is: the further away, the less often.
func (s *annealer) nearbyChoice(choice int) int {
	p := s.lookUp()
	apart := 1 + int(s.rng.ExpFloat64()*exchangedApart*float64(len(p.open)))
	if s.rng.IntN(2) == 0 {
		apart = -apart
	}
	at := p.rank[choice] + apart
	if at < 0 || at >= len(p.open) {
		at = p.rank[choice] - apart
	}
	return p.open[min(max(at, 0), len(p.open)-1)]
}
