package live

import (
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

// RowLeft is how many minutes of a row are left as planned, less than none where it takes longer.
func (s Standing) RowLeft(now time.Time) float64 {
	left := s.remaining(now)
	for _, step := range s.Row()[min(1, len(s.Row())):] {
		left += step.End - step.Start
	}
	return left
}

// rowDone are the presses that a row stands for: of the time it took, each step has its share of what was
// planned. A hoop that somebody else has ends the row before it.
func (s State) rowDone(at Standing, e Event) []Event {
	row := at.Row()
	g := s.newPlay(e.At, nil)
	planned := 0.0
	for k, step := range row {
		for _, pool := range step.Took {
			if r := resourceOf(s.Plan.Problem, pool); r >= 0 && k > 0 {
				g.free[r]--
				if g.free[r] < 0 {
					row = row[:k]
				}
			}
		}
		if k == len(row) {
			break
		}
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
	pace.StepHoop: say.T("Hooped and ready"), pace.StepUnhoop: say.T("Out of the hoop"), pace.StepCleanUp: say.T("Cleaned up"),
	pace.StepPress: say.T("Pressed"), pace.StepSignOff: say.T("Looked at together"),
}
