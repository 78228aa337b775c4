package live

// AllHere stands for that everybody came who is not said to be late.
const AllHere Kind = "all-here"

var _ = declare(AllHere, declaration{
	refused: notedBefore,
	stands: func(s State, e Event) []Event {
		var all []Event
		for _, at := range s.Standings {
			one := Event{Kind: Here, At: e.At, NotedAt: e.NotedAt, StudentID: at.StudentID, By: e.By}
			if at.Presence == Awaited && !at.Expected.After(e.At) && s.Accepts(one) {
				all = append(all, one)
			}
		}
		return all
	},
})
