package search

import (
	"chalkstep/core/schedule"
	"chalkstep/core/schedule/internal/instance"
	"chalkstep/core/schedule/internal/placing"
)

// findPlainCriticalPath finds the links of the path that ends at the makespan of a schedule.
func (s *annealer) findPlainCriticalPath(a *placing.Schedule) {
	i := 0
	for job, done := range a.Done {
		if done == a.Makespan {
			i = job
		}
	}
	at := s.Plain.First[i] + len(s.Jobs[i].Turns) - 1
	for len(s.critical) < longestPath && at >= s.Plain.First[i] {
		waits := int(a.PlainTurns[at].Waits)
		if waits == placing.WaitsForGap {
			waits = s.gapBefore(a, at)
		}
		if waits == placing.WaitsForItself {
			at--
			continue
		}
		other := s.Plain.Person[waits-1]
		if other != i {
			s.critical = append(s.critical, arc{i, at - s.Plain.First[i], other, waits - 1 - s.Plain.First[other]})
		}
		i, at = other, waits-1
	}
}

// gapBefore is whose end begins the gap in which a turn is placed, as waits tells of it.
func (s *annealer) gapBefore(a *placing.Schedule, turn int) int {
	begins := s.takenAt(a, turn)
	for _, mine := range s.wayOf(a, turn).InGaps() {
		for other := range s.Plain.Turns {
			if other == turn {
				continue
			}
			for _, its := range s.wayOf(a, other).InGaps() {
				if its.Resource == mine.Resource && s.takenAt(a, other)+its.To == begins+mine.From {
					return other + 1
				}
			}
		}
	}
	return placing.WaitsForItself
}

// wayOf is the way in which a turn is placed, takenAt what it takes is counted from.
func (s *annealer) wayOf(a *placing.Schedule, turn int) *instance.Way {
	return &s.Plain.Turns[turn].Ways[a.PlainTurns[turn].Way]
}

func (s *annealer) takenAt(a *placing.Schedule, turn int) schedule.Tick {
	return a.PlainTurns[turn].Begins + s.wayOf(a, turn).Before
}
