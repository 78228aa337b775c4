package live

import (
	"chalkstep/core/pace"
	"chalkstep/core/say"
)

// AllDone stands for that everybody at the benches is done with the step they are at.
const AllDone Kind = "all-done"

var _ = declare(AllDone, declaration{
	refused: say.T("Nobody is at anything at the benches."),
	stands: func(s State, e Event) []Event {
		var all []Event
		for _, at := range s.Standings {
			step, more := at.Step()
			one := Event{Kind: Done, At: e.At, NotedAt: e.NotedAt, StudentID: at.StudentID, Step: pace.StepKey(step.Operation),
				By: e.By}
			if more && at.Begun && step.Machine == "" && s.Accepts(one) {
				all = append(all, one)
			}
		}
		return all
	},
})
