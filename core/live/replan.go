package live

import (
	"cmp"
	"errors"
	"maps"
	"math"
	"slices"
	"time"

	"chalkstep/core/classday"
	"chalkstep/core/schedule"
	"chalkstep/core/schedule/search"
)

// A Forecast is what is left of a class, planned from a moment on.
type Forecast struct {
	Result schedule.Plan
	// Ends are when everybody is done, by student; those who left are not in it.
	Ends map[int64]time.Time
	// Finish is when the last is done, with what is done together at the end.
	Finish time.Time
}

// ReplanIterations are enough for what is left of a class of two dozen, in well under
// 100 ms.
const ReplanIterations = 500

// leastLeft is how many minutes a step that takes longer than planned is taken to need
// still.
const leastLeft = 1

// ErrNothingLeft means that everybody who is there is done.
var ErrNothingLeft = errors.New("nothing is left to be done")

// Forecast plans what is left at a moment. People stay where they are: whoever is at a
// machine or has a hoop keeps it.
func (s State) Forecast(now time.Time) (Forecast, error) { return s.forecast(now, ReplanIterations) }

func (s State) forecast(now time.Time, iterations int) (Forecast, error) {
	p := s.Left(now)
	f := Forecast{Ends: map[int64]time.Time{}}
	for _, at := range s.Standings {
		if at.Finished() && at.Presence != Left {
			f.Ends[at.StudentID] = at.free
			if at.free.After(f.Finish) {
				f.Finish = at.free
			}
		}
	}
	if len(p.Jobs) == 0 {
		return f, ErrNothingLeft
	}
	var err error
	if f.Result, err = search.Solve(p, search.Options{Iterations: iterations, Seed: 1}); err != nil {
		return f, err
	}
	for _, at := range s.Standings {
		for _, step := range f.Result.Assignments {
			if step.Job == classday.PersonID(at.StudentID) {
				f.Ends[at.StudentID] = s.clock(step.End)
			}
		}
	}
	if last := s.clock(f.Result.MakespanMinutes); last.After(f.Finish) {
		f.Finish = last
	}
	f.Finish = f.Finish.Add(time.Duration(s.Plan.Class.ClosingMinutes) * time.Minute)
	return f, nil
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
func (f Forecast) Sittings(s State, station string) []Sitting {
	steps := slices.Clone(f.Result.Assignments)
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

// Planned are those who are to sit down at a machine, in order, before anything happened.
func (s State) Planned(station string) []Sitting {
	return Forecast{Result: s.Plan.Result}.Sittings(s, station)
}

// clock is the time of a minute of the class, to the second.
func (s State) clock(minute float64) time.Time {
	return s.Plan.Class.StartsAt.Add(time.Duration(math.Round(minute*60)) * time.Second)
}

// Left is the day from a moment on, in the planner's terms: minutes still count from
// the beginning of the class.
func (s State) Left(now time.Time) schedule.Problem {
	p := s.Plan.Problem
	minute := math.Max(0, now.Sub(s.Plan.Class.StartsAt).Minutes())
	people := p.Jobs
	p.Jobs = nil
	for _, who := range people {
		i := slices.IndexFunc(s.Standings, func(at Standing) bool { return classday.PersonID(at.StudentID) == who.ID })
		if i < 0 {
			continue
		}
		at := s.Standings[i]
		if at.Presence == Left || at.Finished() {
			continue
		}
		switch {
		case at.Presence == Present:
			who.Ready = minute
		case !at.Expected.IsZero():
			who.Ready = math.Max(minute, at.Expected.Sub(s.Plan.Class.StartsAt).Minutes())
		default:
			who.Ready = math.Max(minute, who.Ready)
		}
		if who.Operations = s.left(at, who.Operations, now, minute); len(who.Operations) > 0 {
			p.Jobs = append(p.Jobs, who)
		}
	}
	return p
}

// Stay is the step of somebody who has something already: it takes no time.
const Stay = "stay"

// left are the steps somebody has still to do, as they stand: what they have, they keep,
// and the step they are at goes on. They sit where they are to sit, unless that machine is
// out of order; there are none where no other can take them.
func (s State) left(at Standing, steps []schedule.Operation, now time.Time, minute float64) []schedule.Operation {
	p := s.Plan.Problem
	next := at.Steps[at.Next]
	from := slices.IndexFunc(steps, func(one schedule.Operation) bool { return one.ID == next.Operation })
	if from < 0 {
		return nil
	}
	rest := slices.Clone(steps[from:])
	before := at
	before.Begun = false // what the step they are at takes, it takes itself
	hoops := before.hoops(p)
	last, kept := at.last(p)
	if s.isOut(last) {
		kept = false
	}
	if len(at.Stops) > 0 && len(rest[0].On) > 0 { // a sewing that was interrupted
		share := at.LeftMinutes(now) / math.Max(leastLeft, next.End-next.Start)
		rest[0].On = maps.Clone(rest[0].On)
		for station := range rest[0].On {
			rest[0].On[station] *= math.Min(1, share)
		}
	}
	if at.Begun {
		at.goOn(&rest[0], next, now, minute)
	}
	first := true
	for k := range rest {
		one := &rest[k]
		if len(one.On) == 0 || k == 0 && at.Begun {
			first = first && len(one.On) == 0
			continue
		}
		seat := at.Steps[at.Next+k].Machine
		one.On = restrict(one.On, func(station string) bool {
			if s.isOut(station) {
				return false
			}
			if s.isOut(seat) {
				return !first || at.hoopGoesOn(p, hoops, station)
			}
			return station == seat
		})
		if len(one.On) == 0 {
			return nil
		}
		if first {
			one.SameMachine = false
		}
		first = false
	}
	giveBack(rest, hoops)
	if !kept && len(hoops) == 0 {
		return rest
	}
	has := schedule.Operation{ID: Stay, Minutes: schedule.Minutes(0), Take: hoops, At: &minute}
	if kept {
		has.Minutes, has.On, has.KeepMachine = nil, map[string]float64{last: 0}, true
	}
	return slices.Insert(rest, 0, has)
}

// giveBack leaves steps to give back only what somebody has, or takes in one before.
func giveBack(rest []schedule.Operation, have []string) {
	have = slices.Clone(have)
	for k := range rest {
		have = append(have, rest[k].Take...)
		for _, choice := range rest[k].TakeFor {
			have = append(have, choice...)
		}
		rest[k].Release = slices.DeleteFunc(slices.Clone(rest[k].Release), func(pool string) bool {
			return !slices.Contains(have, pool)
		})
	}
}

// goOn makes a step the one somebody is at: where they are, with what is left of it.
func (at Standing) goOn(step *schedule.Operation, placed schedule.Assignment, now time.Time, minute float64) {
	remaining := math.Max(leastLeft, at.LeftMinutes(now))
	step.At, step.SameMachine = &minute, false
	if step.Minutes != nil {
		step.Minutes = &remaining
	}
	if len(step.On) > 0 {
		step.On = map[string]float64{placed.Machine: remaining}
	}
	if len(placed.Took) > 0 {
		step.TakeFor = only(step.TakeFor, placed.Took[0])
	}
}

// hoopGoesOn tells whether the hoops somebody took for a machine were for one that they
// go on.
func (at Standing) hoopGoesOn(p schedule.Problem, hoops []string, station string) bool {
	for _, step := range at.Steps[:at.Next] {
		one, ok := planned(p, at.StudentID, step.Operation)
		for _, pool := range step.Took {
			if ok && slices.Contains(hoops, pool) && len(one.TakeFor) > 0 && !slices.Contains(one.TakeFor[station], pool) {
				return false
			}
		}
	}
	return true
}

// restrict leaves the stations that may be.
func restrict(on map[string]float64, may func(station string) bool) map[string]float64 {
	left := map[string]float64{}
	for station, minutes := range on {
		if may(station) {
			left[station] = minutes
		}
	}
	return left
}

// only leaves the stations for which a pool may be taken, and of the pools that one.
func only(from map[string]schedule.Choice, pool string) map[string]schedule.Choice {
	left := map[string]schedule.Choice{}
	for station, choice := range from {
		if slices.Contains(choice, pool) {
			left[station] = schedule.Choice{pool}
		}
	}
	return left
}
