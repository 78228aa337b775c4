package live

import (
	"time"

	"chalkstep/core/classday"
	"chalkstep/core/say"
)

// Failed is that a machine is out of order. Whoever sews there goes on elsewhere, or when it works.
const Failed Kind = "failed"

var _ = declare(Failed, declaration{
	has: Fields{Machine: true}, phone: MachinePhone,
	refused: notedBefore,
	said:    ofMachine("%s went out of order"),
	offered: Choice{At: 7, Text: say.T("a machine is out of order"), Asks: "machine at"},
	ofClass: func(s *State, e Event) bool {
		station := classday.StationID(e.MachineID)
		if _, there := s.Plan.Machine(station); !there || s.isOut(station) {
			return false
		}
		s.Out[station] = e.At
		for i := range s.Standings {
			if at := &s.Standings[i]; at.Presence == Present && at.has(s.Plan.Problem, station) {
				at.interrupt()
			}
		}
		s.begin(e.At)
		return true
	},
	follows: func(s State, now time.Time) []Event { return s.seatElsewhere(now) },
})

// seatElsewhere seats those who were to sit at a machine that is out of order where the plan of
// what is left has them.
func (s State) seatElsewhere(now time.Time) []Event {
	f, err := s.Forecast(now)
	if err != nil {
		return nil // nobody can go on, and the board says so
	}
	var all []Event
	then := s.copied()
	for _, at := range s.Stranded() {
		e := Event{Kind: Seated, At: now, StudentID: at.StudentID}
		for _, placed := range f.Result.Assignments {
			m, there := s.Plan.Machine(placed.Machine)
			if there && placed.Job == classday.PersonID(at.StudentID) && placed.Operation != Stay {
				e.MachineID = m.ID
				break
			}
		}
		if e.MachineID != 0 && at.Presence == Present && then.apply(e) {
			all = append(all, e)
		}
	}
	return all
}
