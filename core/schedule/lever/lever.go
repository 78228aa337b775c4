// Package lever compares what could be otherwise: a machine more, a window longer, somebody who
// comes sooner.
package lever

import (
	"cmp"
	"fmt"
	"maps"
	"slices"

	"chalkstep/core/schedule"
	"chalkstep/core/schedule/odds"
	"chalkstep/core/schedule/search"
)

// A Lever is something of a day that could be otherwise.
type Lever struct {
	// Name is what it is called, Cost what it costs, as a job says them.
	Name string `json:"lever"`
	Cost string `json:"cost,omitempty"`
	// Resources are so many units more; Machines stand beside one that is there, and
	// do what it does.
	Resources map[string]int     `json:"pools,omitempty"`
	Machines  []IdenticalMachine `json:"stations,omitempty"`
	// Minutes are shares of what operations take, by their names.
	Minutes map[string]float64 `json:"minutes,omitempty"`
	// Ready are minutes at which jobs come, Without are those who do not.
	Ready   map[string]float64 `json:"ready,omitempty"`
	Without []string           `json:"without,omitempty"`
	// WindowMinutes are minutes more.
	WindowMinutes float64 `json:"window_minutes,omitempty"`
}

// An IdenticalMachine is a machine that does what another does.
type IdenticalMachine struct {
	ID   string `json:"id"`
	Like string `json:"like"`
}

// Apply gives the day as it would be with a lever. An error names what of it is
// not in the day.
func (l Lever) Apply(p schedule.Problem) (schedule.Problem, error) {
	fail := func(format string, args ...any) (schedule.Problem, error) {
		return p, fmt.Errorf("lever %q: %s", l.Name, fmt.Sprintf(format, args...))
	}
	p.WindowMinutes += l.WindowMinutes
	p.Resources, p.Machines, p.Jobs = slices.Clone(p.Resources), slices.Clone(p.Machines), slices.Clone(p.Jobs)
	for _, id := range slices.Sorted(maps.Keys(l.Resources)) {
		i := slices.IndexFunc(p.Resources, func(resource schedule.Resource) bool { return resource.ID == id })
		if i < 0 {
			return fail("pool %q is not in pools", id)
		}
		p.Resources[i].Count += l.Resources[id]
	}
	for id := range l.Ready {
		if !slices.ContainsFunc(p.Jobs, func(who schedule.Job) bool { return who.ID == id }) {
			return fail("person %q is not in people", id)
		}
	}
	for _, id := range l.Without {
		i := slices.IndexFunc(p.Jobs, func(who schedule.Job) bool { return who.ID == id })
		if i < 0 {
			return fail("person %q is not in people", id)
		}
		p.Jobs = slices.Delete(p.Jobs, i, i+1)
	}
	for _, twin := range l.Machines {
		if !slices.ContainsFunc(p.Machines, func(s schedule.Machine) bool { return s.ID == twin.Like }) {
			return fail("station %q is not in stations", twin.Like)
		}
		p.Machines = append(p.Machines, schedule.Machine{ID: twin.ID})
	}
	named := map[string]bool{}
	for i, who := range p.Jobs {
		if ready, is := l.Ready[who.ID]; is {
			p.Jobs[i].Ready = ready
		}
		p.Jobs[i].Operations = slices.Clone(who.Operations)
		for k := range p.Jobs[i].Operations {
			s := &p.Jobs[i].Operations[k]
			named[s.ID] = true
			pull(s, l)
		}
	}
	for _, id := range slices.Sorted(maps.Keys(l.Minutes)) {
		if !named[id] {
			return fail("no step is called %q", id)
		}
		if !(l.Minutes[id] >= 0 && l.Minutes[id] <= 10) {
			return fail("minutes of %s is %v: expected a share from 0 to 10", id, l.Minutes[id])
		}
	}
	return p, p.Check()
}

