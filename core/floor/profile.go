package floor

import "slices"

// A profile is how many units of a resource are in use over time: use[i]
// from times[i] to times[i+1], the last for ever.
type profile struct {
	times []tick
	use   []int
}

func (p *profile) reset() {
	p.times = append(p.times[:0], 0)
	p.use = append(p.use[:0], 0)
}

func (p *profile) copyFrom(q *profile) {
	p.times = append(p.times[:0], q.times...)
	p.use = append(p.use[:0], q.use...)
}

// at is the index of the stretch that holds time t. Most of what is asked is about the
// end of what is placed: it is looked for from there.
func (p *profile) at(t tick) int {
	i := len(p.times) - 1
	for i > 0 && p.times[i] > t {
		i--
	}
	return i
}

// conflict finds whether units more fit under capacity from start to end.
// When they do not, free is the end of the last stretch that is in the way,
// counted from the first one: a later start has to be at or after it.
func (p *profile) conflict(start, end tick, units, capacity int) (free tick, blocked bool) {
	for i := p.at(start); i < len(p.times) && p.times[i] < end; i++ {
		if p.use[i]+units > capacity {
			for i++; i < len(p.times) && p.use[i]+units > capacity; i++ {
			}
			if i == len(p.times) {
				return never, true
			}
			return p.times[i], true
		}
	}
	return 0, false
}

const never = tick(1) << 60

// add puts units in use from start to end.
func (p *profile) add(start, end tick, units int) {
	if start >= end {
		return
	}
	first := p.split(start)
	last := p.split(end)
	for i := first; i < last; i++ {
		p.use[i] += units
	}
}

// split makes t a boundary and returns its index.
func (p *profile) split(t tick) int {
	i := p.at(t)
	if p.times[i] == t {
		return i
	}
	i++
	p.times = slices.Insert(p.times, i, t)
	p.use = slices.Insert(p.use, i, p.use[i-1])
	return i
}
