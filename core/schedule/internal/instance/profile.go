package instance

import (
	"slices"

	"chalkstep/core/schedule"
)

// A Profile is how many units of a resource are in use over time, level by level.
type Profile []level

// A level is what is in use from a time to that of the next level, the last for ever.
type level struct {
	From schedule.Tick
	Use  int
}

func (p *Profile) reset() { *p = append((*p)[:0], level{}) }

func (p *Profile) CopyFrom(q *Profile) { *p = append((*p)[:0], *q...) }

// Flat tells that nothing was ever added.
func (p Profile) Flat() bool { return len(p) == 1 }

// At is the index of the stretch that holds time t. Most of what is asked is about the
// end of what is placed: it is looked for from there, in operations that grow.
func (p Profile) At(t schedule.Tick) int {
	high := len(p) - 1
	for step := 1; high > 0 && p[high].From > t; step *= 2 {
		low := max(0, high-step)
		if p[low].From > t {
			high = low
			continue
		}
		for high-low > 1 {
			if middle := (low + high) / 2; p[middle].From > t {
				high = middle
			} else {
				low = middle
			}
		}
		return low
	}
	return high
}

// Conflict finds whether units more fit under capacity from start to end.
// When they do not, free is the end of the last stretch that is in the way,
// counted from the first one: a later start has to be at or after it.
func (p Profile) Conflict(start, end schedule.Tick, units, capacity int) (free schedule.Tick, blocked bool) {
	for i := p.At(start); i < len(p) && p[i].From < end; i++ {
		if p[i].Use+units > capacity {
			for i++; i < len(p) && p[i].Use+units > capacity; i++ {
			}
			if i == len(p) {
				return schedule.Never, true
			}
			return p[i].From, true
		}
	}
	return 0, false
}

// Room is the first time from start on at which units more fit under capacity for a
// length, never where there is none.
func (p Profile) Room(start, length schedule.Tick, units, capacity int) schedule.Tick {
	i := p.At(start)
	if length == 0 && p[i].From == start {
		return start
	}
	for {
		for ; p[i].Use+units > capacity; start = p[i].From {
			if i++; i == len(p) {
				return schedule.Never
			}
		}
		for i++; i < len(p) && p[i].From < start+length && p[i].Use+units <= capacity; i++ {
		}
		if i == len(p) || p[i].From >= start+length {
			return start
		}
	}
}

// Add puts units in use from start to end.
func (p *Profile) Add(start, end schedule.Tick, units int) {
	if start >= end {
		return
	}
	first := p.At(start)
	if first+1 == len(*p) || end <= (*p)[first+1].From {
		p.addWithin(first, start, end, units)
		return
	}
	first = p.split(first, start)
	last := first
	for last+1 < len(*p) && (*p)[last+1].From <= end {
		last++
	}
	last = p.split(last, end)
	for i := first; i < last; i++ {
		(*p)[i].Use += units
	}
}

// addWithin puts units in use from start to end, which both lie in stretch i. Where that is
// as much as beside it, both become one stretch: a profile stays as short as it can.
func (p *Profile) addWithin(i int, start, end schedule.Tick, units int) {
	q := *p
	was, next := q[i], i+1
	now := level{start, was.Use + units}
	var put [3]level
	n := 0
	if was.From < start {
		put[n] = was
		n++
	}
	if n > 0 || i == 0 || q[i-1].Use != now.Use {
		put[n] = now
		n++
	}
	switch {
	case next == len(q) || end < q[next].From:
		put[n] = level{end, was.Use}
		n++
	case q[next].Use == now.Use:
		next++
	}
	*p = slices.Replace(q, i, next, put[:n]...)
}

// split makes t, in stretch i, the beginning of a level and returns its index.
func (p *Profile) split(i int, t schedule.Tick) int {
	if (*p)[i].From == t {
		return i
	}
	*p = slices.Insert(*p, i+1, level{t, (*p)[i].Use})
	return i + 1
}