func pull(s *schedule.Operation, l Lever) {
	share, scaled := l.Minutes[s.ID]
	if scaled && s.Minutes != nil {
		s.Minutes = schedule.Minutes(*s.Minutes * share)
	}
	s.On, s.TakeFor = maps.Clone(s.On), maps.Clone(s.TakeFor)
	for _, twin := range l.Machines {
		if minutes, has := s.On[twin.Like]; has {
			s.On[twin.ID] = minutes
		}
		if resource, has := s.TakeFor[twin.Like]; has {
			s.TakeFor[twin.ID] = resource
		}
	}
	if scaled {
		for id := range s.On {
			s.On[id] *= share
		}
	}
}

// A Promise is what a day promises: its end, whether that is in the window, and the share of
// days on which it is.
type Promise struct {
	MakespanMinutes float64 `json:"makespan_minutes"`
	Fits            bool    `json:"fits"`
	FitsShare       float64 `json:"fits_share"`
}

// surelyShare of days in time are enough to rely on.
const surelyShare = 0.9

// Surely tells that the day is in the window even where it goes badly.
func (p Promise) Surely() bool { return p.Fits && p.FitsShare >= surelyShare }

// falls is how far it falls short of that: 0 not, 1 on bad days, 2 always.
func (p Promise) falls() int {
	switch {
	case p.Surely():
		return 0
	case p.Fits:
		return 1
	}
	return 2
}

// BestFirst compares promises: those that are sure come first, the soonest end before others,
// then those that just fit, by the share of days on which they do, and then the rest.
func BestFirst(a, b Promise) int {
	byDays := 0
	if a.falls() == 1 {
		byDays = cmp.Compare(b.FitsShare, a.FitsShare)
	}
	return cmp.Or(cmp.Compare(a.falls(), b.falls()), byDays, cmp.Compare(a.MakespanMinutes, b.MakespanMinutes))
}

// An Outcome is a lever with the day it gives.
type Outcome struct {
	Name string `json:"lever"`
	Promise
	Cost    string `json:"cost"`
	Because string `json:"because"`
	// Problem names why there is no such day, empty where there is.
	Problem string `json:"problem,omitempty"`
}

// Compare plans a day as it is and with each of some levers, best first; those with which there
// is no such day come last.
func Compare(p schedule.Problem, levers []Lever, o search.Options) (schedule.Plan, []Outcome, error) {
	now, err := search.Solve(p, o)
	if err != nil {
		return now, nil, err
	}
	outcomes := []Outcome{}
	for _, l := range levers {
		out := Outcome{Name: l.Name, Cost: l.Cost}
		pulled, err := l.Apply(p)
		if err != nil {
			return now, nil, err
		}
		then, err := search.Solve(pulled, o)
		if err != nil {
			out.Problem = err.Error()
			outcomes = append(outcomes, out)
			continue
		}
		out.MakespanMinutes, out.Fits, out.Because = then.MakespanMinutes, then.Fits, because(now, then)
		if odds, err := odds.Of(pulled, then, odds.UsualDays, o.Seed); err == nil {
			out.FitsShare = odds.FitsShare
		}
		outcomes = append(outcomes, out)
	}
	slices.SortStableFunc(outcomes, func(a, b Outcome) int {
		return cmp.Or(boolFirst(a.Problem == "", b.Problem == ""), BestFirst(a.Promise, b.Promise))
	})
	return now, outcomes, nil
}

func boolFirst(a, b bool) int {
	switch {
	case a == b:
		return 0
	case a:
		return -1
	}
	return 1
}

// because says why a day is otherwise: what held it up before, and now.
func because(now, then schedule.Plan) string {
	switch {
	case then.MakespanMinutes >= now.MakespanMinutes-0.05:
		return fmt.Sprintf("%s still holds it up", then.Bottleneck)
	case now.Bottleneck == then.Bottleneck && then.WaitedMinutes() < now.WaitedMinutes():
		return fmt.Sprintf("%s is waited for less", now.Bottleneck)
	case now.Bottleneck == then.Bottleneck:
		return fmt.Sprintf("all are done sooner, and %s is still what is waited for", now.Bottleneck)
	}
	return fmt.Sprintf("%s held it up, and now %s does", now.Bottleneck, then.Bottleneck)
}
