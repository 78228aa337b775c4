// Package floor plans the class day: who is at which machine when, with the
// hoops, irons and hands there are. A day is a job shop: each person's steps
// run in order, a machine serves one person at a time, and limited pools are
// taken and given back. [Plan] builds a first plan by priority rules and then
// improves it by local search, and says how far from a lower bound it ended.
package floor

import (
	"encoding/json"
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
	// Closed are stretches in which nobody does anything: a step is over before
	// one or begins after it. What is held stays held.
	Closed []Span `json:"closed,omitempty"`
	// Weights make the plan one that is good for people; nil for the shortest.
	Weights *Weights `json:"weights,omitempty"`
	// BreakMinutes is how long one interruption of a step takes, 0 for
	// [UsualBreakMinutes]; for [Odds] alone.
	BreakMinutes float64 `json:"break_minutes,omitempty"`
}

// A Station serves one person at a time, and nobody while it is Out.
type Station struct {
	ID  string `json:"id"`
	Out []Span `json:"out,omitempty"`
	// Spread is how the minutes of steps vary here that have no spread of their own,
	// BreakFactor how often they are interrupted here beside what they say, 0 for as
	// often. Both are for [Odds] alone.
	Spread      *float64 `json:"spread,omitempty"`
	BreakFactor float64  `json:"break_factor,omitempty"`
}

// A Pool is a number of like things, or hands, less those that are Out.
type Pool struct {
	ID    string `json:"id"`
	Count int    `json:"count"`
	Out   []Span `json:"out,omitempty"`
}

// A Span is a stretch of the day. Of a pool, Units are out, 0 for all of them.
type Span struct {
	From  float64 `json:"from"`
	To    float64 `json:"to"`
	Units int     `json:"units,omitempty"`
}

// A Person does steps in order, one at a time, from the minute they are ready.
type Person struct {
	ID    string  `json:"id"`
	Ready float64 `json:"ready"`
	Steps []Step  `json:"steps"`
	// FillMinutes of their waits are not idle, Practice is what they can do in them, in
	// order, each once. For [Weights] alone.
	FillMinutes float64    `json:"fill_minutes,omitempty"`
	Practice    []Practice `json:"practice,omitempty"`
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
	// NeedsOne takes one unit of any one of some pools for the length of the
	// step: an instructor or an assistant.
	NeedsOne []string `json:"needs_one,omitempty"`
	// TakeFor is like Take, of one of the pools named for the station that the
	// person's next step with On will use: a hoop is taken at the bench, and
	// has to be one that machine accepts. Stations it leaves out take nothing.
	// Release then names all pools it may have taken from.
	TakeFor map[string]Choice `json:"take_for,omitempty"`
	// At pins the step: it begins at that minute, or as soon after it as the
	// person's own steps and the room allow, before anybody who is not pinned.
	At *float64 `json:"at,omitempty"`
	// Keep keeps the station until the end of the person's next step with On,
	// which then uses the same station.
	Keep bool `json:"keep,omitempty"`
	// Same uses the station of the person's step before with On, which is not kept in
	// between: others may have it until then.
	Same bool `json:"same,omitempty"`
	// Spread is how its minutes vary from day to day: their standard deviation
	// as a share of them; nil takes [BenchSpread] or [StationSpread]. Breaks is how
	// often it is interrupted, on average. Both are for [Odds] alone.
	Spread *float64 `json:"spread,omitempty"`
	Breaks float64  `json:"breaks,omitempty"`
}

// A Choice is pools of which one will do. In JSON one pool stands by itself.
type Choice []string

// UnmarshalJSON reads a pool, or a list of them.
func (c *Choice) UnmarshalJSON(data []byte) error {
	var one string
	if json.Unmarshal(data, &one) == nil {
		*c = Choice{one}
		return nil
	}
	if err := json.Unmarshal(data, (*[]string)(c)); err != nil {
		return fmt.Errorf("take_for is %s: expected a pool, or a list of pools", data)
	}
	return nil
}

// MarshalJSON writes one pool by itself.
func (c Choice) MarshalJSON() ([]byte, error) {
	if len(c) == 1 {
		return json.Marshal(c[0])
	}
	return json.Marshal([]string(c))
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
	Bottleneck string `json:"bottleneck"`
	// ShortestMinutes is the shortest plan that was found, where another is better
	// for people.
	ShortestMinutes float64 `json:"shortest_minutes,omitempty"`
	// LongestWaitMinutes is the longest wait of the plan that nothing fills, and
	// ShortestWaitMinutes that of the shortest.
	LongestWaitMinutes  float64            `json:"longest_wait_minutes,omitempty"`
	ShortestWaitMinutes float64            `json:"shortest_wait_minutes,omitempty"`
	Steps               []Placed           `json:"steps"`
	Waiting             map[string]float64 `json:"waiting_minutes"`
}

