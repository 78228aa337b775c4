package app_test

import (
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/actor"
	"chalkstep/app/designs"
	appfleet "chalkstep/app/fleet"
	applive "chalkstep/app/live"
	"chalkstep/core/fleet"
	"chalkstep/core/fleet/care"
	"chalkstep/core/live"
	"chalkstep/core/stitch"
	"chalkstep/store"
)

// cared is how a machine stands.
func cared(t *testing.T, d person, machineID int64) appfleet.CarePage {
	t.Helper()
	machines, err := d.Workshop.Machines()
	require.NoError(t, err)
	i := slices.IndexFunc(machines, func(m fleet.Machine) bool { return m.ID == machineID })
	page, err := d.Care(machines[i])
	require.NoError(t, err)
	return page
}

// due are the kinds of care that are due to a machine.
func due(t *testing.T, d person, machineID int64) (kinds []care.Kind) {
	page := cared(t, d, machineID)
	for _, l := range page.Due() {
		kinds = append(kinds, l.Kind)
	}
	return kinds
}

// Care is due by the hours that a machine sewed since, as its runs tell, and is over when
// somebody says that it was done.
func TestCareIsDueByWhatAMachineSewed(t *testing.T) {
	d := desks(t)[store.Owner]
	assert.Equal(t, []care.Kind{care.Service}, due(t, d, lantern), "its service was more than a year ago")
	assert.Empty(t, due(t, d, pigeon))
	for range 3 { // nine hours
		require.NoError(t, d.LogStitchOut(2,
			designs.StitchOutInput{MachineID: pigeon, Date: now.Format(time.DateOnly), Fabric: "felt", Minutes: "200"}))
	}
	assert.Equal(t, []care.Kind{care.Needle, care.Lint}, due(t, d, pigeon))
	assert.NotEmpty(t, problem(t, d.CareFor(pigeon, "polish", ""), "care"))
	assert.NotEmpty(t, problem(t, d.CareFor(pigeon, care.Needle, strings.Repeat("x", 201)), "care-note"))
	assert.ErrorIs(t, d.CareFor(4711, care.Needle, ""), actor.ErrNotFound)
	require.NoError(t, d.CareFor(pigeon, care.Needle, " a 75 ballpoint "))
	assert.Equal(t, []care.Kind{care.Lint}, due(t, d, pigeon))
	page := cared(t, d, pigeon)
	assert.Equal(t, "a 75 ballpoint", page.Done[0].Note)
	assert.Equal(t, "Marit", page.Done[0].By)
}

// A new needle that is put in during a class is care that was done, until it is taken back: then it
// is as due as it was.
func TestANewNeedleInAClassIsCare(t *testing.T) {
	d := desks(t)[store.Instructor]
	board, err := d.Run(towels)
	require.NoError(t, err)
	machine := board.Plan.Class.Machines[0]
	for range 3 { // nine hours
		require.NoError(t, d.LogStitchOut(2,
			designs.StitchOutInput{MachineID: machine.ID, Date: now.Format(time.DateOnly), Fabric: "felt", Minutes: "200"}))
	}
	require.Contains(t, due(t, d, machine.ID), care.Needle)
	before := len(cared(t, d, machine.ID).Done)

	noted := applive.HappenInput{Kind: string(live.NewNeedle), MachineID: machine.ID}
	assert.Contains(t, problem(t, d.Happen(towels, applive.HappenInput{Kind: string(live.NewNeedle)}), ""),
		"Choose a machine of the class")
	require.NoError(t, d.Happen(towels, noted))
	assert.NotContains(t, due(t, d, machine.ID), care.Needle)
	page := cared(t, d, machine.ID)
	require.Len(t, page.Done, before+1)
	assert.Equal(t, care.Needle, page.Done[0].Kind)
	assert.Equal(t, d.Who.Name, page.Done[0].By)

	board, err = d.Run(towels)
	require.NoError(t, err)
	assert.Equal(t, machine.Name+" has a new needle", d.Say(board.Said(*board.Last)))
	require.NoError(t, d.Happen(towels, applive.HappenInput{Kind: string(live.Undone), Undoes: board.Last.Seq}))
	assert.Contains(t, due(t, d, machine.ID), care.Needle, "taken back, it was not put in")
	assert.Len(t, cared(t, d, machine.ID).Done, before)
}

