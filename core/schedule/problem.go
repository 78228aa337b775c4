// Package schedule is the scheduling problem that a class day is, in general: jobs, each a row of
// operations, on machines that serve one job at a time, with limited resources that are taken and
// given back. It knows no embroidery. What a problem, a plan and its objective are is here, with
// the checks of a problem and why each operation of a plan waits; how a plan is found is in search.
package schedule

import (
	"encoding/json"
	"fmt"
	"maps"
	"slices"
)

// A Problem is a day to be planned. Times are minutes from its start.
type Problem struct {
	WindowMinutes float64    `json:"window_minutes"`
	Machines      []Machine  `json:"stations"`
	Resources     []Resource `json:"pools"`
	Jobs          []Job      `json:"people"`
	// Closed are stretches in which nobody does anything: an operation is over before
	// one or begins after it. What is held stays held.
	Closed []Interval `json:"closed,omitempty"`
	// Weights make the plan one that is good for jobs; nil for the shortest.
	Weights *Weights `json:"weights,omitempty"`
	// BreakMinutes is how long one interruption of an operation takes, 0 for
	// [UsualBreakMinutes]; for [Of] alone.
	BreakMinutes float64 `json:"break_minutes,omitempty"`
}

// A Machine serves one job at a time, and nobody while it is Unavailable.
type Machine struct {
	ID          string     `json:"id"`
	Unavailable []Interval `json:"out,omitempty"`
	// Spread is how the minutes of operations vary here that have no spread of their own,
	// BreakFactor how often they are interrupted here beside what they say, 0 for as
	// often. Both are for [Of] alone.
	Spread      *float64 `json:"spread,omitempty"`
	BreakFactor float64  `json:"break_factor,omitempty"`
}

// A Resource is a number of like things, or hands, less those that are Unavailable.
type Resource struct {
	ID          string     `json:"id"`
	Count       int        `json:"count"`
	Unavailable []Interval `json:"out,omitempty"`
}

// An Interval is a stretch of the day. Of a resource, Units are out, 0 for all of them.
type Interval struct {
	From  float64 `json:"from"`
	To    float64 `json:"to"`
	Units int     `json:"units,omitempty"`
}

// A Job does operations in order, one at a time, from the minute they are ready.
type Job struct {
	ID         string      `json:"id"`
	Ready      float64     `json:"ready"`
	Operations []Operation `json:"steps"`
	// FillMinutes of their waits are not idle, Practice is what they can do in them, in
	// order, each once. For [Weights] alone.
	FillMinutes float64    `json:"fill_minutes,omitempty"`
	Practice    []Practice `json:"practice,omitempty"`
}

// An Operation takes Minutes at the bench, or the minutes that On gives for the
// machine it is done on.
type Operation struct {
	ID      string             `json:"id"`
	Minutes *float64           `json:"minutes,omitempty"`
	On      map[string]float64 `json:"on,omitempty"`
	// Needs takes units of a resource for the length of the operation.
	Needs map[string]int `json:"needs,omitempty"`
	// Take holds one unit of each resource from the operation's start until the end of
	// the operation that names it in Release, or of the job's last operation.
	Take    []string `json:"take,omitempty"`
	Release []string `json:"release,omitempty"`
	// NeedsOneOf takes one unit of any one of some resources for the length of the
	// operation: an instructor or an assistant.
	NeedsOneOf []string `json:"needs_one,omitempty"`
	// TakeFor is like Take, of one of the resources named for the machine that the
	// job's next operation with On will use: a hoop is taken at the bench, and
	// has to be one that machine accepts. Machines it leaves out take nothing.
	// Release then names all resources it may have taken from.
	TakeFor map[string]Choice `json:"take_for,omitempty"`
	// At pins the operation: it begins at that minute, or as soon after it as the
	// job's own operations and the room allow, before anybody who is not pinned.
	At *float64 `json:"at,omitempty"`
	// KeepMachine keeps the machine until the end of the job's next operation with On,
	// which then uses the same machine.
	KeepMachine bool `json:"keep,omitempty"`
	// SameMachine uses the machine of the job's operation before with On, which is not kept in
	// between: others may have it until then.
	SameMachine bool `json:"same,omitempty"`
	// Spread is how its minutes vary from day to day: their standard deviation
	// as a share of them; nil takes [BenchSpread] or [MachineSpread]. Breaks is how
	// often it is interrupted, on average. Both are for [Of] alone.
	Spread *float64 `json:"spread,omitempty"`
	Breaks float64  `json:"breaks,omitempty"`
}

// A Choice is resources of which one will do. In JSON one resource stands by itself.
type Choice []string

// UnmarshalJSON reads a resource, or a list of them.
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

// MarshalJSON writes one resource by itself.
func (c Choice) MarshalJSON() ([]byte, error) {
	if len(c) == 1 {
		return json.Marshal(c[0])
	}
	return json.Marshal([]string(c))
}

// Minutes is for filling Operation.Minutes.
func Minutes(minutes float64) *float64 { return &minutes }

// resources lists every resource the operation names.
func (s Operation) resources() []string {
	names := slices.Concat(s.Take, s.Release, s.NeedsOneOf, slices.Collect(maps.Keys(s.Needs)), s.MayTake())
	slices.Sort(names)
	return names
}

// MayTake lists the resources TakeFor may choose.
func (s Operation) MayTake() []string {
	var names []string
	for _, choice := range s.TakeFor {
		names = append(names, choice...)
	}
	slices.Sort(names)
	return slices.Compact(names)
}

func (s Operation) mayTakeOf(resource string) bool { return slices.Contains(s.MayTake(), resource) }
