package live

import (
	"math"
	"slices"
	"time"

	"chalkstep/core/schedule"
)

// minuteOf is a time in minutes from the planned beginning of the class.
func (s State) minuteOf(at time.Time) float64 { return at.Sub(s.Plan.Class.StartsAt).Minutes() }

// timeOf is the time of a minute, to the second.
func (s State) timeOf(minute float64) time.Time {
	return s.Plan.Class.StartsAt.Add(time.Duration(math.Round(minute*60)) * time.Second)
}

// shift is by how many minutes the class began later than planned.
func (s State) shift() float64 {
	if !s.Running() {
		return 0
	}
	return s.minuteOf(s.StartedAt)
}

// newPlay has a class go on from a moment, everybody at their pace.
func (s *State) newPlay(now time.Time, paces Paces) *play {
	p := s.Plan.Problem
	g := &play{state: s, now: s.minuteOf(now), free: make([]int, len(p.Resources)), stations: make([]int, len(p.Machines))}
	for r := range g.free {
		g.free[r] = p.Resources[r].Count
	}
	for m := range g.stations {
		g.stations[m] = -1
	}
	for i := range s.Standings {
		at := &s.Standings[i]
		if at.Presence == Left || at.Finished() || s.isMissing(*at, now) {
			continue
		}
		g.jobs = append(g.jobs, g.joins(at, i, paces))
	}
	for j := range g.jobs {
		if m := g.jobs[j].at; m >= 0 {
			g.stations[m] = j
		}
		for _, r := range g.jobs[j].hoops {
			g.free[r]--
		}
	}
	for j := range g.jobs {
		g.lendHands(&g.jobs[j])
		for _, step := range g.jobs[j].turns {
			if step.station >= 0 || len(step.takes) > 0 {
				g.moments = append(g.moments, step.start)
			}
		}
	}
	g.moments = append(g.moments, s.thereAgain...)
	slices.Sort(g.moments)
	return g
}

// thereAgain are the moments at which a break, or what is not there for a while, ends.
func thereAgain(p schedule.Problem) []float64 {
	spans := slices.Clone(p.Closed)
	for _, m := range p.Machines {
		spans = append(spans, m.Unavailable...)
	}
	for _, r := range p.Resources {
		spans = append(spans, r.Unavailable...)
	}
	ends := make([]float64, len(spans))
	for i, span := range spans {
		ends[i] = span.To
	}
	return ends
}

// copied is a play that goes on apart.
func (g *play) copied() *play {
	c := *g
	c.free, c.stations, c.jobs = slices.Clone(g.free), slices.Clone(g.stations), slices.Clone(g.jobs)
	for j := range c.jobs {
		c.jobs[j].turns, c.jobs[j].hoops = slices.Clone(g.jobs[j].turns), slices.Clone(g.jobs[j].hoops)
		c.jobs[j].placed = nil
	}
	return &c
}

// joins is somebody as they stand.
func (g *play) joins(at *Standing, index int, paces Paces) playing {
	s, p, now := g.state, g.state.Plan.Problem, g.now
	one := playing{index: index, at: -1, with: -1, ready: now}
	pace := paces.Of(at.StudentID)
	shift := s.shift()
	for k := at.Next; k < len(at.Steps); k++ {
		step := at.Steps[k]
		t := turn{task: s.taskOf(index, step.Operation), station: stationOf(p, step.Machine),
			minutes: (step.End - step.Start) * pace, start: step.Start + shift}
		for _, pool := range step.Took {
			t.takes = append(t.takes, resourceOf(p, pool))
		}
		one.turns = append(one.turns, t)
	}
	for _, pool := range at.hoops(p) {
		one.hoops = append(one.hoops, resourceOf(p, pool))
	}
	if station, kept := at.last(p); kept && !at.moved && !s.isOut(station) {
		one.at = stationOf(p, station)
	}
	first := &one.turns[0]
	switch {
	case at.Presence == Awaited:
		one.coming, one.ready = true, max(now, s.comes(*at), s.talk())
	case at.Begun:
		one.active, one.since = true, s.minuteOf(at.Since)
		left := g.leftOf(at, first.minutes, pace)
		one.until, one.said = now+max(leastLeft, left), now+left
		one.goOnUnsaid(at, left, shift)
		if first.station >= 0 {
			one.at = first.station
		}
		one.hoops = slices.DeleteFunc(one.hoops, func(r int) bool { return r < 0 })
		first.takes = nil // they have it already
	default:
		one.ready = max(s.minuteOf(at.free), s.talk())
		if len(at.Stops) > 0 { // a sewing that was interrupted
			first.minutes = g.leftOf(at, first.minutes, pace)
		}
	}
	return one
}

// goOnUnsaid has somebody at the bench who is long over a step go on with what follows there: who says
// that all of it is done says nothing in between.
func (p *playing) goOnUnsaid(at *Standing, left, shift float64) {
	row := at.Row()
	if len(row) < 2 {
		return
	}
	over := -left - (QuietShare-1)*p.turns[0].minutes
	for k := 1; k < len(row); k++ {
		p.said += p.turns[k].minutes
		gone := min(max(0, over), max(0, p.turns[k].minutes-leastLeft))
		p.turns[k].minutes -= gone
		over -= gone
	}
	p.said = max(p.said, row[len(row)-1].End+shift)
}

// leftOf is how much is left of what somebody is at, less than none where it takes longer.
func (g *play) leftOf(at *Standing, minutes, pace float64) float64 {
	since := at.Since
	if len(at.Stops) > 0 {
		minutes, since = 0, at.StopSince
		for _, stop := range at.Stops[min(at.Stop, len(at.Stops)):] {
			minutes += stop.Minutes * pace
		}
	}
	if !at.Begun {
		return minutes
	}
	return minutes - max(0, g.now-g.state.minuteOf(since))
}

// lendHands gives whoever is at something what it needs, as far as there is.
func (g *play) lendHands(one *playing) {
	if !one.active {
		return
	}
	for _, need := range one.turns[0].needs {
		g.free[need.resource] -= need.units
	}
	for _, r := range one.turns[0].oneOf {
		if g.free[r] > 0 {
			g.free[r], one.with = g.free[r]-1, r
			break
		}
	}
}

// comes is when somebody is expected who is not there, in minutes.
func (s State) comes(at Standing) float64 {
	if !at.Expected.IsZero() {
		return s.minuteOf(at.Expected)
	}
	return max(s.shift(), at.late)
}

// talk is until when all are together at the beginning, in minutes.
func (s State) talk() float64 { return s.shift() + float64(s.Plan.Class.OpeningMinutes) }

// isMissing tells that somebody is not there and is not waited for any more (the rules of booking say
// how long).
func (s State) isMissing(at Standing, now time.Time) bool {
	grace := float64(s.Plan.Rules.Booking.GraceMinutes)
	return at.Presence == Awaited && s.Running() && grace > 0 && s.minuteOf(now) > s.comes(at)+grace
}
