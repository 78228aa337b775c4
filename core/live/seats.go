package live

import (
	"slices"

	"chalkstep/core/classday"
	"chalkstep/core/pace"
	"chalkstep/core/schedule"
)

// seat has somebody sit at a machine with the hooping that comes, or go on there with the
// one they are at: they take their hoop along.
func (s *State) seat(at *Standing, e Event) bool {
	station := classday.StationID(e.MachineID)
	first, end, ok := at.sitting()
	if !ok || s.isOut(station) || at.Presence == Left {
		return false
	}
	came := at.Presence == Awaited
	if at.Steps[first].Machine != station {
		minutes, may := s.minutesAt(*at, first, end, station)
		if !may {
			return false
		}
		at.interrupt()
		steps := slices.Clone(at.Steps)
		for k := first; k < end; k++ {
			if !at.inHoop[k] {
				continue
			}
			steps[k].Machine = station
			if k >= at.Next {
				steps[k].End = steps[k].Start + minutes[k-first]
			}
		}
		if k := at.takes(s.Plan.Problem, first); k >= at.Next {
			if one, found := planned(s.Plan.Problem, at.StudentID, steps[k].Operation); found {
				steps[k].Took = choose(one.TakeFor[station], steps[k].Took)
			}
		}
		at.Steps, at.moved = steps, true
	} else if !came {
		return false
	}
	if came {
		at.Presence, at.free, at.Begun = Present, e.At, false
	}
	return true
}

// interrupt has somebody stop what they do at a machine: they go on with it later, and how
// long it took is not known then.
func (s *Standing) interrupt() {
	if step, more := s.Step(); more && step.Machine != "" && s.Begun {
		s.Begun, s.resumed = false, true
	}
}

// inHoop tells of each step whether it is done at the machine in which one's hoop is: to
// load and to sew, and whatever is done there in between, as a basting box.
func inHoop(w classday.Work, steps []schedule.Assignment) []bool {
	is := make([]bool, len(steps))
	for k, step := range steps {
		made, known := w.Step(step.Operation)
		is[k] = known && made.InHoop() && step.Machine != ""
	}
	return is
}

// sitting is the stretch of steps with one hooping at a machine, from first to before end:
// the one somebody is in the middle of, or the next.
func (s Standing) sitting() (first, end int, ok bool) {
	hooping := 0
	for k := s.Next; k < len(s.Steps) && hooping == 0; k++ {
		if s.inHoop[k] {
			hooping = pace.StepKey(s.Steps[k].Operation).Hooping()
		}
	}
	for k, step := range s.Steps {
		if !s.inHoop[k] || pace.StepKey(step.Operation).Hooping() != hooping {
			continue
		}
		if !ok {
			first, ok = k, true
		}
		end = k + 1
	}
	return first, end, ok
}

// minutesAt is how long the steps of a sitting take at a machine; may is false where it
// cannot take them, or not the hoop that somebody has.
func (s State) minutesAt(at Standing, first, end int, station string) (minutes []float64, may bool) {
	if !at.hoopGoesOn(s.Plan.Problem, at.hoops(s.Plan.Problem), station) {
		return nil, false
	}
	for k, step := range at.Steps[first:end] {
		one, found := planned(s.Plan.Problem, at.StudentID, step.Operation)
		length, can := one.On[station]
		if at.inHoop[first+k] && (!found || !can) {
			return nil, false
		}
		minutes = append(minutes, length)
	}
	return minutes, true
}

// takes is the step in which somebody takes the hoop of a sitting, −1 for none.
func (s Standing) takes(p schedule.Problem, first int) int {
	hooping := pace.StepKey(s.Steps[first].Operation).Hooping()
	for k := first; k >= 0; k-- {
		if one, found := planned(p, s.StudentID, s.Steps[k].Operation); found && len(one.TakeFor) > 0 &&
			pace.StepKey(one.ID).Hooping() == hooping {
			return k
		}
	}
	return -1
}

// choose keeps a hoop that goes on a machine, or takes the first that does.
func choose(from schedule.Choice, took []string) []string {
	if len(from) == 0 || len(took) > 0 && slices.Contains(from, took[0]) {
		return took
	}
	return []string{from[0]}
}

// MayBeSeated lists the machines at which somebody could sit instead with what comes
// next, in the order of the plan.
func (s State) MayBeSeated(at Standing) []int64 {
	first, end, ok := at.sitting()
	if !ok || at.Presence == Left {
		return nil
	}
	var may []int64
	for _, m := range s.Plan.Class.Machines {
		station := classday.StationID(m.ID)
		if s.isOut(station) || at.Steps[first].Machine == station {
			continue
		}
		if _, can := s.minutesAt(at, first, end, station); can {
			may = append(may, m.ID)
		}
	}
	return may
}

// Stranded are those whose next sitting is at a machine that is out of order.
func (s State) Stranded() []Standing {
	var all []Standing
	for _, at := range s.Standings {
		first, _, ok := at.sitting()
		if !ok || at.Presence == Left {
			continue
		}
		if s.isOut(at.Steps[first].Machine) {
			all = append(all, at)
		}
	}
	return all
}

// MachineOf is the machine at which somebody sits, or is to sit next.
func (s State) MachineOf(studentID int64) (machineID int64, ok bool) {
	at, there := s.Standing(studentID)
	if !there {
		return 0, false
	}
	first, _, sits := at.sitting()
	if !sits {
		return 0, false
	}
	m, known := s.Plan.Machine(at.Steps[first].Machine)
	return m.ID, known
}

// hoopGoesOn tells whether the hoops somebody took for a machine were for one that they
// go on.
func (at Standing) hoopGoesOn(p schedule.Problem, hoops []string, station string) bool {
	for _, step := range at.Steps[:at.Next] {
		one, ok := planned(p, at.StudentID, step.Operation)
		for _, pool := range step.Took {
			if ok && slices.Contains(hoops, pool) && len(one.TakeFor) > 0 && !slices.Contains(one.TakeFor[station], pool) {
				return false
			}
		}
	}
	return true
}

// PassedOver are those whose turn at a machine came before that of who has it: they were not ready, and
// come after.
func (s State) PassedOver(station string) []Standing {
	there, taken := s.At(station)
	if !taken {
		return nil
	}
	mine, sits := there.turnAt(station)
	var all []Standing
	for _, at := range s.Standings {
		if at.StudentID == there.StudentID || at.Presence == Left || at.Finished() || !sits {
			continue
		}
		if turn, waits := at.turnAt(station); waits && turn < mine {
			all = append(all, at)
		}
	}
	return all
}

// turnAt is when by the plan the sitting was to begin that somebody is in, or that comes next, if it is
// at a machine.
func (s Standing) turnAt(station string) (minute float64, ok bool) {
	first, end, sits := s.sitting()
	if !sits || end <= s.Next || s.Steps[first].Machine != station {
		return 0, false
	}
	return s.Steps[first].Start, true
}
