package schedule

import (
	"fmt"
	"maps"
	"slices"
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
	if p.Weights != nil {
		for _, w := range WeightKinds {
			if weight := w.Of(*p.Weights); !(weight >= 0 && weight <= MostWeight) {
				return fmt.Errorf("weights: %s is %v: expected 0 to %d", w.Key, weight, MostWeight)
			}
		}
	}
	machines, resources, jobs := map[string]bool{}, map[string]int{}, map[string]bool{}
	for _, s := range p.Machines {
		if s.ID == "" || machines[s.ID] {
			return fmt.Errorf("station %q: expected a name that no other station has", s.ID)
		}
		machines[s.ID] = true
		if s.Spread != nil && !(*s.Spread >= 0 && *s.Spread <= 2) {
			return fmt.Errorf("station %s has spread %v: expected 0 to 2", s.ID, *s.Spread)
		}
		if !(s.BreakFactor >= 0 && s.BreakFactor <= 100) {
			return fmt.Errorf("station %s has break_factor %v: expected 0 to 100", s.ID, s.BreakFactor)
		}
		if err := checkIntervals(s.Unavailable, 1); err != nil {
			return fmt.Errorf("station %s is out: %w", s.ID, err)
		}
	}
	if err := checkIntervals(p.Closed, 1); err != nil {
		return fmt.Errorf("closed: %w", err)
	}
	for _, resource := range p.Resources {
		if _, twice := resources[resource.ID]; resource.ID == "" || twice {
			return fmt.Errorf("pool %q: expected a name that no other pool has", resource.ID)
		}
		if resource.Count < 0 {
			return fmt.Errorf("pool %q has count %d: expected 0 or more", resource.ID, resource.Count)
		}
		resources[resource.ID] = resource.Count
		if err := checkIntervals(resource.Unavailable, resource.Count); err != nil {
			return fmt.Errorf("pool %s is out: %w", resource.ID, err)
		}
	}
	for _, job := range p.Jobs {
		if job.ID == "" || jobs[job.ID] {
			return fmt.Errorf("person %q: expected a name that nobody else has", job.ID)
		}
		jobs[job.ID] = true
		if !(job.Ready >= 0 && job.Ready <= longestMinutes) {
			return fmt.Errorf("person %s is ready at %v: expected 0 to %.0f minutes", job.ID, job.Ready, float64(longestMinutes))
		}
		if !(job.FillMinutes >= 0 && job.FillMinutes <= longestMinutes) {
			return fmt.Errorf("person %s has fill_minutes %v: expected 0 to %.0f minutes", job.ID, job.FillMinutes,
				float64(longestMinutes))
		}
		if len(job.Practice) > mostPractice {
			return fmt.Errorf("person %s has practice for %d waits: expected at most %d", job.ID, len(job.Practice),
				mostPractice)
		}
		for n, practice := range job.Practice {
			if !(practice.Minutes > 0 && practice.Minutes <= longestMinutes) {
				return fmt.Errorf("person %s, practice %d has minutes %v: expected more than 0, up to %.0f", job.ID, n+1,
					practice.Minutes, float64(longestMinutes))
			}
		}
		if err := job.check(machines, resources); err != nil {
			return err
		}
	}
	return nil
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
	held := map[string]int{}
	for i, s := range p.Operations {
		fail := func(format string, args ...any) error {
			return fmt.Errorf("person %s, step %d (%s): %s", p.ID, i+1, s.ID, fmt.Sprintf(format, args...))
		}
		if (s.Minutes == nil) == (len(s.On) == 0) {
			return fail("expected either minutes or on")
		}
		if s.Minutes != nil && !(*s.Minutes >= 0 && *s.Minutes <= longestMinutes) {
			return fail("minutes is %v: expected 0 to %.0f", *s.Minutes, float64(longestMinutes))
		}
		for _, machine := range slices.Sorted(maps.Keys(s.On)) {
			if !machines[machine] {
				return fail("station %q is not in stations", machine)
			}
			if !(s.On[machine] >= 0 && s.On[machine] <= longestMinutes) {
				return fail("it takes %v minutes on %s: expected 0 to %.0f", s.On[machine], machine, float64(longestMinutes))
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
		if s.KeepMachine && len(s.On) == 0 {
			return fail("keep belongs to a step with on")
		}
		if s.KeepMachine && !slices.ContainsFunc(p.Operations[i+1:], func(next Operation) bool { return len(next.On) > 0 }) {
			return fail("keep needs a later step with on")
		}
		if s.SameMachine && !slices.ContainsFunc(p.Operations[:i], func(before Operation) bool {
			return len(before.On) > 0
		}) {
			return fail("same needs an earlier step with on")
		}
		if s.SameMachine && len(s.On) == 0 {
			return fail("same belongs to a step with on")
		}
		for machine, choice := range s.TakeFor {
			if !machines[machine] {
				return fail("take_for: station %q is not in stations", machine)
			}
			if len(choice) < 1 || len(choice) > mostChoices {
				return fail("take_for names %d pools for %s: expected 1 to %d", len(choice), machine, mostChoices)
			}
		}
		if len(s.NeedsOneOf) > mostChoices {
			return fail("needs_one names %d pools: expected at most %d", len(s.NeedsOneOf), mostChoices)
		}
		if len(s.TakeFor) > 0 &&
			!slices.ContainsFunc(p.Operations[i:], func(next Operation) bool { return len(next.On) > 0 }) {
			return fail("take_for needs a step with on")
		}
		for _, resource := range s.resources() {
			if _, known := resources[resource]; !known {
				return fail("pool %q is not in pools", resource)
			}
		}
		for _, resource := range s.Take {
			held[resource]++
		}
		for _, resource := range slices.Sorted(maps.Keys(s.Needs)) {
			if s.Needs[resource] < 0 {
				return fail("it needs %d of %s: expected 0 or more", s.Needs[resource], resource)
			}
			if units := s.Needs[resource] + held[resource]; units > resources[resource] {
				return fail("it asks for %d of %s at once, and there are %d", units, resource, resources[resource])
			}
		}
		for _, resource := range s.NeedsOneOf {
			if held[resource]+s.Needs[resource] > 0 {
				return fail("needs_one names %s, of which it has one already", resource)
			}
		}
		for resource, units := range held {
			if units > resources[resource] {
				return fail("it asks for %d of %s at once, and there are %d", units, resource, resources[resource])
			}
		}
		for _, resource := range s.Release {
			mayHold := slices.ContainsFunc(p.Operations[:i+1], func(earlier Operation) bool {
				return earlier.mayTakeOf(resource)
			})
			if held[resource] == 0 && !mayHold {
				return fail("it releases %s, which was not taken", resource)
			}
			held[resource] = max(0, held[resource]-1)
		}
	}
	return nil
}
