//go:build bench

package bench

import (
	"maps"
	"math"
	"slices"

	"chalkstep/core/classday"
	"chalkstep/core/live"
	"chalkstep/core/schedule"
	"chalkstep/core/schedule/search"
)

// freely is when the rest of a class could be done where everybody but who is at something may sit anywhere,
// in any order, at paces that are known: what a search finds. ok is false where somebody cannot be seated.
func freely(s live.State, minute float64, paces live.Paces, iterations int) (end float64, ok bool) {
	p := s.Plan.Problem
	jobs := p.Jobs
	p.Jobs = nil
	for _, job := range jobs {
		i := slices.IndexFunc(s.Standings, func(at live.Standing) bool { return classday.PersonID(at.StudentID) == job.ID })
		if i < 0 || s.Standings[i].Presence != live.Present || s.Standings[i].Finished() {
			continue
		}
		job.Ready = minute
		if job.Operations, ok = rest(s, s.Standings[i], job.Operations, minute, paces.Of(s.Standings[i].StudentID)); !ok {
			return 0, false
		}
		p.Jobs = append(p.Jobs, job)
	}
	plan, err := search.Solve(p, search.Options{Iterations: iterations, Seed: 1})
	if err != nil {
		return 0, false
	}
	return plan.MakespanMinutes, true
}

// rest is what somebody has still to do.
func rest(s live.State, at live.Standing, steps []schedule.Operation, minute, pace float64) ([]schedule.Operation,
	bool) {
	placed := at.Steps[at.Next]
	from := slices.IndexFunc(steps, func(one schedule.Operation) bool { return one.ID == placed.Operation })
	left := slices.Clone(steps[from:])
	for k := range left {
		if left[k].Minutes != nil {
			left[k].Minutes = schedule.Minutes(*left[k].Minutes * pace)
		}
		left[k].On = maps.Clone(left[k].On)
		for station := range left[k].On {
			left[k].On[station] *= pace
			if !s.Out[station].IsZero() {
				delete(left[k].On, station)
			}
		}
	}
	hoops, fits := held(at, steps[:from])
	now := s.Plan.At(minute)
	if at.Begun {
		remaining := math.Max(1, at.LeftMinutes(at.Since)*pace-now.Sub(at.Since).Minutes())
		one := &left[0]
		one.At, one.SameMachine = &minute, false
		if one.Minutes != nil {
			one.Minutes = &remaining
		}
		if len(one.On) > 0 {
			one.On = map[string]float64{placed.Machine: remaining}
		}
		if len(placed.Took) > 0 {
			taken := map[string]schedule.Choice{}
			for station, choice := range one.TakeFor {
				if slices.Contains(choice, placed.Took[0]) {
					taken[station] = schedule.Choice{placed.Took[0]}
				}
			}
			one.TakeFor = taken
		}
	}
	first := true
	for k := range left {
		if len(steps[from+k].On) == 0 || at.Begun && k == 0 {
			first = first && len(steps[from+k].On) == 0
			continue
		}
		if first && len(hoops) > 0 {
			maps.DeleteFunc(left[k].On, func(station string, _ float64) bool { return !fits(station) })
		}
		if first {
			left[k].SameMachine = false
		}
		first = false
		if len(left[k].On) == 0 {
			return nil, false
		}
	}
	have := slices.Clone(hoops)
	for k := range left {
		for _, choice := range left[k].TakeFor {
			have = append(have, choice...)
		}
		left[k].Release = slices.DeleteFunc(slices.Clone(left[k].Release), func(pool string) bool {
			return !slices.Contains(have, pool)
		})
	}
	kept := ""
	for k := from - 1; k >= 0 && kept == ""; k-- {
		if station := at.Steps[k].Machine; station != "" {
			if steps[k].KeepMachine && s.Out[station].IsZero() && at.Steps[at.Next].Machine == station {
				kept = station
			}
			break
		}
	}
	if kept == "" && len(hoops) == 0 {
		return left, true
	}
	has := schedule.Operation{ID: "stay", Minutes: schedule.Minutes(0), Take: hoops, At: &minute}
	if kept != "" {
		has.Minutes, has.On, has.KeepMachine = nil, map[string]float64{kept: 0}, true
	}
	return slices.Insert(left, 0, has), true
}

// held are the hoops somebody has, and the machines that they go on.
func held(at live.Standing, done []schedule.Operation) (hoops []string, fits func(station string) bool) {
	var taking schedule.Operation
	for k, one := range done {
		for _, pool := range at.Steps[k].Took {
			hoops, taking = append(hoops, pool), one
		}
		hoops = slices.DeleteFunc(hoops, func(pool string) bool { return slices.Contains(one.Release, pool) })
	}
	return hoops, func(station string) bool {
		return len(hoops) == 0 || slices.Contains(taking.TakeFor[station], hoops[len(hoops)-1])
	}
}
