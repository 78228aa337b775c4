package floor

import (
	"cmp"
	"fmt"
	"maps"
	"slices"
)

// A Lever is something of a day that could be otherwise.
type Lever struct {
	// Name is what it is called, Cost what it costs, as a person says them.
	Name string `json:"lever"`
	Cost string `json:"cost,omitempty"`
	// Pools are so many units more; Stations stand beside one that is there, and
	// do what it does.
	Pools    map[string]int `json:"pools,omitempty"`
	Stations []Twin         `json:"stations,omitempty"`
	// Minutes are shares of what steps take, by their names.
	Minutes map[string]float64 `json:"minutes,omitempty"`
	// Ready are minutes at which people come, Without are those who do not.
	Ready   map[string]float64 `json:"ready,omitempty"`
	Without []string           `json:"without,omitempty"`
	// WindowMinutes are minutes more.
	WindowMinutes float64 `json:"window_minutes,omitempty"`
}

// A Twin is a station that does what another does.
type Twin struct {
	ID   string `json:"id"`
	Like string `json:"like"`
}

// Pull gives the day as it would be with a lever. An error names what of it is
// not in the day.
func (l Lever) Pull(p Problem) (Problem, error) {
	fail := func(format string, args ...any) (Problem, error) {
		return p, fmt.Errorf("lever %q: %s", l.Name, fmt.Sprintf(format, args...))
	}
	p.WindowMinutes += l.WindowMinutes
	p.Pools, p.Stations, p.People = slices.Clone(p.Pools), slices.Clone(p.Stations), slices.Clone(p.People)
	for _, id := range slices.Sorted(maps.Keys(l.Pools)) {
		i := slices.IndexFunc(p.Pools, func(pool Pool) bool { return pool.ID == id })
		if i < 0 {
			return fail("pool %q is not in pools", id)
		}
		p.Pools[i].Count += l.Pools[id]
	}
	for id := range l.Ready {
		if !slices.ContainsFunc(p.People, func(who Person) bool { return who.ID == id }) {
			return fail("person %q is not in people", id)
		}
	}
	for _, id := range l.Without {
		i := slices.IndexFunc(p.People, func(who Person) bool { return who.ID == id })
		if i < 0 {
			return fail("person %q is not in people", id)
		}
		p.People = slices.Delete(p.People, i, i+1)
	}
	for _, twin := range l.Stations {
		if !slices.ContainsFunc(p.Stations, func(s Station) bool { return s.ID == twin.Like }) {
			return fail("station %q is not in stations", twin.Like)
		}
		p.Stations = append(p.Stations, Station{ID: twin.ID})
	}
	named := map[string]bool{}
	for i, who := range p.People {
		if ready, is := l.Ready[who.ID]; is {
			p.People[i].Ready = ready
		}
		p.People[i].Steps = slices.Clone(who.Steps)
		for k := range p.People[i].Steps {
			s := &p.People[i].Steps[k]
			named[s.ID] = true
			s.pull(l)
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

func (s *Step) pull(l Lever) {
	share, scaled := l.Minutes[s.ID]
	if scaled && s.Minutes != nil {
		s.Minutes = Minutes(*s.Minutes * share)
	}
	s.On, s.TakeFor = maps.Clone(s.On), maps.Clone(s.TakeFor)
	for _, twin := range l.Stations {
		if minutes, has := s.On[twin.Like]; has {
			s.On[twin.ID] = minutes
		}
		if pool, has := s.TakeFor[twin.Like]; has {
			s.TakeFor[twin.ID] = pool
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

// Levers plans a day as it is and with each of some levers, best first; those with which there
// is no such day come last.
func Levers(p Problem, levers []Lever, o Options) (Result, []Outcome, error) {
	now, err := Plan(p, o)
	if err != nil {
		return now, nil, err
	}
	outcomes := []Outcome{}
	for _, l := range levers {
		out := Outcome{Name: l.Name, Cost: l.Cost}
		pulled, err := l.Pull(p)
		if err != nil {
			return now, nil, err
		}
		then, err := Plan(pulled, o)
		if err != nil {
			out.Problem = err.Error()
			outcomes = append(outcomes, out)
			continue
		}
		out.MakespanMinutes, out.Fits, out.Because = then.MakespanMinutes, then.Fits, because(now, then)
		if odds, err := Odds(pulled, then, OddsDays, o.Seed); err == nil {
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
func because(now, then Result) string {
	switch {
	case then.MakespanMinutes >= now.MakespanMinutes-0.05:
		return fmt.Sprintf("%s still holds it up", then.Bottleneck)
	case now.Bottleneck == then.Bottleneck:
		return fmt.Sprintf("%s is waited for less", now.Bottleneck)
	}
	return fmt.Sprintf("%s held it up, and now %s does", now.Bottleneck, then.Bottleneck)
}
