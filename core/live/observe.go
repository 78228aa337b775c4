package live

import (
	"chalkstep/core/classday"
	"chalkstep/core/pace"
)

// Observed is how long the step took that somebody did last; ok is false where that is not
// known, or where they did none.
func (s State) Observed(studentID int64) (o pace.Observation, ok bool) {
	at, there := s.Standing(studentID)
	w, place, made := s.Plan.Maker(classday.PersonID(studentID))
	if !there || !made || at.Next == 0 || !at.Real[at.Next-1].Timed() {
		return o, false
	}
	placed, real := at.Steps[at.Next-1], at.Real[at.Next-1]
	key := pace.StepKey(placed.Operation)
	base, hooping := key.Base()
	// Whoever needs the instructor or the iron may have waited for it.
	if step, known := w.Step(placed.Operation); !known || step.Iron ||
		classday.WithInstructor(s.Plan.Rules.Ladder, step, place.Signed()) {
		return o, false
	}
	o = pace.Observation{
		ClassID: s.Plan.Class.ID, Class: s.Plan.Class.Name, At: real.Ended, Step: base, StudentID: studentID,
		PlannedMinutes: placed.End - placed.Start, TookMinutes: real.Ended.Sub(real.Begun).Minutes(),
	}
	if m, seated := s.Plan.Machine(placed.Machine); seated {
		o.MachineID = m.ID
	}
	if base == pace.StepSew && hooping <= len(w.Sewing) {
		o.DesignID = w.Sewing[hooping-1].Design.ID
		stops := w.Pacing(hooping - 1)
		for _, stop := range s.Plan.SewnStops(studentID, key, o.MachineID) {
			o.Stitches += stops[stop.N-1].Stitches
		}
		for _, c := range s.Calls {
			if c.StudentID == studentID && c.Reason == Break && !c.Since.Before(real.Begun) && c.Since.Before(real.Ended) {
				o.Breaks++
			}
		}
	}
	o.SaidMinutes = o.PlannedMinutes / s.Plan.Rules.Learned.Of(o.Step, studentID, o.MachineID, o.DesignID)
	return o, true
}
