package classday

import (
	"math"

	"chalkstep/core/pace"
	"chalkstep/core/say"
)

// An Arrival is somebody who need not come when the class begins.
type Arrival struct {
	StudentID int64
	Name      string
	// Minutes after the beginning of the class.
	Minutes int
}

// A wait of so many minutes before somebody's first hooping is a reason to come
// later (handbook, Waiting); arrivals are told to five minutes.
const (
	longWaitMinutes = 30
	arrivalStep     = 5
)

// Arrivals are who need not come when the class begins: what they do before they wait
// is done just before they hoop, and so is what fills the wait. A class that is planned
// with them ends as it would, or is planned otherwise.
func (p Plan) Arrivals() []Arrival {
	var all []Arrival
	for _, place := range p.Class.Places {
		if place.Attendance != Expected {
			continue
		}
		hoops := p.hoopsAt(place.ID)
		idle := 0.0
		for _, wait := range p.WaitsOf(place.ID) {
			if wait.End <= hoops { // what is hooped waits for its machine, not at home
				idle += wait.Unfilled()
			}
		}
		if idle < longWaitMinutes {
			continue
		}
		at := float64(p.Class.OpeningMinutes) + idle
		if minutes := int(math.Floor(at/arrivalStep)) * arrivalStep; minutes > 0 {
			all = append(all, Arrival{place.ID, place.Name, minutes})
		}
	}
	return all
}

// hoopsAt is when somebody begins to hoop, or sits down before it.
func (p Plan) hoopsAt(studentID int64) float64 {
	for _, s := range p.StepsOf(PersonID(studentID)) {
		if pace.StepKey(s.Operation) == pace.StepHoop || s.Machine != "" {
			return s.Start
		}
	}
	return 0
}

// arrivalsLever lets those come later who would only wait; it is none where there
// are none.
func (p Plan) arrivalsLever() (Lever, bool) {
	arrivals := p.Arrivals()
	if len(arrivals) == 0 {
		return Lever{}, false
	}
	var names say.List
	for _, a := range arrivals {
		names = append(names, say.T("%s at %s", a.Name, say.Clock(p.At(float64(a.Minutes)))))
	}
	return Lever{
		Key: leverKey(LeverArrivals, 1), Adopts: true, Waits: true, Name: say.T("some come later: %s", names),
		Cost: say.T("they have to know"),
		class: func(c Class) Class {
			c.Places = append([]Place(nil), c.Places...)
			for i := range c.Places {
				for _, a := range arrivals {
					if c.Places[i].ID == a.StudentID {
						c.Places[i].Attendance, c.Places[i].LateMinutes = Late, a.Minutes
					}
				}
			}
			return c
		},
	}, true
}
