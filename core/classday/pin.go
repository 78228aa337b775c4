package classday

import (
	"maps"
	"slices"
	"time"

	"chalkstep/core/pace"
	"chalkstep/core/say"
	"chalkstep/core/schedule"
)

// CheckPin says which rule a pin of somebody's would break, and is silent where it
// breaks none.
func (d Day) CheckPin(studentID int64, pin Pin) say.Text {
	w, place, ok := d.Maker(PersonID(studentID))
	if !ok || !w.Planned() {
		return say.T("Nobody of that name is in the plan: add them to the roster first.")
	}
	if pin.Hooping < 1 || pin.Hooping > len(w.Sewing) {
		return say.T("%s has %s, and this is none of them.", place.Name, say.N{N: len(w.Sewing), Noun: "hooping"})
	}
	if pin.MachineID != 0 {
		if why := d.cannotSitAt(w, pin); !why.Silent() {
			return why
		}
	}
	if pin.Minute == nil {
		return say.Text{}
	}
	from := float64(*pin.Minute)
	to, ready := from+d.leastSitting(w, place, pin), d.readyToLoad(w, place, pin.Hooping)
	switch {
	case from < ready:
		return say.T("%s is not ready for it before %s: what comes before takes until then.", place.Name,
			say.Clock(d.minute(ready)))
	case to > d.Class.WorkMinutes():
		return say.T("Begun at %s it would not be sewn before the class is over: move it earlier.", say.Clock(d.minute(from)))
	}
	for _, span := range d.Problem.Closed {
		if from < span.To && to > span.From {
			return say.T("All have a break from %s to %s, and it would not be sewn by then: move it before or after.",
				say.Clock(d.minute(span.From)), say.Clock(d.minute(span.To)))
		}
	}
	if pin.MachineID == 0 {
		return say.Text{}
	}
	m, _ := d.Machine(StationID(pin.MachineID))
	for _, span := range d.Class.outSpans(m) {
		if from < span.To && to > span.From {
			return say.T("%s is out of order from %s: move it to another machine, or before that.", m.Name,
				say.Clock(d.minute(span.From)))
		}
	}
	return d.pinnedAlready(studentID, pin, from, to)
}

// minute is the moment of a minute of the class.
func (d Day) minute(minute float64) time.Time {
	return d.Class.StartsAt.Add(time.Duration(minute * float64(time.Minute)))
}

// cannotSitAt says why a hooping cannot be sewn at a machine.
func (d Day) cannotSitAt(w Work, pin Pin) say.Text {
	m, there := d.Machine(StationID(pin.MachineID))
	if !there {
		return say.T("That machine is not one of the class's: add it to the class first.")
	}
	for n := range w.Sewing {
		seat, _ := w.SeatAt(m.ID, n+1)
		if !seat.Fits() {
			return say.T("%s cannot sew it: %s.", m.Name, seat.Problem)
		}
	}
	return say.Text{}
}

// leastSitting is how long somebody sits with a hooping, at the machine of a pin or at
// the fastest.
func (d Day) leastSitting(w Work, place Place, pin Pin) float64 {
	sitting := 0.0
	for _, s := range d.stepsOf(w, place) {
		step, _ := w.Step(s.ID)
		if pace.StepKey(s.ID).Hooping() != pin.Hooping || !step.InHoop() {
			continue
		}
		if minutes, has := s.On[StationID(pin.MachineID)]; has {
			sitting += minutes
		} else {
			sitting += least(s)
		}
	}
	return sitting
}

// readyToLoad is the first minute at which somebody can sit down with a hooping.
func (d Day) readyToLoad(w Work, place Place, hooping int) float64 {
	at := float64(max(place.LateMinutes, d.Class.OpeningMinutes))
	for _, s := range d.stepsOf(w, place) {
		if key := pace.StepKey(s.ID); key.Is(pace.StepLoad) && key.Hooping() == hooping {
			break
		}
		at += least(s)
	}
	return at
}

// least is how long a step takes where it is done fastest.
func least(s schedule.Operation) float64 {
	if s.Minutes != nil {
		return *s.Minutes
	}
	return slices.Min(slices.Collect(maps.Values(s.On)))
}

// pinnedAlready says who is pinned to a machine at the same time.
func (d Day) pinnedAlready(studentID int64, pin Pin, from, to float64) say.Text {
	for _, w := range d.Works {
		for _, other := range w.Places {
			for _, has := range other.Pins {
				if other.ID == studentID && has.Hooping == pin.Hooping || has.Minute == nil || has.MachineID != pin.MachineID {
					continue
				}
				start := float64(*has.Minute)
				if from < start+d.leastSitting(w, other, has) && to > start {
					return say.T("%s is pinned there from %s: release that first, or choose another time.", other.Name,
						say.Clock(d.minute(start)))
				}
			}
		}
	}
	return say.Text{}
}

// WithPin is the class with a pin of somebody's, instead of what was pinned of that
// hooping; one that says nothing is none.
func (c Class) WithPin(studentID int64, pin Pin) Class {
	c.Places = slices.Clone(c.Places)
	for i := range c.Places {
		if c.Places[i].ID != studentID {
			continue
		}
		pins := slices.DeleteFunc(slices.Clone(c.Places[i].Pins), func(p Pin) bool { return p.Hooping == pin.Hooping })
		if pin.MachineID != 0 || pin.Minute != nil {
			pins = append(pins, pin)
		}
		c.Places[i].Pins = pins
	}
	return c
}
