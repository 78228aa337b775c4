// Package floor plans the class day: who is at which machine when, with the
// hoops, irons and hands there are. A day is a job shop: each person's steps
// run in order, a machine serves one person at a time, and limited pools are
// taken and given back. [Plan] builds a first plan by priority rules and then
// improves it by local search, and says how far from a lower bound it ended.
package floor

import (
	"fmt"
	"maps"
	"slices"
)

// A Problem is a day to be planned. Times are minutes from its start.
type Problem struct {
	WindowMinutes float64   `json:"window_minutes"`
	Stations      []Station `json:"stations"`
	Pools         []Pool    `json:"pools"`
	People        []Person  `json:"people"`
	// BreakMinutes is how long one interruption of a step takes, 0 for
	// [UsualBreakMinutes]; for [Odds] alone.
	BreakMinutes float64 `json:"break_minutes,omitempty"`
}

// A Station serves one person at a time.
type Station struct {
	ID string `json:"id"`
}

// A Pool is a number of like things, or hands.
type Pool struct {
	ID    string `json:"id"`
	Count int    `json:"count"`
}

// A Person does steps in order, one at a time, from the minute they are ready.
type Person struct {
	ID    string  `json:"id"`
	Ready float64 `json:"ready"`
	Steps []Step  `json:"steps"`
}

// A Step takes Minutes at the bench, or the minutes that On gives for the
// station it is done on.
type Step struct {
	ID      string             `json:"id"`
	Minutes *float64           `json:"minutes,omitempty"`
	On      map[string]float64 `json:"on,omitempty"`
	// Needs takes units of a pool for the length of the step.
	Needs map[string]int `json:"needs,omitempty"`
	// Take holds one unit of each pool from the step's start until the end of
	// the step that names it in Release, or of the person's last step.
	Take    []string `json:"take,omitempty"`
	Release []string `json:"release,omitempty"`
	// TakeFor is like Take, of the pool named for the station that the
	// person's next step with On will use: a hoop is taken at the bench, and
	// has to be one that machine accepts. Stations it leaves out take nothing.
	// Release then names all pools it may have taken from.
	TakeFor map[string]string `json:"take_for,omitempty"`
	// Keep keeps the station until the end of the person's next step with On,
	// which then uses the same station.
	Keep bool `json:"keep,omitempty"`
	// Spread is how its minutes vary from day to day: their standard deviation
	// as a share of them; nil takes [BenchSpread] or [StationSpread]. Breaks is how
	// often it is interrupted, on average. Both are for [Odds] alone.
	Spread *float64 `json:"spread,omitempty"`
	Breaks float64  `json:"breaks,omitempty"`
}

// Minutes is for filling Step.Minutes.
func Minutes(minutes float64) *float64 { return &minutes }

// A Result is a plan and what there is to say about it.
type Result struct {
	MakespanMinutes   float64 `json:"makespan_minutes"`
	Fits              bool    `json:"fits"`
	LowerBoundMinutes float64 `json:"lower_bound_minutes"`
	// Bottleneck is the station or pool that people waited for longest, or
	// the busiest one when nobody waited.
	Bottleneck string             `json:"bottleneck"`
	Steps      []Placed           `json:"steps"`
	Waiting    map[string]float64 `json:"waiting_minutes"`
}

// A Placed step has its times; Station is empty at the bench.
type Placed struct {
	Person  string  `json:"person"`
	Step    string  `json:"step"`
	Station string  `json:"station,omitempty"`
	Start   float64 `json:"start"`
	End     float64 `json:"end"`
}

// longestMinutes bounds every time so that sums cannot overflow.
const longestMinutes = 1e6

// Check tells what in the problem cannot be meant, by person and step.
func (p Problem) Check() error {
	if !(p.WindowMinutes >= 0 && p.WindowMinutes <= longestMinutes) {
		return fmt.Errorf("window_minutes is %v: expected 0 to %.0f", p.WindowMinutes, float64(longestMinutes))
	}
	if !(p.BreakMinutes >= 0 && p.BreakMinutes <= longestMinutes) {
		return fmt.Errorf("break_minutes is %v: expected 0 to %.0f", p.BreakMinutes, float64(longestMinutes))
	}
	stations, pools, people := map[string]bool{}, map[string]int{}, map[string]bool{}
	for _, s := range p.Stations {
		if s.ID == "" || stations[s.ID] {
			return fmt.Errorf("station %q: expected a name that no other station has", s.ID)
		}
		stations[s.ID] = true
	}
	for _, pool := range p.Pools {
		if _, twice := pools[pool.ID]; pool.ID == "" || twice {
			return fmt.Errorf("pool %q: expected a name that no other pool has", pool.ID)
		}
		if pool.Count < 0 {
			return fmt.Errorf("pool %q has count %d: expected 0 or more", pool.ID, pool.Count)
		}
		pools[pool.ID] = pool.Count
	}
	for _, person := range p.People {
		if person.ID == "" || people[person.ID] {
			return fmt.Errorf("person %q: expected a name that nobody else has", person.ID)
		}
		people[person.ID] = true
		if !(person.Ready >= 0 && person.Ready <= longestMinutes) {
			return fmt.Errorf("person %s is ready at %v: expected 0 to %.0f minutes", person.ID, person.Ready, float64(longestMinutes))
		}
		if err := person.check(stations, pools); err != nil {
			return err
		}
	}
	return nil
}

