package live

import (
	"cmp"
	"math"
	"math/rand/v2"
	"slices"
	"time"

	"chalkstep/core/classday"
	"chalkstep/core/say"
	"chalkstep/core/schedule"
)

// A Forecast is how a class goes on from a moment, at the pace of today and by the rule of the room.
type Forecast struct {
	// Steps are those that are left, in the order in which they end.
	Steps []schedule.Assignment
	// Ends are when everybody is done, by student; those who left are not in it.
	Ends map[int64]time.Time
	// Finish is when the last is done, with what is done together at the end.
	Finish time.Time
	// Stuck are those who cannot go on, and Missing those who are waited for no more.
	Stuck   []Stuck
	Missing []Standing
}

// A Stuck is somebody who cannot go on, and why.
type Stuck struct {
	Standing
	Why say.Text
}

// leastLeft is how many minutes a step that takes longer than planned is taken to need
// still.
const leastLeft = 1

// bandDays are played for the band of a forecast.
const bandDays = 40

// Forecast plays what is left at a moment, at the paces of today.
func (s State) Forecast(now time.Time) Forecast { return s.ForecastAt(now, s.Paces(now)) }

// ForecastAt is a forecast at paces that are known.
func (s State) ForecastAt(now time.Time, paces Paces) Forecast {
	f := Forecast{Ends: map[int64]time.Time{}}
	g := s.newPlay(now, paces)
	g.run()
	last := math.Inf(-1)
	for _, at := range s.Standings {
		switch {
		case at.Presence == Left:
		case at.Finished():
			f.Ends[at.StudentID] = at.free
			last = max(last, s.minuteOf(at.free))
		case s.isMissing(at, now):
			f.Missing = append(f.Missing, at)
		}
	}
	for _, one := range g.jobs {
		at := s.Standings[one.index]
		f.Steps = append(f.Steps, one.placed...)
		if one.next < len(one.turns) {
			f.Stuck = append(f.Stuck, Stuck{at, s.whyStuck(at, one)})
			continue
		}
		f.Ends[at.StudentID] = s.timeOf(one.ready)
		last = max(last, one.ready)
	}
	slices.SortStableFunc(f.Steps, func(a, b schedule.Assignment) int {
		return cmp.Or(cmp.Compare(a.End, b.End), cmp.Compare(a.Start, b.Start))
	})
	if !math.IsInf(last, -1) {
		f.Finish = s.timeOf(last).Add(time.Duration(s.Plan.Class.ClosingMinutes) * time.Minute)
	}
	return f
}

// Band is when one day of ten and nine of ten are done: days on which nothing takes quite as long as
// it is expected to. It narrows as the day goes on.
func (s State) Band(now time.Time) (early, late time.Time) {
	var ends []float64
	plain := s.newPlay(now, s.Paces(now))
	for day := range uint64(bandDays) {
		rng := rand.New(rand.NewPCG(9, day))
		g := plain.copied()
		for j := range g.jobs {
			one := &g.jobs[j]
			at := s.Standings[one.index]
			// Who has done little may be slower or faster than is known.
			pace := math.Exp(rng.NormFloat64() * handSpread / math.Sqrt(1+float64(at.Next)))
			for k := range one.turns {
				one.turns[k].minutes *= pace * math.Exp(rng.NormFloat64()*stepSpread)
			}
			if one.active {
				one.until = g.now + max(leastLeft, (one.until-g.now)*pace*math.Exp(rng.NormFloat64()*stepSpread))
			}
		}
		g.run()
		last := g.now
		for _, one := range g.jobs {
			last = max(last, one.ready)
		}
		ends = append(ends, last+float64(s.Plan.Class.ClosingMinutes))
	}
	slices.Sort(ends)
	return s.timeOf(ends[bandDays/10]), s.timeOf(ends[bandDays*9/10-1])
}

// whyStuck says what keeps somebody from going on.
func (s State) whyStuck(at Standing, one playing) say.Text {
	for _, step := range one.turns[one.next:] {
		if step.station < 0 {
			continue
		}
		station := s.Plan.Problem.Machines[step.station].ID
		m, _ := s.Plan.Machine(station)
		switch {
		case s.isOut(station) && len(s.MayBeSeated(at)) > 0:
			return say.T("%s waits for %s, which is out of order: choose another machine.", say.Name(at.Name), say.Name(m.Name))
		case s.isOut(station):
			return say.T("%s has no machine that does the rest until %s works again.", say.Name(at.Name), say.Name(m.Name))
		}
	}
	return say.T("%s cannot go on: somebody else has what it takes. Choose another machine, or note who left.",
		say.Name(at.Name))
}

// Late are those who will not be done when the class ends, by name.
func (f Forecast) Late(s State) []Standing {
	var late []Standing
	limit := s.Plan.Class.EndsAt.Add(-time.Duration(s.Plan.Class.ClosingMinutes) * time.Minute)
	for _, at := range s.Standings {
		if end, there := f.Ends[at.StudentID]; there && end.After(limit) {
			late = append(late, at)
		}
	}
	return late
}

// A Sitting is somebody who is to sit down at a machine.
type Sitting struct {
	Standing
	At time.Time
}

// The board tells students to get ready this long before they sit down.
const soon = 12 * time.Minute

// Soon reports whether it is time to get ready.
func (s Sitting) Soon(now time.Time) bool { return s.At.Sub(now) < soon }

// Sittings are those who sit down at a machine next, in order, each once, without who is
// there already.
func (f Forecast) Sittings(s State, station string) []Sitting { return s.sittings(f.Steps, station) }

// Planned are those who are to sit down at a machine, in order, before anything happened.
func (s State) Planned(station string) []Sitting {
	return s.sittings(s.Plan.Result.Assignments, station)
}

func (s State) sittings(placed []schedule.Assignment, station string) []Sitting {
	steps := slices.Clone(placed)
	slices.SortStableFunc(steps, func(a, b schedule.Assignment) int { return cmp.Compare(a.Start, b.Start) })
	there, _ := s.At(station)
	seen := []int64{there.StudentID}
	var all []Sitting
	for _, step := range steps {
		i := slices.IndexFunc(s.Standings, func(at Standing) bool { return classday.PersonID(at.StudentID) == step.Job })
		if step.Machine != station || i < 0 || slices.Contains(seen, s.Standings[i].StudentID) {
			continue
		}
		seen = append(seen, s.Standings[i].StudentID)
		all = append(all, Sitting{s.Standings[i], s.Plan.At(step.Start)})
	}
	return all
}
