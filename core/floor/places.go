package floor

// places are where in the order of now turns are said, looked up when they are first asked for.
type places struct {
	known bool
	// of is by person and turn, unsaid where the order does not say it.
	of [][]int
	// open are the choices that may be made otherwise, in the order in which they are made,
	// rank is by choice where it is there.
	open, rank []int
	// choices are the open choices of each turn, by person, whatever the order.
	choices [][][]int
}

// unsaidPlace is that of a turn that an order does not say.
const unsaidPlace = -1

func (s *search) newPlaces() places {
	p := places{open: make([]int, 0, len(s.open)), rank: make([]int, len(s.options))}
	for i := range s.people {
		turns := len(s.people[i].turns)
		p.of, p.choices = append(p.of, make([]int, turns)), append(p.choices, make([][]int, turns))
	}
	for _, c := range s.open {
		by := s.chooser[c]
		p.choices[by.person][by.turn] = append(p.choices[by.person][by.turn], c)
	}
	return p
}

// lookUp finds the places of the order of now.
func (s *search) lookUp() *places {
	p := &s.places
	if p.known {
		return p
	}
	p.known, p.open = true, p.open[:0]
	clear(s.mentions)
	for at, person := range s.order {
		turn := s.mentions[person]
		s.mentions[person]++
		p.of[person][turn] = at
		for _, c := range p.choices[person][turn] {
			p.rank[c] = len(p.open)
			p.open = append(p.open, c)
		}
	}
	for person, of := range p.of {
		for turn := s.mentions[person]; turn < len(of); turn++ {
			of[turn] = unsaidPlace
		}
	}
	return p
}

// placeOf is where in the order of now a person's turn is said.
func (s *search) placeOf(person, turn int) int { return s.lookUp().of[person][turn] }

// nearPlace is a choice that is made about when another is: the further away, the less often.
func (s *search) nearPlace(choice int) int {
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
