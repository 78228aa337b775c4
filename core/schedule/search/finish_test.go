package search_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"chalkstep/core/schedule"
)

// Signing off is seldom what holds a day up, and most plans leave it for when the
// instructor has nothing else to do. Ana has a long way home after it: she is signed off
// first, and Bo waits for three minutes with a hooped piece.
func TestWhoHasMostLeftIsFinishedBeforeOthersAreHelped(t *testing.T) {
	help := map[string]int{"instructor": 1}
	p := schedule.Problem{
		WindowMinutes: 60, Machines: []schedule.Machine{{ID: "m1"}, {ID: "m2"}},
		Resources: []schedule.Resource{{ID: "instructor", Count: 1}},
		Jobs: []schedule.Job{
			{ID: "ana", Operations: []schedule.Operation{
				{ID: "sew", On: map[string]float64{"m1": 5}}, {ID: "sign-off", Minutes: schedule.Minutes(4), Needs: help},
				{ID: "pack", Minutes: schedule.Minutes(20)},
			}},
			{ID: "bo", Operations: []schedule.Operation{
				{ID: "hoop", Minutes: schedule.Minutes(6)},
				{ID: "load", On: map[string]float64{"m2": 10}, Needs: help, KeepMachine: true},
				{ID: "sew", On: map[string]float64{"m2": 5}},
			}},
		},
	}
	r := plan(t, p)
	assert.Equal(t, 29.0, r.MakespanMinutes, "5 of sewing, 4 of signing off, 20 of packing")

	p.Jobs[0].Operations[2].Minutes = schedule.Minutes(0)
	assert.Equal(t, 21.0, plan(t, p).MakespanMinutes, "with nothing to pack she waits until Bo's piece is loaded")
}

// Whoever is through first is finished first: any other order keeps them longer.
func TestPeopleAreFinishedAsTheyComeOffTheMachines(t *testing.T) {
	p := schedule.Problem{WindowMinutes: 60, Resources: []schedule.Resource{{ID: "iron", Count: 1}}}
	for i, sews := range []float64{12, 6, 9} {
		machine := string(rune('a' + i))
		p.Machines = append(p.Machines, schedule.Machine{ID: machine})
		p.Jobs = append(p.Jobs, schedule.Job{ID: "of " + machine, Operations: []schedule.Operation{
			{ID: "sew", On: map[string]float64{machine: sews}},
			{ID: "press", Minutes: schedule.Minutes(4), Needs: map[string]int{"iron": 1}},
		}})
	}
	r := plan(t, p)
	assert.Equal(t, 18.0, r.MakespanMinutes)
	assert.Equal(t, map[string]float64{"of a": 2, "of b": 0, "of c": 1}, r.Waiting)
}
