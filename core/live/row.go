package live

import (
	"slices"
	"time"

	"chalkstep/core/classday"
	"chalkstep/core/pace"
	"chalkstep/core/say"
	"chalkstep/core/schedule"
)

// RowDone stands for that a student is done with all that follows at the bench: "hooped and ready".
const RowDone Kind = "row-done"

var _ = declare(RowDone, declaration{
	has: Fields{Student: true, Step: true}, phone: OwnPhone,
	refused: notTheirs,
	stands: func(s State, e Event) []Event {
		at, there := s.Standing(e.StudentID)
		if !there || !at.isAt(e.Step) || !at.Begun {
			return nil
		}
		return s.rowDone(at, e)
	},
})

// Row is what somebody does at the bench from the step that comes up to the next machine, or up to what
// is done with the instructor: one press says that all of it is done. It is that step alone where there is
// no bench, and nothing when all are done.
func (s Standing) Row() []schedule.Assignment {
	end := min(s.Next+1, len(s.Steps))
	for s.Next < end && s.Steps[s.Next].Machine == "" && end < len(s.Steps) && s.goesOn[end] {
		end++
	}
	return s.Steps[s.Next:end]
}

// goesOn tells of each step whether it follows at the bench on what is done there before.
func goesOn(w classday.Work, steps []schedule.Assignment) []bool {
	does := make([]bool, len(steps))
	together := func(step schedule.Assignment) bool {
		made, known := w.Step(step.Operation)
		return step.Machine == "" && !(known && made.Instructor)
	}
	for k := 1; k < len(steps); k++ {
		does[k] = together(steps[k-1]) && together(steps[k])
	}
	return does
}

// RowNow is as much of a row as can be done by a moment: it ends before a hoop that is not there, or that
// somebody else takes first.
func (s State) RowNow(at Standing, now time.Time) []schedule.Assignment {
	row := at.Row()
	if !slices.ContainsFunc(row[min(1, len(row)):], func(step schedule.Assignment) bool { return len(step.Took) > 0 }) {
		return row
	}
	g := s.newPlay(now, nil)
	j := slices.IndexFunc(g.jobs, func(one playing) bool { return s.Standings[one.index].StudentID == at.StudentID })
	if j < 0 {
		return row
	}
	one := &g.jobs[j]
	one.active = false
	for k := 1; k < len(row); k++ {
		one.next = k
		if !g.mayTake(j, g.now) {
			return row[:k]
		}
		for _, r := range one.turns[k].takes {
			g.free[r]--
		}
	}
	return row
}

// RowLeft is how many minutes of a row are left: as planned from when it was begun, or to when it was to end
// where it waits for something in between. It is less than none where it takes longer.
func (s State) RowLeft(at Standing, now time.Time) float64 {
	row := at.Row()
	left := at.remaining(now)
	if len(row) < 2 {
		return left
	}
	for _, step := range row[1:] {
		left += step.End - step.Start
	}
	return max(left, row[len(row)-1].End+s.shift()-s.minuteOf(now))
}

// rowDone are the presses that a row stands for: of the time it took, each step has its share of what was
// planned.
func (s State) rowDone(at Standing, e Event) []Event {
	row := s.RowNow(at, e.At)
	planned := 0.0
	for _, step := range row {
		planned += step.End - step.Start
	}
	took := max(0, e.At.Sub(at.Since))
	var all []Event
	gone := 0.0
	for k, step := range row {
		one := Event{Kind: Done, At: e.At, NotedAt: e.NotedAt, StudentID: at.StudentID, Step: pace.StepKey(step.Operation),
			Sender: e.Sender, StationID: e.StationID, By: e.By}
		if gone += step.End - step.Start; k+1 < len(row) && planned > 0 && took > 0 {
			one.At = at.Since.Add(time.Duration(float64(took) * gone / planned))
		}
		all = append(all, one)
	}
	return all
}

// RowText is what somebody says who is done with a row that ends with a step.
func RowText(last pace.StepKey) say.Text {
	base, _ := last.Base()
	if text, has := rowTexts[base]; has {
		return text
	}
	return say.T("Done")
}

var rowTexts = map[pace.StepKey]say.Text{
	pace.StepStabilise: say.T("Ready to hoop"), pace.StepMark: say.T("Marked"),
	pace.StepHoop: say.T("Hooped and ready"), pace.StepUnhoop: say.T("Out of the hoop"),
	pace.StepCleanUp: say.T("Cleaned up"),
	pace.StepPress:   say.T("Ready to show"), pace.StepSignOff: say.T("Looked at together"),
}