// A Placed step has its times; Station is empty at the bench.
type Placed struct {
	Person  string  `json:"person"`
	Step    string  `json:"step"`
	Station string  `json:"station,omitempty"`
	Start   float64 `json:"start"`
	End     float64 `json:"end"`
	// Took are the pools that TakeFor chose, With the one that NeedsOne did.
	Took []string `json:"took,omitempty"`
	With string   `json:"with,omitempty"`
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
	if p.Weights != nil {
		for _, w := range WeightKinds {
			if weight := w.Of(*p.Weights); !(weight >= 0 && weight <= MostWeight) {
				return fmt.Errorf("weights: %s is %v: expected 0 to %d", w.Key, weight, MostWeight)
			}
		}
	}
	stations, pools, people := map[string]bool{}, map[string]int{}, map[string]bool{}
	for _, s := range p.Stations {
		if s.ID == "" || stations[s.ID] {
			return fmt.Errorf("station %q: expected a name that no other station has", s.ID)
		}
		stations[s.ID] = true
		if s.Spread != nil && !(*s.Spread >= 0 && *s.Spread <= 2) {
			return fmt.Errorf("station %s has spread %v: expected 0 to 2", s.ID, *s.Spread)
		}
		if !(s.BreakFactor >= 0 && s.BreakFactor <= 100) {
			return fmt.Errorf("station %s has break_factor %v: expected 0 to 100", s.ID, s.BreakFactor)
		}
		if err := checkSpans(s.Out, 1); err != nil {
			return fmt.Errorf("station %s is out: %w", s.ID, err)
		}
	}
	if err := checkSpans(p.Closed, 1); err != nil {
		return fmt.Errorf("closed: %w", err)
	}
	for _, pool := range p.Pools {
		if _, twice := pools[pool.ID]; pool.ID == "" || twice {
			return fmt.Errorf("pool %q: expected a name that no other pool has", pool.ID)
		}
		if pool.Count < 0 {
			return fmt.Errorf("pool %q has count %d: expected 0 or more", pool.ID, pool.Count)
		}
		pools[pool.ID] = pool.Count
		if err := checkSpans(pool.Out, pool.Count); err != nil {
			return fmt.Errorf("pool %s is out: %w", pool.ID, err)
		}
	}
	for _, person := range p.People {
		if person.ID == "" || people[person.ID] {
			return fmt.Errorf("person %q: expected a name that nobody else has", person.ID)
		}
		people[person.ID] = true
		if !(person.Ready >= 0 && person.Ready <= longestMinutes) {
			return fmt.Errorf("person %s is ready at %v: expected 0 to %.0f minutes", person.ID, person.Ready, float64(longestMinutes))
		}
		if !(person.FillMinutes >= 0 && person.FillMinutes <= longestMinutes) {
			return fmt.Errorf("person %s has fill_minutes %v: expected 0 to %.0f minutes", person.ID, person.FillMinutes, float64(longestMinutes))
		}
		if len(person.Practice) > mostPractice {
			return fmt.Errorf("person %s has practice for %d waits: expected at most %d", person.ID, len(person.Practice), mostPractice)
		}
		for n, practice := range person.Practice {
			if !(practice.Minutes > 0 && practice.Minutes <= longestMinutes) {
				return fmt.Errorf("person %s, practice %d has minutes %v: expected more than 0, up to %.0f", person.ID, n+1, practice.Minutes, float64(longestMinutes))
			}
		}
		if err := person.check(stations, pools); err != nil {
			return err
		}
	}
	return nil
}

// mostChoices of pools where one will do.
const mostChoices = 12

// mostSpans of one thing in a day.
const mostSpans = 100

func checkSpans(spans []Span, units int) error {
	if len(spans) > mostSpans {
		return fmt.Errorf("%d times: expected at most %d", len(spans), mostSpans)
	}
	for _, s := range spans {
		if !(s.From >= 0 && s.From < s.To && s.To <= longestMinutes) {
			return fmt.Errorf("from %v to %v: expected a stretch of the day, in minutes", s.From, s.To)
		}
		if s.Units < 0 || s.Units > units {
			return fmt.Errorf("units is %d: expected 0 to %d", s.Units, units)
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
		if s.At != nil && !(*s.At >= 0 && *s.At <= longestMinutes) {
			return fail("at is %v: expected 0 to %.0f minutes", *s.At, float64(longestMinutes))
		}
		if s.Keep && len(s.On) == 0 {
			return fail("keep belongs to a step with on")
		}
		if s.Keep && !slices.ContainsFunc(p.Steps[i+1:], func(next Step) bool { return len(next.On) > 0 }) {
			return fail("keep needs a later step with on")
		}
		if s.Same && !slices.ContainsFunc(p.Steps[:i], func(before Step) bool { return len(before.On) > 0 }) {
			return fail("same needs an earlier step with on")
		}
		if s.Same && len(s.On) == 0 {
			return fail("same belongs to a step with on")
		}
		for station, choice := range s.TakeFor {
			if !stations[station] {
				return fail("take_for: station %q is not in stations", station)
			}
			if len(choice) < 1 || len(choice) > mostChoices {
				return fail("take_for names %d pools for %s: expected 1 to %d", len(choice), station, mostChoices)
			}
		}
		if len(s.NeedsOne) > mostChoices {
			return fail("needs_one names %d pools: expected at most %d", len(s.NeedsOne), mostChoices)
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
		for _, pool := range s.NeedsOne {
			if held[pool]+s.Needs[pool] > 0 {
				return fail("needs_one names %s, of which it has one already", pool)
			}
		}
		for pool, units := range held {
			if units > pools[pool] {
				return fail("it asks for %d of %s at once, and there are %d", units, pool, pools[pool])
			}
		}
		for _, pool := range s.Release {
			mayHold := slices.ContainsFunc(p.Steps[:i+1], func(earlier Step) bool {
				return earlier.mayTake(pool)
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
	names := slices.Concat(s.Take, s.Release, s.NeedsOne, slices.Collect(maps.Keys(s.Needs)), s.mayTakes())
	slices.Sort(names)
	return names
}

// mayTakes lists the pools TakeFor may choose.
func (s Step) mayTakes() []string {
	var names []string
	for _, choice := range s.TakeFor {
		names = append(names, choice...)
	}
	slices.Sort(names)
	return slices.Compact(names)
}

func (s Step) mayTake(pool string) bool { return slices.Contains(s.mayTakes(), pool) }

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
