package floor

// blockMinimum is the least time a block can take.
func (j *job) blockMinimum(b *block) tick {
	total := tick(0)
	for i := b.from; i < b.to; i++ {
		total += j.stepMinimum(i)
	}
	return total
}

func (j *job) stepMinimum(i int) tick {
	o := &j.steps[i]
	if o.chain < 0 {
		return o.minutes
	}
	least := o.on[0]
	for _, t := range o.on[1:] {
		least = min(least, t)
	}
	return least
}

// between is the least time from the start of step from to the end of step to.
func (j *job) between(from, to int) tick {
	total := tick(0)
	for i := from; i <= to; i++ {
		total += j.stepMinimum(i)
	}
	return total
}

// A load is work that a group of resources has to do, with the least time
// before its first piece can start and after its last can end.
type load struct {
	work, head, tail tick
}

func (l *load) add(work, head, tail tick) {
	if l.work == 0 {
		l.head, l.tail = head, tail
	}
	l.work += work
	l.head, l.tail = min(l.head, head), min(l.tail, tail)
}

// lowerBound is a time no plan can beat: nobody is faster than their own
// steps, and no group of stations and no pool does more at once than it can.
func (s *shop) lowerBound() tick {
	bound := tick(0)
	pools := make([]load, len(s.capacity))
	groups := map[string]*load{}
	sizes := map[string]int{}
	for i := range s.people {
		j := &s.people[i]
		last := len(j.steps) - 1
		bound = max(bound, j.ready+j.between(0, last))
		for k := range j.steps {
			for _, need := range j.steps[k].needs {
				if work := j.stepMinimum(k) * tick(need.units); work > 0 {
					pools[need.resource].add(work, j.ready+j.between(0, k-1), j.between(k+1, last))
				}
			}
		}
		for b := range j.blocks {
			for _, h := range j.blocks[b].holds {
				if h.resource < s.stations {
					continue // stations and chosen pools are bounded by their groups
				}
				if work := j.between(h.from, h.to); work > 0 {
					pools[h.resource].add(work, j.ready+j.between(0, h.from-1), j.between(h.to+1, last))
				}
			}
			for _, c := range j.blocks[b].chains {
				first, end := j.chainSpan(c.index)
				key := groupKey(c.options)
				if groups[key] == nil {
					groups[key], sizes[key] = &load{}, len(c.options)
				}
				if work := j.between(first, end); work > 0 {
					groups[key].add(work, j.ready+j.between(0, first-1), j.between(end+1, last))
				}
			}
		}
	}
	for r, l := range pools {
		if l.work > 0 {
			bound = max(bound, l.head+ceil(l.work, tick(s.capacity[r]))+l.tail)
		}
	}
	for key, l := range groups {
		bound = max(bound, l.head+ceil(l.work, tick(sizes[key]))+l.tail)
	}
	return bound
}

// ceil divides; the planner's ticks are so fine that rounding up is exact enough.
func ceil(work, by tick) tick { return (work + by - 1) / by }

// chainSpan is the first and last step of a chain.
func (j *job) chainSpan(chain int) (first, last int) {
	first = -1
	for i := range j.steps {
		if j.steps[i].chain == chain {
			if first < 0 {
				first = i
			}
			last = i
		}
	}
	return first, last
}

func groupKey(options []int) string {
	key := make([]byte, 0, 2*len(options))
	for _, o := range options {
		key = append(key, byte(o>>8), byte(o))
	}
	return string(key)
}
