package classday

import (
	"chalkstep/core/design"
	"chalkstep/core/fleet"
	"chalkstep/core/pace"
	"chalkstep/core/say"
	"chalkstep/core/schedule"
	"chalkstep/core/stitch"
)

// A part of a sewing ends where pieces are trimmed off the machine, or at the last
// stop: stops from … to−1, and what is then trimmed, in minutes of somebody practised.
type part struct {
	from, to    int
	trimMinutes float64
}

// trimCaution stands where pieces are trimmed.
const trimCaution = say.Word(
	"Scissors only with the hoop off and flat on the table, points away from the hand that holds it.")

// parts are those of a hooping of a work, from 0: one, where the house keeps the
// machine while pieces are trimmed, or where none are.
func (d Day) parts(w Work, hooping int) []part {
	stops, figures := w.Pacing(hooping), w.Rules(d.Rules).Timing()
	if !d.Rules.House.ReleasesMachine() {
		return []part{{0, len(stops), 0}}
	}
	var all []part
	from := 0
	for i, s := range stops {
		trimmed := s.Trimmed
		if s.Role == stitch.TackDown {
			trimmed += max(1, s.Pieces)
		}
		if minutes := figures.TrimMinutes * float64(trimmed); minutes > 0 && i+1 < len(stops) {
			all, from = append(all, part{from, i + 1, minutes}), i+1
		}
	}
	return append(all, part{from, len(stops), 0})
}

// sewSteps are the sewing of a hooping as the planner has it: the machine is free while
// pieces are trimmed, and whoever trims goes back to it.
func (d Day) sewSteps(w Work, hooping int, hand float64, machines []fleet.Machine) []schedule.Operation {
	stops, figures, parts := w.Pacing(hooping), w.Rules(d.Rules).Timing(), d.parts(w, hooping)
	if len(parts) > 1 {
		figures.TrimMinutes = 0 // that is a step of its own
	}
	sew, trim := pace.StepSew.In(hooping+1), pace.StepTrim.In(hooping+1)
	var steps []schedule.Operation
	for n, part := range parts {
		step := schedule.Operation{ID: string(sew.Part(n + 1)), On: map[string]float64{}, SameMachine: n > 0}
		for _, s := range stops[part.from:part.to] {
			step.Breaks += figures.BreaksPer10000 * float64(s.Stitches) / 10_000
		}
		for _, m := range machines {
			minutes := figures.StitchOut(m.Pacing(), stops[:part.to], hand).Total
			if n > 0 {
				minutes -= figures.StitchOut(m.Pacing(), stops[:part.from], hand).Total
			}
			step.On[StationID(m.ID)] = tenth(minutes * d.learned(w, hooping, m))
		}
		steps = append(steps, step)
		if part.trimMinutes == 0 || n+1 == len(parts) {
			continue
		}
		off := schedule.Operation{ID: string(trim.Part(n + 1)), Minutes: schedule.Minutes(tenth(part.trimMinutes * hand))}
		if d.Class.Benches > 0 {
			off.Needs = with(off.Needs, Bench)
		}
		steps = append(steps, off)
	}
	return steps
}

// learned is by how much longer than said a hooping of a work is sewn at a machine.
func (d Day) learned(w Work, hooping int, m fleet.Machine) float64 {
	return d.Rules.Learned.Of(pace.StepSew, 0, m.ID, w.Sewing[hooping].Design.ID)
}

// partOf is the part of a sewing that a step of the plan is.
func (p Plan) partOf(w Work, key pace.StepKey) part {
	parts := p.parts(w, key.Hooping()-1)
	return parts[min(key.PartN(), len(parts))-1]
}

// partStep is a step that the plan has and the project has not: the later part of a
// sewing, or what is trimmed before it.
func (w Work) partStep(key pace.StepKey) (pace.Step, bool) {
	n := key.PartN()
	switch {
	case key.Is(pace.StepTrim):
		title := say.T("Hoop off: trim the piece flat on the table")
		if n > 1 {
			title = say.T("Hoop off: trim piece %s flat on the table", say.Count(n))
		}
		return pace.Step{Key: key, Title: title, Where: pace.Bench, Cautions: []say.Text{say.T("%s", trimCaution)}}, true
	case key.Is(pace.StepSew) && n > 1:
		whole, ok := w.Step(string(pace.StepSew.In(key.Hooping())))
		whole.Key, whole.Title = key, say.T("Hoop on again: sew on, part %s", say.Count(n))
		return whole, ok
	}
	return pace.Step{}, false
}

// SewnBy is the design that a student sews in the hooping of a step.
func (p Plan) SewnBy(studentID int64, key pace.StepKey) (design.Design, bool) {
	w, _, ok := p.Maker(PersonID(studentID))
	if !ok || key.Hooping() > len(w.Sewing) {
		return design.Design{}, false
	}
	return w.Sewing[key.Hooping()-1].Design, true
}

// A SewnStop is a stop of a sewing: its number in the design, from 1, and how long it
// takes somebody at a machine, with the change before it and what is laid or trimmed.
type SewnStop struct {
	N       int
	Minutes float64
}

// SewnStops are those that a student sews in a step of the plan at a machine; none where
// the step is no sewing.
func (p Plan) SewnStops(studentID int64, key pace.StepKey, machineID int64) []SewnStop {
	w, place, ok := p.Maker(PersonID(studentID))
	m, there := p.Machine(StationID(machineID))
	if !ok || !there || !key.Is(pace.StepSew) || key.Hooping() > len(w.Sewing) {
		return nil
	}
	stops, figures, part := w.Pacing(key.Hooping()-1), w.Rules(p.Rules).Timing(), p.partOf(w, key)
	if part.trimMinutes > 0 || part.from > 0 {
		figures.TrimMinutes = 0 // a step of its own
	}
	hand, before := Hand(place.Student, figures), 0.0
	if part.from > 0 {
		before = figures.StitchOut(m.Pacing(), stops[:part.from], hand).Total
	}
	var sewn []SewnStop
	for n := part.from + 1; n <= part.to; n++ {
		total := figures.StitchOut(m.Pacing(), stops[:n], hand).Total
		sewn = append(sewn, SewnStop{N: n, Minutes: (total - before) * p.learned(w, key.Hooping()-1, m)})
		before = total
	}
	return sewn
}
