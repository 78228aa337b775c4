package live

import (
	"chalkstep/core/pace"
)

// A MakeUp is the least somebody needs to be done with what they make: the steps, in order, and the
// minutes they take as planned.
type MakeUp struct {
	Steps   []pace.StepKey
	Minutes float64
}

// MakeUp of an outcome: the steps that are left, of a sewing the stops that are. Whoever was at a machine
// loads their hoop again first. It is nothing for somebody who is done.
func (o Outcome) MakeUp() MakeUp {
	var m MakeUp
	add := func(key pace.StepKey, minutes float64) {
		m.Steps, m.Minutes = append(m.Steps, key), m.Minutes+minutes
	}
	if first, end, sits := o.sitting(); sits && first < o.Next && o.Next < end {
		add(pace.StepKey(o.Steps[first].Operation), o.Steps[first].End-o.Steps[first].Start)
	}
	for k, step := range o.Steps[o.Next:] {
		minutes := step.End - step.Start
		if k == 0 && len(o.Stops) > 0 {
			minutes = 0
			for _, stop := range o.Stops[min(o.Stop, len(o.Stops)):] {
				minutes += stop.Minutes
			}
		}
		add(pace.StepKey(step.Operation), minutes)
	}
	return m
}
