package planning

import (
	"chalkstep/core/classday"
	"chalkstep/web/ui"
)

// A dayList is the picture of a day as a list, for a phone: by machine and by person.
type dayList struct{ Machines, People []listed }

// A listed machine or person has what happens there or what they do, in order.
type listed struct {
	Name, Note string
	Lines      []listLine
}

type listLine struct {
	From, To, Text string
	// Wait tells that it is one, or what fills one.
	Wait bool
}

func newDayList(p ui.P, plan classday.Plan) dayList {
	var list dayList
	for _, m := range plan.Class.Machines {
		row := listed{Name: m.Name}
		for _, s := range plan.Sits(m.ID) {
			row.Lines = append(row.Lines, lineOf(p, plan, s.Start, s.End, s.Place.Name))
		}
		if len(row.Lines) > 0 {
			list.Machines = append(list.Machines, row)
		}
	}
	for _, place := range plan.Class.Places {
		w, _, ok := plan.Maker(classday.PersonID(place.ID))
		if !ok || !w.Planned() {
			continue
		}
		row := listed{Name: place.Name}
		if where, sits := sitting(p, plan, place, 1); sits {
			row.Note = where
		}
		waits := plan.WaitsOf(place.ID)
		for _, s := range plan.StepsOf(classday.PersonID(place.ID)) {
			for len(waits) > 0 && waits[0].End <= s.Start+0.01 {
				row.Lines = append(row.Lines, waitLines(p, plan, waits[0])...)
				waits = waits[1:]
			}
			step, _ := w.Step(s.Operation)
			text := p.Say(step.Title)
			if m, there := plan.Machine(s.Machine); there {
				text = m.Name + ": " + text
			}
			row.Lines = append(row.Lines, lineOf(p, plan, s.Start, s.End, text))
		}
		list.People = append(list.People, row)
	}
	return list
}

func lineOf(p ui.P, plan classday.Plan, from, to float64, text string) listLine {
	return listLine{From: p.Clock(plan.At(from)), To: p.Clock(plan.At(to)), Text: text}
}

// leastShown is how many minutes of waiting with nothing to do are a line of their own.
const leastShown = 1

// waitLines are a wait and what fills it, one after the other.
func waitLines(p ui.P, plan classday.Plan, wait classday.Wait) []listLine {
	var lines []listLine
	for _, part := range wait.Parts() {
		text := "waits " + p.Minutes(part.End-part.Start)
		if part.Practice != nil {
			text = p.Say(part.Practice.Title)
		} else if part.End-part.Start < leastShown {
			continue
		}
		line := lineOf(p, plan, part.Start, part.End, text)
		line.Wait = true
		lines = append(lines, line)
	}
	return lines
}