func (p Person) check(stations map[string]bool, pools map[string]int) error {
	held := map[string]int{}
	for i, s := range p.Steps {
		fail := func(format string, args ...any) error {
			return fmt.Errorf("person %s, step %d (%s): %s", p.ID, i+1, s.ID, fmt.Sprintf(format, args...))
		}
		if (s.Minutes == nil) == (len(s.On) == 0) {
			return fail("expected either minutes or on")
		}
		if s.Minutes != nil && !(*s.Minutes >= 0 && *s.Minutes <= longestMinutes) {
			return fail("minutes is %v: expected 0 to %.0f", *s.Minutes, float64(longestMinutes))
		}
		for _, station := range slices.Sorted(maps.Keys(s.On)) {
			if !stations[station] {
				return fail("station %q is not in stations", station)
			}
			if !(s.On[station] >= 0 && s.On[station] <= longestMinutes) {
				return fail("it takes %v minutes on %s: expected 0 to %.0f", s.On[station], station, float64(longestMinutes))
			}
		}
		if s.Spread != nil && !(*s.Spread >= 0 && *s.Spread <= 2) {
			return fail("spread is %v: expected 0 to 2", *s.Spread)
		}
		if !(s.Breaks >= 0 && s.Breaks <= 20) {
			return fail("breaks is %v: expected 0 to 20", s.Breaks)
		}
		if s.Keep && len(s.On) == 0 {
			return fail("keep belongs to a step with on")
		}
		if s.Keep && !slices.ContainsFunc(p.Steps[i+1:], func(next Step) bool { return len(next.On) > 0 }) {
			return fail("keep needs a later step with on")
		}
		for station := range s.TakeFor {
			if !stations[station] {
				return fail("take_for: station %q is not in stations", station)
			}
		}
		if len(s.TakeFor) > 0 && !slices.ContainsFunc(p.Steps[i:], func(next Step) bool { return len(next.On) > 0 }) {
			return fail("take_for needs a step with on")
		}
		for _, pool := range s.pools() {
			if _, known := pools[pool]; !known {
				return fail("pool %q is not in pools", pool)
			}
		}
		for _, pool := range s.Take {
			held[pool]++
		}
		for _, pool := range slices.Sorted(maps.Keys(s.Needs)) {
			if s.Needs[pool] < 0 {
				return fail("it needs %d of %s: expected 0 or more", s.Needs[pool], pool)
			}
			if units := s.Needs[pool] + held[pool]; units > pools[pool] {
				return fail("it asks for %d of %s at once, and there are %d", units, pool, pools[pool])
			}
		}
		for pool, units := range held {
			if units > pools[pool] {
				return fail("it asks for %d of %s at once, and there are %d", units, pool, pools[pool])
			}
		}
		for _, pool := range s.Release {
			mayHold := slices.ContainsFunc(p.Steps[:i+1], func(earlier Step) bool {
				return slices.Contains(slices.Collect(maps.Values(earlier.TakeFor)), pool)
			})
			if held[pool] == 0 && !mayHold {
				return fail("it releases %s, which was not taken", pool)
			}
			held[pool] = max(0, held[pool]-1)
		}
	}
	return nil
}

// pools lists every pool the step names.
func (s Step) pools() []string {
	names := slices.Concat(s.Take, s.Release, slices.Collect(maps.Keys(s.Needs)), slices.Collect(maps.Values(s.TakeFor)))
	slices.Sort(names)
	return names
}

// IsSolvedBy tells whether a result places every step of every person of the
// problem, and none beside.
func (p Problem) IsSolvedBy(r Result) bool {
	type step struct{ person, step string }
	placed := map[step]bool{}
	for _, s := range r.Steps {
		placed[step{s.Person, s.Step}] = true
	}
	steps := 0
	for _, person := range p.People {
		for _, s := range person.Steps {
			if !placed[step{person.ID, s.ID}] {
				return false
			}
			steps++
		}
	}
	return steps > 0 && steps == len(r.Steps)
}
