package live

import (
	"chalkstep/core/classday"
	"chalkstep/core/pace"
	"chalkstep/core/supply"
)

// Sewn is what was sewn of each thread in the sewings that are done: the path on the face
// and the ends. What was really used of it only the shelf knows.
func (s State) Sewn() map[supply.Key]pace.Drawn {
	sewn := map[supply.Key]pace.Drawn{}
	for _, at := range s.Standings {
		w, _, made := s.Plan.Maker(classday.PersonID(at.StudentID))
		if !made {
			continue
		}
		for k, step := range at.Steps[:at.Next] {
			key := pace.StepKey(step.Operation)
			m, seated := s.Plan.Machine(step.Machine)
			_, hooping := key.Base()
			if at.Real[k].Skipped || !seated || !key.Is(pace.StepSew) || hooping > len(w.Sewing) {
				continue
			}
			threads, stops := w.Threads(hooping-1, s.Plan.Rules), w.Sewing[hooping-1].Design.Sewn()
			for _, stop := range s.Plan.SewnStops(at.StudentID, key, m.ID) {
				one := stops[stop.N-1]
				sewn[threads[stop.N-1]] = sewn[threads[stop.N-1]].And(pace.Drawn{PathMM: one.ThreadMM, Ends: one.Trims + 1})
			}
		}
	}
	return sewn
}
