package schedule

import (
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"
)

// longestMinutes bounds every time so that sums cannot overflow.
const longestMinutes = 1e6

// Check tells what in the problem cannot be meant, by job and operation.
func (p Problem) Check() error {
	if !(p.WindowMinutes >= 0 && p.WindowMinutes <= longestMinutes) {
		return fmt.Errorf("window_minutes is %v: expected 0 to %.0f", p.WindowMinutes, float64(longestMinutes))
	}
	if !(p.BreakMinutes >= 0 && p.BreakMinutes <= longestMinutes) {
		return fmt.Errorf("break_minutes is %v: expected 0 to %.0f", p.BreakMinutes, float64(longestMinutes))
	}
	if err := p.Weights.check(); err != nil {
		return err
	}
	machines, err := p.checkMachines()
	if err != nil {
		return err
	}
	if err := checkIntervals(p.Closed, 1); err != nil {
		return fmt.Errorf("closed: %w", err)
	}
	resources, err := p.checkResources()
	if err != nil {
		return err
	}
	jobs := map[string]bool{}
	for _, job := range p.Jobs {
		if job.ID == "" || jobs[job.ID] {
			return fmt.Errorf("person %q: expected a name that nobody else has", job.ID)
		}
		jobs[job.ID] = true
		if err := job.check(machines, resources); err != nil {
			return err
		}
	}
	return nil
}

func (w *Weights) check() error {
	if w == nil {
		return nil
	}
	for _, kind := range WeightKinds {
		if weight := kind.Of(*w); !(weight >= 0 && weight <= MostWeight) {
			return fmt.Errorf("weights: %s is %v: expected 0 to %d", kind.Key, weight, MostWeight)
		}
	}
	return nil
}

// checkMachines gives the names of the machines.
func (p Problem) checkMachines() (machines map[string]bool, err error) {
	machines = map[string]bool{}
	for _, s := range p.Machines {
		if s.ID == "" || machines[s.ID] {
			return nil, fmt.Errorf("station %q: expected a name that no other station has", s.ID)
		}
		machines[s.ID] = true
		if s.Spread != nil && !(*s.Spread >= 0 && *s.Spread <= 2) {
			return nil, fmt.Errorf("station %s has spread %v: expected 0 to 2", s.ID, *s.Spread)
		}
		if !(s.BreakFactor >= 0 && s.BreakFactor <= 100) {
			return nil, fmt.Errorf("station %s has break_factor %v: expected 0 to 100", s.ID, s.BreakFactor)
		}
		if err := checkIntervals(s.Unavailable, 1); err != nil {
			return nil, fmt.Errorf("station %s is out: %w", s.ID, err)
		}
	}
	return machines, nil
}

// checkResources gives how many there are of each resource.
func (p Problem) checkResources() (resources map[string]int, err error) {
	resources = map[string]int{}
	for _, resource := range p.Resources {
		if _, twice := resources[resource.ID]; resource.ID == "" || twice {
			return nil, fmt.Errorf("pool %q: expected a name that no other pool has", resource.ID)
		}
		if resource.Count < 0 {
			return nil, fmt.Errorf("pool %q has count %d: expected 0 or more", resource.ID, resource.Count)
		}
		resources[resource.ID] = resource.Count
		if err := checkIntervals(resource.Unavailable, resource.Count); err != nil {
			return nil, fmt.Errorf("pool %s is out: %w", resource.ID, err)
		}
	}
	return resources, nil
}

// mostChoices of resources where one will do.
const mostChoices = 12

// mostIntervals of one thing in a day.
const mostIntervals = 100

