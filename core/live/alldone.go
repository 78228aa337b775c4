package live

import (
	"chalkstep/core/pace"
	"chalkstep/core/say"
)

// AllDone stands for that everybody at the benches is done with all that follows there.
const AllDone Kind = "all-done"

var _ = declare(AllDone, declaration{
	refused: say.T("Nobody is at anything at the benches."),
	stands: func(s State, e Event) []Event {
		var all []Event
		then := s.copied()
		for _, at := range s.Standings { // as they stand now: who begins by it is not done
			step, more := at.Step()
			if !more || !at.Begun || at.Presence != Present || step.Machine != "" {
				continue
			}
			one := Event{At: e.At, NotedAt: e.NotedAt, StudentID: at.StudentID, Step: pace.StepKey(step.Operation), By: e.By}
			for _, done := range then.rowDone(at, one) {
				if !then.apply(done) {
					return nil
				}
				all = append(all, done)
			}
		}
		return all
	},
})
