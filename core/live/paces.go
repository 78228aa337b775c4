package live

import (
	"math"
	"time"
)

// Paces are how much longer than planned everybody takes today.
type Paces map[int64]float64

// Of is somebody's, 1 where nothing is known.
func (p Paces) Of(studentID int64) float64 {
	if pace, known := p[studentID]; known {
		return pace
	}
	return 1
}

// How paces vary, as standard deviations of their logarithm: the room's from the plan, somebody's
// from the room's, and a step's from its maker's. Figures of ours: with few steps done a pace is
// close to the plan, and one odd step turns nothing over.
const (
	roomSpread = 0.15
	handSpread = 0.18
	stepSpread = 0.15
	// mostOdd is what a single step says at most.
	mostOdd = 0.55
	// shortStep is in minutes: what takes less says less.
	shortStep = 4
)

// seen is what a step says of a pace.
type seen struct{ log, weight float64 }

// Paces are learned from the steps that are done, and from those that take longer than they were to.
func (s State) Paces(now time.Time) Paces {
	all := make([][]seen, len(s.Standings))
	for i, at := range s.Standings {
		for k, real := range at.Real {
			if real.Timed() {
				all[i] = append(all[i], said(at.Steps[k].End-at.Steps[k].Start, real.Ended.Sub(real.Begun).Minutes())...)
			}
		}
		all[i] = append(all[i], at.stopsSaid()...)
	}
	room, hands := shrunk(all)
	for i, at := range s.Standings { // what takes long already takes at least so long
		if at.Finished() || !at.Begun || at.Presence != Present || len(at.Stops) > 0 {
			continue
		}
		took := now.Sub(at.Since).Minutes()
		planned := took + s.RowLeft(at, now)
		if planned > 0 && math.Log(took/planned) > room+hands[i] {
			all[i] = append(all[i], said(planned, took)...)
		}
	}
	room, hands = shrunk(all)
	paces := Paces{}
	for i, at := range s.Standings {
		paces[at.StudentID] = math.Exp(room + hands[i])
	}
	return paces
}

// stopsSaid is what the stops say that are sewn of a sewing somebody is at.
func (s Standing) stopsSaid() []seen {
	if s.Stop == 0 || !s.Begun || s.resumed {
		return nil
	}
	planned := 0.0
	for _, stop := range s.Stops[:min(s.Stop, len(s.Stops))] {
		planned += stop.Minutes
	}
	return said(planned, s.StopSince.Sub(s.Since).Minutes())
}

func said(planned, took float64) []seen {
	if planned <= 0 || took <= 0 {
		return nil
	}
	return []seen{{min(mostOdd, max(-mostOdd, math.Log(took/planned))), min(1, planned/shortStep)}}
}

// shrunk are the room's pace and everybody's beside it, as logarithms: means that are pulled towards
// the plan as long as little is known (the posterior mean of normal paces, found by turns).
func shrunk(all [][]seen) (room float64, hands []float64) {
	hands = make([]float64, len(all))
	const step, hand, ofRoom = stepSpread * stepSpread, handSpread * handSpread, roomSpread * roomSpread
	for range 20 {
		sum, n := 0.0, step/ofRoom
		for i, one := range all {
			for _, x := range one {
				sum, n = sum+x.weight*(x.log-hands[i]), n+x.weight
			}
		}
		room = sum / n
		for i, one := range all {
			sum, n := 0.0, step/hand
			for _, x := range one {
				sum, n = sum+x.weight*(x.log-room), n+x.weight
			}
			hands[i] = sum / n
		}
	}
	return room, hands
}