func checkIntervals(spans []Interval, units int) error {
	if len(spans) > mostIntervals {
		return fmt.Errorf("%d times: expected at most %d", len(spans), mostIntervals)
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

func (p Job) check(machines map[string]bool, resources map[string]int) error {
	if !(p.Ready >= 0 && p.Ready <= longestMinutes) {
		return fmt.Errorf("person %s is ready at %v: expected 0 to %.0f minutes", p.ID, p.Ready, float64(longestMinutes))
	}
	if !(p.FillMinutes >= 0 && p.FillMinutes <= longestMinutes) {
		return fmt.Errorf("person %s has fill_minutes %v: expected 0 to %.0f minutes", p.ID, p.FillMinutes,
			float64(longestMinutes))
	}
	if len(p.Practice) > mostPractice {
		return fmt.Errorf("person %s has practice for %d waits: expected at most %d", p.ID, len(p.Practice),
			mostPractice)
	}
	for n, practice := range p.Practice {
		if !(practice.Minutes > 0 && practice.Minutes <= longestMinutes) {
			return fmt.Errorf("person %s, practice %d has minutes %v: expected more than 0, up to %.0f", p.ID, n+1,
				practice.Minutes, float64(longestMinutes))
		}
	}
	held := map[string]int{}
	for i, s := range p.Operations {
		for _, check := range []func() error{
			func() error { return s.checkTimes(machines) },
			func() error { return p.checkMachine(i) },
			func() error { return s.checkTaken(machines, resources) },
			func() error { return p.checkHeld(i, held, resources) },
		} {
			if err := check(); err != nil {
				return fmt.Errorf("person %s, step %d (%s): %w", p.ID, i+1, s.ID, err)
			}
		}
	}
	return nil
}

// checkTimes looks at how long an operation takes, and where.
func (s Operation) checkTimes(machines map[string]bool) error {
	if (s.Minutes == nil) == (len(s.On) == 0) {
		return errors.New("expected either minutes or on")
	}
	if s.Minutes != nil && !(*s.Minutes >= 0 && *s.Minutes <= longestMinutes) {
		return fmt.Errorf("minutes is %v: expected 0 to %.0f", *s.Minutes, float64(longestMinutes))
	}
	for _, machine := range slices.Sorted(maps.Keys(s.On)) {
		if !machines[machine] {
			return fmt.Errorf("station %q is not in stations", machine)
		}
		if !(s.On[machine] >= 0 && s.On[machine] <= longestMinutes) {
			return fmt.Errorf("it takes %v minutes on %s: expected 0 to %.0f", s.On[machine], machine,
				float64(longestMinutes))
		}
	}
	if s.Spread != nil && !(*s.Spread >= 0 && *s.Spread <= 2) {
		return fmt.Errorf("spread is %v: expected 0 to 2", *s.Spread)
	}
	if !(s.Breaks >= 0 && s.Breaks <= 20) {
		return fmt.Errorf("breaks is %v: expected 0 to 20", s.Breaks)
	}
	if s.At != nil && !(*s.At >= 0 && *s.At <= longestMinutes) {
		return fmt.Errorf("at is %v: expected 0 to %.0f minutes", *s.At, float64(longestMinutes))
	}
	return nil
}

// checkMachine looks at how an operation has to do with the machines of others of its job.
func (p Job) checkMachine(i int) error {
	s, seated := p.Operations[i], func(o Operation) bool { return len(o.On) > 0 }
	switch {
	case s.KeepMachine && !seated(s):
		return errors.New("keep belongs to a step with on")
	case s.KeepMachine && !slices.ContainsFunc(p.Operations[i+1:], seated):
		return errors.New("keep needs a later step with on")
	case s.SameMachine && !slices.ContainsFunc(p.Operations[:i], seated):
		return errors.New("same needs an earlier step with on")
	case s.SameMachine && !seated(s):
		return errors.New("same belongs to a step with on")
	case len(s.TakeFor) > 0 && !slices.ContainsFunc(p.Operations[i:], seated):
		return errors.New("take_for needs a step with on")
	}
	return nil
}

// checkTaken looks at what an operation names to take.
func (s Operation) checkTaken(machines map[string]bool, resources map[string]int) error {
	for machine, choice := range s.TakeFor {
		if !machines[machine] {
			return fmt.Errorf("take_for: station %q is not in stations", machine)
		}
		if len(choice) < 1 || len(choice) > mostChoices {
			return fmt.Errorf("take_for names %d pools for %s: expected 1 to %d", len(choice), machine, mostChoices)
		}
	}
	if len(s.NeedsOneOf) > mostChoices {
		return fmt.Errorf("needs_one names %d pools: expected at most %d", len(s.NeedsOneOf), mostChoices)
	}
	for _, resource := range s.resources() {
		if _, known := resources[resource]; !known {
			return fmt.Errorf("pool %q is not in pools", resource)
		}
	}
	none := func(resource string) bool { return resources[resource] == 0 }
	if len(s.NeedsOneOf) > 0 && !slices.ContainsFunc(s.NeedsOneOf, func(r string) bool { return !none(r) }) {
		return fmt.Errorf("it needs one of %s, and there is none of them", strings.Join(s.NeedsOneOf, ", "))
	}
	return nil
}

// checkHeld looks at what a job holds at an operation, and keeps what it holds after it.
func (p Job) checkHeld(i int, held, resources map[string]int) error {
	s := p.Operations[i]
	for _, resource := range s.Take {
		held[resource]++
	}
	for _, resource := range slices.Sorted(maps.Keys(s.Needs)) {
		if s.Needs[resource] < 0 {
			return fmt.Errorf("it needs %d of %s: expected 0 or more", s.Needs[resource], resource)
		}
		if units := s.Needs[resource] + held[resource]; units > resources[resource] {
			return fmt.Errorf("it asks for %d of %s at once, and there are %d", units, resource, resources[resource])
		}
	}
	for _, resource := range s.NeedsOneOf {
		if held[resource]+s.Needs[resource] > 0 {
			return fmt.Errorf("needs_one names %s, of which it has one already", resource)
		}
	}
	for resource, units := range held {
		if units > resources[resource] {
			return fmt.Errorf("it asks for %d of %s at once, and there are %d", units, resource, resources[resource])
		}
	}
	for _, resource := range s.Release {
		mayHold := slices.ContainsFunc(p.Operations[:i+1], func(o Operation) bool { return o.mayTakeOf(resource) })
		if held[resource] == 0 && !mayHold {
			return fmt.Errorf("it releases %s, which was not taken", resource)
		}
		held[resource] = max(0, held[resource]-1)
	}
	return nil
}
