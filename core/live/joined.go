package live

import (
	"maps"
	"slices"
	"time"

	"chalkstep/core/classday"
	"chalkstep/core/say"
	"chalkstep/core/schedule"
)

// Joined is that somebody comes to a class that has begun, who was not on its roster: they are here,
// and sit at a machine after those who are planned there.
const Joined Kind = "joined"

var _ = declare(Joined, declaration{
	has:     Fields{Student: true, Machine: true},
	refused: say.T("They are in the class already, or no machine takes what they make."),
	said:    about("%s joined"),
	joins: func(s *State, e Event) bool {
		at, ok := s.newcomer(e)
		if !ok {
			return false
		}
		s.Standings = append(slices.Clip(s.Standings), at)
		slices.SortStableFunc(s.Standings, byName)
		s.tasks = numbered(s.Plan, s.Standings)
		return true
	},
})

// newcomer is somebody of the roster whom the plan does not have, with their steps at a machine.
func (s State) newcomer(e Event) (at Standing, ok bool) {
	person := classday.PersonID(e.StudentID)
	i := slices.IndexFunc(s.Plan.Problem.Jobs, func(job schedule.Job) bool { return job.ID == person })
	w, place, made := s.Plan.Maker(person)
	if i < 0 || !made || s.indexOf(e.StudentID) >= 0 {
		return at, false
	}
	at = Standing{StudentID: place.ID, Name: place.Name, Presence: Present, free: e.At}
	home, minute := classday.StationID(e.MachineID), s.minuteOf(e.At)-s.shift()
	for _, one := range s.Plan.Problem.Jobs[i].Operations {
		step := schedule.Assignment{Job: person, Operation: one.ID, Start: minute}
		length := 0.0
		switch {
		case one.Minutes != nil:
			length = *one.Minutes
		case len(one.On) > 0:
			step.Machine = home
			if _, can := one.On[home]; !can {
				made, known := w.Step(one.ID)
				if !known || made.InHoop() {
					return at, false
				}
				step.Machine = slices.Sorted(maps.Keys(one.On))[0]
			}
			length = one.On[step.Machine]
			step.Start = max(minute, s.plannedUntil(step.Machine))
		}
		step.Took = choose(one.TakeFor[home], nil)
		step.End = step.Start + length
		minute = step.End
		at.Steps = append(at.Steps, step)
	}
	at.inHoop, at.goesOn = inHoop(w, at.Steps), goesOn(w, at.Steps)
	return at, len(at.Steps) > 0
}

// plannedUntil is until when others are planned at a machine.
func (s State) plannedUntil(station string) float64 {
	until := 0.0
	for _, at := range s.Standings {
		for _, step := range at.Steps {
			if step.Machine == station {
				until = max(until, step.End)
			}
		}
	}
	return until
}

// PlaceFor is the machine at which somebody who joins is done first, with as few as possible late for
// it; ok is false where there is none.
func (s State) PlaceFor(studentID int64, now time.Time) (machineID int64, ok bool) {
	paces, best := s.Paces(now), 0.0
	for _, m := range s.Plan.Class.Machines {
		other := s.copied()
		if s.isOut(classday.StationID(m.ID)) ||
			!other.apply(Event{Kind: Joined, At: now, StudentID: studentID, MachineID: m.ID}) {
			continue
		}
		a := other.arranged(now, paces, nil)
		end, ends := a.forecast.Ends[studentID]
		if !ends {
			continue
		}
		if cost := a.cost + end.Sub(now).Minutes()/10; !ok || cost < best {
			machineID, best, ok = m.ID, cost, true
		}
	}
	return machineID, ok
}
