package booking

import (
	"cmp"
	"slices"
	"time"

	"chalkstep/core/say"
)

// Free are the stretches of a time in which the house is open and a machine is not taken,
// with the gap of the house around what is, in order. What is shorter than the shortest
// booking is left out.
func (r Rules) Free(within Span, taken []Span, zone *time.Location) []Span {
	busy := slices.Clone(taken)
	slices.SortFunc(busy, func(a, b Span) int { return a.From.Compare(b.From) })
	gap, least := time.Duration(r.GapMinutes)*time.Minute, time.Duration(r.LeastMinutes)*time.Minute
	var free []Span
	next := 0
	for day := within.From.In(zone); day.Before(within.To); day = time.Date(day.Year(), day.Month(), day.Day()+1, 0, 0, 0,
		0, zone) {
		open, ok := r.OpenOn(day, zone)
		if !ok {
			continue
		}
		at, end := later(open.From, within.From), earlier(open.To, within.To)
		add := func(until time.Time) {
			if until.Sub(at) >= least && until.After(at) {
				free = append(free, Span{at, until})
			}
		}
		for next < len(busy) && !busy[next].To.Add(gap).After(at) {
			next++
		}
		for _, b := range busy[next:] {
			if !b.From.Add(-gap).Before(end) {
				break
			}
			add(earlier(b.From.Add(-gap), end))
			at = later(at, b.To.Add(gap))
		}
		add(end)
	}
	return free
}

func earlier(a, b time.Time) time.Time {
	if b.Before(a) {
		return b
	}
	return a
}

func later(a, b time.Time) time.Time {
	if b.After(a) {
		return b
	}
	return a
}

// A Machine that could be booked, with what stands in its way.
type Machine struct {
	ID   int64
	Name string
	// Minutes that it takes there, in all.
	Minutes float64
	// Taken are when it is not to be had: bookings, classes, outages.
	Taken []Span
	// Accompanied tells that somebody of the staff has to stay.
	Accompanied bool
}

// A Want is something to be done at any of some machines.
type Want struct {
	Machines []Machine
	Within   Span
	// Elsewhere are when whoever does it is somewhere else.
	Elsewhere []Span
	// BookedMinutes are those of theirs already, by the beginning of the week.
	BookedMinutes map[time.Time]float64
	// Staffed tells whether somebody of the staff could stay, nil where that is not asked.
	Staffed func(Span) bool
	Now     time.Time
	Zone    *time.Location
}

// A Slot is a stretch of time at a machine that would do, and why it is among the best.
type Slot struct {
	Machine Machine
	Span
	Why []say.Text
	// rests are how many minutes of the free stretch are left too short for anybody.
	rests float64
}

// quarter is what beginnings are rounded to.
const quarter = 15 * time.Minute

// Length is how long is booked for so many minutes: a quarter of an hour more than it
// takes, rounded up to quarters, and no shorter than the shortest booking.
func (r Rules) Length(minutes float64) time.Duration {
	const spare = 15
	length := max(time.Duration((minutes+spare)*float64(time.Minute)), time.Duration(r.LeastMinutes)*time.Minute)
	return (length + quarter - 1) / quarter * quarter
}

// Slots are the best times for something, at most so many and one a day and machine: the
// soonest first, those at one time by how soon they end, alone before accompanied, and by
// how little of a free stretch they spoil for others. What would break a rule of the house
// is not among them.
func (r Rules) Slots(w Want, most int) []Slot {
	if latest := w.Now.AddDate(0, 0, r.AheadDays); r.AheadDays > 0 {
		w.Within.To = earlier(w.Within.To, latest)
	}
	w.Within = w.Within.Since(w.Now)
	var all []Slot
	for _, m := range w.Machines {
		length := r.Length(m.Minutes)
		if r.MostMinutes > 0 && length > time.Duration(r.MostMinutes)*time.Minute {
			continue
		}
		lastDay := ""
		for _, free := range r.Free(w.Within, m.Taken, w.Zone) {
			day := free.From.In(w.Zone).Format(time.DateOnly)
			if day == lastDay {
				continue
			}
			if s, ok := r.slotIn(w, m, free, length); ok {
				all, lastDay = append(all, s), day
			}
		}
	}
	slices.SortStableFunc(all, func(a, b Slot) int {
		return cmp.Or(a.From.Compare(b.From), a.To.Compare(b.To), byTruth(a.Machine.Accompanied, b.Machine.Accompanied),
			cmp.Compare(a.rests, b.rests), cmp.Compare(a.Machine.Name, b.Machine.Name))
	})
	if len(all) > most {
		all = all[:most]
	}
	return all
}

// byTruth has what is false first.
func byTruth(a, b bool) int {
	switch {
	case a == b:
		return 0
	case b:
		return -1
	}
	return 1
}

// slotIn finds the first time of a free stretch in which whoever does it is nowhere else,
// and may have that much of the week.
func (r Rules) slotIn(w Want, m Machine, free Span, length time.Duration) (Slot, bool) {
	at := free.From.Truncate(time.Minute)
	if rounded := at.Truncate(quarter); rounded.Before(free.From) {
		at = rounded.Add(quarter)
	}
	for ; !at.Add(length).After(free.To); at = at.Add(quarter) {
		s := Span{at, at.Add(length)}
		if slices.ContainsFunc(w.Elsewhere, s.Meets) || m.Accompanied && w.Staffed != nil && !w.Staffed(s) {
			continue
		}
		if r.WeekMinutes > 0 && w.BookedMinutes[Week(at, w.Zone).From]+length.Minutes() > float64(r.WeekMinutes) {
			return Slot{}, false
		}
		return r.explained(m, s, free), true
	}
	return Slot{}, false
}

// explained says of a slot why it is good, and what is not so good.
func (r Rules) explained(m Machine, s Span, free Span) Slot {
	slot := Slot{Machine: m, Span: s}
	slot.Why = append(slot.Why,
		say.T("%s takes %s of the %s", say.Name(m.Name), say.Minutes(m.Minutes), say.Minutes(s.Length().Minutes())))
	for _, rest := range []time.Duration{s.From.Sub(free.From), free.To.Sub(s.To)} {
		if minutes := rest.Minutes(); minutes > 0 && minutes < float64(r.LeastMinutes+r.GapMinutes) {
			slot.rests += minutes
		}
	}
	if slot.rests == 0 {
		slot.Why = append(slot.Why, say.T("nothing beside it is left too short for others"))
	}
	if m.Accompanied {
		slot.Why = append(slot.Why, say.T("somebody of the staff has to stay"))
	}
	return slot
}
