package search

import (
	"slices"

	"chalkstep/core/schedule"
	"chalkstep/core/schedule/internal/placing"
)

// An arc of the critical path: a job's turn waits for another's.
type arc struct{ job, turn, waitsFor, waitsForTurn int }

// release is when a unit of a resource comes free, and by whose operation.
type release struct {
	at             schedule.Tick
	job, operation int
}

// longestPath of one path are enough to choose from.
const longestPath = 60

// findCriticalPath finds the links of the path that ends at the makespan of a schedule.
func (s *annealer) findCriticalPath(a *placing.Schedule) {
	s.critical = s.critical[:0]
	if s.Plain != nil {
		s.findPlainCriticalPath(a)
		return
	}
	for r := range s.freeing {
		s.freeing[r] = s.freeing[r][:0]
	}
	i := 0
	for p := range s.Jobs {
		j := &s.Jobs[p]
		for k := range j.Operations {
			if st := s.MachineAt(j, k, a.Option[p][k]); st >= 0 {
				s.freeing[st] = append(s.freeing[st], release{a.End[p][k], p, k})
			}
			for _, need := range j.Operations[k].Needs {
				s.freeing[need.Resource] = append(s.freeing[need.Resource], release{a.End[p][k], p, k})
			}
			if with := a.With[p][k]; with >= 0 {
				s.freeing[with] = append(s.freeing[with], release{a.End[p][k], p, k})
			}
		}
		for _, b := range j.Blocks {
			for _, h := range b.Holds {
				if r := j.Held(h, a.Option[p]); r >= s.Machines {
					s.freeing[r] = append(s.freeing[r], release{a.End[p][h.To], p, h.To})
				}
			}
		}
		if last := len(j.Operations) - 1; last >= 0 && a.End[p][last] == a.Makespan {
			i = p
		}
	}
	k := len(s.Jobs[i].Operations) - 1
	for len(s.critical) < longestPath && k >= 0 {
		j := &s.Jobs[i]
		if k > 0 && a.End[i][k-1] == a.Start[i][k] {
			k--
			continue
		}
		other, step, found := s.freedFor(a, i, k)
		// What is put off for a later operation of its block waits for what that waits for.
		for m := k + 1; !found && m < len(j.Operations) && a.Start[i][m] == a.End[i][m-1]; m++ {
			other, step, found = s.freedFor(a, i, m)
		}
		if !found {
			return
		}
		s.critical = append(s.critical, arc{i, j.TurnOf(k), other, s.Jobs[other].TurnOf(step)})
		i, k = other, step
	}
}

// freedFor finds whose operation gives back what an operation takes when it begins.
func (s *annealer) freedFor(a *placing.Schedule, i, k int) (job, step int, found bool) {
	j := &s.Jobs[i]
	look := func(r int) bool {
		for _, f := range s.freeing[r] {
			if f.at == a.Start[i][k] && f.job != i {
				job, step = f.job, f.operation
				return true
			}
		}
		return false
	}
	if st := s.MachineAt(j, k, a.Option[i][k]); st >= 0 && look(st) {
		return job, step, true
	}
	for _, need := range j.Operations[k].Needs {
		if look(need.Resource) {
			return job, step, true
		}
	}
	if with := a.With[i][k]; with >= 0 && look(with) {
		return job, step, true
	}
	for _, b := range j.Blocks {
		if k < b.From || k >= b.To {
			continue
		}
		for _, h := range b.Holds {
			if r := j.Held(h, a.Option[i]); h.From == k && r >= s.Machines && look(r) {
				return job, step, true
			}
		}
	}
	return 0, 0, false
}

// moveOnCriticalPath moves a turn of the critical path before the one it waits for, or that one
// behind it; it is false where there is none.
func (s *annealer) moveOnCriticalPath() bool {
	l, found := s.criticalArc()
	if !found {
		return false
	}
	mine, other := s.positionOf(l.job, l.turn), s.positionOf(l.waitsFor, l.waitsForTurn)
	if mine < 0 && other >= 0 && s.positionOf(l.job, l.turn-1) >= 0 { // deferred, and the next that is
		s.tryOrder = slices.Insert(s.tryOrder, other, l.job)
		return true
	}
	if mine < 0 || other < 0 || mine < other {
		return false
	}
	if s.rng.IntN(2) == 0 {
		copy(s.tryOrder[other+1:mine+1], s.tryOrder[other:mine])
		s.tryOrder[other] = l.job
	} else {
		copy(s.tryOrder[other:mine], s.tryOrder[other+1:mine+1])
		s.tryOrder[mine] = l.waitsFor
	}
	return true
}

// criticalArc is any link of the critical path of now, where there is one.
func (s *annealer) criticalArc() (l arc, found bool) {
	if !s.criticalKnown {
		s.criticalKnown = true
		s.findCriticalPath(s.now)
	}
	if len(s.critical) == 0 {
		return arc{}, false
	}
	return s.critical[s.rng.IntN(len(s.critical))], true
}
