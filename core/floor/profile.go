package floor

import "slices"

// A profile is how many units of a resource are in use over time, level by level.
type profile []level

// A level is what is in use from a time to that of the next level, the last for ever.
type level struct {
	from tick
	use  int
}

func (p *profile) reset() { *p = append((*p)[:0], level{}) }

func (p *profile) copyFrom(q *profile) { *p = append((*p)[:0], *q...) }

// flat tells that nothing was ever added.
func (p profile) flat() bool { return len(p) == 1 }

// at is the index of the stretch that holds time t. Most of what is asked is about the
// end of what is placed: it is looked for from there, in steps that grow.
func (p profile) at(t tick) int {
	high := len(p) - 1
	for step := 1; high > 0 && p[high].from > t; step *= 2 {
		low := max(0, high-step)
		if p[low].from > t {
			high = low
			continue
		}
		for high-low > 1 {
			if middle := (low + high) / 2; p[middle].from > t {
				high = middle
			} else {
				low = middle
			}
		}
		return low
	}
	return high
}

// conflict finds whether units more fit under capacity from start to end.
// When they do not, free is the end of the last stretch that is in the way,
// counted from the first one: a later start has to be at or after it.
func (p profile) conflict(start, end tick, units, capacity int) (free tick, blocked bool) {
	for i := p.at(start); i < len(p) && p[i].from < end; i++ {
		if p[i].use+units > capacity {
			for i++; i < len(p) && p[i].use+units > capacity; i++ {
			}
			if i == len(p) {
				return never, true
			}
			return p[i].from, true
		}
	}
	return 0, false
}

// room is the first time from start on at which units more fit under capacity for a
// length, never where there is none.
func (p profile) room(start, length tick, units, capacity int) tick {
	i := p.at(start)
	if length == 0 && p[i].from == start {
		return start
	}
	for {
		for ; p[i].use+units > capacity; start = p[i].from {
			if i++; i == len(p) {
				return never
			}
		}
		for i++; i < len(p) && p[i].from < start+length && p[i].use+units <= capacity; i++ {
		}
		if i == len(p) || p[i].from >= start+length {
			return start
		}
	}
}

const never = tick(1) << 60

// add puts units in use from start to end.
func (p *profile) add(start, end tick, units int) {
	if start >= end {
		return
	}
	first := p.at(start)
	if first+1 == len(*p) || end <= (*p)[first+1].from {
		p.addWithin(first, start, end, units)
		return
	}
	first = p.split(first, start)
	last := first
	for last+1 < len(*p) && (*p)[last+1].from <= end {
		last++
	}
	last = p.split(last, end)
	for i := first; i < last; i++ {
		(*p)[i].use += units
	}
}

// addWithin puts units in use from start to end, which both lie in stretch i. Where that is
// as much as beside it, both become one stretch: a profile stays as short as it can.
func (p *profile) addWithin(i int, start, end tick, units int) {
	q := *p
	was, next := q[i], i+1
	now := level{start, was.use + units}
	var put [3]level
	n := 0
	if was.from < start {
		put[n] = was
		n++
	}
	if n > 0 || i == 0 || q[i-1].use != now.use {
		put[n] = now
		n++
	}
	switch {
	case next == len(q) || end < q[next].from:
		put[n] = level{end, was.use}
		n++
	case q[next].use == now.use:
		next++
	}
	*p = slices.Replace(q, i, next, put[:n]...)
}

// split makes t, in stretch i, the beginning of a level and returns its index.
func (p *profile) split(i int, t tick) int {
	if (*p)[i].from == t {
		return i
	}
	*p = slices.Insert(*p, i+1, level{t, (*p)[i].use})
	return i + 1
}