// A needle that struck in a class is changed at once, unless the press was taken back.
func TestANeedleThatStruckIsDue(t *testing.T) {
	d := desks(t)[store.Instructor]
	page, err := d.Run(towels)
	require.NoError(t, err)
	var struck, student int64
	for _, at := range page.Standings {
		if m, seated := page.MachineOf(at.StudentID); seated {
			struck, student = m, at.StudentID
			break
		}
	}
	require.NotZero(t, struck)
	require.Empty(t, due(t, d, struck))
	require.NoError(t, d.Happen(towels,
		applive.HappenInput{Kind: "hand-up", StudentID: student, Reason: string(live.Strike)}))
	require.Equal(t, []care.Kind{care.Needle}, due(t, d, struck))
	page, err = d.Run(towels)
	require.NoError(t, err)
	require.NoError(t, d.Happen(towels, applive.HappenInput{Kind: "undone", Undoes: page.Seq}))
	assert.Empty(t, due(t, d, struck))
}

// The drawn cross to the right of the sewn one is what placements call the marks to the
// right of the needle; what was measured stays so until somebody writes another figure.
func TestAHoopIsMeasured(t *testing.T) {
	d := desks(t)[store.Instructor]
	const small = 2
	page, err := d.HoopOf(kettle, small)
	require.NoError(t, err)
	assert.Equal(t, appfleet.MeasureInput{Version: page.Machine.Version, Across: "2 mm", Side: appfleet.SideLeft,
		Up: "1 mm", Level: appfleet.LevelAbove}, page.In)
	in := page.In
	in.Across, in.Up, in.Side, in.Level = "1/4 in", "2.5", appfleet.SideRight, appfleet.LevelBelow
	wrong := in
	wrong.Side, wrong.Up = "north", "far"
	err = d.MeasureHoop(kettle, small, wrong)
	assert.NotEmpty(t, problem(t, err, "across"))
	assert.NotEmpty(t, problem(t, err, "up"))
	require.NoError(t, d.MeasureHoop(kettle, small, in))
	assert.NotEmpty(t, problem(t, d.MeasureHoop(kettle, small, in), ""), "it was read before it was changed")
	assert.ErrorIs(t, d.MeasureHoop(lantern, small, in), actor.ErrNotFound, "Lantern does not take it")

	page, err = d.HoopOf(kettle, small)
	require.NoError(t, err)
	assert.InDelta(t, 6.35, page.Held.OffXMM, 0.06)
	assert.InDelta(t, -2.5, page.Held.OffYMM, 1e-9)
	require.NotNil(t, page.Held.MeasuredOn)
	assert.Equal(t, now.Format(time.DateOnly), page.Held.MeasuredOn.Format(time.DateOnly))

	form, err := d.MachineInput(kettle)
	require.NoError(t, err)
	form.Features = []string{"traces", "steps-back", "traces"}
	_, err = d.SaveMachine(form)
	require.NoError(t, err)
	page, err = d.HoopOf(kettle, small)
	require.NoError(t, err)
	assert.NotNil(t, page.Held.MeasuredOn, "the form left it as it was")
	assert.Len(t, page.Machine.Features, 2)
	form, err = d.MachineInput(kettle)
	require.NoError(t, err)
	for i := range form.Hoops {
		form.Hoops[i].DX = "0"
	}
	_, err = d.SaveMachine(form)
	require.NoError(t, err)
	page, err = d.HoopOf(kettle, small)
	require.NoError(t, err)
	assert.Nil(t, page.Held.MeasuredOn, "somebody wrote another figure")
}

func TestTheCrossComesInWhatTheMachineReads(t *testing.T) {
	d := desks(t)[store.Assistant]
	name, data, err := d.Cross(kettle, "exp")
	require.NoError(t, err)
	assert.Equal(t, "cross.exp", name)
	p, _, err := stitch.Decode(name, data)
	require.NoError(t, err)
	left, _, right, _, _ := stitch.Extent(p.Moves)
	assert.EqualValues(t, 200, right-left, "20 mm")
	_, _, err = d.Cross(kettle, "pes")
	assert.ErrorIs(t, err, actor.ErrNotFound)
}
