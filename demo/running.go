package demo

import (
	"cmp"
	"slices"
	"time"

	"chalkstep/core/classday"
	"chalkstep/core/live"
	"chalkstep/core/pace"
	"chalkstep/core/schedule"
)

// run has a class go on until now: one that is over went a little slower than planned, to
// its end; one that goes on is a little late, with a hand up at the machine of whoever has
// most left to do.
func (l *loader) run(plan classday.Plan) error {
	starts := plan.Class.StartsAt
	if !plan.Planned() || l.now.Before(starts) {
		return nil
	}
	const late, slower = 2.0, 1.15 // minutes; as a share
	over := l.now.After(plan.Class.EndsAt)
	minute := l.now.Sub(starts).Minutes()
	really := func(planned float64) float64 {
		if over {
			return slower * planned
		}
		return planned + late
	}
	events := []live.Event{{Kind: live.Started, At: starts}}
	for i, place := range plan.Class.Places {
		events = append(events,
			live.Event{Kind: live.Here, At: starts.Add(time.Duration(i) * 20 * time.Second), StudentID: place.ID})
	}
	steps := slices.Clone(plan.Result.Assignments)
	slices.SortStableFunc(steps, func(a, b schedule.Assignment) int { return cmp.Compare(a.End, b.End) })
	var atMachine *schedule.Assignment
	for i, step := range steps {
		if really(step.End) <= minute {
			events = append(events,
				live.Event{Kind: live.Done, At: plan.At(really(step.End)), StudentID: studentOf(plan, step.Job),
					Step: pace.StepKey(step.Operation)})
		} else if step.Machine != "" && really(step.Start) < minute {
			atMachine = &steps[i]
			events = append(events, stopsSewn(plan, step, minute-late)...)
		}
	}
	if atMachine != nil {
		events = append(events,
			live.Event{Kind: live.HandUp, At: l.now.Add(-2 * time.Minute), StudentID: studentOf(plan, atMachine.Job),
				Reason: live.Break})
	}
	slices.SortStableFunc(events, func(a, b live.Event) int { return a.At.Compare(b.At) })
	for i := range events {
		e := &events[i]
		e.Seq = int64(i + 1)
		if err := l.shop.AddEvent(plan.Class.ID, *e, l.assessor); err != nil {
			return err
		}
		if o, known := live.Of(plan, events[:i+1]).Observed(e.StudentID); known && e.Kind == live.Done {
			if err := l.shop.Observe(e.Seq, o); err != nil {
				return err
			}
		}
	}
	return nil
}

// stopsSewn are the stops of a sewing that goes on which are sewn by a minute.
func stopsSewn(plan classday.Plan, step schedule.Assignment, minute float64) []live.Event {
	student, key := studentOf(plan, step.Job), pace.StepKey(step.Operation)
	m, _ := plan.Machine(step.Machine)
	stops, end := plan.SewnStops(student, key, m.ID), step.Start
	var events []live.Event
	for _, s := range stops[:max(0, len(stops)-1)] {
		if end += s.Minutes; end <= minute {
			events = append(events, live.Event{Kind: live.StopDone, At: plan.At(end), StudentID: student, Step: key, Stop: s.N})
		}
	}
	return events
}

func studentOf(plan classday.Plan, person string) int64 {
	_, place, _ := plan.Maker(person)
	return place.ID
}
